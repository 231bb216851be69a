//! Lists in pages, found by any word that stands in them.

mod bench;

use bench::{Workbench, reading};
use kelvok_core::circuit::FaultMode;
use kelvok_core::machine::SiteKind;
use kelvok_database::Durability;
use kelvok_store::{JobStatus, JobsOf, NewJob, PAGE, Store, Verdict, Void, Wanted};
use uuid::Uuid;

async fn open(store: &Store, revision_id: Uuid, tag: &str) -> Uuid {
    let id = Uuid::now_v7();
    let new = NewJob {
        id,
        revision_id,
        tag: tag.to_owned(),
        owner: "Quillfield 100%_new".to_owned(),
        complaint: "One click, then nothing.".to_owned(),
        serial: "K-17".to_owned(),
        hours: None,
    };
    store.open_job(new).await.expect("a job");
    id
}

fn verdict() -> Verdict {
    Verdict {
        units: vec!["brake".to_owned()],
        names: vec!["Brake switch".to_owned()],
        probability: 0.99,
        confirmed: true,
        note: "Plug re-seated.".to_owned(),
        kind: Some((SiteKind::Fuse, FaultMode::Open)),
    }
}

async fn found(store: &Store, status: Option<JobStatus>, words: &str) -> u64 {
    let wanted = Wanted { words: words.to_owned(), page: 0 };
    store.jobs(&JobsOf { status, machine: None }, &wanted).await.expect("a list").total
}

#[tokio::test]
async fn a_job_is_found_by_every_word_that_is_known_of_it() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let document = r#"{"identity": {"make": "Pellwick", "model": "GT-46", "family": "Tractor"}}"#;
    let revision = store.save_machine("pellwick-gt-46", document).await.expect("a machine");
    let job = open(&store, revision.id, "Orchard 3").await;
    open(&store, revision.id, "Green 2").await;
    for words in ["ORCHARD", "3 orchard", "click orch", "gt-46 orchard", "tractor 3", "100%_new 3"]
    {
        assert_eq!(found(&store, None, words).await, 1, "{words}");
    }
    assert_eq!(found(&store, None, "pellwick k-17").await, 2);
    for words in ["100_%new", "brake", "orchard green", "|", "'; drop table job"] {
        assert_eq!(found(&store, None, words).await, 0, "{words}");
    }
    let kept = Uuid::now_v7();
    store.append_verdict(job, kept, "Maren", &verdict()).await.expect("a verdict");
    assert_eq!(found(&store, None, "brake switch re-seated").await, 1);
    store.set_status(job, 1, JobStatus::Closed).await.expect("closed");
    assert_eq!(found(&store, Some(JobStatus::Closed), "brake").await, 1);
    assert_eq!(found(&store, Some(JobStatus::Open), "brake").await, 0);

    // What the shop learns of it.
    let told = [((SiteKind::Fuse, FaultMode::Open), 1)];
    assert_eq!(store.outcomes(Uuid::nil()).await.expect("outcomes"), told);
    assert_eq!(store.outcomes(job).await.expect("outcomes"), [], "it does not speak for itself");
    let void = Void { by: "Maren".to_owned(), reason: "It was the plug".to_owned() };
    store.void_verdict(job, kept, &void).await.expect("voided");
    assert_eq!(store.outcomes(Uuid::nil()).await.expect("outcomes"), []);
    assert_eq!(found(&store, None, "brake").await, 0);
}

#[tokio::test]
async fn a_machine_has_its_history_whatever_its_revision_was() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let first = store.save_machine("gt", "{\"a\": 1}").await.expect("a machine");
    let next = store.save_machine("gt", "{\"a\": 2}").await.expect("a revision");
    let other = store.save_machine("z", "{}").await.expect("another machine");
    store.save_machine("new", "{}").await.expect("a machine without a job");
    let jobs = [open(&store, first.id, "1").await, open(&store, next.id, "2").await];
    open(&store, other.id, "3").await;
    store.set_status(jobs[0], 1, JobStatus::Closed).await.expect("closed");

    let of = async |status, machine: &str| {
        let of = JobsOf { status, machine: Some(machine.to_owned()) };
        let listed = store.jobs(&of, &Wanted::default()).await.expect("a list");
        listed.found.iter().map(|d| d.job.id).collect::<Vec<_>>()
    };
    assert_eq!(of(None, "gt").await, [jobs[1], jobs[0]]);
    assert_eq!(of(Some(JobStatus::Closed), "gt").await, [jobs[0]]);
    assert!(of(None, "new").await.is_empty());
    assert!(of(None, "no such machine").await.is_empty());

    let lines = store.machines(&Wanted::default()).await.expect("machines").found;
    let had = |name: &str| lines.iter().find(|l| l.name == name).expect("a line").had;
    assert_eq!(had("gt").map(|h| h.jobs), Some(2));
    assert_eq!(had("z").map(|h| h.jobs), Some(1));
    assert_eq!(had("new"), None);
    let last = store.job(jobs[1]).await.expect("the job").opened_at;
    assert_eq!(had("gt").map(|h| h.last), Some(last));
}

#[tokio::test]
async fn pages_hold_every_job_once_open_ones_first() {
    let bench = Workbench::new(Durability::Relaxed);
    let store = bench.store().await;
    let revision = store.save_machine("gt", "{}").await.expect("a machine");
    let mut all = Vec::new();
    for i in 0..(PAGE + 7) {
        let id = open(&store, revision.id, &format!("Orchard {i}")).await;
        if i % 2 == 0 {
            store.set_status(id, 1, JobStatus::Closed).await.expect("closed");
        }
        store
            .append_evidence(
                all.first().copied().unwrap_or(id),
                Uuid::now_v7(),
                "Ilse",
                &reading(1.0),
            )
            .await
            .ok();
        all.push(id);
    }
    let mut seen = Vec::new();
    for page in 0..3 {
        let wanted = Wanted { words: String::new(), page };
        let listed = store.jobs(&JobsOf::default(), &wanted).await.expect("a page");
        assert_eq!(listed.total, PAGE + 7);
        seen.extend(listed.found.iter().map(|d| (d.job.status, d.job.number, d.job.id)));
    }
    let opened = seen.iter().take_while(|s| s.0 == JobStatus::Open).count();
    assert_eq!(opened as u64, store.open_jobs().await.expect("a count"));
    assert!(seen[opened..].iter().all(|s| s.0 == JobStatus::Closed));
    assert!(seen[..opened].is_sorted_by(|a, b| a.1 > b.1), "the newest first");
    seen.sort_by_key(|s| s.2);
    all.sort();
    assert!(seen.iter().map(|s| s.2).eq(all), "each once");
    let beyond = Wanted { words: String::new(), page: u64::MAX };
    assert_eq!(store.jobs(&JobsOf::default(), &beyond).await.expect("a page").found.len(), 0);
}
