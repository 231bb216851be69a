//! The schema, forward only. MariaDB ends a transaction at every statement that changes the schema,
//! so a migration may be interrupted at any of them: each can be run again from any point.

mod m0001_first;
mod m0002_named_conditions;
mod m0003_stories_and_meters;
mod m0004_switch_bench;
mod m0005_lists;
mod m0006_formats;
mod m0007_traces;
mod m0008_revisions;
mod m0009_releases;
mod m0010_soaks;

use super::StoreError;
use super::store::options;
use sea_orm::{ConnectionTrait, Database, DatabaseConnection, DbBackend, Statement};
use sea_orm_migration::prelude::*;
use std::time::{Duration, Instant};

pub struct Migrator;

#[async_trait::async_trait]
impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![
            Box::new(m0001_first::Migration),
            Box::new(m0002_named_conditions::Migration),
            Box::new(m0003_stories_and_meters::Migration),
            Box::new(m0004_switch_bench::Migration),
            Box::new(m0005_lists::Migration),
            Box::new(m0006_formats::Migration),
            Box::new(m0007_traces::Migration),
            Box::new(m0008_revisions::Migration),
            Box::new(m0009_releases::Migration),
            Box::new(m0010_soaks::Migration),
        ]
    }
}

/// Names of the migrations, oldest first.
pub(crate) fn names() -> Vec<String> {
    Migrator::migrations().iter().map(|m| m.name().to_owned()).collect()
}

/// While another server migrates, this one waits so long.
const PATIENCE: Duration = Duration::from_secs(300);
/// How long the database is asked to wait for the lock at a time, in seconds.
const ONCE: u32 = 5;

/// Brings a schema up to date, or by so many steps; one server does it, others wait.
pub(crate) async fn migrate(url: &str, steps: Option<u32>) -> Result<(), StoreError> {
    // The lock belongs to the connection, and goes with it, however this program ends.
    let connection = Database::connect(options(url, 1)).await?;
    let migrated = locked(&connection, steps).await;
    let closed = connection.close().await;
    migrated?;
    Ok(closed?)
}

async fn locked(connection: &DatabaseConnection, steps: Option<u32>) -> Result<(), StoreError> {
    let ask = format!("SELECT GET_LOCK(CONCAT('kelvok migrates ', DATABASE()), {ONCE}) AS got");
    let began = Instant::now();
    loop {
        let asked = Statement::from_string(DbBackend::MySql, ask.clone());
        let row = connection.query_one_raw(asked).await?;
        let got: Option<i32> = row.and_then(|row| row.try_get("", "got").ok());
        if got == Some(1) {
            break;
        }
        if began.elapsed() > PATIENCE {
            let sentence = "another server has been migrating this database for minutes";
            return Err(StoreError::Unavailable(DbErr::Custom(sentence.to_owned())));
        }
    }
    if let Some(newer) = newer(connection).await? {
        return Err(StoreError::NewerSchema(newer));
    }
    Ok(Migrator::up(connection, steps).await?)
}

/// A migration in the database that this Kelvok does not know.
async fn newer(connection: &DatabaseConnection) -> Result<Option<String>, StoreError> {
    let applied = applied(connection).await?;
    let known = names();
    Ok(applied.into_iter().find(|name| !known.contains(name)))
}

/// The migrations that a database has, oldest first.
pub(crate) async fn applied<C: ConnectionTrait>(connection: &C) -> Result<Vec<String>, StoreError> {
    let there = "SELECT COUNT(*) AS there FROM information_schema.tables \
                 WHERE table_schema = DATABASE() AND table_name = 'seaql_migrations'";
    let there = connection.query_one_raw(Statement::from_string(DbBackend::MySql, there)).await?;
    if there.and_then(|row| row.try_get::<i64>("", "there").ok()).unwrap_or(0) == 0 {
        return Ok(Vec::new());
    }
    let all = "SELECT version FROM seaql_migrations ORDER BY version";
    let rows = connection.query_all_raw(Statement::from_string(DbBackend::MySql, all)).await?;
    rows.iter().map(|row| Ok(row.try_get("", "version")?)).collect()
}
