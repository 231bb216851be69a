//! Switches on the bench. Each has a log of its own, append-only, in the order the server took it; a
//! switch whose results went to a job is closed.

use super::jobs::JobStatus;
use super::moment::now;
use super::rows::{put_in, read};
use super::search::{Listed, Wanted, page};
use super::store::{again, write};
use super::{LogEntry, Readable, Store, StoreError, derived, formats, jobs};
use crate::entities::{bench_entry, bench_switch, evidence};
use chrono::{DateTime, Utc};
use kelvok_core::bench::{BenchEntry, PlugWire, ProfileDocument, Subject};
use kelvok_core::diagnosis::Entry;
use sea_orm::{
    ActiveModelTrait,
    ActiveValue::Set,
    ColumnTrait, DatabaseTransaction, EntityTrait, IntoActiveModel, QueryFilter, QueryOrder,
    QuerySelect,
    sea_query::{Expr, ExprTrait},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use uuid::Uuid;

/// What is known of a switch beside its log.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct BenchHead {
    pub subject: Subject,
    /// Bought, and not fitted yet.
    #[serde(default)]
    pub new_part: bool,
    /// The machine that it comes from or goes into.
    #[serde(default)]
    pub machine: Option<MachinePart>,
    /// What the machine wants of it: its own switch's profile.
    #[serde(default)]
    pub replaces: Option<ProfileDocument>,
    /// Terminal -> the machine's terminal whose wire sits there when the plug is pushed on.
    #[serde(default)]
    pub plug: BTreeMap<String, String>,
    /// The wires of the plug.
    #[serde(default)]
    pub wires: Vec<PlugWire>,
}

/// A part of a machine, at a revision of its document.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct MachinePart {
    pub revision_id: Uuid,
    pub part: String,
}

#[derive(Clone, Debug, PartialEq)]
pub struct BenchSwitch {
    pub id: Uuid,
    pub name: String,
    pub head: BenchHead,
    pub status: JobStatus,
    /// The job that its results went to.
    pub job_id: Option<Uuid>,
    /// Goes up with every change of the row itself; entries in its log do not count.
    pub version: i32,
    pub opened_by: String,
    pub opened_at: DateTime<Utc>,
    pub changed_at: DateTime<Utc>,
}

impl TryFrom<bench_switch::Model> for BenchSwitch {
    type Error = StoreError;
    fn try_from(row: bench_switch::Model) -> Result<Self, StoreError> {
        Ok(Self {
            id: row.id,
            name: row.name,
            head: formats::read(SWITCH, row.format, &row.body)?,
            status: JobStatus::of(&row.status),
            job_id: row.job_id,
            version: row.version,
            opened_by: row.opened_by,
            opened_at: row.opened_at.and_utc(),
            changed_at: row.changed_at.and_utc(),
        })
    }
}

/// What a row of it is called where it cannot be read.
const SWITCH: &str = "switch";

fn no_switch(id: Uuid) -> StoreError {
    StoreError::NotFound { what: "switch on the bench", id: id.to_string() }
}

