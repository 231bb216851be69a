//! Who holds which instrument: one connection at a time, whatever server it comes through. A lease
//! runs out by itself, so that a server that died holds nothing for long.

use super::moment::now;
use super::store::{again, write};
use super::{Store, StoreError};
use crate::entities::instrument_lease;
use chrono::TimeDelta;
use sea_orm::{
    ActiveValue::Set, ColumnTrait, EntityTrait, QueryFilter, QuerySelect, sea_query::OnConflict,
};
use uuid::Uuid;

/// A lease runs for this long unless it is renewed, in seconds.
pub const LEASE_SECONDS: i64 = 8;

impl Store {
    /// Takes an instrument, or renews the lease one has on it.
    ///
    /// # Errors
    /// Somebody else holds it: says who.
    pub async fn lease_instrument(
        &self,
        address: &str,
        holder: Uuid,
        held_by: &str,
    ) -> Result<(), StoreError> {
        again!(self.lease_once(address, holder, held_by))
    }

    async fn lease_once(
        &self,
        address: &str,
        holder: Uuid,
        held_by: &str,
    ) -> Result<(), StoreError> {
        let tx = self.begin().await?;
        let row = instrument_lease::Entity::find_by_id(address.to_owned())
            .lock_exclusive()
            .one(&tx)
            .await?;
        if let Some(row) = row.filter(|r| r.holder != holder && r.until > now()) {
            return Err(StoreError::Held { by: row.held_by });
        }
        let row = instrument_lease::ActiveModel {
            address: Set(address.to_owned()),
            holder: Set(holder),
            held_by: Set(held_by.to_owned()),
            until: Set(now() + TimeDelta::seconds(LEASE_SECONDS)),
        };
        let (own, until) = (instrument_lease::Column::Holder, instrument_lease::Column::Until);
        let renewed = OnConflict::column(instrument_lease::Column::Address)
            .update_columns([own, until, instrument_lease::Column::HeldBy])
            .to_owned();
        instrument_lease::Entity::insert(row)
            .on_conflict(renewed)
            .exec_without_returning(&tx)
            .await?;
        tx.commit().await?;
        Ok(())
    }

    /// Lets an instrument go; one that somebody else holds meanwhile stays theirs.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn release_instrument(&self, address: &str, holder: Uuid) -> Result<(), StoreError> {
        let gone = instrument_lease::Entity::delete_many()
            .filter(instrument_lease::Column::Address.eq(address))
            .filter(instrument_lease::Column::Holder.eq(holder));
        write!(gone, &self.connection)?;
        Ok(())
    }
}
