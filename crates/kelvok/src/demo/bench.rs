//! What lies on the demo workshop's switch bench. Each switch is followed through the plan with
//! made-up answers, as far as it has come.

use anyhow::Context;
use kelvok_core::bench::{
    Bench, BenchEntry, Next, PlugWire, Profile, ProfileDocument, Subject, Way, WorkedBy,
    profile_of_part, wires_at,
};
use kelvok_core::circuit::{Circuit, Reading};
use kelvok_core::machine::Machine;
use kelvok_store::{BenchHead, MachinePart, Store};
use std::collections::BTreeMap;
use uuid::Uuid;

/// A switch of the demo.
struct DemoSwitch {
    name: &'static str,
    head: BenchHead,
    /// Whether a pair is joined in a position, the so-manieth time that it is asked.
    answers: fn(&Profile, &str, &str, &str, usize) -> bool,
    /// What it really is.
    truth: ProfileDocument,
    /// By its terminals, those of what it really is.
    real: BTreeMap<String, String>,
    /// Entries after which somebody was called away.
    most: usize,
    /// What was written down besides.
    more: Vec<BenchEntry>,
}

/// Lays the demo's switches on the bench, those that are not there yet.
pub async fn load(store: &Store, people: &[&str]) -> anyhow::Result<()> {
    for (place, demo) in switches(store).await?.into_iter().enumerate() {
        let id = id(place, 0);
        if store.bench_switch(id).await.is_ok() {
            continue;
        }
        let by = people[place % people.len()];
        store.open_switch(id, by, demo.name, &demo.head).await?;
        let entries = followed(&demo).into_iter().enumerate();
        let entries: Vec<_> = entries.map(|(e, entry)| (self::id(place, e + 1), entry)).collect();
        store.append_bench_entries(id, by, &entries).await?;
    }
    Ok(())
}

/// An id that is the same at every start.
fn id(switch: usize, entry: usize) -> Uuid {
    let own = 0x0193_0000_0000_7000_9000_0000_0000_0000;
    Uuid::from_u128(own + (switch as u128) * 1000 + entry as u128)
}

/// A machine's switch, as it comes to the bench.
struct Own {
    at: MachinePart,
    profile: ProfileDocument,
    wires: Vec<PlugWire>,
}

async fn own(store: &Store, machine: &str, part: &str) -> anyhow::Result<Own> {
    let revision = store.machine(machine).await?.newest;
    let document = Machine::read(&revision.document).ok().context("a machine of the library")?;
    let circuit = Circuit::compile(&document);
    let profile = profile_of_part(&circuit, part).context("a switch of that machine")?;
    let at = MachinePart { revision_id: revision.id, part: part.to_owned() };
    Ok(Own { at, profile, wires: wires_at(&circuit, part) })
}

fn head(subject: Subject, own: Option<Own>) -> BenchHead {
    let (machine, replaces, wires) = match own {
        Some(Own { at, profile, wires }) => (Some(at), Some(profile), wires),
        None => (None, None, Vec::new()),
    };
    let plug = match replaces {
        Some(_) => subject.terminals.iter().map(|t| (t.clone(), t.clone())).collect(),
        None => BTreeMap::new(),
    };
    BenchHead { subject, new_part: false, machine, replaces, plug, wires }
}

