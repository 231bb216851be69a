//! `kelvok demo`: the orchard workshop, on a database of its own.
//!
//! Everything here is made up. Ids are fixed, so that starting the demo again adds nothing twice
//! and leaves what was recorded since.

mod bench;
mod releases;
mod supply;

use super::serve::{Listen, block_on, serve_until_stopped};
use anyhow::Context;
use kelvok_core::circuit::{Circuit, Engine, Instrument};
use kelvok_core::complaint::read;
use kelvok_core::diagnosis::{Entry, Heard, ObservationEntry, SetUpEntry, Source, parse_reading};
use kelvok_core::machine::{LIBRARY, Machine};
use kelvok_database::{Database, Durability};
use kelvok_store::{JobStatus, Made, NewJob, Store, Verdict};
use std::path::PathBuf;
use std::process::ExitCode;
use uuid::Uuid;

#[derive(clap::Args)]
pub struct Arguments {
    /// Where the demo's database lies.
    #[arg(long, default_value = ".demo")]
    directory: PathBuf,
    /// An existing MariaDB to use instead.
    #[arg(long, env = "DATABASE_URL")]
    database_url: Option<String>,
    #[command(flatten)]
    listen: Listen,
}

pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    // Kept until the server has stopped, then shut down in order.
    let own = match &arguments.database_url {
        Some(_) => None,
        None => Some(Database::start(&arguments.directory, Durability::Full)?),
    };
    let url = arguments.database_url.clone().or_else(|| own.as_ref().map(Database::url));
    let mut listen = arguments.listen.clone();
    if listen.meter.is_empty() {
        // Where `kelvok meter` is.
        listen.meter.push("127.0.0.1:5025".to_owned());
    }
    block_on(async {
        let store = Store::open(&url.context("no database")?).await?;
        load(&store).await.context("cannot load the demo workshop")?;
        let said = |address: &str| Ok(own.as_ref().map_or(Ok(()), |d| d.listens_at(address))?);
        serve_until_stopped(store, &listen, said).await
    })
}

const PEOPLE: [&str; 3] = ["Maren", "Tobias", "Ilse"];

/// What was observed, in the order it was.
enum Recorded {
    Heard(Heard),
    Volts(&'static str, &'static str),
    /// Ohms across two pins, key off, a connector unplugged and its switch pressed by hand.
    Ohms {
        red: &'static str,
        black: &'static str,
        typed: &'static str,
        switch: &'static str,
    },
}

struct DemoJob {
    machine: &'static str,
    tag: &'static str,
    owner: &'static str,
    complaint: &'static str,
    seen: &'static [Recorded],
    /// Units of a verdict, and what they are called; a job with one is closed.
    verdict: &'static [&'static str],
    named: &'static [&'static str],
}

const JOBS: [DemoJob; 4] = [
    DemoJob {
        machine: "pellwick-gt-46",
        tag: "Orchard 3",
        owner: "Quillfield Cider Co-operative",
        complaint: "Turns no sound, lights work.",
        seen: &[],
        verdict: &[],
        named: &[],
    },
    DemoJob {
        machine: "pellwick-gt-46",
        tag: "North lawn",
        owner: "Larkmoor Cemetery",
        complaint: "One click, then nothing. Jumped twice last week.",
        seen: &[
            Recorded::Heard(Heard::Click),
            Recorded::Volts("battery.+", "12.44"),
            Recorded::Volts("trigger-tab.T", "11.62"),
            Recorded::Volts("solenoid.battery", "12.43"),
        ],
        verdict: &[],
        named: &[],
    },
    DemoJob {
        machine: "kelvok-r1",
        tag: "Green 2",
        owner: "Ashgrove Bowling Club",
        complaint: "Chatters at start when it has stood for a week.",
        seen: &[Recorded::Heard(Heard::Chatter)],
        verdict: &[],
        named: &[],
    },
    DemoJob {
        machine: "pellwick-gt-46",
        tag: "Orchard 1",
        owner: "Quillfield Cider Co-operative",
        complaint: "No crank since the lever was greased.",
        seen: &[
            Recorded::Heard(Heard::Silent),
            Recorded::Volts("battery.+", "12.61"),
            Recorded::Volts("neutral-plug.A", "12.60"),
            Recorded::Volts("neutral-plug.B", "0.01"),
            Recorded::Ohms {
                red: "neutral.in",
                black: "neutral.out",
                typed: "OL",
                switch: "neutral",
            },
        ],
        verdict: &["neutral"],
        named: &["Neutral switch"],
    },
];

