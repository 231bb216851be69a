use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "job")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub id: Uuid,
    pub number: i64,
    pub revision_id: Uuid,
    pub tag: String,
    pub owner: String,
    #[sea_orm(column_type = "Text")]
    pub complaint: String,
    pub serial: String,
    pub hours: Option<f64>,
    pub status: String,
    pub version: i32,
    pub next_sequence: i64,
    pub opened_at: DateTime,
    pub closed_at: Option<DateTime>,
    /// What follows from the rest and from the logs: see `derived`.
    #[sea_orm(column_type = "Text")]
    pub words: String,
    pub outcome: Option<String>,
    pub readings: i32,
    pub last_at: Option<DateTime>,
    pub verdict_id: Option<Uuid>,
    pub derived: i32,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
