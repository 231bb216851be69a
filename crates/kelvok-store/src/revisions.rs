//! The revisions that a machine has had.

use super::machines::{Made, RevisionHead};
use super::{Store, StoreError};
use crate::entities::{job, machine, machine_revision};
use chrono::{DateTime, NaiveDateTime, Utc};
use sea_orm::{
    ColumnTrait, EntityTrait, FromQueryResult, JoinType, QueryFilter, QueryOrder, QuerySelect,
};
use uuid::Uuid;

/// A revision in the list of a machine's.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RevisionLine {
    pub head: RevisionHead,
    pub made_at: DateTime<Utc>,
    pub made: Made,
    /// Jobs that are on it.
    pub jobs: i64,
}

#[derive(FromQueryResult)]
struct Line {
    id: Uuid,
    machine_id: Uuid,
    revision: i32,
    made_at: NaiveDateTime,
    made_by: Option<String>,
    reason: Option<String>,
    jobs: i64,
}

impl Store {
    /// Every revision of a machine, the newest first.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn revisions(&self, machine_id: Uuid) -> Result<Vec<RevisionLine>, StoreError> {
        let jobs = machine_revision::Entity::belongs_to(job::Entity)
            .from(machine_revision::Column::Id)
            .to(job::Column::RevisionId);
        let own = [
            machine_revision::Column::Id,
            machine_revision::Column::MachineId,
            machine_revision::Column::Revision,
            machine_revision::Column::MadeAt,
            machine_revision::Column::MadeBy,
            machine_revision::Column::Reason,
        ];
        let mut lines = machine_revision::Entity::find()
            .select_only()
            .columns(own)
            .column_as(job::Column::Id.count(), "jobs")
            .join(JoinType::LeftJoin, jobs.into())
            .filter(machine_revision::Column::MachineId.eq(machine_id))
            .order_by_desc(machine_revision::Column::Revision);
        for column in own {
            lines = lines.group_by(column);
        }
        let lines: Vec<Line> = lines.into_model().all(&self.connection).await?;
        let line = |line: Line| RevisionLine {
            head: RevisionHead {
                id: line.id,
                machine_id: line.machine_id,
                revision: line.revision,
            },
            made_at: line.made_at.and_utc(),
            made: Made { by: line.made_by, reason: line.reason },
            jobs: line.jobs,
        };
        Ok(lines.into_iter().map(line).collect())
    }

    /// A machine's name and its newest revision, without the document.
    ///
    /// # Errors
    /// There is none of this id; the database does not answer.
    pub async fn newest_of(&self, machine_id: Uuid) -> Result<(String, RevisionHead), StoreError> {
        let missing = || StoreError::NotFound { what: "machine", id: machine_id.to_string() };
        let row = machine::Entity::find_by_id(machine_id).one(&self.connection).await?;
        let head = self.newest_heads(vec![machine_id]).await?.pop();
        row.map(|m| m.name).zip(head).ok_or_else(missing)
    }

    /// A machine's revision of this number, document and all.
    ///
    /// # Errors
    /// There is none of this number; the database does not answer.
    pub async fn revision_numbered(
        &self,
        machine_id: Uuid,
        revision: i32,
    ) -> Result<super::Revision, StoreError> {
        let row = machine_revision::Entity::find()
            .filter(machine_revision::Column::MachineId.eq(machine_id))
            .filter(machine_revision::Column::Revision.eq(revision))
            .one(&self.connection)
            .await?;
        row.map(Into::into)
            .ok_or_else(|| StoreError::NotFound { what: "revision", id: revision.to_string() })
    }
}
