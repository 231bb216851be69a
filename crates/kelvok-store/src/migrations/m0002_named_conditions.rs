//! Conditions that people gave a name.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{string_len, uuid};

#[derive(DeriveMigrationName)]
pub struct Migration;

const TABLE: &str = "named_condition";

fn name(name: &str) -> Alias {
    Alias::new(name)
}

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let table = Table::create()
            .if_not_exists()
            .table(name(TABLE))
            .col(uuid(name("id")).primary_key())
            .col(uuid(name("machine_id")))
            .col(string_len(name("name"), 80))
            .col(ColumnDef::new(name("body")).custom(name("longtext")).not_null())
            .col(string_len(name("kept_by"), 80))
            .foreign_key(
                ForeignKey::create()
                    .from(name(TABLE), name("machine_id"))
                    .to(name("machine"), name("id"))
                    .on_delete(ForeignKeyAction::Restrict),
            )
            .to_owned();
        manager.create_table(table).await
    }
}
