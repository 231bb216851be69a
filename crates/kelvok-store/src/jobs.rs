//! Jobs: one machine in the shop, pinned to a revision of its document.

use super::store::now;
use super::{LogEntry, Store, StoreError, Verdict};
use crate::entities::{job, verdict};
use chrono::{DateTime, Utc};
use sea_orm::{
    ActiveModelTrait, ActiveValue::NotSet, ActiveValue::Set, ColumnTrait, DatabaseTransaction,
    EntityTrait, QueryFilter, QueryOrder, QuerySelect, QueryTrait, sea_query::Expr,
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

fn no_job(id: impl ToString) -> StoreError {
    StoreError::NotFound { what: "job", id: id.to_string() }
}

impl Store {
    /// Jobs by number, open ones first.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn jobs(&self) -> Result<Vec<Job>, StoreError> {
        let rows = job::Entity::find()
            .order_by_desc(job::Column::Status)
            .order_by_asc(job::Column::Number);
        Ok(rows.all(&self.connection).await?.into_iter().map(Into::into).collect())
    }

    /// One job.
    ///
    /// # Errors
    /// There is none of this id.
    pub async fn job(&self, id: Uuid) -> Result<Job, StoreError> {
        let row = job::Entity::find_by_id(id).one(&self.connection).await?;
        row.map(Into::into).ok_or_else(|| no_job(id))
    }

    /// What the shop's other closed jobs came to: of each the last verdict that stands, if it was
    /// confirmed. A job's own verdict does not speak for it.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn closed_verdicts(&self, beside: Uuid) -> Result<Vec<Verdict>, StoreError> {
        let closed = job::Entity::find().filter(job::Column::Status.eq(JobStatus::Closed.text()));
        let closed = closed.select_only().column(job::Column::Id).into_query();
        let rows = verdict::Entity::find()
            .filter(verdict::Column::JobId.in_subquery(closed))
            .filter(verdict::Column::JobId.ne(beside))
            .filter(verdict::Column::VoidedAt.is_null())
            .order_by_asc(verdict::Column::Sequence)
            .all(&self.connection)
            .await?;
        let mut last = HashMap::new();
        for row in rows {
            last.insert(row.job_id, LogEntry::<Verdict>::try_from(row)?.body);
        }
        Ok(last.into_values().filter(|v| v.confirmed).collect())
    }

    /// Opens a job. Sent twice with one id, it is opened once.
    ///
    /// # Errors
    /// There is no such machine revision.
    pub async fn open_job(&self, new: NewJob) -> Result<Job, StoreError> {
        self.revision(new.revision_id).await?;
        let id = new.id;
        match job::Entity::insert(opened(new, 1)).exec_without_returning(&self.connection).await {
            Ok(_) => {}
            Err(e) if StoreError::is_duplicate(&e) => {}
            Err(e) => return Err(e.into()),
        }
        self.job(id).await
    }

    /// Opens or closes a job, if it is still at the version that was read.
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
        let done = job::Entity::update_many()
            .col_expr(job::Column::Status, Expr::value(status.text()))
            .col_expr(job::Column::ClosedAt, Expr::value(closed))
            .col_expr(job::Column::Version, Expr::value(version + 1))
            .filter(job::Column::Id.eq(id))
            .filter(job::Column::Version.eq(version))
            .exec(&self.connection)
            .await?;
        let job = self.job(id).await?;
        if done.rows_affected == 0 {
            let (number, now) = (job.number, job.version);
            return Err(StoreError::Stale { number, then: version, now });
        }
        Ok(job)
    }
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
    }
}

/// Takes the next place in an open job's log, holding the job until the transaction ends.
pub(crate) async fn take_sequence(tx: &DatabaseTransaction, id: Uuid) -> Result<i64, StoreError> {
    let row = job::Entity::find_by_id(id).lock_exclusive().one(tx).await?;
    let row = row.ok_or_else(|| no_job(id))?;
    if row.status == JobStatus::Closed.text() {
        return Err(StoreError::Closed(row.number));
    }
    let sequence = row.next_sequence;
    let mut row: job::ActiveModel = row.into();
    row.next_sequence = Set(sequence + 1);
    row.update(tx).await?;
    Ok(sequence)
}
