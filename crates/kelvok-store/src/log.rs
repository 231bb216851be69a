//! The logs: a job's evidence, verdicts and release, a switch's readings at the bench, what was traced of a harness.
//! Append-only, in the order the server took them.

use super::moment::{now, recordable};
use super::rows::read;
use super::store::again;
use super::{Readable, Store, StoreError, bench, derived, formats, jobs, releases, soaks, traces};
use crate::entities::{bench_entry, evidence, release_entry, soak_entry, trace_entry, verdict};
use chrono::{DateTime, NaiveDateTime, Utc};
use kelvok_core::bench::BenchEntry;
use kelvok_core::circuit::FaultMode;
use kelvok_core::diagnosis::Entry;
use kelvok_core::machine::SiteKind;
use kelvok_core::release::ReleaseEntry;
use kelvok_core::soak::SoakEntry;
use kelvok_core::trace::TraceEntry;
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, EntityTrait, IntoActiveModel, QueryFilter,
    QueryOrder, QuerySelect,
};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

/// One entry of a log, with what was recorded.
#[derive(Clone, Debug, PartialEq)]
pub struct LogEntry<T> {
    pub id: Uuid,
    pub sequence: i64,
    pub body: T,
    pub recorded_by: String,
    /// None where the time that is kept is none.
    pub recorded_at: Option<DateTime<Utc>>,
    pub voided: Option<Voided>,
}

/// Who took an entry back, when and why. The entry stays.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Voided {
    /// None where the time that is kept is none.
    pub at: Option<DateTime<Utc>>,
    pub by: String,
    pub reason: String,
}

/// A verdict: a set of units, and what was said of them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Verdict {
    /// Units by name: a part's id, a wire's id, or `part:linkage`.
    pub units: Vec<String>,
    /// The probability that the evidence gave them, 0 to 1.
    pub probability: f64,
    /// Whether a second, different observation pointed to them.
    pub confirmed: bool,
    pub note: String,
    /// What the units are called, in the same order, so that the job is found by that.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub names: Vec<String>,
    /// What the fault sat in and how it failed: what a closed job counts as in the shop's history.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kind: Option<(SiteKind, FaultMode)>,
}

/// A request to void.
#[derive(Clone, Debug)]
pub struct Void {
    pub by: String,
    pub reason: String,
}

/// What tells whether an entry that comes in twice is the same one sent again.
trait SentAgain {
    fn is(&self, kept: &Self) -> bool;
}

impl SentAgain for Entry {
    fn is(&self, kept: &Self) -> bool {
        self == kept
    }
}

impl SentAgain for Verdict {
    /// What the evidence gave it is the server's, and may have moved since.
    fn is(&self, kept: &Self) -> bool {
        (&self.units, &self.note) == (&kept.units, &kept.note)
    }
}

impl SentAgain for BenchEntry {
    fn is(&self, kept: &Self) -> bool {
        self == kept
    }
}

impl SentAgain for ReleaseEntry {
    fn is(&self, kept: &Self) -> bool {
        self == kept
    }
}

impl SentAgain for SoakEntry {
    fn is(&self, kept: &Self) -> bool {
        self == kept
    }
}

impl SentAgain for TraceEntry {
    fn is(&self, kept: &Self) -> bool {
        self == kept
    }
}

