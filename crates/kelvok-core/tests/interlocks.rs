//! Table, sentences, duties, paths, cuts, fixes and reasons.

mod library;

use kelvok_core::circuit::{Circuit, Condition, ElementId, Engine, Relays, Setting, Solver};
use kelvok_core::interlock::{
    Asked, Effect, Fix, InterlockTable, Judge, Reason, Snapshot, Stands, agrees, fewest_moves,
    minimal_cover, prove_duties, reasons, sentences,
};
use kelvok_core::interlock::{Behavior, Value};
use kelvok_core::machine::{LIBRARY, Machine, PartKind};

fn ids(circuit: &Circuit, elements: &[ElementId]) -> Vec<String> {
    elements.iter().map(|e| circuit.element(*e).id.clone()).collect()
}

/// Whether a sentence says that something happens in a condition.
fn said(circuit: &Circuit, ways: &[Vec<kelvok_core::interlock::Clause>], at: &Condition) -> bool {
    let stands = |clause: &kelvok_core::interlock::Clause| {
        at.named(circuit)
            .any(|(c, p)| c == clause.control && clause.positions.iter().any(|q| q == p))
    };
    ways.iter().any(|way| way.iter().all(stands))
}

#[test]
fn sentences_say_what_the_table_says_in_every_condition() {
    for machine in LIBRARY {
        let circuit = library::circuit(machine.name);
        let table = InterlockTable::of(&mut Judge::new(&circuit, &[])).unwrap();
        let sentences = sentences(&circuit, &table);
        for (condition, does) in table.conditions(&circuit) {
            for sentence in &sentences {
                let holds = match sentence.effect {
                    Effect::Cranks => does.cranks,
                    Effect::Starts => does.starts,
                    Effect::Stops => !does.runs,
                    Effect::Blades => does.coupled,
                };
                let says = said(&circuit, &sentence.ways, &condition);
                assert_eq!(says, holds, "{}: {}: {condition:?}", machine.name, sentence.says);
            }
        }
    }
}

#[test]
fn no_clause_of_a_sentence_can_be_left_out() {
    for machine in LIBRARY {
        let circuit = library::circuit(machine.name);
        let table = InterlockTable::of(&mut Judge::new(&circuit, &[])).unwrap();
        for holds in [|b: &Behavior| b.cranks, |b: &Behavior| !b.runs, |b: &Behavior| b.coupled] {
            let value = |row: &Option<Behavior>| match row {
                None => Value::Either,
                Some(row) if holds(row) => Value::Yes,
                Some(_) => Value::No,
            };
            let values: Vec<_> = table.rows.iter().map(value).collect();
            let cover = minimal_cover(&table.sizes, &values);
            assert!(agrees(&table.sizes, &values, &cover), "{}", machine.name);
            for left_out in 0..cover.len() {
                let mut fewer = cover.clone();
                fewer.remove(left_out);
                assert!(
                    !agrees(&table.sizes, &values, &fewer),
                    "{}: one way too many",
                    machine.name
                );
            }
        }
    }
}

#[test]
fn a_wide_machine_is_said_in_two_sentences() {
    let circuit = library::wide::wide(8);
    let (says, proofs) = logic(&circuit);
    assert_eq!(
        says[0],
        "Cranks when control 0 on, control 1 on, control 2 on, control 3 on, control 4 on, \
         control 5 on, control 6 on, control 7 on."
    );
    assert_eq!(
        says[1],
        "A running engine stops when control 0 off, control 1 off; or control 2 off, control 3 \
         off; or control 4 off, control 5 off; or control 6 off, control 7 off."
    );
    assert!(proofs.iter().all(|(checked, broken)| *checked > 0 && *broken == 0), "{proofs:?}");
}

