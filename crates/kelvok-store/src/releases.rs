//! What follows for a job from what is recorded of its release.

use super::StoreError;
use super::derived;
use super::jobs::JobStatus;
use super::moment::now;
use crate::entities::job;
use kelvok_core::release::ReleaseEntry;
use sea_orm::sea_query::{Expr, ExprTrait};
use sea_orm::{ColumnTrait, DatabaseTransaction, EntityTrait, QueryFilter};
use uuid::Uuid;

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
