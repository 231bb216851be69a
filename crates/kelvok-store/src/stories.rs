//! Jobs brought in from elsewhere, with everything that was recorded in them.

use super::jobs::opened;
use super::store::again;
use super::{Job, LogEntry, NewJob, Store, StoreError, Verdict, derived};
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
        self.revision_head(story.job.revision_id).await?;
        let last = story.evidence.iter().map(|e| e.sequence);
        let last = last.chain(story.verdicts.iter().map(|v| v.sequence)).max();
        // Whatever no table holds is refused before anything is written.
        let rows = |e: &LogEntry<Entry>| Ok(e.row(id)?.into_active_model().reset_all());
        let evidence: Vec<_> =
            story.evidence.iter().map(rows).collect::<Result<_, StoreError>>()?;
        let rows = |v: &LogEntry<Verdict>| Ok(v.row(id)?.into_active_model().reset_all());
        let verdicts: Vec<_> =
            story.verdicts.iter().map(rows).collect::<Result<_, StoreError>>()?;
        again!(async {
            let row = opened(story.job.clone(), last.unwrap_or(0).saturating_add(1));
            let tx = self.begin().await?;
            match job::Entity::insert(row).exec_without_returning(&tx).await {
                Ok(_) => {}
                // The same story came in twice at once: the other one won.
                Err(e) if StoreError::is_duplicate(&e) => return Ok(tx.rollback().await?),
                Err(e) => return Err(StoreError::from(e)),
            }
            for some in evidence.chunks(200) {
                evidence::Entity::insert_many(some.to_vec()).exec_without_returning(&tx).await?;
            }
            for some in verdicts.chunks(200) {
                verdict::Entity::insert_many(some.to_vec()).exec_without_returning(&tx).await?;
            }
            derived::job(&tx, id).await?;
            Ok(tx.commit().await?)
        })?;
        self.job(id).await
    }
}
