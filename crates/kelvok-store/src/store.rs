use super::migrations::migrate;
use super::{StoreError, derived};
use sea_orm::sqlx::Executor;
use sea_orm::{
    ConnectOptions, Database, DatabaseConnection, DatabaseTransaction, TransactionTrait,
};
use std::time::Duration;

/// A connection pool; cheap to clone.
#[derive(Clone, Debug)]
pub struct Store {
    pub(crate) connection: DatabaseConnection,
}

/// Seconds that a write waits for another one's lock.
const LOCK_WAIT: &str = "SET SESSION innodb_lock_wait_timeout = 4";

pub(crate) fn options(url: &str, connections: u32) -> ConnectOptions {
    let mut options = ConnectOptions::new(url);
    options
        .max_connections(connections)
        .connect_timeout(Duration::from_secs(3))
        .acquire_timeout(Duration::from_secs(3))
        .test_before_acquire(true)
        .sqlx_logging(false)
        .map_sqlx_mysql_pool_opts(|pool| {
            // Every connection of the pool, not the first alone.
            pool.after_connect(|connection, _| {
                Box::pin(async move { connection.execute(LOCK_WAIT).await.map(|_| ()) })
            })
        });
    options
}

impl Store {
    /// Connects and brings the schema up to date. While another server does that, it waits.
    ///
    /// # Errors
    /// The database does not answer, belongs to a newer Kelvok, or a migration fails.
    pub async fn open(url: &str) -> Result<Self, StoreError> {
        migrate(url, None).await?;
        let store = Self::connect(url).await?;
        derived::catch_up(&store).await?;
        Ok(store)
    }

    /// Connects without touching the schema.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn connect(url: &str) -> Result<Self, StoreError> {
        Ok(Self { connection: Database::connect(options(url, 16)).await? })
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

/// Before what stood in another write's way is tried again: longer each time, and not in step with
/// the other one.
pub(crate) async fn pause(tries: u32) {
    let step = u64::from(uuid::Uuid::new_v4().as_fields().0 % 20) + 5;
    tokio::time::sleep(Duration::from_millis(step << tries)).await;
}

/// So often is a write tried again where others stand in its way.
pub(crate) const TRIES: u32 = 6;

/// Does a whole piece of work, and does it again where another write stood in its way: of two that
/// lock the same rows the database ends one.
macro_rules! again {
    ($work:expr) => {{
        let mut tries = 0;
        loop {
            match $work.await {
                Err(StoreError::Busy(_)) if tries < crate::store::TRIES => {
                    tries += 1;
                    crate::store::pause(tries).await;
                }
                done => break done,
            }
        }
    }};
}
pub(crate) use again;

/// Does one update or removal, and does it again as `again!` does.
macro_rules! write {
    ($statement:expr, $connection:expr) => {
        crate::store::again!(async {
            Ok::<_, StoreError>($statement.clone().exec($connection).await?)
        })
    };
}
pub(crate) use write;
