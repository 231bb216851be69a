use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "soak_entry")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub id: Uuid,
    pub job_id: Uuid,
    pub sequence: i64,
    #[sea_orm(column_type = "Text")]
    pub body: String,
    /// In what form the body is written.
    pub format: i16,
    pub recorded_by: String,
    pub recorded_at: Option<DateTime>,
    pub voided_at: Option<DateTime>,
    pub voided_by: Option<String>,
    pub void_reason: Option<String>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
