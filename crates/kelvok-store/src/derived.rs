//! What lists show and find of jobs and machines: it follows from their documents and logs, and is
//! kept beside them so that a list asks for no log. Written in the transaction that changes what it
//! follows from; where the rule changes, [`VERSION`] goes up and everything is worked out anew at the
//! next start.

use super::log::{LogEntry, Verdict};
use super::rows::read;
use super::store::again;
use super::{Store, StoreError};
use crate::entities::{job, machine, machine_revision, verdict};
use chrono::NaiveDateTime;
use kelvok_core::diagnosis::{Entry, ObservationEntry};
use sea_orm::sea_query::{Expr, ExprTrait};
use sea_orm::{
    ColumnTrait, ConnectionTrait, DatabaseTransaction, DbBackend, EntityTrait, FromQueryResult,
    QueryFilter, QueryOrder, QuerySelect, Statement,
};
use uuid::Uuid;

const VERSION: i32 = 1;
/// Rows worked out anew before the next look at the table.
const BATCH: u64 = 200;

/// Something was observed in a job.
pub(crate) async fn observed(
    tx: &DatabaseTransaction,
    id: Uuid,
    entry: &Entry,
) -> Result<(), StoreError> {
    let reading = matches!(entry.observation, ObservationEntry::Reading { .. });
    job::Entity::update_many()
        .col_expr(job::Column::Readings, Expr::col(job::Column::Readings).add(i32::from(reading)))
        .col_expr(job::Column::LastAt, Expr::value(super::moment::now()))
        .filter(job::Column::Id.eq(id))
        .exec(tx)
        .await?;
    Ok(())
}

/// A verdict was kept in a job.
pub(crate) async fn judged(
    tx: &DatabaseTransaction,
    id: Uuid,
    _verdict: &Verdict,
) -> Result<(), StoreError> {
    job(tx, id).await
}

#[derive(FromQueryResult)]
struct Counted {
    readings: i64,
    last_at: Option<NaiveDateTime>,
}

/// Works out anew what follows of a job.
pub(crate) async fn job<C: ConnectionTrait>(connection: &C, id: Uuid) -> Result<(), StoreError> {
    let Some(row) = job::Entity::find_by_id(id).one(connection).await? else { return Ok(()) };
    let count = "SELECT CAST(COALESCE(SUM(IF(JSON_VALID(body), \
                     JSON_VALUE(body, '$.observation.kind') = 'reading', 0)), 0) AS SIGNED) AS readings, \
                 MAX(NULLIF(recorded_at, CAST(0 AS DATETIME(6)))) AS last_at FROM evidence WHERE job_id = ? \
                 AND voided_by IS NULL AND voided_at IS NULL";
    let count = Statement::from_sql_and_values(DbBackend::MySql, count, [id.into()]);
    let counted = Counted::find_by_statement(count).one(connection).await?;
    let standing = verdict::Entity::find()
        .filter(verdict::Column::JobId.eq(id))
        .filter(verdict::Column::VoidedAt.is_null())
        .filter(verdict::Column::VoidedBy.is_null())
        .order_by_desc(verdict::Column::Sequence);
    let standing = read(connection, standing, "sequence", LogEntry::<Verdict>::try_from).await?;
    let last = standing.first();
    let said = last.map(|v| [v.body.units.join(" "), v.body.names.join(" "), v.body.note.clone()]);
    let words = [
        row.number.to_string(),
        row.tag,
        row.owner,
        row.serial,
        row.complaint,
        machine_words(connection, row.revision_id).await?,
        said.map(|said| said.join(" ")).unwrap_or_default(),
    ];
    let closed = row.status == super::JobStatus::Closed.text();
    let outcome = last.filter(|v| closed && v.body.confirmed).and_then(|v| v.body.kind);
    let outcome = outcome.and_then(|kind| serde_json::to_string(&kind).ok());
    let readings = counted.as_ref().map_or(0, |c| i32::try_from(c.readings).unwrap_or(i32::MAX));
    job::Entity::update_many()
        .col_expr(job::Column::Words, Expr::value(words.join(" ")))
        .col_expr(job::Column::Outcome, Expr::value(outcome))
        .col_expr(job::Column::Readings, Expr::value(readings))
        .col_expr(job::Column::LastAt, Expr::value(counted.and_then(|c| c.last_at)))
        .col_expr(job::Column::VerdictId, Expr::value(last.map(|v| v.id)))
        .col_expr(job::Column::Derived, Expr::value(VERSION))
        .filter(job::Column::Id.eq(id))
        .exec(connection)
        .await?;
    Ok(())
}

async fn machine_words<C: ConnectionTrait>(
    connection: &C,
    revision: Uuid,
) -> Result<String, StoreError> {
    let of: Option<Uuid> = machine_revision::Entity::find_by_id(revision)
        .select_only()
        .column(machine_revision::Column::MachineId)
        .into_tuple()
        .one(connection)
        .await?;
    let Some(of) = of else { return Ok(String::new()) };
    let row = machine::Entity::find_by_id(of).one(connection).await?;
    Ok(row.map(|m| m.words).unwrap_or_default())
}

/// Works out anew what follows of a machine.
pub(crate) async fn machine<C: ConnectionTrait>(
    connection: &C,
    id: Uuid,
) -> Result<(), StoreError> {
    let Some(row) = machine::Entity::find_by_id(id).one(connection).await? else { return Ok(()) };
    let newest = super::machines::newest(id, connection).await?;
    let document = newest.map(|r| r.document).unwrap_or_default();
    let words = [row.name, identity(&document)];
    machine::Entity::update_many()
        .col_expr(machine::Column::Words, Expr::value(words.join(" ")))
        .col_expr(machine::Column::Derived, Expr::value(VERSION))
        .filter(machine::Column::Id.eq(id))
        .exec(connection)
        .await?;
    Ok(())
}

/// What a document says of its machine as a whole, in whatever form it is.
fn identity(document: &str) -> String {
    let document: serde_json::Value = serde_json::from_str(document).unwrap_or_default();
    let identity = &document["identity"];
    let of = |field: &str| identity[field].as_str();
    let notes = identity["notes"].as_array().into_iter().flatten().filter_map(|n| n.as_str());
    let head = ["make", "model", "family", "years", "source"].into_iter().filter_map(of);
    head.chain(notes).collect::<Vec<_>>().join(" ")
}

/// Works out what an older Kelvok did not, or otherwise. Can be ended at any point.
pub(crate) async fn catch_up(store: &Store) -> Result<(), StoreError> {
    let connection = &store.connection;
    loop {
        let old: Vec<Uuid> = machine::Entity::find()
            .filter(machine::Column::Derived.lt(VERSION))
            .select_only()
            .column(machine::Column::Id)
            .limit(BATCH)
            .into_tuple()
            .all(connection)
            .await?;
        for id in &old {
            again!(machine(connection, *id))?;
        }
        if old.is_empty() {
            break;
        }
    }
    loop {
        let old: Vec<Uuid> = job::Entity::find()
            .filter(job::Column::Derived.lt(VERSION))
            .select_only()
            .column(job::Column::Id)
            .limit(BATCH)
            .into_tuple()
            .all(connection)
            .await?;
        for id in &old {
            let done: Result<(), StoreError> = again!(async {
                let tx = store.begin().await?;
                super::jobs::hold(&tx, *id).await?;
                job(&tx, *id).await?;
                Ok(tx.commit().await?)
            });
            done?;
        }
        if old.is_empty() {
            return Ok(());
        }
    }
}
