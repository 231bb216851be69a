//! Soaks: how long a machine was run until what comes and goes had shown or kept quiet, a log beside the job's
//! evidence, in one order with it.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const TABLE: &str = "CREATE TABLE IF NOT EXISTS soak_entry (
    id BINARY(16) NOT NULL PRIMARY KEY,
    job_id BINARY(16) NOT NULL,
    sequence BIGINT NOT NULL,
    body LONGTEXT NOT NULL,
    format SMALLINT NOT NULL DEFAULT 1,
    recorded_by VARCHAR(80) NOT NULL,
    recorded_at DATETIME(6) NOT NULL,
    voided_at DATETIME(6) NULL,
    voided_by VARCHAR(80) NULL,
    void_reason VARCHAR(400) NULL,
    UNIQUE INDEX soak_sequence (job_id, sequence),
    FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE RESTRICT
)";

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(TABLE).await?;
        Ok(())
    }
}
