//! Harnesses that are traced, each with a log of its own.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const TABLES: [&str; 2] = [
    "CREATE TABLE IF NOT EXISTS harness_trace (
        id BINARY(16) NOT NULL PRIMARY KEY,
        machine_id BINARY(16) NOT NULL,
        status VARCHAR(16) NOT NULL,
        next_sequence BIGINT NOT NULL,
        opened_by VARCHAR(80) NOT NULL,
        opened_at DATETIME(6) NOT NULL,
        changed_at DATETIME(6) NOT NULL,
        INDEX of_machine (machine_id, status),
        FOREIGN KEY (machine_id) REFERENCES machine (id) ON DELETE RESTRICT
    )",
    "CREATE TABLE IF NOT EXISTS trace_entry (
        id BINARY(16) NOT NULL PRIMARY KEY,
        trace_id BINARY(16) NOT NULL,
        sequence BIGINT NOT NULL,
        body LONGTEXT NOT NULL,
        format SMALLINT NOT NULL DEFAULT 1,
        recorded_by VARCHAR(80) NOT NULL,
        recorded_at DATETIME(6) NOT NULL,
        voided_at DATETIME(6) NULL,
        voided_by VARCHAR(80) NULL,
        void_reason VARCHAR(400) NULL,
        UNIQUE INDEX trace_sequence (trace_id, sequence),
        FOREIGN KEY (trace_id) REFERENCES harness_trace (id) ON DELETE RESTRICT
    )",
];

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        for table in TABLES {
            manager.get_connection().execute_unprepared(table).await?;
        }
        Ok(())
    }
}
