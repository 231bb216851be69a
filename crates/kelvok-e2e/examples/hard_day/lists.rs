//! Long lists: how long a page of them takes.

use super::program::{On, Program};
use anyhow::ensure;
use kelvok_core::bench::{Profile, Subject};
use kelvok_core::machine::LIBRARY;
use kelvok_database::{Database, Durability};
use kelvok_store::{BenchHead, JobStatus, NewJob, Store, Verdict};
use std::time::Instant;
use uuid::Uuid;

const CLOSED: usize = 2000;
const OPEN: usize = 40;
const MACHINES: usize = 500;
const SWITCHES: usize = 2000;

pub async fn run() -> anyhow::Result<()> {
    let directory = tempfile::Builder::new().prefix("kelvok").tempdir()?;
    let database = Database::start(directory.path(), Durability::Relaxed)?;
    let store = Store::open(&database.url()).await?;
    fill(&store).await?;
    let program = Program::start(On::Database(&database.url())).await?;
    let mut slow = Vec::new();
    for path in [
        "/jobs",
        "/jobs?status=closed&page=20",
        "/jobs?q=orchard%201999%20brake",
        "/jobs?q=nothing%20of%20that",
        "/machines",
        "/machines?page=9",
        "/machines?q=gt-46%20no%20123",
        "/bench",
        "/bench?page=39",
        "/bench?q=seat%20777",
    ] {
        let mut times = Vec::new();
        let first = Instant::now();
        program.get(path).await?;
        let first = first.elapsed().as_secs_f64() * 1000.0;
        for _ in 0..21 {
            let began = Instant::now();
            program.get(path).await?;
            times.push(began.elapsed().as_secs_f64() * 1000.0);
        }
        times.sort_by(f64::total_cmp);
        println!(
            "{path:34} {:6.1} ms, at most {:6.1}, the first time {first:6.1}",
            times[10], times[20]
        );
        if times[10] > 100.0 {
            slow.push(path);
        }
    }
    ensure!(slow.is_empty(), "not what it must be: {slow:?}");
    Ok(())
}

async fn fill(store: &Store) -> anyhow::Result<()> {
    let mut revisions = Vec::new();
    for n in 0..MACHINES {
        let shipped = &LIBRARY[n % LIBRARY.len()];
        let text = shipped.text.replacen("\"model\": \"", &format!("\"model\": \"no {n} "), 1);
        revisions.push(store.save_machine(&format!("{} no {n}", shipped.name), &text).await?.id);
    }
    for n in 0..CLOSED + OPEN {
        let id = Uuid::now_v7();
        let job = NewJob {
            id,
            revision_id: revisions[n % revisions.len()],
            tag: format!("Orchard {n}"),
            owner: "Quillfield Cider Co-operative".to_owned(),
            complaint: "Quits when I hop off, brake set.".to_owned(),
            serial: format!("K-{n}"),
            hours: Some(100.0),
        };
        store.open_job(job).await?;
        if n < CLOSED {
            let verdict = Verdict {
                units: vec!["brake".to_owned()],
                names: vec!["Brake switch".to_owned()],
                probability: 0.99,
                confirmed: true,
                note: "Plug re-seated.".to_owned(),
                kind: None,
            };
            store.append_verdict(id, Uuid::now_v7(), "Maren", &verdict).await?;
            store.set_status(id, 1, JobStatus::Closed).await?;
        }
    }
    let profile = Profile::shipped()[0].document().clone();
    let head = BenchHead {
        subject: Subject::of_profile(&profile),
        new_part: false,
        machine: None,
        replaces: None,
        plug: Default::default(),
        wires: Vec::new(),
    };
    for n in 0..SWITCHES {
        store.open_switch(Uuid::now_v7(), "Maren", &format!("Seat {n}"), &head).await?;
    }
    Ok(())
}