impl Store {
    /// A page of the switches on the bench whose name has every word that is wanted, those last
    /// touched first.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn bench_switches(&self, wanted: &Wanted) -> Result<Listed<BenchSwitch>, StoreError> {
        let rows = bench_switch::Entity::find()
            .filter(wanted.condition(bench_switch::Column::Name))
            .order_by_desc(bench_switch::Column::ChangedAt)
            .order_by_desc(bench_switch::Column::Id);
        page(&self.connection, rows, wanted, "version", TryInto::try_into).await
    }

    /// The entries of several switches, in order, by switch.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn bench_logs(
        &self,
        switches: Vec<Uuid>,
    ) -> Result<BTreeMap<Uuid, Vec<LogEntry<BenchEntry>>>, StoreError> {
        let mut logs = BTreeMap::new();
        if switches.is_empty() {
            return Ok(logs);
        }
        let rows = bench_entry::Entity::find()
            .filter(bench_entry::Column::SwitchId.is_in(switches))
            .order_by_asc(bench_entry::Column::Sequence);
        let each =
            |row: bench_entry::Model| Ok((row.switch_id, LogEntry::<BenchEntry>::try_from(row)?));
        for (switch, entry) in read(&self.connection, rows, "sequence", each).await? {
            logs.entry(switch).or_insert_with(Vec::new).push(entry);
        }
        Ok(logs)
    }

    /// One of them.
    ///
    /// # Errors
    /// There is none of this id.
    pub async fn bench_switch(&self, id: Uuid) -> Result<BenchSwitch, StoreError> {
        let row = bench_switch::Entity::find_by_id(id).one(&self.connection).await?;
        row.ok_or_else(|| no_switch(id))?.try_into()
    }

    /// Lays a switch on the bench. Sent twice with one id, it is laid there once.
    ///
    /// # Errors
    /// The machine revision is not known, or the database does not answer.
    pub async fn open_switch(
        &self,
        id: Uuid,
        by: &str,
        name: &str,
        head: &BenchHead,
    ) -> Result<BenchSwitch, StoreError> {
        if let Some(machine) = &head.machine {
            self.revision_head(machine.revision_id).await?;
        }
        let row = bench_switch::Model {
            id,
            name: name.to_owned(),
            body: formats::write(SWITCH, head)?,
            format: formats::FORMAT,
            status: JobStatus::Open.text().to_owned(),
            job_id: None,
            version: 1,
            next_sequence: 1,
            opened_by: by.to_owned(),
            opened_at: now(),
            changed_at: now(),
        };
        let row = row.into_active_model().reset_all();
        put_in(&self.connection, row).await?;
        self.bench_switch(id).await
    }

    /// Changes what is known of a switch, if it is still at the version that was read.
    ///
    /// # Errors
    /// Somebody changed it meanwhile, it is closed, or there is none of this id.
    pub async fn change_switch(
        &self,
        id: Uuid,
        version: i32,
        name: &str,
        head: &BenchHead,
    ) -> Result<BenchSwitch, StoreError> {
        let body = formats::write(SWITCH, head)?;
        let change = bench_switch::Entity::update_many()
            .col_expr(bench_switch::Column::Name, Expr::value(name))
            .col_expr(bench_switch::Column::Body, Expr::value(body))
            .col_expr(bench_switch::Column::Format, Expr::value(formats::FORMAT))
            .col_expr(bench_switch::Column::ChangedAt, Expr::value(now()))
            .col_expr(
                bench_switch::Column::Version,
                Expr::col(bench_switch::Column::Version).add(1),
            )
            .filter(bench_switch::Column::Id.eq(id))
            .filter(bench_switch::Column::Version.eq(version))
            .filter(bench_switch::Column::Status.eq(JobStatus::Open.text()));
        let done = write!(change, &self.connection)?;
        let switch = self.bench_switch(id).await?;
        match (done.rows_affected, switch.status) {
            (0, JobStatus::Closed) => Err(StoreError::SwitchClosed),
            (0, JobStatus::Open) => {
                Err(StoreError::SwitchStale { then: version, now: switch.version })
            }
            _ => Ok(switch),
        }
    }

    /// Closes a switch whose results go nowhere, or opens one again.
    ///
    /// # Errors
    /// Somebody changed it meanwhile, its results went to a job, or there is none of this id.
    pub async fn set_switch_status(
        &self,
        id: Uuid,
        version: i32,
        status: JobStatus,
    ) -> Result<BenchSwitch, StoreError> {
        let change = bench_switch::Entity::update_many()
            .col_expr(bench_switch::Column::Status, Expr::value(status.text()))
            .col_expr(bench_switch::Column::ChangedAt, Expr::value(now()))
            .col_expr(
                bench_switch::Column::Version,
                Expr::col(bench_switch::Column::Version).add(1),
            )
            .filter(bench_switch::Column::Id.eq(id))
            .filter(bench_switch::Column::Version.eq(version))
            .filter(bench_switch::Column::Status.ne(status.text()))
            .filter(bench_switch::Column::JobId.is_null());
        let done = write!(change, &self.connection)?;
        let switch = self.bench_switch(id).await?;
        match (done.rows_affected, switch.job_id) {
            // An answer was lost, and the request sent again.
            (0, _) if switch.status == status => Ok(switch),
            (0, Some(_)) => Err(StoreError::SwitchClosed),
            (0, None) => Err(StoreError::SwitchStale { then: version, now: switch.version }),
            _ => Ok(switch),
        }
    }

    /// Hands a switch's results over to an open job and closes it, all at once.
    ///
    /// # Errors
    /// The switch or the job is closed or unknown, or an id was used for something else.
    pub async fn attach_switch(
        &self,
        id: Uuid,
        job: Uuid,
        by: &str,
        results: &[(Uuid, Entry)],
    ) -> Result<BenchSwitch, StoreError> {
        again!(async {
            let tx = self.begin().await?;
            // Before the switch: whoever records in a job locks that first, too.
            jobs::hold(&tx, job).await?;
            let row = hold(&tx, id).await?;
            if row.status == JobStatus::Closed.text() {
                // Sent again: it is there already.
                return if row.job_id == Some(job) {
                    row.try_into()
                } else {
                    Err(StoreError::SwitchClosed)
                };
            }
            for (entry, body) in results {
                let entry = LogEntry {
                    id: *entry,
                    sequence: jobs::take_sequence(&tx, job).await?,
                    body: body.clone(),
                    recorded_by: by.to_owned(),
                    recorded_at: Some(now().and_utc()),
                    voided: None,
                };
                let row = entry.row(job)?.into_active_model().reset_all();
                match evidence::Entity::insert(row).exec_without_returning(&tx).await {
                    Err(e) if StoreError::is_duplicate(&e) => {
                        return Err(StoreError::IdTaken(entry.id));
                    }
                    other => other.map(|_| ())?,
                }
            }
            derived::job(&tx, job).await?;
            let version = row.version;
            let mut row: bench_switch::ActiveModel = row.into();
            row.status = Set(JobStatus::Closed.text().to_owned());
            row.job_id = Set(Some(job));
            row.version = Set(version.saturating_add(1));
            row.changed_at = Set(now());
            let row = row.update(&tx).await?;
            tx.commit().await?;
            row.try_into()
        })
    }

    /// Appends many entries, all of them or none; those that were sent before are kept once. How
    /// many are new.
    ///
    /// # Errors
    /// The switch is closed or unknown, or an id was used for something else.
    pub async fn append_bench_entries(
        &self,
        switch: Uuid,
        by: &str,
        entries: &[(Uuid, BenchEntry)],
    ) -> Result<usize, StoreError> {
        again!(async {
            let tx = self.begin().await?;
            // Held before it is looked what is there: the same table may come in twice at once.
            hold(&tx, switch).await?;
            let rows = bench_entry::Entity::find().filter(bench_entry::Column::SwitchId.eq(switch));
            let kept: Readable<LogEntry<BenchEntry>> =
                read(&tx, rows, "sequence", TryInto::try_into).await?;
            let known: BTreeMap<Uuid, BenchEntry> =
                kept.into_iter().map(|e| (e.id, e.body)).collect();
            let mut new = Vec::new();
            for (id, body) in entries {
                match known.get(id) {
                    Some(kept) if kept == body => {}
                    Some(_) => return Err(StoreError::IdTaken(*id)),
                    None => new.push((*id, body.clone())),
                }
            }
            if new.is_empty() {
                return Ok(0);
            }
            let first = take_sequences(&tx, switch, new.len() as i64).await?;
            let mut rows = Vec::new();
            for (sequence, (id, body)) in (first..).zip(&new) {
                let entry = LogEntry {
                    id: *id,
                    sequence,
                    body: body.clone(),
                    recorded_by: by.to_owned(),
                    recorded_at: Some(now().and_utc()),
                    voided: None,
                };
                rows.push(entry.row(switch)?.into_active_model().reset_all());
            }
            for some in rows.chunks(500) {
                match bench_entry::Entity::insert_many(some.to_vec()).exec(&tx).await {
                    Ok(_) => {}
                    // Of another switch.
                    Err(e) if StoreError::is_duplicate(&e) => {
                        return Err(StoreError::IdTaken(new[0].0));
                    }
                    Err(e) => return Err(e.into()),
                }
            }
            tx.commit().await?;
            Ok(new.len())
        })
    }
}