/// An id that is the same at every start.
fn id(job: usize, entry: usize) -> Uuid {
    Uuid::from_u128(
        0x0193_0000_0000_7000_8000_0000_0000_0000 + (job as u128) * 1000 + entry as u128,
    )
}

async fn load(store: &Store) -> anyhow::Result<()> {
    for person in PEOPLE {
        store.add_person(person).await?;
    }
    let made = Made { by: None, reason: Some("Came with Kelvok".to_owned()) };
    for shipped in LIBRARY {
        store.save_revision(shipped.name, shipped.text, &made).await?;
    }
    for (j, demo) in JOBS.iter().enumerate() {
        if store.job(id(j, 0)).await.is_ok() {
            continue;
        }
        let machine = store.machine(demo.machine).await?;
        let job = store
            .open_job(NewJob {
                id: id(j, 0),
                revision_id: machine.newest.id,
                tag: demo.tag.to_owned(),
                owner: demo.owner.to_owned(),
                complaint: demo.complaint.to_owned(),
                ..NewJob::default()
            })
            .await?;
        let by = PEOPLE[j % PEOPLE.len()];
        // What the customer says still works went in with the complaint.
        for (e, works) in still_works(demo)?.iter().enumerate() {
            store.append_evidence(job.id, id(j, e + 500), by, works).await?;
        }
        for (e, seen) in demo.seen.iter().enumerate() {
            store.append_evidence(job.id, id(j, e + 1), by, &entry(seen)?).await?;
        }
        if !demo.verdict.is_empty() {
            let verdict = Verdict {
                units: demo.verdict.iter().map(|u| (*u).to_owned()).collect(),
                names: demo.named.iter().map(|n| (*n).to_owned()).collect(),
                probability: 0.99,
                confirmed: true,
                note: "New lever switch fitted.".to_owned(),
                kind: None,
            };
            store.append_verdict(job.id, id(j, 900), PEOPLE[0], &verdict).await?;
            store.set_status(job.id, job.version, JobStatus::Closed).await?;
        }
    }
    releases::load(store, &PEOPLE).await?;
    supply::load(store, &PEOPLE).await?;
    bench::load(store, &PEOPLE).await
}

/// What works by the customer's own sentence, as entries.
fn still_works(demo: &DemoJob) -> anyhow::Result<Vec<Entry>> {
    let shipped = LIBRARY.iter().find(|m| m.name == demo.machine).context("shipped")?;
    let machine = Machine::read(shipped.text).map_err(|p| anyhow::anyhow!("{p:?}"))?;
    Ok(read(&Circuit::compile(&machine), demo.complaint).works)
}

fn entry(seen: &Recorded) -> anyhow::Result<Entry> {
    let at = |key: &str| {
        let set = [("key", key), ("pedal", "down"), ("blades", "off"), ("lever", "neutral")];
        set.into_iter().map(|(c, p)| (c.to_owned(), p.to_owned())).collect()
    };
    let reading = |instrument, red: &str, black: &str, typed: &str| {
        anyhow::Ok(ObservationEntry::Reading {
            instrument,
            red: red.to_owned(),
            black: black.to_owned(),
            reading: parse_reading(instrument, typed)?,
            typed: typed.to_owned(),
        })
    };
    let mut entry = Entry {
        condition: at("start"),
        engine: Engine::Stopped,
        set_up: Vec::new(),
        observation: ObservationEntry::Heard { heard: Heard::Silent },
        repeats: 1,
        source: Source::Tested,
        at_times: false,
        times_an_hour: None,
        celsius: None,
        idle: false,
    };
    match seen {
        Recorded::Heard(heard) => entry.observation = ObservationEntry::Heard { heard: *heard },
        Recorded::Volts(red, typed) => {
            entry.observation = reading(Instrument::Voltmeter, red, "battery.-", typed)?;
        }
        Recorded::Ohms { red, black, typed, switch } => {
            entry.condition = at("off");
            entry.set_up = vec![
                SetUpEntry::Unplugged { connector: format!("{switch}-plug") },
                SetUpEntry::PressedByHand { switch: (*switch).to_owned() },
            ];
            entry.observation = reading(Instrument::Ohmmeter, red, black, typed)?;
        }
    }
    Ok(entry)
}
