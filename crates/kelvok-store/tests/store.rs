//! Against a real MariaDB: retries, order, voiding, versions, kill -9.

mod bench;

use bench::{Workbench, job, reading};
use kelvok_core::bench::{BenchEntry, Subject};
use kelvok_core::diagnosis::Entry;
use kelvok_database::Durability;
use kelvok_store::{
    BenchHead, JobStatus, KeptProfile, LEASE_SECONDS, LogEntry, Made, NamedCondition, NewJob,
    RevisionLine, StoreError, Story, Verdict, Void, Wanted,
};
use std::collections::BTreeSet;
use uuid::Uuid;

#[tokio::test]
async fn a_retry_records_once_and_another_body_under_the_same_id_is_refused() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let job = job(&store).await;
    let id = Uuid::now_v7();
    let first = store.append_evidence(job.id, id, "Maren", &reading(12.57)).await.unwrap();
    let again = store.append_evidence(job.id, id, "Maren", &reading(12.57)).await.unwrap();
    assert_eq!(first, again);
    assert_eq!(store.evidence(job.id).await.unwrap().rows, [first]);
    let other = store.append_evidence(job.id, id, "Maren", &reading(1.0)).await.unwrap_err();
    assert!(matches!(other, StoreError::IdTaken(taken) if taken == id));
}

fn verdict(unit: &str, probability: f64) -> Verdict {
    Verdict {
        units: vec![unit.to_owned()],
        names: Vec::new(),
        probability,
        confirmed: true,
        note: String::new(),
        kind: None,
    }
}

#[tokio::test]
async fn a_verdict_sent_again_is_the_same_though_the_shop_has_learned_since() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let job = job(&store).await;
    let id = Uuid::now_v7();
    let send = |verdict| {
        let store = store.clone();
        async move { store.append_verdict(job.id, id, "Maren", &verdict).await }
    };
    let first = send(verdict("brake", 0.99)).await.unwrap();
    assert_eq!(send(verdict("brake", 0.991)).await.unwrap(), first);
    let other = send(verdict("pto", 0.99)).await.unwrap_err();
    assert!(matches!(other, StoreError::IdTaken(taken) if taken == id));
}

#[tokio::test(flavor = "multi_thread")]
async fn many_hands_on_one_job_lose_nothing_and_get_one_order() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let job = job(&store).await;
    let mut hands = Vec::new();
    for i in 0..40 {
        let store = store.clone();
        hands.push(tokio::spawn(async move {
            let entry = reading(f64::from(i));
            store.append_evidence(job.id, Uuid::now_v7(), "Tobias", &entry).await
        }));
    }
    let mut given = BTreeSet::new();
    for hand in hands {
        given.insert(hand.await.unwrap().unwrap().sequence);
    }
    assert_eq!(given, (1..=40).collect());
    let kept: Vec<_> = store.evidence(job.id).await.unwrap().iter().map(|e| e.sequence).collect();
    assert_eq!(kept, (1..=40).collect::<Vec<_>>());
}

#[tokio::test]
async fn a_mistake_is_voided_with_a_reason_and_stays() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let job = job(&store).await;
    let id = Uuid::now_v7();
    store.append_evidence(job.id, id, "Maren", &reading(1.2)).await.unwrap();
    let void = Void { by: "Ilse".to_owned(), reason: "Mistyped".to_owned() };
    store.void_evidence(job.id, id, &void).await.unwrap();
    let kept = store.evidence(job.id).await.unwrap();
    let voided = kept[0].voided.as_ref().expect("voided");
    assert_eq!((voided.by.as_str(), voided.reason.as_str()), ("Ilse", "Mistyped"));
    assert_eq!(kept[0].body, reading(1.2));
    let again = store.void_evidence(job.id, id, &void).await.expect("sent again");
    assert_eq!(again.voided, kept[0].voided);
    let other = Void { by: "Ilse".to_owned(), reason: "Wrong pin".to_owned() };
    let twice = store.void_evidence(job.id, id, &other).await.unwrap_err();
    assert!(matches!(twice, StoreError::AlreadyVoided));
    let elsewhere = store.void_evidence(Uuid::now_v7(), id, &void).await.unwrap_err();
    assert!(matches!(elsewhere, StoreError::NotFound { .. }));
}

