use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "instrument_lease")]
pub struct Model {
    /// Host and port.
    #[sea_orm(primary_key, auto_increment = false)]
    pub address: String,
    pub holder: Uuid,
    pub held_by: String,
    pub until: DateTime,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
