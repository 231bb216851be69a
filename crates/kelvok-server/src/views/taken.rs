//! A reading that was taken, as a page about one side of a job lists it.

use chrono::{DateTime, Utc};
use kelvok_core::diagnosis::Entry;
use kelvok_store::LogEntry;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// A reading that was taken.
#[derive(Serialize, ToSchema)]
pub struct TakenView {
    /// The entry of the job's evidence.
    pub entry: Uuid,
    /// In words.
    pub says: String,
    pub by: String,
    pub at: Option<DateTime<Utc>>,
    /// It is about what is in the machine now.
    pub counts: bool,
}

impl TakenView {
    pub fn new(entry: &LogEntry<Entry>, says: String, counts: bool) -> Self {
        let (by, at) = (entry.recorded_by.clone(), entry.recorded_at);
        Self { entry: entry.id, says, by, at, counts }
    }
}
