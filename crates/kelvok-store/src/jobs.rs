//! Jobs: one machine in the shop, pinned to a revision of its document.

use super::moment::now;
use super::rows::read;
use super::search::{Listed, Wanted, page};
use super::store::again;
use super::{LogEntry, Store, StoreError, Verdict, derived};
use crate::entities::{
    evidence, job, machine, machine_revision, release_entry, soak_entry, verdict,
};
use chrono::{DateTime, NaiveDateTime, Utc};
use kelvok_core::circuit::FaultMode;
use kelvok_core::machine::SiteKind;
use sea_orm::{
    ActiveModelTrait,
    ActiveValue::NotSet,
    ActiveValue::Set,
    ColumnTrait, DatabaseTransaction, EntityTrait, FromQueryResult, JoinType, PaginatorTrait,
    QueryFilter, QueryOrder, QuerySelect,
    sea_query::{Expr, ExprTrait, Query, SelectStatement},
};
use std::collections::HashMap;
use uuid::Uuid;

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum JobStatus {
    Open,
    Closed,
}

impl JobStatus {
    pub(crate) fn of(text: &str) -> Self {
        if text == Self::Closed.text() { Self::Closed } else { Self::Open }
    }

    pub(crate) fn text(self) -> &'static str {
        match self {
            Self::Open => "open",
            Self::Closed => "closed",
        }
    }
}

/// Which jobs are wanted; all by default.
#[derive(Clone, Debug, Default)]
pub struct JobsOf {
    pub status: Option<JobStatus>,
    /// Of the machine of this name, at whatever revision.
    pub machine: Option<String>,
}

#[derive(Clone, Debug, PartialEq)]
pub struct Job {
    pub id: Uuid,
    /// What people call it: job 17.
    pub number: i64,
    pub revision_id: Uuid,
    /// Which of the owner's machines: "Orchard 3".
    pub tag: String,
    pub owner: String,
    pub complaint: String,
    pub serial: String,
    /// Hours on the meter.
    pub hours: Option<f64>,
    pub status: JobStatus,
    /// Goes up with every change of the row itself; entries in its log do not count.
    pub version: i32,
    pub opened_at: DateTime<Utc>,
    pub closed_at: Option<DateTime<Utc>>,
}

/// A job as a line of a list.
#[derive(Clone, Debug, PartialEq)]
pub struct JobDigest {
    pub job: Job,
    /// Readings taken, voided ones left out.
    pub readings: i32,
    pub last_at: Option<DateTime<Utc>>,
    /// The last verdict that stands.
    pub verdict: Option<LogEntry<Verdict>>,
}

#[derive(Clone, Debug, Default)]
pub struct NewJob {
    pub id: Uuid,
    pub revision_id: Uuid,
    pub tag: String,
    pub owner: String,
    pub complaint: String,
    pub serial: String,
    pub hours: Option<f64>,
}

/// What of a job's row is changed.
#[derive(Clone, Debug)]
pub struct JobChange {
    /// Another machine, if nothing was recorded yet.
    pub revision_id: Uuid,
    pub tag: String,
    pub owner: String,
    pub complaint: String,
    pub serial: String,
    pub hours: Option<f64>,
}

impl From<job::Model> for Job {
    fn from(row: job::Model) -> Self {
        Self {
            id: row.id,
            number: row.number,
            revision_id: row.revision_id,
            tag: row.tag,
            owner: row.owner,
            complaint: row.complaint,
            serial: row.serial,
            hours: row.hours,
            status: JobStatus::of(&row.status),
            version: row.version,
            opened_at: row.opened_at.and_utc(),
            closed_at: row.closed_at.map(|t| t.and_utc()),
        }
    }
}

/// How many jobs a machine had, and when the last was opened.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct JobsHad {
    pub jobs: i64,
    pub last: DateTime<Utc>,
}

#[derive(FromQueryResult)]
struct Had {
    machine_id: Uuid,
    jobs: i64,
    last: NaiveDateTime,
}

