//! Rows that cannot be read, times that cannot be kept, many hands at once, a database that takes
//! nothing just now.

mod bench;

use bench::{Workbench, job, reading};
use chrono::{DateTime, Utc};
use kelvok_core::bench::{BenchEntry, Subject};
use kelvok_database::Durability;
use kelvok_store::{
    BenchHead, JobStatus, JobsOf, LogEntry, NewJob, Store, StoreError, Story, Void, Voided, Wanted,
};
use std::collections::BTreeSet;
use uuid::Uuid;

fn line(sequence: i64, at: &str, voided: Option<&str>) -> LogEntry<kelvok_core::diagnosis::Entry> {
    let time = |at: &str| at.parse::<DateTime<Utc>>().expect("a time");
    LogEntry {
        id: Uuid::now_v7(),
        sequence,
        body: reading(12.0),
        recorded_by: "Maren".to_owned(),
        recorded_at: Some(time(at)),
        voided: voided.map(|at| Voided {
            at: Some(time(at)),
            by: "Ilse".to_owned(),
            reason: "Slipped".to_owned(),
        }),
    }
}

#[tokio::test]
async fn a_story_with_odd_times_is_brought_in_with_the_nearest_or_not_at_all() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let pattern = job(&store).await;
    let story = |evidence| Story {
        job: NewJob {
            id: Uuid::now_v7(),
            revision_id: pattern.revision_id,
            complaint: "Silent.".to_owned(),
            ..NewJob::default()
        },
        evidence,
        verdicts: Vec::new(),
    };
    let leap = "2016-12-31T23:59:60Z";
    let kept = store.bring_in(story(vec![line(1, leap, None), line(2, leap, Some(leap))])).await;
    let log = store.evidence(kept.expect("kept").id).await.expect("a log");
    assert_eq!(log.unreadable, []);
    let second = Some("2016-12-31T23:59:59.999999Z".parse().unwrap());
    assert!(log.iter().all(|e| e.recorded_at == second));
    assert_eq!(log[1].voided.as_ref().map(|v| v.at), Some(second), "a void stays a void");

    let never =
        story(vec![line(1, "2026-01-01T00:00:00Z", None), line(2, "+12026-01-01T00:00:00Z", None)]);
    let id = never.job.id;
    assert!(matches!(store.bring_in(never).await, Err(StoreError::NoTime(_))));
    assert!(matches!(store.job(id).await, Err(StoreError::NotFound { .. })), "nothing of it stays");
}

#[tokio::test]
async fn a_row_that_cannot_be_read_is_told_beside_those_that_can() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let [one, other] = [job(&store).await, job(&store).await];
    let mut ids = Vec::new();
    for volts in [12.0, 11.0, 10.0] {
        let id = Uuid::now_v7();
        store.append_evidence(one.id, id, "Maren", &reading(volts)).await.expect("recorded");
        ids.push(id);
    }
    let void = Void { by: "Ilse".to_owned(), reason: "Slipped".to_owned() };
    store.void_evidence(one.id, ids[2], &void).await.expect("voided");
    let id = |id: Uuid| id.simple().to_string();
    for damage in [
        // As an older Kelvok kept a leap second.
        format!("update evidence set recorded_at = 0 where id = x'{}'", id(ids[0])),
        format!("update evidence set body = '{{\"half' where id = x'{}'", id(ids[1])),
        format!("update evidence set voided_at = 0 where id = x'{}'", id(ids[2])),
        format!("update job set opened_at = 0 where id = x'{}'", id(other.id)),
    ] {
        bench.database.sql(&format!("set sql_mode = ''; use kelvok; {damage}")).expect(&damage);
    }
    let log = store.evidence(one.id).await.expect("a log");
    assert_eq!(log.iter().map(|e| e.sequence).collect::<Vec<_>>(), [1, 3]);
    assert_eq!(log[0].recorded_at, None, "its reading counts, its time is not known");
    assert!(log[1].voided.is_some(), "a void without a time is still a void");
    assert_eq!(log.unreadable.iter().map(|u| u.place).collect::<Vec<_>>(), [Some(2)]);

    let listed = store.jobs(&JobsOf::default(), &Wanted::default()).await.expect("a list");
    assert_eq!(listed.found.iter().map(|d| d.job.id).collect::<Vec<_>>(), [one.id]);
    assert_eq!(listed.found.unreadable[0].place, Some(other.number));
    // What is recorded next goes on as before.
    let next = store.append_evidence(one.id, Uuid::now_v7(), "Maren", &reading(9.0)).await;
    assert_eq!(next.expect("recorded").sequence, 4);
}

#[tokio::test(flavor = "multi_thread")]
async fn many_saves_of_one_machine_at_once_all_succeed() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    for round in 0..5 {
        let saves: Vec<_> = (0..6)
            .map(|i| {
                let store = store.clone();
                let (name, document) = (format!("machine {round}"), format!("{{\"a\": {i}}}"));
                tokio::spawn(async move { store.save_machine(&name, &document).await })
            })
            .collect();
        let mut revisions = BTreeSet::new();
        for save in saves {
            revisions.insert(save.await.unwrap().expect("saved").revision);
        }
        assert_eq!(revisions, (1..=6).collect());
    }
}

