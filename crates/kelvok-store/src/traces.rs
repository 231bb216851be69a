//! Harnesses that are traced: one at a time a machine, with a log that everybody at it shares.

use super::jobs::JobStatus;
use super::moment::now;
use super::store::again;
use super::{Store, StoreError};
use crate::entities::{harness_trace, machine};
use chrono::{DateTime, Utc};
use kelvok_core::trace::TraceEntry;
use sea_orm::sea_query::Expr;
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, DatabaseTransaction, EntityTrait,
    IntoActiveModel, QueryFilter, QuerySelect,
};
use uuid::Uuid;

/// A harness that is being traced.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct HarnessTrace {
    pub id: Uuid,
    pub machine_id: Uuid,
    pub opened_by: String,
    pub opened_at: DateTime<Utc>,
}

impl From<harness_trace::Model> for HarnessTrace {
    fn from(row: harness_trace::Model) -> Self {
        Self {
            id: row.id,
            machine_id: row.machine_id,
            opened_by: row.opened_by,
            opened_at: row.opened_at.and_utc(),
        }
    }
}

impl Store {
    /// The trace of a machine that is going on, if one is.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn trace_of(&self, machine: Uuid) -> Result<Option<HarnessTrace>, StoreError> {
        let open = harness_trace::Entity::find()
            .filter(harness_trace::Column::MachineId.eq(machine))
            .filter(harness_trace::Column::Status.eq(JobStatus::Open.text()));
        Ok(open.one(&self.connection).await?.map(Into::into))
    }

    /// The trace of a machine that is going on, begun now if none is.
    ///
    /// # Errors
    /// There is no such machine, or the database does not answer.
    pub async fn begin_trace(&self, machine: Uuid, by: &str) -> Result<HarnessTrace, StoreError> {
        again!(async {
            let tx = self.begin().await?;
            // Whoever begins at the same moment waits here and finds it.
            let held = machine::Entity::find_by_id(machine).lock_exclusive().one(&tx).await?;
            held.ok_or_else(|| StoreError::NotFound { what: "machine", id: machine.to_string() })?;
            let open = harness_trace::Entity::find()
                .filter(harness_trace::Column::MachineId.eq(machine))
                .filter(harness_trace::Column::Status.eq(JobStatus::Open.text()));
            if let Some(row) = open.one(&tx).await? {
                return Ok(row.into());
            }
            let row = harness_trace::Model {
                id: Uuid::now_v7(),
                machine_id: machine,
                status: JobStatus::Open.text().to_owned(),
                next_sequence: 1,
                opened_by: by.to_owned(),
                opened_at: now(),
                changed_at: now(),
            };
            let new = row.clone().into_active_model().reset_all();
            harness_trace::Entity::insert(new).exec_without_returning(&tx).await?;
            tx.commit().await?;
            Ok(row.into())
        })
    }

    /// Ends a trace; its log is kept. Ended twice, it is ended once.
    ///
    /// # Errors
    /// There is none of this id, or the database does not answer.
    pub async fn end_trace(&self, id: Uuid) -> Result<(), StoreError> {
        again!(async {
            let tx = self.begin().await?;
            let row = find(&tx, id).await?;
            let mut row: harness_trace::ActiveModel = row.into();
            row.status = Set(JobStatus::Closed.text().to_owned());
            row.changed_at = Set(now());
            row.update(&tx).await?;
            Ok(tx.commit().await?)
        })
    }
}

async fn find(tx: &DatabaseTransaction, id: Uuid) -> Result<harness_trace::Model, StoreError> {
    let row = harness_trace::Entity::find_by_id(id).lock_exclusive().one(tx).await?;
    row.ok_or_else(|| StoreError::NotFound { what: "trace", id: id.to_string() })
}

/// Holds a trace that is going on until the transaction ends.
pub(crate) async fn hold(
    tx: &DatabaseTransaction,
    id: Uuid,
) -> Result<harness_trace::Model, StoreError> {
    match find(tx, id).await? {
        row if row.status == JobStatus::Closed.text() => Err(StoreError::TraceEnded),
        row => Ok(row),
    }
}

/// Takes the next place in its log, holding it until the transaction ends.
pub(crate) async fn take_sequence(tx: &DatabaseTransaction, id: Uuid) -> Result<i64, StoreError> {
    let row = hold(tx, id).await?;
    let sequence = row.next_sequence;
    let mut row: harness_trace::ActiveModel = row.into();
    row.next_sequence = Set(sequence + 1);
    row.changed_at = Set(now());
    row.update(tx).await?;
    Ok(sequence)
}

/// An entry of its log was taken back.
pub(crate) async fn touch(tx: &DatabaseTransaction, id: Uuid) -> Result<(), StoreError> {
    harness_trace::Entity::update_many()
        .col_expr(harness_trace::Column::ChangedAt, Expr::value(now()))
        .filter(harness_trace::Column::Id.eq(id))
        .exec(tx)
        .await?;
    Ok(())
}

/// Something was found; taking its place in the log has touched the trace already.
pub(crate) async fn entered(
    _tx: &DatabaseTransaction,
    _id: Uuid,
    _entry: &TraceEntry,
) -> Result<(), StoreError> {
    Ok(())
}
