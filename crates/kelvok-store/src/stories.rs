//! Jobs brought in from elsewhere, with everything that was recorded in them.

use super::jobs::opened;
use super::{Job, LogEntry, NewJob, Store, StoreError, Verdict};
use crate::entities::{evidence, job, verdict};
use kelvok_core::diagnosis::Entry;
use sea_orm::{ActiveModelTrait, EntityTrait, IntoActiveModel};

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
        match job::Entity::insert(row).exec_without_returning(&tx).await {
            Ok(_) => {}
            // The same story came in twice at once: the other one won.
            Err(e) if StoreError::is_duplicate(&e) => {
                tx.rollback().await?;
                return self.job(id).await;
            }
            Err(e) => return Err(e.into()),
        }
        for entry in &story.evidence {
            let row = entry.row(id)?.into_active_model().reset_all();
            evidence::Entity::insert(row).exec_without_returning(&tx).await?;
        }
        for entry in &story.verdicts {
            let row = entry.row(id)?.into_active_model().reset_all();
            verdict::Entity::insert(row).exec_without_returning(&tx).await?;
        }
        tx.commit().await?;
        self.job(id).await
    }
}
