//! Machines and their revisions: a document, once stored, never changes.

use super::jobs::JobsHad;
use super::moment::now;
use super::search::{Listed, Wanted, page};
use super::store::{TRIES, again};
use super::{Readable, Store, StoreError, derived};
use crate::entities::{machine, machine_revision};
use sea_orm::sea_query::{Expr, ExprTrait, Query};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, EntityTrait, FromQueryResult, QueryFilter,
    QueryOrder, QuerySelect,
};
use std::collections::HashMap;
use uuid::Uuid;

/// A machine and its newest revision.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Machine {
    pub id: Uuid,
    pub name: String,
    pub newest: Revision,
}

/// One state of a machine's document.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Revision {
    pub id: Uuid,
    pub machine_id: Uuid,
    pub revision: i32,
    /// The document's JSON text.
    pub document: String,
}

/// A revision without its document, which may be large.
#[derive(Clone, Debug, PartialEq, Eq, FromQueryResult)]
pub struct RevisionHead {
    pub id: Uuid,
    pub machine_id: Uuid,
    pub revision: i32,
}

/// Who made a revision, and what for, where that is known.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Made {
    pub by: Option<String>,
    pub reason: Option<String>,
}

/// A machine in a list: the head of its newest revision, and the jobs that it had.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct MachineLine {
    pub name: String,
    pub newest: RevisionHead,
    pub had: Option<JobsHad>,
}

impl From<machine_revision::Model> for Revision {
    fn from(row: machine_revision::Model) -> Self {
        Self {
            id: row.id,
            machine_id: row.machine_id,
            revision: row.revision,
            document: row.document,
        }
    }
}

