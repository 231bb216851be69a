use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "bench_switch")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub id: Uuid,
    pub name: String,
    #[sea_orm(column_type = "Text")]
    pub body: String,
    /// In what form the body is written.
    pub format: i16,
    pub status: String,
    pub job_id: Option<Uuid>,
    pub version: i32,
    pub next_sequence: i64,
    pub opened_by: String,
    pub opened_at: DateTime,
    pub changed_at: DateTime,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
