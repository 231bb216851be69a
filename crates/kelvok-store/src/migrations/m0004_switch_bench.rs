//! Switches on the bench with their logs, and profiles of the shop's own.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{
    big_integer, integer, string_len, string_len_null, uuid, uuid_null,
};

#[derive(DeriveMigrationName)]
pub struct Migration;

fn name(name: &str) -> Alias {
    Alias::new(name)
}

fn moment(column: &str) -> ColumnDef {
    ColumnDef::new(name(column)).custom(name("datetime(6)")).to_owned()
}

fn long_text(column: &str) -> ColumnDef {
    ColumnDef::new(name(column)).custom(name("longtext")).not_null().to_owned()
}

fn link(from: &str, column: &str, to: &str) -> ForeignKeyCreateStatement {
    ForeignKey::create()
        .from(name(from), name(column))
        .to(name(to), name("id"))
        .on_delete(ForeignKeyAction::Restrict)
        .to_owned()
}

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let tables = [
            Table::create()
                .if_not_exists()
                .table(name("switch_profile"))
                .col(string_len(name("id"), 80).primary_key())
                .col(long_text("document"))
                .col(string_len(name("kept_by"), 80))
                .col(moment("kept_at").not_null())
                .to_owned(),
            Table::create()
                .if_not_exists()
                .table(name("bench_switch"))
                .col(uuid(name("id")).primary_key())
                .col(string_len(name("name"), 120))
                .col(long_text("body"))
                .col(string_len(name("status"), 16))
                .col(uuid_null(name("job_id")))
                .col(integer(name("version")))
                .col(big_integer(name("next_sequence")))
                .col(string_len(name("opened_by"), 80))
                .col(moment("opened_at").not_null())
                .col(moment("changed_at").not_null())
                .foreign_key(&mut link("bench_switch", "job_id", "job"))
                .to_owned(),
            Table::create()
                .if_not_exists()
                .table(name("bench_entry"))
                .col(uuid(name("id")).primary_key())
                .col(uuid(name("switch_id")))
                .col(big_integer(name("sequence")))
                .col(long_text("body"))
                .col(string_len(name("recorded_by"), 80))
                .col(moment("recorded_at").not_null())
                .col(moment("voided_at").null())
                .col(string_len_null(name("voided_by"), 80))
                .col(string_len_null(name("void_reason"), 400))
                .foreign_key(&mut link("bench_entry", "switch_id", "bench_switch"))
                .index(
                    Index::create()
                        .name("switch_sequence")
                        .table(name("bench_entry"))
                        .unique()
                        .col(name("switch_id"))
                        .col(name("sequence")),
                )
                .to_owned(),
        ];
        for table in tables {
            manager.create_table(table).await?;
        }
        Ok(())
    }
}