#[tokio::test(flavor = "multi_thread")]
async fn of_many_who_change_a_row_at_once_one_wins_and_the_others_are_told() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let id = Uuid::now_v7();
    store.open_switch(id, "Maren", "Key", &switch_head()).await.expect("a switch");
    let mut writers = Vec::new();
    for i in 0..20 {
        let store = store.clone();
        writers.push(tokio::spawn(async move {
            store.change_switch(id, 1, &format!("Key {i}"), &switch_head()).await
        }));
    }
    let mut won = 0;
    for writer in writers {
        match writer.await.unwrap() {
            Ok(switch) => {
                won += 1;
                assert_eq!(switch.version, 2);
            }
            Err(StoreError::SwitchStale { then: 1, now: 2 }) => {}
            Err(other) => panic!("{other}"),
        }
    }
    assert_eq!(won, 1);
}

#[tokio::test]
async fn a_status_set_again_after_a_lost_answer_is_no_conflict_and_another_one_is() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let job = job(&store).await;
    for _ in 0..2 {
        let closed = store.set_status(job.id, 1, JobStatus::Closed).await.expect("closed");
        assert_eq!((closed.status, closed.version), (JobStatus::Closed, 2));
    }
    let late = store.append_evidence(job.id, Uuid::now_v7(), "Maren", &reading(1.0)).await;
    assert!(matches!(late, Err(StoreError::Closed(number)) if number == job.number));
    store.set_status(job.id, 2, JobStatus::Open).await.expect("open again");
    let stale = store.set_status(job.id, 1, JobStatus::Closed).await;
    assert!(matches!(stale, Err(StoreError::Stale { then: 1, now: 3, .. })));
    let far = store.set_status(job.id, i32::MAX, JobStatus::Closed).await;
    assert!(matches!(far, Err(StoreError::Stale { then: i32::MAX, now: 3, .. })));
}

#[tokio::test]
async fn a_machine_is_revised_only_when_its_document_differs() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let first = store.save_machine("gt", "{\"a\": 1}").await.unwrap();
    let same = store.save_machine("gt", "{\"a\": 1}").await.unwrap();
    let next = store.save_machine("gt", "{\"a\": 2}").await.unwrap();
    assert_eq!((first.revision, same.id, next.revision), (1, first.id, 2));
    assert_eq!(store.revision(first.id).await.unwrap().document, "{\"a\": 1}");
    let listed = store.machines(&Wanted::default()).await.unwrap();
    let line = &listed.found[0];
    assert_eq!((line.name.as_str(), line.newest.id, line.newest.revision), ("gt", next.id, 2));
    let made = Made { by: Some("Maren".to_owned()), reason: Some("Traced".to_owned()) };
    let third = store.save_revision("gt", "{\"a\": 3}", &made).await.unwrap();
    let job = NewJob { id: Uuid::now_v7(), revision_id: first.id, ..NewJob::default() };
    store.open_job(job).await.unwrap();
    let all = store.revisions(first.machine_id).await.unwrap();
    let said = |l: &RevisionLine| (l.head.revision, l.made.by.clone(), l.jobs);
    let lines: Vec<_> = all.iter().map(said).collect();
    assert_eq!(lines, [(3, made.by.clone(), 0), (2, None, 0), (1, None, 1)]);
    let numbered = store.revision_numbered(first.machine_id, 2).await.unwrap();
    assert_eq!((numbered.id, numbered.document.as_str()), (next.id, "{\"a\": 2}"));
    assert!(store.revision_numbered(first.machine_id, 4).await.is_err());
    let (name, newest) = store.newest_of(first.machine_id).await.unwrap();
    assert_eq!((name.as_str(), newest.id), ("gt", third.id));
}

#[tokio::test]
async fn migrating_again_changes_nothing() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let job = job(&store).await;
    store.add_person("Maren").await.unwrap();
    store.add_person("Maren").await.unwrap();
    let again = bench.store().await;
    assert_eq!(again.job(job.id).await.unwrap(), job);
    assert_eq!(again.people().await.unwrap(), ["Maren"]);
}