impl Store {
    /// A page of the machines in whose words all that are wanted stand, by name.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn machines(&self, wanted: &Wanted) -> Result<Listed<MachineLine>, StoreError> {
        let rows = machine::Entity::find()
            .filter(wanted.condition(machine::Column::Words))
            .order_by_asc(machine::Column::Name);
        let listed = page(&self.connection, rows, wanted, "id", Ok).await?;
        let ids: Vec<_> = listed.found.iter().map(|m| m.id).collect();
        let (heads, had) = match ids.is_empty() {
            true => (Vec::new(), HashMap::new()),
            false => (self.newest_heads(ids.clone()).await?, self.jobs_had(ids).await?),
        };
        let mut newest: HashMap<Uuid, RevisionHead> =
            heads.into_iter().map(|h| (h.machine_id, h)).collect();
        let Readable { rows, unreadable } = listed.found;
        let rows = rows.into_iter().filter_map(|m| {
            let (newest, had) = (newest.remove(&m.id)?, had.get(&m.id).copied());
            Some(MachineLine { name: m.name, newest, had })
        });
        Ok(Listed { found: Readable { rows: rows.collect(), unreadable }, total: listed.total })
    }

    pub(crate) async fn newest_heads(
        &self,
        machines: Vec<Uuid>,
    ) -> Result<Vec<RevisionHead>, StoreError> {
        let newest = Query::select()
            .column(machine_revision::Column::MachineId)
            .expr(Expr::col(machine_revision::Column::Revision).max())
            .from(machine_revision::Entity)
            .and_where(machine_revision::Column::MachineId.is_in(machines))
            .group_by_col(machine_revision::Column::MachineId)
            .to_owned();
        let which = Expr::tuple([
            Expr::col(machine_revision::Column::MachineId),
            Expr::col(machine_revision::Column::Revision),
        ]);
        Ok(machine_revision::Entity::find()
            .filter(which.in_subquery(newest))
            .select_only()
            .columns([
                machine_revision::Column::Id,
                machine_revision::Column::MachineId,
                machine_revision::Column::Revision,
            ])
            .into_model()
            .all(&self.connection)
            .await?)
    }

    /// The machine of this name with its newest revision.
    ///
    /// # Errors
    /// There is none of this name; the database does not answer.
    pub async fn machine(&self, name: &str) -> Result<Machine, StoreError> {
        let missing = || StoreError::NotFound { what: "machine", id: name.to_owned() };
        let found = machine::Entity::find().filter(machine::Column::Name.eq(name));
        let row = found.one(&self.connection).await?.ok_or_else(missing)?;
        let newest = newest(row.id, &self.connection).await?.ok_or_else(missing)?;
        Ok(Machine { id: row.id, name: row.name, newest: newest.into() })
    }

    /// A machine with its newest revision, by its id.
    ///
    /// # Errors
    /// There is none of this id; the database does not answer.
    pub async fn machine_of(&self, id: Uuid) -> Result<Machine, StoreError> {
        let missing = || StoreError::NotFound { what: "machine", id: id.to_string() };
        let row = machine::Entity::find_by_id(id).one(&self.connection).await?;
        let row = row.ok_or_else(missing)?;
        let newest = newest(row.id, &self.connection).await?.ok_or_else(missing)?;
        Ok(Machine { id: row.id, name: row.name, newest: newest.into() })
    }

    /// Stores a document as the machine's newest revision; one that says the same adds none.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn save_machine(&self, name: &str, document: &str) -> Result<Revision, StoreError> {
        self.save_revision(name, document, &Made::default()).await
    }

    /// The same, with who made it and what for.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn save_revision(
        &self,
        name: &str,
        document: &str,
        made: &Made,
    ) -> Result<Revision, StoreError> {
        for _ in 0..TRIES {
            let saved = again!(self.save_once(name, document, made))?;
            if let Some(saved) = saved {
                return Ok(saved);
            }
        }
        Err(StoreError::NameTaken(name.to_owned()))
    }

    /// None where somebody else saved the same machine at the same moment.
    async fn save_once(
        &self,
        name: &str,
        document: &str,
        made: &Made,
    ) -> Result<Option<Revision>, StoreError> {
        let tx = self.begin().await?;
        let found = machine::Entity::find()
            .filter(machine::Column::Name.eq(name))
            .lock_exclusive()
            .one(&tx)
            .await?;
        let machine_id = match found {
            Some(row) => row.id,
            None => {
                let id = Uuid::now_v7();
                let row = machine::ActiveModel {
                    id: Set(id),
                    name: Set(name.to_owned()),
                    words: Set(String::new()),
                    derived: Set(0),
                };
                match machine::Entity::insert(row).exec_without_returning(&tx).await {
                    Ok(_) => id,
                    Err(e) if StoreError::is_duplicate(&e) => return Ok(None),
                    Err(e) => return Err(e.into()),
                }
            }
        };
        let last = newest(machine_id, &tx).await?;
        if let Some(last) = last.as_ref().filter(|l| l.document == document) {
            return Ok(Some(last.clone().into()));
        }
        let row = machine_revision::Model {
            id: Uuid::now_v7(),
            machine_id,
            revision: last.map_or(1, |l| l.revision.saturating_add(1)),
            document: document.to_owned(),
            made_at: now(),
            made_by: made.by.clone(),
            reason: made.reason.clone(),
        };
        let active: machine_revision::ActiveModel = row.clone().into();
        match machine_revision::Entity::insert(active.reset_all()).exec(&tx).await {
            Ok(_) => {}
            Err(e) if StoreError::is_duplicate(&e) => return Ok(None),
            Err(e) => return Err(e.into()),
        }
        derived::machine(&tx, machine_id).await?;
        tx.commit().await?;
        Ok(Some(row.into()))
    }

    /// The number that a machine's next revision would get.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn next_revision(&self, name: &str) -> Result<i32, StoreError> {
        match self.machine(name).await {
            Ok(machine) => Ok(machine.newest.revision.saturating_add(1)),
            Err(StoreError::NotFound { .. }) => Ok(1),
            Err(error) => Err(error),
        }
    }

    /// One revision, without its document.
    ///
    /// # Errors
    /// There is none of this id.
    pub async fn revision_head(&self, id: Uuid) -> Result<RevisionHead, StoreError> {
        let row = machine_revision::Entity::find_by_id(id).select_only().columns([
            machine_revision::Column::Id,
            machine_revision::Column::MachineId,
            machine_revision::Column::Revision,
        ]);
        let row = row.into_model().one(&self.connection).await?;
        row.ok_or_else(|| StoreError::NotFound { what: "machine revision", id: id.to_string() })
    }

    /// One revision.
    ///
    /// # Errors
    /// There is none of this id.
    pub async fn revision(&self, id: Uuid) -> Result<Revision, StoreError> {
        let row = machine_revision::Entity::find_by_id(id).one(&self.connection).await?;
        row.map(Into::into)
            .ok_or_else(|| StoreError::NotFound { what: "machine revision", id: id.to_string() })
    }
}

pub(crate) async fn newest<C: sea_orm::ConnectionTrait>(
    machine_id: Uuid,
    connection: &C,
) -> Result<Option<machine_revision::Model>, StoreError> {
    Ok(machine_revision::Entity::find()
        .filter(machine_revision::Column::MachineId.eq(machine_id))
        .order_by_desc(machine_revision::Column::Revision)
        .one(connection)
        .await?)
}
