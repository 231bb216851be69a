//! In what form each row's body is written: what lies there already is of the first.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        for table in ["evidence", "verdict", "bench_entry", "bench_switch"] {
            let add = format!(
                "ALTER TABLE {table} ADD COLUMN IF NOT EXISTS format SMALLINT NOT NULL DEFAULT 1"
            );
            manager.get_connection().execute_unprepared(&add).await?;
        }
        Ok(())
    }
}