/// The revisions, by id, of the machine of a name.
fn revisions_of(name: &str) -> SelectStatement {
    let named = Query::select()
        .column(machine::Column::Id)
        .from(machine::Entity)
        .and_where(machine::Column::Name.eq(name))
        .to_owned();
    Query::select()
        .column(machine_revision::Column::Id)
        .from(machine_revision::Entity)
        .and_where(machine_revision::Column::MachineId.in_subquery(named))
        .to_owned()
}

fn no_job(id: impl ToString) -> StoreError {
    StoreError::NotFound { what: "job", id: id.to_string() }
}

impl Store {
    /// A page of these jobs in whose words all that are wanted stand: open ones first, and of each
    /// the newest.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn jobs(
        &self,
        of: &JobsOf,
        wanted: &Wanted,
    ) -> Result<Listed<JobDigest>, StoreError> {
        let mut rows = job::Entity::find().filter(wanted.condition(job::Column::Words));
        if let Some(status) = of.status {
            rows = rows.filter(job::Column::Status.eq(status.text()));
        }
        if let Some(name) = &of.machine {
            rows = rows.filter(job::Column::RevisionId.in_subquery(revisions_of(name)));
        }
        let rows = rows.order_by_desc(job::Column::Status).order_by_desc(job::Column::Number);
        let mut verdict_of = HashMap::new();
        let digest =
            |row: job::Model| Ok((row.readings, row.last_at, row.verdict_id, Job::from(row)));
        let listed = page(&self.connection, rows, wanted, "number", digest).await?;
        let ids: Vec<_> = listed.found.iter().filter_map(|(_, _, verdict, _)| *verdict).collect();
        if !ids.is_empty() {
            let rows = verdict::Entity::find().filter(verdict::Column::Id.is_in(ids));
            let rows = read(&self.connection, rows, "sequence", LogEntry::<Verdict>::try_from);
            verdict_of.extend(rows.await?.into_iter().map(|v| (v.id, v)));
        }
        let unreadable = listed.found.unreadable.clone();
        let rows = listed.found.into_iter().map(|(readings, last_at, verdict, job)| JobDigest {
            job,
            readings,
            last_at: last_at.map(|at| at.and_utc()),
            verdict: verdict.and_then(|id| verdict_of.remove(&id)),
        });
        let found = super::Readable { rows: rows.collect(), unreadable };
        Ok(Listed { found, total: listed.total })
    }

    /// The jobs that each of these machines had, by the machine's id; none that had none.
    ///
    /// # Errors
    /// The database does not answer.
    pub(crate) async fn jobs_had(
        &self,
        machines: Vec<Uuid>,
    ) -> Result<HashMap<Uuid, JobsHad>, StoreError> {
        let at = job::Entity::belongs_to(machine_revision::Entity)
            .from(job::Column::RevisionId)
            .to(machine_revision::Column::Id);
        let counted: Vec<Had> = job::Entity::find()
            .select_only()
            .column(machine_revision::Column::MachineId)
            .column_as(job::Column::Id.count(), "jobs")
            .column_as(job::Column::OpenedAt.max(), "last")
            .join(JoinType::InnerJoin, at.into())
            .filter(machine_revision::Column::MachineId.is_in(machines))
            .group_by(machine_revision::Column::MachineId)
            .into_model()
            .all(&self.connection)
            .await?;
        let had = |h: Had| (h.machine_id, JobsHad { jobs: h.jobs, last: h.last.and_utc() });
        Ok(counted.into_iter().map(had).collect())
    }

    /// How many jobs are open.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn open_jobs(&self) -> Result<u64, StoreError> {
        let open = job::Entity::find().filter(job::Column::Status.eq(JobStatus::Open.text()));
        Ok(open.count(&self.connection).await?)
    }

    /// One job.
    ///
    /// # Errors
    /// There is none of this id.
    pub async fn job(&self, id: Uuid) -> Result<Job, StoreError> {
        let row = job::Entity::find_by_id(id).one(&self.connection).await?;
        row.map(Into::into).ok_or_else(|| no_job(id))
    }

    /// What the shop's other closed jobs came to, and how often: of each the last verdict that
    /// stands, if it was confirmed. A job's own verdict does not speak for it.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn outcomes(
        &self,
        beside: Uuid,
    ) -> Result<Vec<((SiteKind, FaultMode), u64)>, StoreError> {
        let counted: Vec<(String, i64)> = job::Entity::find()
            .filter(job::Column::Status.eq(JobStatus::Closed.text()))
            .filter(job::Column::Outcome.is_not_null())
            .filter(job::Column::Id.ne(beside))
            .select_only()
            .column(job::Column::Outcome)
            .column_as(job::Column::Id.count(), "jobs")
            .group_by(job::Column::Outcome)
            .into_tuple()
            .all(&self.connection)
            .await?;
        let read = |(kind, jobs): (String, i64)| {
            Some((serde_json::from_str(&kind).ok()?, u64::try_from(jobs).ok()?))
        };
        Ok(counted.into_iter().filter_map(read).collect())
    }

    /// Opens a job. Sent twice with one id, it is opened once.
    ///
    /// # Errors
    /// There is no such machine revision.
    pub async fn open_job(&self, new: NewJob) -> Result<Job, StoreError> {
        self.revision_head(new.revision_id).await?;
        let id = new.id;
        again!(async {
            let tx = self.begin().await?;
            match job::Entity::insert(opened(new.clone(), 1)).exec_without_returning(&tx).await {
                Ok(_) => derived::job(&tx, id).await?,
                Err(e) if StoreError::is_duplicate(&e) => return Ok(()),
                Err(e) => return Err(StoreError::from(e)),
            }
            Ok(tx.commit().await?)
        })?;
        self.job(id).await
    }

    /// Opens or closes a job, if it is still at the version that was read. One that is so already is
    /// left as it is: an answer was lost, and the request sent again.
    ///
    /// # Errors
    /// Somebody changed it meanwhile, or there is none of this id.
    pub async fn set_status(
        &self,
        id: Uuid,
        version: i32,
        status: JobStatus,
    ) -> Result<Job, StoreError> {
        let closed = (status == JobStatus::Closed).then(now);
        let changed = again!(async {
            let tx = self.begin().await?;
            let done = job::Entity::update_many()
                .col_expr(job::Column::Status, Expr::value(status.text()))
                .col_expr(job::Column::ClosedAt, Expr::value(closed))
                .col_expr(job::Column::Version, Expr::col(job::Column::Version).add(1))
                .filter(job::Column::Id.eq(id))
                .filter(job::Column::Version.eq(version))
                .filter(job::Column::Status.ne(status.text()))
                .exec(&tx)
                .await?;
            derived::job(&tx, id).await?;
            tx.commit().await?;
            Ok::<_, StoreError>(done.rows_affected > 0)
        })?;
        let job = self.job(id).await?;
        if !changed && job.status != status {
            let (number, now) = (job.number, job.version);
            return Err(StoreError::Stale { number, then: version, now });
        }
        Ok(job)
    }
}

