//! What follows for a job from what is recorded of its release.

use super::jobs::JobStatus;
use super::moment::now;
use super::rows::read;
use super::{LogEntry, Store, StoreError, derived};
use crate::entities::{job, release_entry};
use kelvok_core::release::ReleaseEntry;
use sea_orm::sea_query::{Expr, ExprTrait};
use sea_orm::{ColumnTrait, DatabaseTransaction, EntityTrait, QueryFilter, QueryOrder};
use std::collections::HashMap;
use uuid::Uuid;

impl Store {
    /// Of these jobs that ended with a release or without: whether it was one, the last time. What cannot be read
    /// counts for nothing.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn release_ends(&self, jobs: &[Uuid]) -> Result<HashMap<Uuid, bool>, StoreError> {
        let ends = Expr::cust("JSON_VALUE(body, '$.kind') IN ('signed', 'returned')");
        let rows = release_entry::Entity::find()
            .filter(release_entry::Column::JobId.is_in(jobs.iter().copied()))
            .filter(release_entry::Column::VoidedAt.is_null())
            .filter(release_entry::Column::VoidedBy.is_null())
            .filter(Expr::cust("JSON_VALID(body)").and(ends))
            .order_by_asc(release_entry::Column::Sequence);
        let each = |row: release_entry::Model| {
            let job = row.job_id;
            Ok((job, LogEntry::<ReleaseEntry>::try_from(row)?.body))
        };
        let read = read(&self.connection, rows, "sequence", each).await?;
        let released = |entry| matches!(entry, ReleaseEntry::Signed { .. });
        Ok(read.into_iter().map(|(job, entry)| (job, released(entry))).collect())
    }
}

/// Whoever signs closes the job with it.
pub(crate) async fn entered(
    tx: &DatabaseTransaction,
    id: Uuid,
    entry: &ReleaseEntry,
) -> Result<(), StoreError> {
    if !entry.ends_it() {
        return Ok(());
    }
    job::Entity::update_many()
        .col_expr(job::Column::Status, Expr::value(JobStatus::Closed.text()))
        .col_expr(job::Column::ClosedAt, Expr::value(now()))
        .col_expr(job::Column::Version, Expr::col(job::Column::Version).add(1))
        .filter(job::Column::Id.eq(id))
        .exec(tx)
        .await?;
    derived::job(tx, id).await
}