async fn switches(store: &Store) -> anyhow::Result<Vec<DemoSwitch>> {
    let shipped = |id: &str| {
        let all = Profile::shipped().into_iter();
        let found = all.map(|p| p.document().clone()).find(|p| p.id == id);
        found.context("a shipped profile")
    };
    let as_marked = |subject: &Subject| {
        let pairs = subject.terminals.iter().map(|t| (t.clone(), t.clone()));
        pairs.collect::<BTreeMap<_, _>>()
    };
    let numbered = |real: &[&str]| {
        let pairs = real.iter().enumerate().map(|(i, t)| ((i + 1).to_string(), (*t).to_owned()));
        pairs.collect::<BTreeMap<_, _>>()
    };
    let unknown = |own: &ProfileDocument| Subject {
        terminals: (1..=own.terminals.len()).map(|n| n.to_string()).collect(),
        profile: None,
        ..Subject::of_profile(own)
    };

    let key = own(store, "pellwick-gt-46", "key").await?;
    let truth = key.profile.clone();
    let subject = Subject::of_profile(&truth);
    let key = DemoSwitch {
        name: "Key switch, Orchard 1",
        real: as_marked(&subject),
        head: head(subject, Some(key)),
        truth,
        answers: |own, position, a, b, time| match position {
            "start" if (a, b) == ("B", "S") => time != 3,
            "run" | "reverse-mow" if a == "L" || b == "L" => {
                position != "run" && made(own, position, a, b)
            }
            _ => made(own, position, a, b),
        },
        most: usize::MAX,
        more: Vec::new(),
    };

    let seat = own(store, "pellwick-gt-46", "seat").await?;
    let truth = seat.profile.clone();
    let subject = Subject::of_profile(&truth);
    let by_machine = |position: &str, from: &str, to: &str, made: bool| BenchEntry::Probe {
        position: position.to_owned(),
        from: from.to_owned(),
        to: to.to_owned(),
        reading: Reading::Buzz(made),
        typed: if made { "buzz" } else { "silent" }.to_owned(),
        sprung_from: None,
        worked_by: WorkedBy::Machine,
    };
    let stroke = |way: Way, at: usize, made: bool| BenchEntry::Stroke {
        from: "clutch-in".to_owned(),
        to: "clutch-out".to_owned(),
        way,
        travel: (at * 5) as f64,
        made,
    };
    let inward = (0..=20).map(|at| stroke(Way::In, at, at >= 7 && !(11..=12).contains(&at)));
    let outward = (0..=20).rev().map(|at| stroke(Way::Out, at, at >= 6 && at != 11));
    let linkage = [
        by_machine("released", "kill-in", "kill-out", true),
        by_machine("pressed", "kill-in", "kill-out", true),
    ];
    let seat = DemoSwitch {
        name: "Seat switch, North lawn",
        real: as_marked(&subject),
        head: head(subject, Some(seat)),
        truth,
        answers: |own, position, a, b, _| made(own, position, a, b),
        most: usize::MAX,
        more: linkage.into_iter().chain(inward).chain(outward).collect(),
    };

    let truth = shipped("key-5-lettered-magneto")?;
    let drawer = DemoSwitch {
        name: "Key switch from the drawer",
        head: head(unknown(&truth), None),
        real: numbered(&["M", "S", "A", "G", "B"]),
        truth: truth.clone(),
        answers: |own, position, a, b, _| made(own, position, a, b),
        most: 7,
        more: Vec::new(),
    };

    let z52 = own(store, "dunmarrow-z-52", "key").await?;
    let subject = unknown(&truth);
    let mut new = head(subject, Some(z52));
    new.new_part = true;
    new.plug = numbered(&["B", "S", "A", "G", "M"]);
    let new = DemoSwitch {
        name: "New key switch for the Z-52",
        head: new,
        real: numbered(&["M", "S", "A", "G", "B"]),
        truth,
        answers: |own, position, a, b, _| made(own, position, a, b),
        most: usize::MAX,
        more: Vec::new(),
    };

    let truth = shipped("pto-3-columns")?;
    let subject = Subject::of_profile(&truth);
    let pto = DemoSwitch {
        name: "PTO switch, Green 2",
        real: as_marked(&subject),
        head: head(subject, None),
        truth,
        answers: |own, position, a, b, _| {
            made(own, position, a, b) && !(position == "on" && (a == "B NO" || b == "B NO"))
        },
        most: 40,
        more: Vec::new(),
    };
    Ok(vec![pto, new, drawer, seat, key])
}

/// Whether a profile joins two of its terminals.
fn made(own: &Profile, position: &str, one: &str, other: &str) -> bool {
    let at = |id: &str| own.terminals().iter().position(|t| t.id == id);
    let cell = own.position(position).zip(at(one)).zip(at(other));
    cell.is_some_and(|((position, one), other)| own.made(position, one, other))
}

/// What the plan asks, answered, as far as it has come.
fn followed(demo: &DemoSwitch) -> Vec<BenchEntry> {
    let Ok(truth) = Profile::of(demo.truth.clone()) else { return Vec::new() };
    let library = Profile::shipped();
    let mut entries = Vec::new();
    let mut asked: BTreeMap<(String, String, String), usize> = BTreeMap::new();
    while entries.len() < demo.most {
        let Some(bench) = Bench::of(demo.head.subject.clone(), &entries) else { break };
        let (cell, sprung) = match bench.next(&library) {
            Next::Leads => {
                let (touching, apart) = ("0.2".to_owned(), "OL".to_owned());
                entries.push(BenchEntry::Leads { touching, apart });
                continue;
            }
            Next::Probe { cell, .. } => (cell, None),
            Next::Hold { operated } => (operated.held, None),
            Next::LetGo { operated } => (operated.let_go, Some(operated.held.position)),
            Next::Finished => break,
        };
        let positions = bench.found.positions();
        let position = positions[cell.position].clone();
        let [from, to] = [cell.one, cell.other].map(|t| bench.found.terminals()[t].clone());
        let [a, b] = [&from, &to].map(|t| demo.real.get(t).cloned().unwrap_or_default());
        let time = asked.entry((position.clone(), from.clone(), to.clone())).or_default();
        *time += 1;
        let made = (demo.answers)(&truth, &position, &a, &b, *time);
        entries.push(BenchEntry::Probe {
            position,
            from,
            to,
            reading: Reading::Buzz(made),
            typed: if made { "buzz" } else { "silent" }.to_owned(),
            sprung_from: sprung.map(|p| positions[p].clone()),
            worked_by: WorkedBy::Hand,
        });
    }
    entries.extend(demo.more.iter().cloned());
    entries
}
