//! Soaks under way, for lists.

use super::rows::read;
use super::{LogEntry, Store, StoreError};
use crate::entities::soak_entry;
use kelvok_core::soak::{SoakEntry, Timed};
use sea_orm::{ColumnTrait, DatabaseTransaction, EntityTrait, QueryFilter, QueryOrder};
use std::collections::HashMap;
use uuid::Uuid;

impl Store {
    /// What was recorded of the soaks of these jobs, in order, each at its second. What cannot be read counts for
    /// nothing.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn soaks_of(&self, jobs: &[Uuid]) -> Result<HashMap<Uuid, Vec<Timed>>, StoreError> {
        let rows = soak_entry::Entity::find()
            .filter(soak_entry::Column::JobId.is_in(jobs.iter().copied()))
            .filter(soak_entry::Column::VoidedAt.is_null())
            .filter(soak_entry::Column::VoidedBy.is_null())
            .order_by_asc(soak_entry::Column::Sequence);
        let each = |row: soak_entry::Model| {
            let job = row.job_id;
            Ok((job, timed(&LogEntry::<SoakEntry>::try_from(row)?)))
        };
        let mut soaks: HashMap<Uuid, Vec<Timed>> = HashMap::new();
        for (job, entry) in read(&self.connection, rows, "sequence", each).await? {
            soaks.entry(job).or_default().push(entry);
        }
        Ok(soaks)
    }
}

/// An entry with the second at which the server took it; one whose time is none stands at the beginning.
pub fn timed(entry: &LogEntry<SoakEntry>) -> Timed {
    let at = entry.recorded_at.map_or(0.0, |at| at.timestamp_micros() as f64 / 1e6);
    Timed { at, entry: entry.body.clone() }
}

/// Nothing follows for the job's row.
pub(crate) async fn entered(
    _tx: &DatabaseTransaction,
    _id: Uuid,
    _entry: &SoakEntry,
) -> Result<(), StoreError> {
    Ok(())
}
