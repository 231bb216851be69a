//! What jobs left off or hanging on, for lists.

use super::rows::read;
use super::{LogEntry, Store, StoreError};
use crate::entities::evidence;
use kelvok_core::diagnosis::Entry;
use sea_orm::{ColumnTrait, EntityTrait, QueryFilter, QueryOrder, sea_query::Expr};
use std::collections::HashMap;
use uuid::Uuid;

impl Store {
    /// Entries of these jobs by which something was taken off, hung on or put back, in order, those taken back
    /// too: a mistyped reading plugs nothing in. What cannot be read counts for nothing.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn changed_in(
        &self,
        jobs: &[Uuid],
    ) -> Result<HashMap<Uuid, Vec<LogEntry<Entry>>>, StoreError> {
        let changes = "JSON_VALID(body) AND (JSON_LENGTH(body, '$.set_up') > 0 OR \
                       JSON_VALUE(body, '$.observation.kind') IN ('arranged', 'put-back'))";
        let rows = evidence::Entity::find()
            .filter(evidence::Column::JobId.is_in(jobs.iter().copied()))
            .filter(Expr::cust(changes))
            .order_by_asc(evidence::Column::Sequence);
        let each = |row: evidence::Model| {
            let job = row.job_id;
            Ok((job, LogEntry::<Entry>::try_from(row)?))
        };
        let mut changed: HashMap<Uuid, Vec<LogEntry<Entry>>> = HashMap::new();
        for (job, entry) in read(&self.connection, rows, "sequence", each).await? {
            changed.entry(job).or_default().push(entry);
        }
        Ok(changed)
    }
}