impl Store {
    /// Moves a job to another revision of its machine. What is recorded in it stays as it is.
    ///
    /// # Errors
    /// It is closed; there is no such job or revision.
    pub async fn move_job(&self, id: Uuid, revision: Uuid) -> Result<Job, StoreError> {
        self.revision_head(revision).await?;
        again!(async {
            let tx = self.begin().await?;
            let row = hold(&tx, id).await?;
            if row.status == JobStatus::Closed.text() {
                return Err(StoreError::Closed(row.number));
            }
            let version = row.version;
            let mut row: job::ActiveModel = row.into();
            row.revision_id = Set(revision);
            row.version = Set(version + 1);
            row.update(&tx).await?;
            derived::job(&tx, id).await?;
            Ok::<_, StoreError>(tx.commit().await?)
        })?;
        self.job(id).await
    }

    /// Changes what a job says of its machine and owner, if it is still at the version that was read.
    ///
    /// # Errors
    /// Somebody changed it meanwhile; it is closed; it is to be of another machine, and has entries.
    pub async fn change_job(
        &self,
        id: Uuid,
        version: i32,
        change: &JobChange,
    ) -> Result<Job, StoreError> {
        self.revision_head(change.revision_id).await?;
        again!(async {
            let tx = self.begin().await?;
            let row = hold(&tx, id).await?;
            if row.version != version {
                let (number, now) = (row.number, row.version);
                return Err(StoreError::Stale { number, then: version, now });
            }
            if row.status == JobStatus::Closed.text() {
                return Err(StoreError::Closed(row.number));
            }
            if row.revision_id != change.revision_id && has_entries(&tx, id).await? {
                return Err(StoreError::NotEmpty(row.number));
            }
            let change = change.clone();
            let mut row: job::ActiveModel = row.into();
            row.revision_id = Set(change.revision_id);
            row.tag = Set(change.tag);
            row.owner = Set(change.owner);
            row.complaint = Set(change.complaint);
            row.serial = Set(change.serial);
            row.hours = Set(change.hours);
            row.version = Set(version + 1);
            row.update(&tx).await?;
            derived::job(&tx, id).await?;
            Ok::<_, StoreError>(tx.commit().await?)
        })?;
        self.job(id).await
    }

