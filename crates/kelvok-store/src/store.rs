use super::{Migrator, StoreError};
use chrono::{NaiveDateTime, SubsecRound, Utc};
use sea_orm::{
    ConnectOptions, Database, DatabaseConnection, DatabaseTransaction, TransactionTrait,
};
use sea_orm_migration::MigratorTrait;
use std::time::Duration;

/// A connection pool; cheap to clone.
#[derive(Clone, Debug)]
pub struct Store {
    pub(crate) connection: DatabaseConnection,
}

impl Store {
    /// Connects and brings the schema up to date.
    ///
    /// # Errors
    /// The database does not answer, or a migration fails.
    pub async fn open(url: &str) -> Result<Self, StoreError> {
        let store = Self::connect(url).await?;
        Migrator::up(&store.connection, None).await?;
        Ok(store)
    }

    /// Connects without touching the schema.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn connect(url: &str) -> Result<Self, StoreError> {
        let mut options = ConnectOptions::new(url);
        options
            .max_connections(16)
            .connect_timeout(Duration::from_secs(3))
            .acquire_timeout(Duration::from_secs(3))
            .test_before_acquire(true)
            .sqlx_logging(false);
        Ok(Self { connection: Database::connect(options).await? })
    }

    /// Whether the database answers.
    ///
    /// # Errors
    /// It does not.
    pub async fn ping(&self) -> Result<(), StoreError> {
        Ok(self.connection.ping().await?)
    }

    pub(crate) async fn begin(&self) -> Result<DatabaseTransaction, StoreError> {
        Ok(self.connection.begin().await?)
    }
}

/// The moment, in UTC, as finely as the tables keep it.
pub(crate) fn now() -> NaiveDateTime {
    Utc::now().naive_utc().trunc_subsecs(6)
}