/// Holds a switch until the transaction ends.
pub(crate) async fn hold(
    tx: &DatabaseTransaction,
    id: Uuid,
) -> Result<bench_switch::Model, StoreError> {
    let row = bench_switch::Entity::find_by_id(id).lock_exclusive().one(tx).await?;
    row.ok_or_else(|| no_switch(id))
}

/// An entry of a switch's log was taken back.
pub(crate) async fn touch(tx: &DatabaseTransaction, id: Uuid) -> Result<(), StoreError> {
    bench_switch::Entity::update_many()
        .col_expr(bench_switch::Column::ChangedAt, Expr::value(now()))
        .filter(bench_switch::Column::Id.eq(id))
        .exec(tx)
        .await?;
    Ok(())
}

/// Something was read of a switch; taking its place in the log has touched the switch already.
pub(crate) async fn entered(
    _tx: &DatabaseTransaction,
    _id: Uuid,
    _entry: &BenchEntry,
) -> Result<(), StoreError> {
    Ok(())
}

/// Takes the next place in an open switch's log, holding the switch until the transaction ends.
pub(crate) async fn take_sequence(tx: &DatabaseTransaction, id: Uuid) -> Result<i64, StoreError> {
    take_sequences(tx, id, 1).await
}

async fn take_sequences(tx: &DatabaseTransaction, id: Uuid, count: i64) -> Result<i64, StoreError> {
    let row = hold(tx, id).await?;
    if row.status == JobStatus::Closed.text() {
        return Err(StoreError::SwitchClosed);
    }
    let sequence = row.next_sequence;
    let mut row: bench_switch::ActiveModel = row.into();
    row.next_sequence = Set(sequence + count);
    row.changed_at = Set(now());
    row.update(tx).await?;
    Ok(sequence)
}
