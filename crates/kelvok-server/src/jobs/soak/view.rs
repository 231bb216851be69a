//! How far a job's soak is, as it is sent.

use chrono::{DateTime, Utc};
use kelvok_core::soak::{SoakEntry, SoakStanding, Timed, Trigger};
use kelvok_store::{Job, JobStatus, LogEntry, Readable, Verdict, timed};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// A job's soak.
#[derive(Serialize, ToSchema)]
pub struct SoakView {
    /// Nothing can be recorded in a closed job.
    pub open: bool,
    /// The last soak; none where none began.
    pub standing: Option<SoakStanding>,
    /// Before one begins: the chance that it is still there, by the job's verdict.
    pub still: f64,
    /// All that can bring it on.
    pub triggers: Vec<Trigger>,
    /// Every entry, those taken back too.
    pub log: Vec<SoakEntryView>,
}

/// What was recorded.
#[derive(Serialize, ToSchema)]
pub struct SoakEntryView {
    pub id: Uuid,
    pub entry: SoakEntry,
    pub by: String,
    pub at: Option<DateTime<Utc>>,
    pub taken_back: bool,
}

/// Nobody has said yet what it is: as likely there as gone.
const NOBODY_KNOWS: f64 = 0.5;

impl SoakView {
    pub fn new(
        job: &Job,
        entries: &Readable<LogEntry<SoakEntry>>,
        verdicts: &[LogEntry<Verdict>],
    ) -> Self {
        let last = verdicts.iter().rev().find(|v| v.voided.is_none());
        let still = last.map_or(NOBODY_KNOWS, |v| (1.0 - v.body.probability).clamp(0.05, 0.5));
        let log = entries.iter().map(|e| SoakEntryView {
            id: e.id,
            entry: e.body.clone(),
            by: e.recorded_by.clone(),
            at: e.recorded_at,
            taken_back: e.voided.is_some(),
        });
        Self {
            open: job.status == JobStatus::Open,
            standing: SoakStanding::of(&standing(entries), now()),
            still,
            triggers: Trigger::ALL.to_vec(),
            log: log.collect(),
        }
    }
}

/// What was not taken back, each at its second.
pub fn standing(entries: &[LogEntry<SoakEntry>]) -> Vec<Timed> {
    entries.iter().filter(|e| e.voided.is_none()).map(timed).collect()
}

/// What the last soak comes to by now, in a sentence.
pub(crate) fn soak_says(entries: &[Timed]) -> Option<String> {
    SoakStanding::of(entries, now()).map(|soak| soak.says)
}

/// The second by the server's clock.
pub fn now() -> f64 {
    Utc::now().timestamp_micros() as f64 / 1e6
}