fn head() -> BenchHead {
    let document = kelvok_core::bench::Profile::shipped()[0].document().clone();
    BenchHead {
        subject: Subject::of_profile(&document),
        new_part: false,
        machine: None,
        replaces: None,
        plug: Default::default(),
        wires: Vec::new(),
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn one_table_sent_twice_at_once_is_kept_once_and_never_on_another_switch() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let [switch, other] = [Uuid::now_v7(), Uuid::now_v7()];
    for id in [switch, other] {
        store.open_switch(id, "Maren", "Key", &head()).await.expect("a switch");
    }
    let leads = |i: usize| BenchEntry::Leads { touching: i.to_string(), apart: "OL".to_owned() };
    let table: Vec<_> = (0..300).map(|i| (Uuid::now_v7(), leads(i))).collect();
    let sends: Vec<_> = (0..4)
        .map(|_| {
            let (store, table) = (store.clone(), table.clone());
            tokio::spawn(async move { store.append_bench_entries(switch, "Maren", &table).await })
        })
        .collect();
    let mut new = 0;
    for send in sends {
        new += send.await.unwrap().expect("taken");
    }
    assert_eq!(new, 300);
    let elsewhere = store.append_bench_entries(other, "Maren", &table).await;
    assert!(matches!(elsewhere, Err(StoreError::IdTaken(_))), "{elsewhere:?}");
}

/// Sent again, as every client does, while no connection is free: a slow disk keeps thirty waiting.
macro_rules! in_the_end {
    ($send:expr) => {{
        let mut done = $send.await;
        for _ in 0..10 {
            if matches!(done, Err(StoreError::Unavailable(_))) {
                done = $send.await;
            }
        }
        done
    }};
}

#[tokio::test(flavor = "multi_thread")]
async fn writes_that_lock_the_same_rows_all_succeed_in_the_end() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let job = job(&store).await;
    let mut hands = Vec::new();
    for i in 0..30u32 {
        let store = store.clone();
        hands.push(tokio::spawn(async move {
            let id = Uuid::now_v7();
            let reading = reading(f64::from(i));
            in_the_end!(store.append_evidence(job.id, id, "Tobias", &reading))?;
            let void = Void { by: "Tobias".to_owned(), reason: "Slipped".to_owned() };
            in_the_end!(store.void_evidence(job.id, id, &void))
        }));
    }
    for hand in hands {
        hand.await.unwrap().expect("voided");
    }
    let listed = store.jobs(&JobsOf::default(), &Wanted::default()).await.expect("a list");
    assert_eq!(listed.found[0].readings, 0, "all were taken back");
}

async fn refused(store: &Store, job: Uuid) -> StoreError {
    let sent = store.append_evidence(job, Uuid::now_v7(), "Maren", &reading(12.0)).await;
    sent.expect_err("the database takes nothing")
}

/// Another client of the database, at work on this.
fn beside(bench: &Workbench, sql: &str) -> std::process::Child {
    let socket = bench.directory.join("m.sock");
    std::process::Command::new("mariadb")
        .args(["--no-defaults", &format!("--socket={}", socket.display()), "-e", sql])
        .stdout(std::process::Stdio::null())
        .spawn()
        .expect("a client")
}

#[tokio::test]
async fn one_write_that_the_database_ends_for_another_s_sake_is_done_again() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let id = Uuid::now_v7();
    store.open_switch(id, "Maren", "Key", &head()).await.expect("a switch");
    // Holds the place where the switch will lie in its list, then wants the switch; with a hundred
    // rows written it is the one that the database lets live.
    let names: Vec<_> =
        (0..100).map(|i| format!("(unhex(replace(uuid(), '-', '')), 'Hand {i}')")).collect();
    let script = format!(
        "use kelvok; start transaction; insert into person (id, name) values {};
        select id from bench_switch force index (touched) where changed_at > now() + interval 1 day for update;
        select sleep(1.5); select * from bench_switch where name = 'Key' for update; commit",
        names.join(", ")
    );
    let mut other = beside(&bench, &script);
    tokio::time::sleep(std::time::Duration::from_millis(600)).await;
    let closed = store.set_switch_status(id, 1, JobStatus::Closed).await.expect("in the end");
    assert_eq!((closed.status, closed.version), (JobStatus::Closed, 2));
    assert!(other.wait().expect("ended").success(), "and the other one went through");
    let ended = bench.database.sql("show global status like 'Innodb_deadlocks'").expect("told");
    assert!(ended.contains("\t1"), "and one was ended on the way: {ended}");
}

#[tokio::test]
async fn a_database_that_takes_nothing_just_now_is_a_passing_trouble() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let job = job(&store).await;
    bench.database.sql("set global read_only = 1").expect("read-only");
    let error = refused(&store, job.id).await;
    assert!(matches!(error, StoreError::Unavailable(_)), "{error:?}");
    assert_eq!(error.to_string(), "the database takes no changes just now");
    bench.database.sql("set global read_only = 0").expect("writable");
    // Many connections, each of which must have the patience of the first.
    let reads: Vec<_> = (0..12)
        .map(|_| {
            let store = store.clone();
            tokio::spawn(async move { store.evidence(job.id).await.map(|_| ()) })
        })
        .collect();
    for read in reads {
        read.await.expect("it ends").expect("a log");
    }
    // A lock that is not let go.
    let lock = "use kelvok; start transaction; select * from job for update; select sleep(40)";
    let mut holder = beside(&bench, lock);
    tokio::time::sleep(std::time::Duration::from_millis(700)).await;
    let error = tokio::select! {
        error = refused(&store, job.id) => error,
        () = tokio::time::sleep(std::time::Duration::from_secs(35)) => panic!("it waits for ever"),
    };
    assert!(matches!(error, StoreError::Unavailable(_)), "{error:?}");
    assert_eq!(error.to_string(), "the database is busy with something else");
    holder.kill().expect("killed");
    holder.wait().expect("gone");
    let id = Uuid::now_v7();
    for tried in 0.. {
        match store.append_evidence(job.id, id, "Maren", &reading(12.0)).await {
            Ok(entry) => {
                assert_eq!(entry.sequence, 1);
                break;
            }
            Err(StoreError::Unavailable(_)) if tried < 5 => {}
            Err(other) => panic!("{other:?}"),
        }
    }
}