/// All logs are stored alike; this is written once for them.
macro_rules! log_of {
    ($table:ident of $owner:ident ($owner_id:ident, $OwnerId:ident), $body:ty, $what:literal,
        $list:ident, $append:ident, $void:ident, entered $entered:path, changed $changed:path) => {
        impl TryFrom<$table::Model> for LogEntry<$body> {
            type Error = StoreError;
            fn try_from(row: $table::Model) -> Result<Self, StoreError> {
                Ok(LogEntry {
                    id: row.id,
                    sequence: row.sequence,
                    body: formats::read($what, row.format, &row.body)?,
                    recorded_by: row.recorded_by,
                    recorded_at: row.recorded_at.map(|t| t.and_utc()),
                    voided: voided(row.voided_at, row.voided_by, row.void_reason),
                })
            }
        }

        impl LogEntry<$body> {
            /// As it lies in its table.
            ///
            /// # Errors
            /// It has a time that no table holds.
            pub(crate) fn row(&self, owner: Uuid) -> Result<$table::Model, StoreError> {
                let kept = |at: Option<DateTime<Utc>>| {
                    let at = at.map_or_else(|| Ok(now()), |at| Ok(recordable(at)?.naive_utc()));
                    at.map(Some) as Result<_, StoreError>
                };
                let voided = self.voided.as_ref();
                Ok($table::Model {
                    id: self.id,
                    $owner_id: owner,
                    sequence: self.sequence,
                    body: formats::write($what, &self.body)?,
                    format: formats::FORMAT,
                    recorded_by: self.recorded_by.clone(),
                    recorded_at: kept(self.recorded_at)?,
                    voided_at: voided.map_or(Ok(None), |v| kept(v.at))?,
                    voided_by: voided.map(|v| v.by.clone()),
                    void_reason: voided.map(|v| v.reason.clone()),
                })
            }
        }

        impl Store {
            /// The entries of this kind, voided ones too, in order.
            ///
            /// # Errors
            /// The database does not answer.
            pub async fn $list(
                &self,
                owner: Uuid,
            ) -> Result<Readable<LogEntry<$body>>, StoreError> {
                let rows = $table::Entity::find()
                    .filter($table::Column::$OwnerId.eq(owner))
                    .order_by_asc($table::Column::Sequence);
                read(&self.connection, rows, "sequence", TryInto::try_into).await
            }

            /// Appends an entry. Sent twice with one id, it is kept once and answered twice.
            ///
            /// # Errors
            /// What it belongs to is closed or unknown, or the id was used for something else.
            pub async fn $append(
                &self,
                owner: Uuid,
                id: Uuid,
                by: &str,
                body: &$body,
            ) -> Result<LogEntry<$body>, StoreError> {
                again!(async {
                    let tx = self.begin().await?;
                    if let Some(row) = $table::Entity::find_by_id(id).one(&tx).await? {
                        let own = row.$owner_id == owner;
                        return sent_again(row.try_into()?, own, body);
                    }
                    let entry = LogEntry {
                        id,
                        sequence: $owner::take_sequence(&tx, owner).await?,
                        body: body.clone(),
                        recorded_by: by.to_owned(),
                        recorded_at: Some(now().and_utc()),
                        voided: None,
                    };
                    let row = entry.row(owner)?.into_active_model().reset_all();
                    match $table::Entity::insert(row).exec(&tx).await {
                        Ok(_) => {}
                        // The same entry came in twice at once: the other one won.
                        Err(e) if StoreError::is_duplicate(&e) => {
                            tx.rollback().await?;
                            let row = $table::Entity::find_by_id(id).one(&self.connection).await?;
                            let row = row.ok_or(StoreError::IdTaken(id))?;
                            let own = row.$owner_id == owner;
                            return sent_again(row.try_into()?, own, body);
                        }
                        Err(e) => return Err(e.into()),
                    }
                    $entered(&tx, owner, body).await?;
                    tx.commit().await?;
                    Ok(entry)
                })
            }

            /// Voids an entry, with a reason; it stays in the log. Sent twice, it is voided once.
            ///
            /// # Errors
            /// There is none of this id there, or somebody voided it for another reason.
            pub async fn $void(
                &self,
                owner: Uuid,
                id: Uuid,
                void: &Void,
            ) -> Result<LogEntry<$body>, StoreError> {
                again!(async {
                    let tx = self.begin().await?;
                    // Before the entry: whoever records locks the owner first, too.
                    $owner::hold(&tx, owner).await?;
                    let row = $table::Entity::find_by_id(id)
                        .filter($table::Column::$OwnerId.eq(owner))
                        .lock_exclusive()
                        .one(&tx)
                        .await?;
                    let not_found = || StoreError::NotFound { what: $what, id: id.to_string() };
                    let row = row.ok_or_else(not_found)?;
                    if row.voided_at.is_some() || row.voided_by.is_some() {
                        let same = row.voided_by.as_ref() == Some(&void.by)
                            && row.void_reason.as_ref() == Some(&void.reason);
                        return if same { row.try_into() } else { Err(StoreError::AlreadyVoided) };
                    }
                    let mut row: $table::ActiveModel = row.into();
                    row.voided_at = Set(Some(now()));
                    row.voided_by = Set(Some(void.by.clone()));
                    row.void_reason = Set(Some(void.reason.clone()));
                    let row = row.update(&tx).await?;
                    $changed(&tx, owner).await?;
                    tx.commit().await?;
                    row.try_into()
                })
            }
        }
    };
}

log_of!(evidence of jobs (job_id, JobId), Entry, "reading", evidence, append_evidence, void_evidence,
    entered derived::observed, changed derived::job);
log_of!(verdict of jobs (job_id, JobId), Verdict, "verdict", verdicts, append_verdict, void_verdict,
    entered derived::judged, changed derived::job);
log_of!(bench_entry of bench (switch_id, SwitchId), BenchEntry, "reading at the bench", bench_entries,
    append_bench_entry, void_bench_entry, entered bench::entered, changed bench::touch);
log_of!(trace_entry of traces (trace_id, TraceId), TraceEntry, "entry of a trace", trace_entries,
    append_trace_entry, void_trace_entry, entered traces::entered, changed traces::touch);

log_of!(release_entry of jobs (job_id, JobId), ReleaseEntry, "entry of a release", release_entries,
    append_release_entry, void_release_entry, entered releases::entered, changed derived::job);

log_of!(soak_entry of jobs (job_id, JobId), SoakEntry, "entry of a soak", soak_entries,
    append_soak_entry, void_soak_entry, entered soaks::entered, changed derived::job);

/// The entry that was kept under an id, if this is the same one.
fn sent_again<B: SentAgain>(
    kept: LogEntry<B>,
    of_this_owner: bool,
    body: &B,
) -> Result<LogEntry<B>, StoreError> {
    let same = of_this_owner && body.is(&kept.body);
    if same { Ok(kept) } else { Err(StoreError::IdTaken(kept.id)) }
}

/// Whoever took it back signed for it; a time that is none does not bring it back.
fn voided(at: Option<NaiveDateTime>, by: Option<String>, reason: Option<String>) -> Option<Voided> {
    if at.is_none() && by.is_none() {
        return None;
    }
    Some(Voided {
        at: at.map(|at| at.and_utc()),
        by: by.unwrap_or_default(),
        reason: reason.unwrap_or_default(),
    })
}
