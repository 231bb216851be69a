//! What lies in the database and cannot be read, shown as such.

use kelvok_store::Unreadable;
use serde::Serialize;
use utoipa::ToSchema;

/// A row that lies damaged in the database, or that this Kelvok has no use for.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct UnreadableView {
    /// Its place in its log, or the number of its job, where that can still be read.
    pub place: Option<i64>,
    /// What is the matter.
    pub why: String,
}

impl UnreadableView {
    pub fn of(row: &Unreadable) -> Self {
        Self { place: row.place, why: row.why.clone() }
    }
}
