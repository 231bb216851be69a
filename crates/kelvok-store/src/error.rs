use sea_orm::{DbErr, RuntimeErr, SqlErr};
use uuid::Uuid;

#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// The database does not answer; the same call may succeed later.
    #[error("the database does not answer")]
    Unavailable(#[source] DbErr),
    #[error("there is no {what} {id}")]
    NotFound { what: &'static str, id: String },
    /// The id was used before for something else.
    #[error("the id {0} was already used for another entry")]
    IdTaken(Uuid),
    /// Somebody changed the row since it was read.
    #[error("job {number} was changed meanwhile: it is at version {now}, not {then}")]
    Stale { number: i64, then: i32, now: i32 },
    #[error("this switch was changed meanwhile: it is at version {now}, not {then}")]
    SwitchStale { then: i32, now: i32 },
    #[error("this switch test is closed: its results went out; start another")]
    SwitchClosed,
    /// A document of this id says something else.
    #[error("there is another profile with the id {0}: give yours an id of its own")]
    NameTaken(String),
    #[error("already voided")]
    AlreadyVoided,
    /// Somebody else holds the instrument.
    #[error("the meter is held by {by}")]
    Held { by: String },
    #[error("job {0} is closed")]
    Closed(i64),
    #[error("a stored {what} cannot be read")]
    Corrupt { what: &'static str, source: serde_json::Error },
    #[error(transparent)]
    Database(DbErr),
}

impl From<DbErr> for StoreError {
    fn from(error: DbErr) -> Self {
        let lost = match &error {
            DbErr::Conn(_) | DbErr::ConnectionAcquire(_) => true,
            DbErr::Exec(RuntimeErr::SqlxError(e)) | DbErr::Query(RuntimeErr::SqlxError(e)) => {
                // 1053: server shutdown in progress.
                let text = e.to_string();
                e.as_database_error().is_none() || text.contains("1053")
            }
            _ => false,
        };
        if lost { Self::Unavailable(error) } else { Self::Database(error) }
    }
}

impl StoreError {
    /// Whether an insert failed because the key was there already.
    pub(crate) fn is_duplicate(error: &DbErr) -> bool {
        matches!(error.sql_err(), Some(SqlErr::UniqueConstraintViolation(_)))
    }
}