#[tokio::test]
async fn a_named_condition_is_kept_once_and_forgotten_by_its_own_machine_only() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    store.save_machine("one", "{}").await.unwrap();
    store.save_machine("two", "{}").await.unwrap();
    let machine = store.machine("one").await.unwrap();
    let other = store.machine("two").await.unwrap();
    let condition = NamedCondition {
        id: Uuid::now_v7(),
        machine_id: machine.id,
        name: "mowing uphill".to_owned(),
        body: "{}".to_owned(),
        kept_by: "Maren".to_owned(),
    };
    store.keep_condition(condition.clone()).await.unwrap();
    store.keep_condition(condition.clone()).await.unwrap();
    let kept = store.named_conditions(machine.id).await.unwrap();
    assert_eq!(kept, std::slice::from_ref(&condition));
    let changed = NamedCondition { name: "downhill".to_owned(), ..condition.clone() };
    let taken = store.keep_condition(changed).await;
    assert!(matches!(taken, Err(StoreError::IdTaken(id)) if id == condition.id));
    let foreign = store.forget_condition(other.id, condition.id).await;
    assert!(matches!(foreign, Err(StoreError::NotFound { .. })));
    store.forget_condition(machine.id, condition.id).await.unwrap();
    assert_eq!(store.named_conditions(machine.id).await.unwrap(), []);
    assert!(matches!(store.machine("three").await, Err(StoreError::NotFound { .. })));
}

#[tokio::test]
async fn what_was_acknowledged_survives_kill_9_of_the_database() {
    let mut bench = Workbench::new(Durability::Full);
    let store = bench.store().await;
    let job = job(&store).await;
    let id = Uuid::now_v7();
    store.append_evidence(job.id, id, "Maren", &reading(12.57)).await.unwrap();
    store.append_verdict(job.id, Uuid::now_v7(), "Maren", &verdict("brake", 0.99)).await.unwrap();
    bench.database.kill();

    let away = store.job(job.id).await.unwrap_err();
    assert!(matches!(away, StoreError::Unavailable(_)), "{away:?}");

    bench.database.resume().unwrap();
    assert_eq!(store.evidence(job.id).await.unwrap()[0].id, id);
    let verdicts = store.verdicts(job.id).await.unwrap();
    assert_eq!((verdicts[0].sequence, &verdicts[0].body), (2, &verdict("brake", 0.99)));
}

#[tokio::test]
async fn an_instrument_is_held_by_one_until_it_is_let_go_or_its_time_runs_out() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let (one, other) = (Uuid::now_v7(), Uuid::now_v7());
    let at = "127.0.0.1:5025";
    store.lease_instrument(at, one, "Maren").await.unwrap();
    store.lease_instrument(at, one, "Maren").await.expect("renewed");
    match store.lease_instrument(at, other, "Tobias").await {
        Err(StoreError::Held { by }) => assert_eq!(by, "Maren"),
        held => panic!("{held:?}"),
    }
    store.release_instrument(at, other).await.unwrap();
    assert!(store.lease_instrument(at, other, "Tobias").await.is_err(), "not theirs to let go");
    store.lease_instrument("127.0.0.1:5026", other, "Tobias").await.expect("another meter");
    store.release_instrument(at, one).await.unwrap();
    store.lease_instrument(at, other, "Tobias").await.expect("let go");
    // A server that died holds nothing for long.
    tokio::time::sleep(std::time::Duration::from_secs(LEASE_SECONDS as u64 + 1)).await;
    store.lease_instrument(at, one, "Maren").await.expect("run out");
}

#[tokio::test]
async fn a_story_is_brought_in_whole_once_or_not_at_all() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let pattern = job(&store).await;
    let line = |sequence: i64, id: Uuid| LogEntry {
        id,
        sequence,
        body: reading(12.0),
        recorded_by: "Maren".to_owned(),
        recorded_at: Some(pattern.opened_at),
        voided: None,
    };
    let story = |evidence: Vec<LogEntry<Entry>>| Story {
        job: NewJob {
            id: Uuid::now_v7(),
            revision_id: pattern.revision_id,
            complaint: "Silent.".to_owned(),
            serial: "K-17".to_owned(),
            hours: Some(12.5),
            ..NewJob::default()
        },
        evidence,
        verdicts: Vec::new(),
    };
    let first = story(vec![line(1, Uuid::now_v7()), line(2, Uuid::now_v7())]);
    let kept = store.bring_in(first.clone()).await.unwrap();
    assert_eq!((kept.serial.as_str(), kept.hours), ("K-17", Some(12.5)));
    assert_eq!(store.bring_in(first.clone()).await.unwrap(), kept);
    assert_eq!(store.evidence(kept.id).await.unwrap().rows, first.evidence);
    let next = store.append_evidence(kept.id, Uuid::now_v7(), "Ilse", &reading(11.0)).await;
    assert_eq!(next.unwrap().sequence, 3);
    // An id that is taken: nothing of it stays.
    let taken = first.evidence[0].id;
    let bad = story(vec![line(1, Uuid::now_v7()), line(2, taken)]);
    let id = bad.job.id;
    assert!(store.bring_in(bad).await.is_err());
    assert!(matches!(store.job(id).await, Err(StoreError::NotFound { .. })));
}

