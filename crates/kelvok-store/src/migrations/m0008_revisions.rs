//! Who made a machine's revision, and what for: nobody knows of those before.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let add = "ALTER TABLE machine_revision \
            ADD COLUMN IF NOT EXISTS made_by VARCHAR(80) NULL, \
            ADD COLUMN IF NOT EXISTS reason VARCHAR(400) NULL";
        manager.get_connection().execute_unprepared(add).await?;
        Ok(())
    }
}
