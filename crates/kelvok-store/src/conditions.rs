//! Conditions that people gave a name, a machine each. A note for the eye, not evidence: one that is
//! no longer wanted is erased.

use super::rows::put_in;
use super::store::write;
use super::{Store, StoreError};
use crate::entities::named_condition;
use sea_orm::{
    ActiveModelTrait, ColumnTrait, EntityTrait, IntoActiveModel, QueryFilter, QueryOrder,
};
use uuid::Uuid;

/// A condition with its name.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NamedCondition {
    pub id: Uuid,
    pub machine_id: Uuid,
    pub name: String,
    /// What is set, as JSON text.
    pub body: String,
    pub kept_by: String,
}

impl From<named_condition::Model> for NamedCondition {
    fn from(row: named_condition::Model) -> Self {
        let named_condition::Model { id, machine_id, name, body, kept_by } = row;
        Self { id, machine_id, name, body, kept_by }
    }
}

impl Store {
    /// The conditions kept for a machine, oldest first.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn named_conditions(
        &self,
        machine_id: Uuid,
    ) -> Result<Vec<NamedCondition>, StoreError> {
        let rows = named_condition::Entity::find()
            .filter(named_condition::Column::MachineId.eq(machine_id))
            .order_by_asc(named_condition::Column::Id);
        Ok(rows.all(&self.connection).await?.into_iter().map(Into::into).collect())
    }

    /// Keeps a condition; the same one sent twice is kept once.
    ///
    /// # Errors
    /// The id was used for another; the database does not answer.
    pub async fn keep_condition(&self, new: NamedCondition) -> Result<(), StoreError> {
        let NamedCondition { id, machine_id, name, body, kept_by } = new.clone();
        let row = named_condition::Model { id, machine_id, name, body, kept_by };
        let row = row.into_active_model().reset_all();
        if put_in(&self.connection, row).await? {
            return Ok(());
        }
        let found = named_condition::Entity::find_by_id(id).one(&self.connection).await?;
        match found.map(NamedCondition::from) {
            Some(found) if found == new => Ok(()),
            _ => Err(StoreError::IdTaken(id)),
        }
    }

    /// Forgets a condition of a machine.
    ///
    /// # Errors
    /// There is none of this id; the database does not answer.
    pub async fn forget_condition(&self, machine_id: Uuid, id: Uuid) -> Result<(), StoreError> {
        let gone = named_condition::Entity::delete_many()
            .filter(named_condition::Column::Id.eq(id))
            .filter(named_condition::Column::MachineId.eq(machine_id));
        let gone = write!(gone, &self.connection)?;
        match gone.rows_affected {
            0 => Err(StoreError::NotFound { what: "named condition", id: id.to_string() }),
            _ => Ok(()),
        }
    }
}
