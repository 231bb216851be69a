//! The logs: a job's evidence and verdicts, a switch's readings at the bench. Append-only, in the
//! order the server took them.

use super::store::now;
use super::{Store, StoreError, bench, jobs};
use crate::entities::{bench_entry, evidence, verdict};
use chrono::{DateTime, NaiveDateTime, Utc};
use kelvok_core::bench::BenchEntry;
use kelvok_core::circuit::FaultMode;
use kelvok_core::diagnosis::{Entry, Seat};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, EntityTrait, QueryFilter, QueryOrder,
    QuerySelect,
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
    pub recorded_at: DateTime<Utc>,
    pub voided: Option<Voided>,
}

/// Who took an entry back, when and why. The entry stays.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Voided {
    pub at: DateTime<Utc>,
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
    /// What the fault sat in and how it failed: what a closed job counts as in the shop's history.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kind: Option<(Seat, FaultMode)>,
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

/// All logs are stored alike; this is written once for them.
macro_rules! log_of {
    ($table:ident of $owner:ident ($owner_id:ident, $OwnerId:ident), $body:ty, $what:literal,
        $list:ident, $append:ident, $void:ident) => {
        impl TryFrom<$table::Model> for LogEntry<$body> {
            type Error = StoreError;
            fn try_from(row: $table::Model) -> Result<Self, StoreError> {
                Ok(LogEntry {
                    id: row.id,
                    sequence: row.sequence,
                    body: serde_json::from_str(&row.body)
                        .map_err(|source| StoreError::Corrupt { what: $what, source })?,
                    recorded_by: row.recorded_by,
                    recorded_at: row.recorded_at.and_utc(),
                    voided: voided(row.voided_at, row.voided_by, row.void_reason),
                })
            }
        }

        impl LogEntry<$body> {
            /// As it lies in its table.
            pub(crate) fn row(&self, owner: Uuid) -> Result<$table::Model, StoreError> {
                let voided = self.voided.as_ref();
                Ok($table::Model {
                    id: self.id,
                    $owner_id: owner,
                    sequence: self.sequence,
                    body: serde_json::to_string(&self.body)
                        .map_err(|source| StoreError::Corrupt { what: $what, source })?,
                    recorded_by: self.recorded_by.clone(),
                    recorded_at: self.recorded_at.naive_utc(),
                    voided_at: voided.map(|v| v.at.naive_utc()),
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
            pub async fn $list(&self, owner: Uuid) -> Result<Vec<LogEntry<$body>>, StoreError> {
                let rows = $table::Entity::find()
                    .filter($table::Column::$OwnerId.eq(owner))
                    .order_by_asc($table::Column::Sequence)
                    .all(&self.connection)
                    .await?;
                rows.into_iter().map(TryInto::try_into).collect()
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
                let text = serde_json::to_string(body)
                    .map_err(|source| StoreError::Corrupt { what: $what, source })?;
                let tx = self.begin().await?;
                if let Some(row) = $table::Entity::find_by_id(id).one(&tx).await? {
                    let own = row.$owner_id == owner;
                    return sent_again(row.try_into()?, own, body);
                }
                let sequence = $owner::take_sequence(&tx, owner).await?;
                let row = $table::Model {
                    id,
                    $owner_id: owner,
                    sequence,
                    body: text,
                    recorded_by: by.to_owned(),
                    recorded_at: now(),
                    voided_at: None,
                    voided_by: None,
                    void_reason: None,
                };
                let active: $table::ActiveModel = row.clone().into();
                match $table::Entity::insert(active.reset_all()).exec(&tx).await {
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
                tx.commit().await?;
                row.try_into()
            }

            /// Voids an entry, with a reason; it stays in the log.
            ///
            /// # Errors
            /// There is none of this id there, or it is voided already.
            pub async fn $void(
                &self,
                owner: Uuid,
                id: Uuid,
                void: &Void,
            ) -> Result<LogEntry<$body>, StoreError> {
                let tx = self.begin().await?;
                let row = $table::Entity::find_by_id(id)
                    .filter($table::Column::$OwnerId.eq(owner))
                    .lock_exclusive()
                    .one(&tx)
                    .await?;
                let not_found = || StoreError::NotFound { what: $what, id: id.to_string() };
                let row = row.ok_or_else(not_found)?;
                if row.voided_at.is_some() {
                    return Err(StoreError::AlreadyVoided);
                }
                let mut row: $table::ActiveModel = row.into();
                row.voided_at = Set(Some(now()));
                row.voided_by = Set(Some(void.by.clone()));
                row.void_reason = Set(Some(void.reason.clone()));
                let row = row.update(&tx).await?;
                tx.commit().await?;
                row.try_into()
            }
        }
    };
}

log_of!(evidence of jobs (job_id, JobId), Entry, "reading", evidence, append_evidence, void_evidence);
log_of!(verdict of jobs (job_id, JobId), Verdict, "verdict", verdicts, append_verdict, void_verdict);
log_of!(bench_entry of bench (switch_id, SwitchId), BenchEntry, "reading at the bench", bench_entries,
    append_bench_entry, void_bench_entry);

/// The entry that was kept under an id, if this is the same one.
fn sent_again<B: SentAgain>(
    kept: LogEntry<B>,
    of_this_owner: bool,
    body: &B,
) -> Result<LogEntry<B>, StoreError> {
    let same = of_this_owner && body.is(&kept.body);
    if same { Ok(kept) } else { Err(StoreError::IdTaken(kept.id)) }
}

fn voided(at: Option<NaiveDateTime>, by: Option<String>, reason: Option<String>) -> Option<Voided> {
    Some(Voided {
        at: at?.and_utc(),
        by: by.unwrap_or_default(),
        reason: reason.unwrap_or_default(),
    })
}
