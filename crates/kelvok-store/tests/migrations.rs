//! Databases of every version before, interrupted at every step, opened by several at once.

mod bench;

use bench::{Workbench, job, reading};
use kelvok_database::Durability;
use kelvok_store::{JobStatus, JobsOf, Migrator, Store, StoreError, Wanted};
use sea_orm_migration::MigratorTrait;
use sea_orm_migration::sea_orm::{ConnectionTrait, Database, DatabaseConnection};
use uuid::Uuid;

/// A schema as an older Kelvok left it, with a machine and a job in it.
async fn old(url: &str, migrations: u32) -> (DatabaseConnection, Uuid) {
    let connection = Database::connect(url).await.expect("a connection");
    Migrator::up(&connection, Some(migrations)).await.expect("an older version");
    let [machine, revision, job] = [(); 3].map(|()| Uuid::now_v7().simple());
    for insert in [
        format!("insert into machine (id, name) values (x'{machine}', 'test')"),
        format!(
            "insert into machine_revision (id, machine_id, revision, document, made_at) values \
             (x'{revision}', x'{machine}', 1, '{{\"identity\": {{\"make\": \"Pellwick\"}}}}', now())"
        ),
        format!(
            "insert into job (id, revision_id, tag, owner, complaint, status, version, \
             next_sequence, opened_at) values (x'{job}', x'{revision}', 'Orchard 3', '', 'Silent.', \
             'open', 1, 1, '2026-01-02 03:04:05')"
        ),
    ] {
        connection.execute_unprepared(&insert).await.expect(&insert);
    }
    (connection, job.into())
}

async fn holds_the_job(store: &Store, id: Uuid) {
    let job = store.job(id).await.expect("kept");
    assert_eq!((job.complaint.as_str(), job.serial.as_str(), job.hours), ("Silent.", "", None));
    let entry = store.append_evidence(id, Uuid::now_v7(), "Maren", &reading(12.0)).await;
    assert_eq!(entry.expect("recorded").sequence, 1);
    let wanted = Wanted { words: "orchard pellwick".to_owned(), page: 0 };
    let found = store
        .jobs(&JobsOf { status: Some(JobStatus::Open), machine: None }, &wanted)
        .await
        .expect("a list");
    assert_eq!((found.total, found.found[0].readings), (1, 1), "found by what it was opened with");
}

#[tokio::test]
async fn databases_of_all_versions_before_keep_what_is_in_them() {
    let bench = Workbench::new(Durability::Relaxed);
    for before in 1..Migrator::migrations().len() as u32 {
        let url = bench.database.fresh(&format!("v{before}")).expect("a schema");
        let (_, job) = old(&url, before).await;
        let store = Store::open(&url).await.unwrap_or_else(|e| panic!("version {before}: {e}"));
        holds_the_job(&store, job).await;
    }
}

#[tokio::test]
async fn a_migration_that_was_interrupted_is_done_again() {
    let bench = Workbench::new(Durability::Relaxed);
    for migrations in 1..=Migrator::migrations().len() as u32 {
        let url = bench.database.fresh(&format!("i{migrations}")).expect("a schema");
        // Killed between its last statement and the note that it was done.
        let (connection, job) = old(&url, migrations).await;
        let forget = "delete from seaql_migrations order by version desc limit 1";
        connection.execute_unprepared(forget).await.expect(forget);
        let store = Store::open(&url).await.unwrap_or_else(|e| panic!("at {migrations}: {e}"));
        holds_the_job(&store, job).await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn of_servers_that_start_at_once_on_an_empty_database_one_migrates_and_all_come_up() {
    let bench = Workbench::new(Durability::Relaxed);
    for round in 0..6 {
        let url = bench.database.fresh(&format!("s{round}")).expect("a schema");
        let starts: Vec<_> = (0..4)
            .map(|_| {
                let url = url.clone();
                tokio::spawn(async move { Store::open(&url).await })
            })
            .collect();
        for start in starts {
            start.await.expect("it ends").expect("it comes up");
        }
    }
}

#[tokio::test]
async fn a_database_of_a_newer_version_is_left_alone() {
    let bench = Workbench::new(Durability::Relaxed);
    bench.store().await;
    let newer = "insert into kelvok.seaql_migrations values ('m9999_wings', 0)";
    bench.database.sql(newer).expect(newer);
    let refused = Store::open(&bench.database.url()).await;
    assert!(matches!(refused, Err(StoreError::NewerSchema(name)) if name == "m9999_wings"));
}

#[tokio::test]
async fn every_letter_is_kept_also_where_the_database_was_made_with_an_old_character_set() {
    let bench = Workbench::new(Durability::Relaxed);
    for old_set in ["latin1", "utf8mb3"] {
        let url = bench.database.fresh(old_set).expect("a schema");
        bench.database.sql(&format!("alter database `{old_set}` character set {old_set}")).unwrap();
        let (_, id) = old(&url, 4).await;
        let store = Store::open(&url).await.expect("a store");
        let letters = "Rødgård 𝄞 🚜 \u{1F1E9}";
        store.add_person(letters).await.expect("a person");
        assert_eq!(store.people().await.unwrap(), [letters]);
        holds_the_job(&store, id).await;
        job(&store).await;
    }
}
