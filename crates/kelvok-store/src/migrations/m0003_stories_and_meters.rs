//! What a job says of the machine that came in, and who holds which instrument.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{string_len, uuid};

#[derive(DeriveMigrationName)]
pub struct Migration;

fn name(name: &str) -> Alias {
    Alias::new(name)
}

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let job = Table::alter()
            .table(name("job"))
            .add_column_if_not_exists(string_len(name("serial"), 80).default(""))
            .add_column_if_not_exists(ColumnDef::new(name("hours")).double().null())
            .to_owned();
        manager.alter_table(job).await?;
        let lease = Table::create()
            .if_not_exists()
            .table(name("instrument_lease"))
            .col(string_len(name("address"), 120).primary_key())
            .col(uuid(name("holder")))
            .col(string_len(name("held_by"), 80))
            .col(ColumnDef::new(name("until")).custom(name("datetime(6)")).not_null())
            .to_owned();
        manager.create_table(lease).await
    }
}