    /// Takes a job away in which nothing was recorded. One that is gone already is left so.
    ///
    /// # Errors
    /// It has entries, or verdicts.
    pub async fn delete_job(&self, id: Uuid) -> Result<(), StoreError> {
        again!(async {
            let tx = self.begin().await?;
            let row = match hold(&tx, id).await {
                Err(StoreError::NotFound { .. }) => return Ok(()),
                found => found?,
            };
            if has_entries(&tx, id).await? {
                return Err(StoreError::NotEmpty(row.number));
            }
            job::Entity::delete_by_id(id).exec(&tx).await?;
            Ok::<_, StoreError>(tx.commit().await?)
        })
    }
}

/// Whether anything was ever recorded in a job.
async fn has_entries(tx: &DatabaseTransaction, id: Uuid) -> Result<bool, StoreError> {
    let recorded =
        evidence::Entity::find().filter(evidence::Column::JobId.eq(id)).count(tx).await?;
    let kept = verdict::Entity::find().filter(verdict::Column::JobId.eq(id)).count(tx).await?;
    let tried =
        release_entry::Entity::find().filter(release_entry::Column::JobId.eq(id)).count(tx).await?;
    let soaked =
        soak_entry::Entity::find().filter(soak_entry::Column::JobId.eq(id)).count(tx).await?;
    Ok(recorded + kept + tried + soaked > 0)
}

/// The row of a job that is opened now.
pub(crate) fn opened(new: NewJob, next_sequence: i64) -> job::ActiveModel {
    job::ActiveModel {
        id: Set(new.id),
        number: NotSet,
        revision_id: Set(new.revision_id),
        tag: Set(new.tag),
        owner: Set(new.owner),
        complaint: Set(new.complaint),
        serial: Set(new.serial),
        hours: Set(new.hours),
        status: Set(JobStatus::Open.text().to_owned()),
        version: Set(1),
        next_sequence: Set(next_sequence),
        opened_at: Set(now()),
        closed_at: Set(None),
        words: Set(String::new()),
        outcome: Set(None),
        readings: Set(0),
        last_at: Set(None),
        verdict_id: Set(None),
        derived: Set(0),
    }
}

/// Holds a job until the transaction ends.
pub(crate) async fn hold(tx: &DatabaseTransaction, id: Uuid) -> Result<job::Model, StoreError> {
    let row = job::Entity::find_by_id(id).lock_exclusive().one(tx).await?;
    row.ok_or_else(|| no_job(id))
}

/// Takes the next place in an open job's log, holding the job until the transaction ends.
pub(crate) async fn take_sequence(tx: &DatabaseTransaction, id: Uuid) -> Result<i64, StoreError> {
    let row = hold(tx, id).await?;
    if row.status == JobStatus::Closed.text() {
        return Err(StoreError::Closed(row.number));
    }
    let sequence = row.next_sequence;
    let mut row: job::ActiveModel = row.into();
    row.next_sequence = Set(sequence + 1);
    row.update(tx).await?;
    Ok(sequence)
}