/// What is said of a machine: sentences, and what became of its duties.
fn logic(circuit: &Circuit) -> (Vec<String>, Vec<(usize, usize)>) {
    let mut judge = Judge::as_built(circuit, &[]);
    let table = InterlockTable::of(&mut judge).unwrap();
    let says = sentences(circuit, &table).into_iter().map(|s| s.says).collect();
    let proofs = prove_duties(&mut judge);
    (says, proofs.iter().map(|p| (p.checked, p.broken.len())).collect())
}

#[test]
fn a_contact_turned_round_changes_a_sentence_or_a_duty() {
    let (mut turned, mut unsaid) = (0, Vec::new());
    for machine in LIBRARY {
        let sound = library::circuit(machine.name);
        let before = logic(&sound);
        let document: serde_json::Value = serde_json::from_str(machine.text).unwrap();
        for (i, part) in sound.document().parts.iter().enumerate() {
            let switches = [PartKind::InterlockSwitch, PartKind::KeySwitch, PartKind::HandSwitch];
            if !switches.contains(&part.kind) {
                continue;
            }
            for (j, contact) in part.contacts.iter().enumerate() {
                let mut changed = document.clone();
                let entry = &mut changed["parts"][i]["contacts"][j];
                match &contact.made_when {
                    Some(when) => entry["made_when"] = format!("!({when})").into(),
                    None => {
                        let open = entry["normally"] == "open";
                        entry["normally"] = if open { "closed" } else { "open" }.into();
                    }
                }
                let circuit = Circuit::compile(&Machine::read(&changed.to_string()).unwrap());
                turned += 1;
                let id = format!("{} {}.{}", machine.name, part.id, contact.id);
                if logic(&circuit) == before {
                    unsaid.push(id);
                }
            }
        }
    }
    assert!(turned > 100, "{turned} contacts turned");
    assert_eq!(unsaid, LIGHTS_ONLY);
}

/// Contacts of lamps, glow plugs and meters, which no sentence speaks of: an old diesel runs with
/// its key off.
const LIGHTS_ONLY: [&str; 11] = [
    "pellwick-gt-46 key.lights",
    "pellwick-r-30 key.accessory",
    "tarnbeck-c-24d key.glow",
    "tarnbeck-c-24d key.start-glow",
    "tarnbeck-c-24d light-switch.pole",
    "tarnbeck-u-17d key.run",
    "tarnbeck-u-17d key.glow",
    "tarnbeck-u-17d light-switch.pole",
    "tarnbeck-t-40 light-switch.pole",
    "corrieford-8-speed light-switch.pole",
    "kelvok-r1 light-switch.pole",
];

#[test]
fn the_fewest_moves_and_what_blocks_or_breaks_a_way() {
    let circuit = library::r1();
    let parked = Condition::at_rest(&circuit);
    let ends =
        |from: &str, to: &str| (circuit.terminal(from).unwrap(), circuit.terminal(to).unwrap());
    let start = ends("battery.+", "solenoid.trigger");
    let found = fewest_moves(&circuit, start, &parked).expect("it can be completed");
    let moved: Vec<_> = found
        .named(&circuit)
        .zip(parked.named(&circuit))
        .filter(|(now, then)| now != then)
        .map(|(now, _)| now)
        .collect();
    assert_eq!(moved, [("key", "start"), ("pedal", "down")]);
    let fix = |condition: &Condition| {
        let mut solver: Solver<'_> = Solver::new(&circuit);
        solver.solve(&[&Setting::new(&circuit, condition)], &[Relays::default()]);
        Fix::between(&circuit, start, &|e| solver.conducts(0, e))
    };
    match fix(&parked) {
        Fix::Blocked { makes } => {
            assert_eq!(ids(&circuit, &makes), ["key.start", "brake.start"]);
        }
        other => panic!("{other:?}"),
    }
    match fix(&found) {
        Fix::Complete { breaks } => assert_eq!(breaks.len(), 1, "one gate of a row parts it"),
        other => panic!("{other:?}"),
    }
    assert_eq!(
        Fix::between(&circuit, ends("battery.+", "battery.-"), &|_| true),
        Fix::NoWay,
        "only loads lead through"
    );
}

