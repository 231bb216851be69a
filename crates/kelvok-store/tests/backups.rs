//! A whole database into a file and back.

mod bench;

use bench::{Workbench, job, reading};
use kelvok_database::Durability;
use kelvok_store::{JobsOf, NewJob, Store, StoreError, Wanted, backup, restore};
use std::os::unix::fs::PermissionsExt;
use uuid::Uuid;

#[tokio::test(flavor = "multi_thread")]
async fn a_backup_made_while_readings_come_in_is_one_moment_and_comes_back_whole() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    store.add_person("Маren 🚜 \"quoted\"\n").await.expect("a person");
    let first = job(&store).await;
    let hours = NewJob {
        id: Uuid::now_v7(),
        revision_id: first.revision_id,
        complaint: "Dies.".to_owned(),
        hours: Some(0.1 + 0.2),
        ..NewJob::default()
    };
    let hours = store.open_job(hours).await.expect("a job");
    for i in 0..450 {
        let entry = reading(f64::from(i));
        store.append_evidence(first.id, Uuid::now_v7(), "Maren", &entry).await.expect("recorded");
    }
    // Damage is kept as it lies there, not mended and not lost.
    bench
        .database
        .sql("set sql_mode = ''; update kelvok.evidence set recorded_at = 0 limit 1")
        .unwrap();
    let file = bench.directory.join("shop.kelvok-backup");
    let writer = {
        let store = store.clone();
        tokio::spawn(async move {
            for i in 0..200 {
                let entry = reading(f64::from(i));
                store.append_evidence(hours.id, Uuid::now_v7(), "Ilse", &entry).await.ok();
            }
        })
    };
    let kept = backup(&bench.database.url(), &file).await.expect("a backup");
    writer.await.expect("written");
    assert_eq!(std::fs::metadata(&file).unwrap().permissions().mode() & 0o777, 0o600);

    let url = bench.database.fresh("restored").expect("a schema");
    assert_eq!(restore(&url, &file).await.expect("restored"), kept);
    let back = Store::open(&url).await.expect("a store");
    assert_eq!(back.job(first.id).await.expect("kept"), first);
    assert_eq!(back.job(hours.id).await.expect("kept").hours, Some(0.1 + 0.2));
    assert_eq!(back.people().await.unwrap(), store.people().await.unwrap());
    let log = |store: &Store| {
        let store = store.clone();
        async move { store.evidence(first.id).await.expect("a log") }
    };
    assert_eq!(log(&back).await, log(&store).await);
    assert_eq!(log(&back).await.iter().filter(|e| e.recorded_at.is_none()).count(), 1);
    let listed = back.jobs(&JobsOf::default(), &Wanted::default()).await.expect("a list");
    assert_eq!(listed.total, 2);
    // The next number and the next place go on from there.
    let next = job(&back).await;
    assert!(next.number > hours.number);

    let again = restore(&url, &file).await;
    assert!(
        matches!(&again, Err(StoreError::Backup(why)) if why.contains("not empty")),
        "{again:?}"
    );
}

#[tokio::test]
async fn a_damaged_or_newer_backup_is_refused_and_nothing_of_it_is_kept() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    job(&store).await;
    let file = bench.directory.join("shop.kelvok-backup");
    backup(&bench.database.url(), &file).await.expect("a backup");
    let text = std::fs::read_to_string(&file).expect("text");
    let lines: Vec<&str> = text.lines().collect();
    let without = |n: usize| {
        let mut lines = lines.clone();
        lines.remove(n);
        lines.join("\n") + "\n"
    };
    let newer = text.replacen("\"m0001_first\"", "\"m9999_wings\"", 1);
    for (what, damaged) in [
        ("changed", text.replacen("Orchard", "Orchord", 1)),
        ("cut off", lines[..lines.len() - 1].join("\n")),
        ("cut short", text[..text.len() / 2].to_owned()),
        ("lacks rows", without(2)),
        ("first line", "{}".to_owned()),
        ("first line", String::new()),
        ("newer", text.replacen("kelvok-backup-1", "kelvok-backup-9", 1)),
    ] {
        std::fs::write(&file, damaged).expect("written");
        let url = bench.database.fresh("restored").expect("a schema");
        let refused = restore(&url, &file).await;
        assert!(matches!(&refused, Err(StoreError::Backup(_))), "{what}: {refused:?}");
        let tables =
            "select count(*) from information_schema.tables where table_schema = 'restored'";
        assert!(bench.database.sql(tables).expect("a count").ends_with("\n0"), "{what}");
    }
    // A schema that this Kelvok does not know, with the right checksum.
    let resummed = resum(&newer);
    std::fs::write(&file, resummed).expect("written");
    let url = bench.database.fresh("restored").expect("a schema");
    let refused = restore(&url, &file).await;
    assert!(matches!(&refused, Err(StoreError::NewerSchema(_))), "{refused:?}");
}

/// The text with the checksum that it should have.
fn resum(text: &str) -> String {
    use sha2::{Digest, Sha256};
    let (body, tail) = text.trim_end().rsplit_once('\n').expect("lines");
    let body = format!("{body}\n");
    let sum: String = Sha256::digest(&body).iter().map(|b| format!("{b:02x}")).collect();
    let mut tail: serde_json::Value = serde_json::from_str(tail).expect("a tail");
    tail["sha256"] = sum.into();
    format!("{body}{tail}\n")
}