fn switch_head() -> BenchHead {
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

fn leads(touching: &str) -> BenchEntry {
    BenchEntry::Leads { touching: touching.to_owned(), apart: "OL".to_owned() }
}

#[tokio::test]
async fn a_switch_on_the_bench_keeps_its_log_and_is_handed_over_once_and_whole() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let job = job(&store).await;
    let id = Uuid::now_v7();
    let opened = store.open_switch(id, "Maren", "Key", &switch_head()).await.expect("a switch");
    let again = store.open_switch(id, "Maren", "Key", &switch_head()).await.expect("the same");
    assert_eq!(opened, again, "sent twice it is laid there once");

    let entries: Vec<_> = (0..1200).map(|i| (Uuid::now_v7(), leads(&i.to_string()))).collect();
    assert_eq!(store.append_bench_entries(id, "Maren", &entries).await.expect("all"), 1200);
    assert_eq!(store.append_bench_entries(id, "Maren", &entries).await.expect("none"), 0);
    let kept = store.bench_entries(id).await.expect("a log");
    let in_order = kept.iter().map(|e| e.sequence).eq(1..=1200);
    assert!(in_order && kept.iter().map(|e| &e.body).eq(entries.iter().map(|e| &e.1)));
    let taken = [(entries[0].0, leads("other"))];
    let refused = store.append_bench_entries(id, "Maren", &taken).await;
    assert!(matches!(refused, Err(StoreError::IdTaken(_))));

    let changed = store.change_switch(id, 1, "Spare key", &switch_head()).await.expect("changed");
    assert_eq!((changed.version, changed.name.as_str()), (2, "Spare key"));
    let stale = store.change_switch(id, 1, "Key", &switch_head()).await;
    assert!(matches!(stale, Err(StoreError::SwitchStale { then: 1, now: 2 })));

    // An id that is taken lets nothing through.
    let evidence = Uuid::now_v7();
    store.append_evidence(job.id, evidence, "Maren", &reading(12.0)).await.expect("recorded");
    let results = [(Uuid::now_v7(), reading(1.0)), (evidence, reading(2.0))];
    let refused = store.attach_switch(id, job.id, "Maren", &results).await;
    assert!(matches!(refused, Err(StoreError::IdTaken(_))));
    assert_eq!(store.evidence(job.id).await.expect("a log").len(), 1, "all of it or nothing");
    assert_eq!(store.bench_switch(id).await.expect("a switch").status, JobStatus::Open);

    let results = [(Uuid::now_v7(), reading(1.0)), (Uuid::now_v7(), reading(2.0))];
    let closed = store.attach_switch(id, job.id, "Maren", &results).await.expect("handed over");
    assert_eq!((closed.status, closed.job_id), (JobStatus::Closed, Some(job.id)));
    store.attach_switch(id, job.id, "Maren", &results).await.expect("sent again");
    assert_eq!(store.evidence(job.id).await.expect("a log").len(), 3);
    let late = store.append_bench_entry(id, Uuid::now_v7(), "Maren", &leads("0.2")).await;
    assert!(matches!(late, Err(StoreError::SwitchClosed)));
    let reopened = store.set_switch_status(id, closed.version, JobStatus::Open).await;
    assert!(matches!(reopened, Err(StoreError::SwitchClosed)), "its results are out");
    assert_eq!(store.bench_switches(&Wanted::default()).await.expect("a list").total, 1);
}

#[tokio::test]
async fn a_profile_is_kept_once_and_another_of_its_id_is_refused() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let profile = |document: &str| KeptProfile {
        id: "own".to_owned(),
        document: document.to_owned(),
        kept_by: "Ilse".to_owned(),
    };
    store.keep_profile(&profile("{}")).await.expect("kept");
    store.keep_profile(&profile("{}")).await.expect("the same");
    let other = store.keep_profile(&profile("[]")).await;
    assert!(matches!(other, Err(StoreError::NameTaken(id)) if id == "own"));
    assert_eq!(store.switch_profiles().await.expect("a list"), [profile("{}")]);
    store.forget_profile("own").await.expect("gone");
    let gone = store.forget_profile("own").await;
    assert!(matches!(gone, Err(StoreError::NotFound { .. })));
}
