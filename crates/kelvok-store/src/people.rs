//! Who may record: a list of names, until there are accounts.

use super::rows::put_in;
use super::{Store, StoreError};
use crate::entities::person;
use sea_orm::{ActiveValue::Set, EntityTrait, QueryOrder};
use uuid::Uuid;

impl Store {
    /// Everybody's name, in order.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn people(&self) -> Result<Vec<String>, StoreError> {
        let rows = person::Entity::find().order_by_asc(person::Column::Name);
        Ok(rows.all(&self.connection).await?.into_iter().map(|p| p.name).collect())
    }

    /// Adds a name; one that is there already stays.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn add_person(&self, name: &str) -> Result<(), StoreError> {
        let row = person::ActiveModel { id: Set(Uuid::now_v7()), name: Set(name.to_owned()) };
        put_in(&self.connection, row).await?;
        Ok(())
    }
}
