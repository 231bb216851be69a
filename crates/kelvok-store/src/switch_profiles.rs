//! Profiles of switches that the shop wrote itself. A switch on the bench keeps a copy of its own, so
//! one that is no longer wanted is erased.

use super::moment::now;
use super::rows::put_in;
use super::store::write;
use super::{Store, StoreError};
use crate::entities::switch_profile;
use sea_orm::{ActiveModelTrait, EntityTrait, IntoActiveModel, QueryOrder};

/// A profile, by the id in its document.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct KeptProfile {
    pub id: String,
    /// The document's JSON text.
    pub document: String,
    pub kept_by: String,
}

impl From<switch_profile::Model> for KeptProfile {
    fn from(row: switch_profile::Model) -> Self {
        Self { id: row.id, document: row.document, kept_by: row.kept_by }
    }
}

impl Store {
    /// The shop's own profiles, by id.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn switch_profiles(&self) -> Result<Vec<KeptProfile>, StoreError> {
        let rows = switch_profile::Entity::find().order_by_asc(switch_profile::Column::Id);
        Ok(rows.all(&self.connection).await?.into_iter().map(Into::into).collect())
    }

    /// Keeps a profile; the same document sent twice is kept once.
    ///
    /// # Errors
    /// Another one has this id; the database does not answer.
    pub async fn keep_profile(&self, profile: &KeptProfile) -> Result<(), StoreError> {
        let KeptProfile { id, document, kept_by } = profile.clone();
        let row = switch_profile::Model { id, document, kept_by, kept_at: now() };
        let row = row.into_active_model().reset_all();
        if put_in(&self.connection, row).await? {
            return Ok(());
        }
        let kept = switch_profile::Entity::find_by_id(&profile.id).one(&self.connection).await?;
        match kept {
            Some(kept) if kept.document == profile.document => Ok(()),
            _ => Err(StoreError::NameTaken(profile.id.clone())),
        }
    }

    /// Forgets a profile.
    ///
    /// # Errors
    /// There is none of this id; the database does not answer.
    pub async fn forget_profile(&self, id: &str) -> Result<(), StoreError> {
        let gone = switch_profile::Entity::delete_by_id(id);
        let gone = write!(gone, &self.connection)?;
        match gone.rows_affected {
            0 => Err(StoreError::NotFound { what: "profile of your own", id: id.to_owned() }),
            _ => Ok(()),
        }
    }
}