#[test]
fn reasons_are_the_contacts_that_decide() {
    let circuit = library::gt46();
    let at = |set: &[(&str, &str)]| library::condition(&circuit, set);
    let mut judge = Judge::new(&circuit, &[]);
    let rose = at(&[("key", "run"), ("seat", "empty")]);
    let stops = reasons(&mut judge, &rose, Asked::Runs);
    let grounded: Vec<_> = stops
        .iter()
        .map(|r| match r {
            Reason::Grounded { rungs, .. } => {
                rungs.iter().map(|rung| ids(&circuit, rung)).collect::<Vec<_>>()
            }
            other => panic!("{other:?}"),
        })
        .collect();
    assert_eq!(grounded, vec![vec![vec!["seat.kill", "brake.kill"]]; 2], "both modules");
    assert_eq!(reasons(&mut judge, &at(&[("key", "run")]), Asked::Runs), []);
    let parked = reasons(&mut judge, &at(&[("key", "start"), ("lever", "forward")]), Asked::Cranks);
    match &parked[..] {
        [Reason::Unfed { blocked_by, .. }] => {
            assert_eq!(ids(&circuit, blocked_by), ["neutral.start", "brake.start"]);
        }
        other => panic!("{other:?}"),
    }
    // Through a module: what its inputs want.
    let z60 = library::circuit("dunmarrow-z-60m");
    let run = library::condition(&z60, &[("key", "run"), ("left", "in")]);
    match &reasons(&mut Judge::new(&z60, &[]), &run, Asked::Cranks)[..] {
        [Reason::Unfed { blocked_by, .. }] => {
            assert_eq!(ids(&z60, blocked_by), ["key.start", "left-switch.report"]);
        }
        other => panic!("{other:?}"),
    }
    // Through a relay: the reason is what its coil wants.
    let z52 = library::circuit("dunmarrow-z-52");
    let braked = library::condition(&z52, &[("key", "start"), ("brake", "off")]);
    match &reasons(&mut Judge::new(&z52, &[]), &braked, Asked::Cranks)[..] {
        [Reason::Unfed { blocked_by, .. }] => {
            assert_eq!(ids(&z52, blocked_by), ["brake-switch.start"]);
        }
        other => panic!("{other:?}"),
    }
}

#[test]
fn every_wire_stands_as_a_meter_would_find_it() {
    let circuit = library::gt46();
    let mut judge = Judge::new(&circuit, &[]);
    let wire = |id: &str| circuit.document().wires.iter().position(|w| w.id == id).expect("a wire");
    let parked = Snapshot::of(&mut judge, &Condition::at_rest(&circuit));
    let start = library::condition(&circuit, &[("key", "start"), ("pedal", "down")]);
    let cranking = Snapshot::of(&mut judge, &start);
    let stands = |s: &Snapshot, id: &str| {
        s.wires.iter().find(|w| w.wire == wire(id)).expect("a wire").stands
    };
    assert_eq!(stands(&parked, "w6"), Stands::Supply, "fuse to key");
    assert_eq!(stands(&parked, "w7"), Stands::Dead, "key to dash, key off");
    assert_eq!(stands(&parked, "w2"), Stands::Ground, "battery to frame");
    assert_eq!(stands(&cranking, "w7"), Stands::Supply);
    let moved = parked.difference(&cranking);
    assert!(moved.wires.contains(&wire("w7")) && !moved.wires.contains(&wire("w34")));
    let contacts: Vec<_> = moved
        .contacts
        .iter()
        .map(|c| circuit.element(circuit.contacts[*c].element).id.as_str())
        .collect();
    assert!(contacts.contains(&"key.start") && contacts.contains(&"solenoid.contact"));
    assert_eq!(cranking.difference(&cranking), Default::default());
    assert!(cranking.cranks && !parked.cranks && cranking.no_crank.is_empty());
    let running = Condition { engine: Engine::Running, ..start };
    assert!(Snapshot::of(&mut judge, &running).runs);
}
