//! Machines and their revisions: a document, once stored, never changes.

use super::store::now;
use super::{Store, StoreError};
use crate::entities::{machine, machine_revision};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, EntityTrait, QueryFilter, QueryOrder,
    QuerySelect,
};
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
    /// Every machine with its newest revision, by name.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn machines(&self) -> Result<Vec<Machine>, StoreError> {
        let rows = machine::Entity::find()
            .order_by_asc(machine::Column::Name)
            .all(&self.connection)
            .await?;
        let mut machines = Vec::new();
        for row in rows {
            if let Some(newest) = newest(row.id, &self.connection).await? {
                machines.push(Machine { id: row.id, name: row.name, newest: newest.into() });
            }
        }
        Ok(machines)
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

    /// Stores a document as the machine's newest revision; one that says the same adds none.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn save_machine(&self, name: &str, document: &str) -> Result<Revision, StoreError> {
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
                let row = machine::ActiveModel { id: Set(id), name: Set(name.to_owned()) };
                machine::Entity::insert(row).exec(&tx).await?;
                id
            }
        };
        let last = newest(machine_id, &tx).await?;
        if let Some(last) = last.as_ref().filter(|l| l.document == document) {
            return Ok(last.clone().into());
        }
        let row = machine_revision::Model {
            id: Uuid::now_v7(),
            machine_id,
            revision: last.map_or(1, |l| l.revision + 1),
            document: document.to_owned(),
            made_at: now(),
        };
        let active: machine_revision::ActiveModel = row.clone().into();
        machine_revision::Entity::insert(active.reset_all()).exec(&tx).await?;
        tx.commit().await?;
        Ok(row.into())
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

async fn newest<C: sea_orm::ConnectionTrait>(
    machine_id: Uuid,
    connection: &C,
) -> Result<Option<machine_revision::Model>, StoreError> {
    Ok(machine_revision::Entity::find()
        .filter(machine_revision::Column::MachineId.eq(machine_id))
        .order_by_desc(machine_revision::Column::Revision)
        .one(connection)
        .await?)
}
