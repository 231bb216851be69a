//! What is still off or hangs on in a job, who left it so, and since when.

use crate::jobs::loaded::off;
use crate::views::names::SetUpView;
use chrono::{DateTime, Utc};
use kelvok_core::circuit::Circuit;
use kelvok_core::diagnosis::{Entry, SetUpEntry};
use kelvok_store::LogEntry;
use serde::Serialize;
use utoipa::ToSchema;

/// Something that is still off, or hangs on.
#[derive(Clone, Serialize, ToSchema)]
pub struct StillOffView {
    pub entry: SetUpEntry,
    pub name: String,
    /// Who left it so, and when.
    pub by: String,
    pub since: Option<DateTime<Utc>>,
}

impl StillOffView {
    /// All that a job's log leaves so, in order.
    pub fn all(circuit: &Circuit, evidence: &[LogEntry<Entry>]) -> Vec<Self> {
        let own = off(circuit, evidence).into_iter().map(|(what, entry)| {
            let SetUpView { entry: what, name } = SetUpView::of(circuit, what);
            Self { entry: what, name, by: entry.recorded_by.clone(), since: entry.recorded_at }
        });
        own.collect()
    }
}
