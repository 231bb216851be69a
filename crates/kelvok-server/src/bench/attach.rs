//! The results of a switch, handed over to a job as evidence.

use crate::app::App;
use crate::bench::loaded::Loaded;
use crate::bench::machine::OffTheMachine;
use crate::bench::switches::view_of;
use crate::bench::view::BenchView;
use crate::http::bodies::{Body, Path};
use crate::http::input;
use crate::http::problem::Problem;
use axum::Json;
use axum::extract::State;
use kelvok_core::bench::{Bench, Cell, Expected, FoundTable, Grade, LinkageVerdict, SwitchVerdict};
use kelvok_core::circuit::{Circuit, Engine, Instrument, Reading};
use kelvok_core::diagnosis::{Entry, ObservationEntry, SetUpEntry, Source};
use serde::Deserialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Deserialize, ToSchema)]
pub struct Attach {
    /// Made by the client (UUIDv7), so that a retry hands them over once.
    pub id: Uuid,
    pub by: String,
    pub job: Uuid,
    /// What came of it, in words: goes into the job's story.
    pub note: String,
}

/// Hands the results over to an open job on the same machine, and closes the switch: each reading as
/// one with the switch's plug off, worked by hand or by the machine; and a note. A new part, one of
/// another kind than the machine's own, and one whose plug no drawing shows leave the note alone.
#[utoipa::path(post, operation_id = "attach_switch", path = "/bench/{id}/attach",
    params(("id" = Uuid, Path)), request_body = Attach, responses(
    (status = 200, body = BenchView),
    (status = 409, description = "The switch or the job is closed", body = Problem),
    (status = 422, description = "The job is of another machine", body = Problem),
))]
pub async fn attach(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(attach): Body<Attach>,
) -> Result<Json<BenchView>, Problem> {
    let by = input::person(&attach.by)?;
    let note = input::words("note", &attach.note, 2000)?;
    let loaded = Loaded::get(&app, id).await?;
    let job = app.store.job(attach.job).await?;
    let circuit = &*app.circuits.circuit(&app, job.revision_id).await?;
    let own = loaded.switch.head.machine.as_ref().zip(loaded.circuit.as_ref());
    let mut entries = Vec::new();
    if let Some((at, own)) = own {
        let identity =
            |c: &Circuit| (c.document().identity.make.clone(), c.document().identity.model.clone());
        if identity(own) != identity(circuit) || circuit.part_named(&at.part).is_none() {
            let sentence = "This switch is of another machine than that job.";
            return Err(Problem::field("job", sentence));
        }
        // What another switch does says nothing of the one that the job is about.
        if !loaded.switch.head.new_part && loaded.is_the_machines() {
            entries.extend(results(circuit, &at.part, &loaded.bench));
        }
    }
    entries.push(entry(ObservationEntry::Note { text: note }));
    for entry in &entries {
        entry.resolve(circuit, 0)?;
    }
    let numbered = entries.into_iter().enumerate();
    let numbered: Vec<_> = numbered
        .map(|(i, entry)| (Uuid::from_u128(attach.id.as_u128().wrapping_add(i as u128)), entry))
        .collect();
    app.store.attach_switch(id, attach.job, &by, &numbered).await?;
    view_of(&app, id).await
}

fn entry(observation: ObservationEntry) -> Entry {
    Entry {
        condition: BTreeMap::new(),
        engine: Engine::Stopped,
        set_up: Vec::new(),
        observation,
        repeats: 1,
        source: Source::Tested,
        at_times: false,
        times_an_hour: None,
        celsius: None,
        idle: false,
    }
}

/// What came of the test, and what was read where that tells it.
fn results(circuit: &Circuit, part: &str, bench: &Bench) -> Vec<Entry> {
    let found = |unit: String, bad| entry(ObservationEntry::Benched { unit, bad });
    let benched = |bad| found(part.to_owned(), bad);
    // The linkage is another unit than the switch, with a result of its own.
    let linkage = |bad| found(format!("{part}:linkage"), bad);
    let linkage = match bench.linkage() {
        LinkageVerdict::Works => Some(linkage(false)),
        LinkageVerdict::DoesNotReach | LinkageVerdict::DoesNotLetGo | LinkageVerdict::AtTimes => {
            Some(linkage(true))
        }
        LinkageVerdict::NotTried | LinkageVerdict::SwitchFirst | LinkageVerdict::HalfTried => None,
    };
    let [by_hand, by_machine] = readings(circuit, part, bench);
    let (by_hand, result) = match bench.verdict() {
        SwitchVerdict::Sound => (by_hand, Some(benched(false))),
        // A dead spot shows in no reading at the ends of the stroke: they would clear the contacts.
        SwitchVerdict::Bad if bench.is_bad_along_only() => (Vec::new(), Some(benched(true))),
        SwitchVerdict::Bad => (by_hand, Some(benched(true))),
        _ => (by_hand, None),
    };
    by_hand.into_iter().chain(by_machine).chain(result).chain(linkage).collect()
}

/// Each cell that was tried, by hand and by the machine, as a reading with the switch's plug off.
fn readings(circuit: &Circuit, part: &str, bench: &Bench) -> [Vec<Entry>; 2] {
    let off = OffTheMachine::of(circuit, part);
    let (Some(profile), Some(taken)) = (&bench.profile, bench.taken_for()) else {
        return Default::default();
    };
    if off.plugs.is_empty() {
        return Default::default();
    }
    let expected = Expected { profile, terminals: &taken };
    let terminal = |t: usize| off.terminal(&profile.terminals()[usize::from(taken[t])].id);
    let reading = |table: &FoundTable, cell: Cell, stand: Stand, repeats: usize| {
        let (condition, set_up) = stand?;
        let grade = table.grade(cell)?;
        let (instrument, reading) = match grade {
            Grade::Made => (Instrument::Buzzer, Reading::Buzz(true)),
            Grade::Open => (Instrument::Buzzer, Reading::Buzz(false)),
            Grade::Resistive { ohms } | Grade::Through { ohms } => {
                (Instrument::Ohmmeter, Reading::Ohms(Some(ohms)))
            }
            // What it is at its bad times.
            Grade::AtTimes { .. } => {
                (Instrument::Buzzer, Reading::Buzz(!expected.made(table, cell)?))
            }
        };
        let observation = ObservationEntry::Reading {
            instrument,
            red: terminal(cell.one),
            black: terminal(cell.other),
            reading,
            typed: grade.words(),
        };
        Some(Entry {
            condition,
            set_up,
            repeats: repeats as u32,
            at_times: matches!(grade, Grade::AtTimes { .. }),
            ..entry(observation)
        })
    };
    let positions = bench.found.positions();
    let by_hand = bench.found.cells().filter_map(|(cell, seen)| {
        reading(&bench.found, cell, off.stand(&positions[cell.position]), seen.len())
    });
    let by_machine = bench.on_machine.cells().filter_map(|(cell, seen)| {
        let stand = off.stand_by_machine(&positions[cell.position]);
        reading(&bench.on_machine, cell, stand, seen.len())
    });
    [by_hand.collect(), by_machine.collect()]
}

type Stand = Option<(BTreeMap<String, String>, Vec<SetUpEntry>)>;
