//! The forms in which bodies of rows were written. Rows are append-only and are never written anew: one
//! of an older form is brought up to date as it is read. Literal rows of every form that ever shipped are
//! in `tests/formats.rs`.

use super::StoreError;
use serde::Serialize;
use serde::de::DeserializeOwned;

/// The form that this Kelvok writes. Where a body changes so that older ones no longer read, this goes
/// up, and [`read`] learns to bring the older ones up to date.
pub(crate) const FORMAT: i16 = 1;

/// Reads a body; `what` is the row, for whoever looks after the database.
pub(crate) fn read<T: DeserializeOwned>(
    what: &'static str,
    format: i16,
    body: &str,
) -> Result<T, StoreError> {
    if !(1..=FORMAT).contains(&format) {
        return Err(StoreError::NewerRow { what, format });
    }
    serde_json::from_str(body).map_err(|source| StoreError::Corrupt { what, source })
}

/// Writes a body in the form of today.
pub(crate) fn write(what: &'static str, body: &impl Serialize) -> Result<String, StoreError> {
    serde_json::to_string(body).map_err(|source| StoreError::Corrupt { what, source })
}
