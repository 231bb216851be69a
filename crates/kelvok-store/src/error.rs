use sea_orm::sqlx::mysql::MySqlDatabaseError;
use sea_orm::{DbErr, RuntimeErr, SqlErr, SqlxError};
use uuid::Uuid;

#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// The database does not answer, or takes nothing just now; the same call may succeed later.
    #[error("{}", trouble(.0))]
    Unavailable(#[source] DbErr),
    /// Two writes stood in each other's way; the same call succeeds when sent again.
    #[error("the database is busy")]
    Busy(#[source] DbErr),
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
    #[error("this trace has ended: what was found is in the drawing")]
    TraceEnded,
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
    /// Something was recorded in it, so that it is not taken away, nor its machine changed.
    #[error("job {0} has entries: they are about this machine and are kept")]
    NotEmpty(i64),
    /// A time that the tables cannot keep.
    #[error("{0} is not a time that can be kept: years 1000 to 9999")]
    NoTime(String),
    /// The database refuses a value: too long, or letters that its tables cannot hold.
    #[error("the database cannot keep this {column}: too long, or letters that it does not have")]
    Rejected { column: String, source: DbErr },
    /// A row that a newer Kelvok wrote.
    #[error("a stored {what} is in form {format}: a newer Kelvok wrote it")]
    NewerRow { what: &'static str, format: i16 },
    #[error("a stored {what} cannot be read")]
    Corrupt { what: &'static str, source: serde_json::Error },
    /// The database was written by a newer Kelvok.
    #[error("this database belongs to a newer Kelvok ({0}): start that one")]
    NewerSchema(String),
    /// A backup that is not restored, and why.
    #[error("{0}")]
    Backup(String),
    #[error("cannot use the file: {0}")]
    File(#[from] std::io::Error),
    #[error(transparent)]
    Database(DbErr),
}

/// What the server says is the matter, by its error number.
enum Matter {
    /// It is away, full, or takes no writes just now.
    Passing,
    /// Deadlock: the database ended this one of two.
    Busy,
    /// A value that a column does not take.
    Value,
    Other,
}

impl Matter {
    fn of(number: u16) -> Self {
        match number {
            1213 | 1020 => Self::Busy,
            // A lock waited for too long; disk full or failing; shutting down; too many connections; read-only; connection or
            // statement ended from outside; cluster not ready.
            1205
            | 3
            | 1021
            | 1026
            | 1030
            | 1114
            | 1180
            | 1053
            | 1040
            | 1203
            | 1226
            | 1290
            | 1836
            | 1792
            | 1317
            | 1927
            | 1969
            | 1047
            | 1158..=1161
            | 1077
            | 1079
            | 1080
            | 1129 => Self::Passing,
            1264 | 1265 | 1366 | 1406 | 1292 | 3854 => Self::Value,
            _ => Self::Other,
        }
    }
}

fn number(error: &DbErr) -> Option<u16> {
    let (DbErr::Exec(RuntimeErr::SqlxError(e)) | DbErr::Query(RuntimeErr::SqlxError(e))) = error
    else {
        return None;
    };
    let SqlxError::Database(e) = e.as_ref() else { return None };
    e.try_downcast_ref::<MySqlDatabaseError>().map(MySqlDatabaseError::number)
}

fn trouble(error: &DbErr) -> &'static str {
    match number(error) {
        Some(3 | 1021 | 1026 | 1030 | 1114 | 1180) => "the database's disk is full or failing",
        Some(1290 | 1836 | 1792) => "the database takes no changes just now",
        Some(1205) => "the database is busy with something else",
        Some(1040 | 1203 | 1226) => "the database has too many connections",
        _ => "the database does not answer",
    }
}

impl From<DbErr> for StoreError {
    fn from(error: DbErr) -> Self {
        let lost = match &error {
            DbErr::Conn(_) | DbErr::ConnectionAcquire(_) => true,
            DbErr::Exec(RuntimeErr::SqlxError(e)) | DbErr::Query(RuntimeErr::SqlxError(e)) => {
                matches!(
                    e.as_ref(),
                    SqlxError::Io(_)
                        | SqlxError::Tls(_)
                        | SqlxError::Protocol(_)
                        | SqlxError::PoolTimedOut
                        | SqlxError::PoolClosed
                        | SqlxError::WorkerCrashed
                )
            }
            _ => false,
        };
        match number(&error).map(Matter::of) {
            _ if lost => Self::Unavailable(error),
            Some(Matter::Passing) => Self::Unavailable(error),
            Some(Matter::Busy) => Self::Busy(error),
            Some(Matter::Value) => Self::Rejected { column: column(&error), source: error },
            _ => Self::Database(error),
        }
    }
}

/// The column that an error speaks of: "Data too long for column 'name' at row 1".
fn column(error: &DbErr) -> String {
    let text = error.to_string();
    let after = text.split_once("column ").map_or("", |(_, after)| after);
    let named = after.split(['\'', '`']).filter(|word| !word.is_empty() && *word != ".");
    // With its table and schema before it, where the server names those too.
    let named: Vec<_> = named.take_while(|word| !word.starts_with(" at row")).collect();
    named.last().map_or_else(|| "value".to_owned(), |name| (*name).to_owned())
}

impl StoreError {
    /// Whether an insert failed because the key was there already.
    pub(crate) fn is_duplicate(error: &DbErr) -> bool {
        matches!(error.sql_err(), Some(SqlErr::UniqueConstraintViolation(_)))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_column_is_found_in_what_the_server_says() {
        let said = |text: &str| column(&DbErr::Custom(text.to_owned()));
        assert_eq!(said("Data too long for column 'kept_by' at row 1"), "kept_by");
        let odd = "Incorrect string value: '\\xF0' for column `kelvok`.`job`.`tag` at row 1";
        assert_eq!(said(odd), "tag");
        assert_eq!(said("Out of range"), "value");
    }
}
