//! Machines on their way back: one half-way through its steps, one released, one handed back without that.

use super::id;
use anyhow::Context;
use kelvok_core::circuit::Circuit;
use kelvok_core::diagnosis::{Entry, ObservationEntry, Repair};
use kelvok_core::machine::{LIBRARY, Machine};
use kelvok_core::release::{ReleaseEntry, ReleasePlan, TriedStep};
use kelvok_store::{NewJob, Store};

/// How far the machine of a job is.
enum Gone {
    /// So many steps are done.
    Steps(usize),
    Released,
    Returned(&'static str),
}

struct Going {
    machine: &'static str,
    tag: &'static str,
    owner: &'static str,
    complaint: &'static str,
    /// What was replaced, and what is said of it.
    repaired: &'static str,
    note: &'static str,
    gone: Gone,
}

const GOING: [Going; 3] = [
    Going {
        machine: "pellwick-r-30",
        tag: "Court 2",
        owner: "Ashgrove Bowling Club",
        complaint: "Starts with the blades in.",
        repaired: "blade-switch",
        note: "New blade lever switch, tested on the bench first.",
        gone: Gone::Steps(3),
    },
    Going {
        machine: "hexley-w-21e",
        tag: "Kiosk",
        owner: "Larkmoor Cemetery",
        complaint: "Keeps running when the bail is let go.",
        repaired: "bail-kill",
        note: "New bail kill switch.",
        gone: Gone::Released,
    },
    Going {
        machine: "hexley-w-21e",
        tag: "Nursery",
        owner: "Quillfield Cider Co-operative",
        complaint: "Bail hurts the hand, tied down with a strap.",
        repaired: "",
        note: "",
        gone: Gone::Returned(
            "Owner took it back with the bail still tied down. Told not to run it like that.",
        ),
    },
];

/// Loads them, once.
pub async fn load(store: &Store, people: &[&str]) -> anyhow::Result<()> {
    for (j, going) in (4..).zip(&GOING) {
        if store.job(id(j, 0)).await.is_ok() {
            continue;
        }
        let by = people[j % people.len()];
        let machine = store.machine(going.machine).await?;
        let new = NewJob {
            id: id(j, 0),
            revision_id: machine.newest.id,
            tag: going.tag.to_owned(),
            owner: going.owner.to_owned(),
            complaint: going.complaint.to_owned(),
            ..NewJob::default()
        };
        let job = store.open_job(new).await?.id;
        if !going.repaired.is_empty() {
            let repaired = ObservationEntry::Repaired {
                unit: going.repaired.to_owned(),
                how: Some(Repair::Replaced),
                note: going.note.to_owned(),
            };
            let entry: Entry =
                serde_json::from_value(serde_json::json!({ "observation": repaired }))?;
            store.append_evidence(job, id(j, 1), by, &entry).await?;
        }
        for (e, entry) in entries(going, by)?.iter().enumerate() {
            store.append_release_entry(job, id(j, 600 + e), by, entry).await?;
        }
    }
    Ok(())
}

/// What was recorded, everything as it should be.
fn entries(going: &Going, by: &str) -> anyhow::Result<Vec<ReleaseEntry>> {
    let steps = match going.gone {
        Gone::Steps(steps) => steps,
        Gone::Released => usize::MAX,
        Gone::Returned(reason) => {
            let (name, reason) = (by.to_owned(), reason.to_owned());
            return Ok(vec![ReleaseEntry::Returned { name, reason }]);
        }
    };
    let shipped = LIBRARY.iter().find(|m| m.name == going.machine).context("shipped")?;
    let machine = Machine::read(shipped.text).map_err(|p| anyhow::anyhow!("{p:?}"))?;
    let circuit = Circuit::compile(&machine);
    let plan = ReleasePlan::of(&circuit, &[]);
    let tried = plan.steps.iter().take(steps).map(|planned| {
        let tried = TriedStep::of(&circuit, &planned.step);
        let saw = tried.expected;
        let seconds = tried.within.map(|within| within / 4.0);
        ReleaseEntry::Step { tried, saw, seconds, revision: 1 }
    });
    let mut all: Vec<_> = tried.collect();
    if steps == usize::MAX {
        let fuses = circuit.document().parts.iter().filter_map(|part| {
            let fuse = part.kind == kelvok_core::machine::PartKind::Fuse;
            let (id, amps) = (part.id.clone(), part.amps.filter(|_| fuse)?);
            Some(ReleaseEntry::Fuse { fuse: id, amps })
        });
        all.extend(fuses);
        let checked = plan.unexposed(&circuit).into_iter().map(|u| ReleaseEntry::Checked {
            fault: u.fault,
            bad: false,
            how: "Plug off, no beep.".to_owned(),
        });
        all.extend(checked);
        all.push(ReleaseEntry::Signed {
            name: by.to_owned(),
            role: "Mechanic".to_owned(),
            strokes: signature(),
        });
    }
    Ok(all)
}

/// A made-up scrawl.
fn signature() -> Vec<Vec<[f32; 2]>> {
    let wave = |i: u8| {
        let x = 0.08 + 0.04 * f32::from(i);
        [x, 0.55 + 0.28 * (f32::from(i) * 1.3).sin() * (1.0 - x * 0.6)]
    };
    vec![(0..20).map(wave).collect(), vec![[0.1, 0.85], [0.8, 0.7]]]
}
