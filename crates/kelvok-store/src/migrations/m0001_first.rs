//! Machines with revisions, jobs, evidence, verdicts, people.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{big_integer, integer, string_len, string_len_null, text, uuid};

#[derive(DeriveMigrationName)]
pub struct Migration;

fn name(name: &str) -> Alias {
    Alias::new(name)
}

fn moment(column: &str) -> ColumnDef {
    ColumnDef::new(name(column)).custom(name("datetime(6)")).to_owned()
}

fn id() -> ColumnDef {
    uuid(name("id")).primary_key().to_owned()
}

fn link(from: &str, column: &str, to: &str) -> ForeignKeyCreateStatement {
    ForeignKey::create()
        .from(name(from), name(column))
        .to(name(to), name("id"))
        .on_delete(ForeignKeyAction::Restrict)
        .to_owned()
}

fn unique(index: &str, table: &str, columns: &[&str]) -> IndexCreateStatement {
    let mut create = Index::create();
    create.name(index).table(name(table)).unique();
    for column in columns {
        create.col(name(column));
    }
    create.to_owned()
}

fn long_text(column: &str) -> ColumnDef {
    ColumnDef::new(name(column)).custom(name("longtext")).not_null().to_owned()
}

/// Evidence and verdicts are logs of one form.
fn log(table: &str) -> TableCreateStatement {
    Table::create()
        .if_not_exists()
        .table(name(table))
        .col(id())
        .col(uuid(name("job_id")))
        .col(big_integer(name("sequence")))
        .col(long_text("body"))
        .col(string_len(name("recorded_by"), 80))
        .col(moment("recorded_at").not_null())
        .col(moment("voided_at").null())
        .col(string_len_null(name("voided_by"), 80))
        .col(string_len_null(name("void_reason"), 400))
        .foreign_key(&mut link(table, "job_id", "job"))
        .index(&mut unique("job_sequence", table, &["job_id", "sequence"]))
        .to_owned()
}

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let tables = [
            Table::create()
                .if_not_exists()
                .table(name("machine"))
                .col(id())
                .col(string_len(name("name"), 80).unique_key())
                .to_owned(),
            Table::create()
                .if_not_exists()
                .table(name("machine_revision"))
                .col(id())
                .col(uuid(name("machine_id")))
                .col(integer(name("revision")))
                .col(long_text("document"))
                .col(moment("made_at").not_null())
                .foreign_key(&mut link("machine_revision", "machine_id", "machine"))
                .index(&mut unique("revision", "machine_revision", &["machine_id", "revision"]))
                .to_owned(),
            Table::create()
                .if_not_exists()
                .table(name("person"))
                .col(id())
                .col(string_len(name("name"), 80).unique_key())
                .to_owned(),
            Table::create()
                .if_not_exists()
                .table(name("job"))
                .col(id())
                .col(big_integer(name("number")).auto_increment().unique_key())
                .col(uuid(name("revision_id")))
                .col(string_len(name("tag"), 80))
                .col(string_len(name("owner"), 120))
                .col(text(name("complaint")))
                .col(string_len(name("status"), 16))
                .col(integer(name("version")))
                .col(big_integer(name("next_sequence")))
                .col(moment("opened_at").not_null())
                .col(moment("closed_at").null())
                .foreign_key(&mut link("job", "revision_id", "machine_revision"))
                .to_owned(),
            log("evidence"),
            log("verdict"),
        ];
        for table in tables {
            manager.create_table(table).await?;
        }
        Ok(())
    }
}
