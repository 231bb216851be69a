//! Jobs brought in from elsewhere, with everything that was recorded in them.

use super::jobs::opened;
use super::{Job, LogEntry, NewJob, Store, StoreError, Verdict, Voided};
use crate::entities::{evidence, job, verdict};
use kelvok_core::diagnosis::Entry;
use sea_orm::{ActiveModelTrait, EntityTrait, IntoActiveModel};
use serde::Serialize;

/// A job with its whole log, in order.
#[derive(Clone, Debug)]
pub struct Story {
    pub job: NewJob,
    pub evidence: Vec<LogEntry<Entry>>,
    pub verdicts: Vec<LogEntry<Verdict>>,
}

impl Store {
    /// Opens a job with everything that was recorded in it elsewhere, all of it or nothing. Sent
    /// twice with one id, it is brought in once.
    ///
    /// # Errors
    /// There is no such machine revision, or an entry's id was used before.
    pub async fn bring_in(&self, story: Story) -> Result<Job, StoreError> {
        let id = story.job.id;
        if job::Entity::find_by_id(id).one(&self.connection).await?.is_some() {
            return self.job(id).await;
        }
        self.revision(story.job.revision_id).await?;
        let last = story.evidence.iter().map(|e| e.sequence);
        let last = last.chain(story.verdicts.iter().map(|v| v.sequence)).max();
        let row = opened(story.job, last.unwrap_or(0) + 1);
        let tx = self.begin().await?;
        job::Entity::insert(row).exec_without_returning(&tx).await?;
        for entry in &story.evidence {
            let row = evidence::Model {
                id: entry.id,
                job_id: id,
                sequence: entry.sequence,
                body: text(&entry.body, "reading")?,
                recorded_by: entry.recorded_by.clone(),
                recorded_at: entry.recorded_at.naive_utc(),
                voided_at: entry.voided.as_ref().map(|v| v.at.naive_utc()),
                voided_by: by(&entry.voided),
                void_reason: reason(&entry.voided),
            };
            let row = row.into_active_model().reset_all();
            evidence::Entity::insert(row).exec_without_returning(&tx).await?;
        }
        for entry in &story.verdicts {
            let row = verdict::Model {
                id: entry.id,
                job_id: id,
                sequence: entry.sequence,
                body: text(&entry.body, "verdict")?,
                recorded_by: entry.recorded_by.clone(),
                recorded_at: entry.recorded_at.naive_utc(),
                voided_at: entry.voided.as_ref().map(|v| v.at.naive_utc()),
                voided_by: by(&entry.voided),
                void_reason: reason(&entry.voided),
            };
            let row = row.into_active_model().reset_all();
            verdict::Entity::insert(row).exec_without_returning(&tx).await?;
        }
        tx.commit().await?;
        self.job(id).await
    }
}

fn text(body: &impl Serialize, what: &'static str) -> Result<String, StoreError> {
    serde_json::to_string(body).map_err(|source| StoreError::Corrupt { what, source })
}

fn by(voided: &Option<Voided>) -> Option<String> {
    voided.as_ref().map(|v| v.by.clone())
}

fn reason(voided: &Option<Voided>) -> Option<String> {
    voided.as_ref().map(|v| v.reason.clone())
}
