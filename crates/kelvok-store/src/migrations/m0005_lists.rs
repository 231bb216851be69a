//! What lists show and find, kept beside what it follows from; and every letter there is.

use sea_orm::{ConnectionTrait, DbBackend, Statement};
use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const ADDED: [&str; 4] = [
    "ALTER TABLE machine \
         ADD COLUMN IF NOT EXISTS words TEXT NOT NULL DEFAULT '', \
         ADD COLUMN IF NOT EXISTS derived INT NOT NULL DEFAULT 0",
    "ALTER TABLE job \
         ADD COLUMN IF NOT EXISTS words LONGTEXT NOT NULL DEFAULT '', \
         ADD COLUMN IF NOT EXISTS outcome VARCHAR(200) NULL, \
         ADD COLUMN IF NOT EXISTS readings INT NOT NULL DEFAULT 0, \
         ADD COLUMN IF NOT EXISTS last_at DATETIME(6) NULL, \
         ADD COLUMN IF NOT EXISTS verdict_id BINARY(16) NULL, \
         ADD COLUMN IF NOT EXISTS derived INT NOT NULL DEFAULT 0, \
         ADD INDEX IF NOT EXISTS listed (status, number), \
         ADD INDEX IF NOT EXISTS outcomes (status, outcome)",
    "ALTER TABLE bench_switch ADD INDEX IF NOT EXISTS touched (changed_at, id)",
    "ALTER DATABASE CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci",
];

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let connection = manager.get_connection();
        // A database of its owner's making may have an old character set.
        let old = "SELECT table_name AS name FROM information_schema.tables \
                   WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE' \
                   AND table_collation NOT LIKE 'utf8mb4%'";
        let old = Statement::from_string(DbBackend::MySql, old);
        for row in connection.query_all_raw(old).await? {
            let table: String = row.try_get("", "name")?;
            let convert = format!(
                "ALTER TABLE `{table}` CONVERT TO CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci"
            );
            connection.execute_unprepared(&convert).await?;
        }
        for statement in ADDED {
            connection.execute_unprepared(statement).await?;
        }
        Ok(())
    }
}
