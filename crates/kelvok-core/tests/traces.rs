//! A harness traced with a buzzer: what is called traced is there, what is otherwise is found, and nobody
//! buzzes more than it takes.

mod library;

use kelvok_core::circuit::{Circuit, Instrument, Reading};
use kelvok_core::describe::{describe, looks};
use kelvok_core::interlock::{InterlockTable, Judge};
use kelvok_core::machine::{BUZZER_OHMS, LIBRARY, Machine, MachineDocument, Provenance};
use kelvok_core::trace::{Harness, LinkState, Trace, TraceEntry, TraceError, TraceFinding};
use kelvok_core::trial::{Known, Miswired, TraceOutcome, ohms_between, try_tracing};

fn compiled(document: &MachineDocument) -> Circuit {
    let text = serde_json::to_string(document).expect("a document");
    Circuit::compile(&Machine::read(&text).unwrap_or_else(|p| panic!("{p:#?}")))
}

fn document(name: &str) -> MachineDocument {
    let shipped = LIBRARY.iter().find(|m| m.name == name).expect("a library machine");
    Machine::read(shipped.text).expect("a sound machine").document().clone()
}

fn total(outcomes: &[TraceOutcome], of: impl Fn(&TraceOutcome) -> usize) -> usize {
    outcomes.iter().map(of).sum()
}

/// What a true harness answers to every step, until nothing is left to measure.
fn traced<'c>(drawn: &'c Circuit, truth: &Circuit) -> Trace<'c> {
    traced_for(drawn, truth, None)
}

/// The same, for one circuit of it.
fn traced_for<'c>(drawn: &'c Circuit, truth: &Circuit, only: Option<&str>) -> Trace<'c> {
    let mut trace = Trace::new(Harness::new(drawn));
    for _ in 0..300 {
        let Some(step) = trace.next(only) else { return trace };
        let at = |end: usize| trace.harness().ends()[end].terminals[0].as_str();
        let parts = step.off.iter().map(|p| trace.harness().circuit().part(*p).id.clone());
        let ohms = ohms_between(truth, at(step.red), at(step.black), &parts.collect::<Vec<_>>());
        let reading = match step.instrument {
            Instrument::Ohmmeter => Reading::Ohms(ohms.map(|o| o + 0.05)),
            _ => Reading::Buzz(ohms.is_some_and(|o| o < BUZZER_OHMS)),
        };
        let entry = step.entry(&trace, reading);
        trace.found(entry).expect("an entry of this machine");
    }
    panic!("it never ends");
}

#[test]
fn no_wrong_wire_is_called_traced_and_hardly_a_buzz_is_too_many() {
    for known in [Known::Drawn, Known::WrongDrawing, Known::Described] {
        let mut all = Vec::new();
        if known == Known::Described {
            for (name, answers) in looks() {
                let drawn = describe(&answers, "Described", &name).expect("a machine").document;
                all.extend(try_tracing(&drawn, known, 4, 7));
            }
        } else {
            for machine in LIBRARY {
                all.extend(try_tracing(&document(machine.name), known, 4, 7));
            }
        }
        assert!(all.len() > 30, "{} cases", all.len());
        assert_eq!(total(&all, |o| o.wrong), 0, "{known:?}");
        let buzzes = total(&all, |o| o.buzzes) as f64 / total(&all, |o| o.fewest) as f64;
        assert!(buzzes <= 1.3, "{known:?}: {buzzes:.2} times the fewest");
        let left = total(&all, |o| o.left) as f64 / total(&all, |o| o.traced) as f64;
        assert!(left < 0.03, "{known:?}: {left:.3} left");
        // That somebody joined two wires besides shows in no wire that is drawn.
        let drawn = all.iter().filter(|o| o.error != Some(Miswired::Bypassed));
        let (named, all) = drawn.fold((0, 0), |(n, all), o| (n + usize::from(o.named), all + 1));
        assert!(named * 100 >= all * 85, "{known:?}: {named} of {all} named");
    }
}

#[test]
fn a_swapped_pair_of_pins_is_found_and_the_drawing_put_right() {
    let drawn = document("dunmarrow-z-52");
    let change = "seat-switch-plug.A=swapped:seat-switch-plug.C".to_owned();
    let truth = compiled(&drawn.corrected(&[change], "", Provenance::Drawing));
    let circuit = compiled(&drawn);
    let trace = traced(&circuit, &truth);
    let standing = trace.standing();
    let at = |e: usize| trace.harness().ends()[e].terminals[0].as_str();
    let swapped: Vec<_> = standing
        .findings
        .iter()
        .map(|f| match f {
            TraceFinding::Swapped(a, b) => (at(*a), at(*b)),
            other => panic!("{other:?}"),
        })
        .collect();
    assert_eq!(swapped, [("seat-switch-plug.A", "seat-switch-plug.C")]);
    let written = compiled(&trace.written(&standing));
    let table = |c: &Circuit| InterlockTable::of(&mut Judge::new(c, &[])).expect("a table");
    assert_eq!(table(&written).rows, table(&truth).rows);
    // Traced again with its own drawing, nothing is otherwise.
    let again = traced(&written, &truth);
    assert_eq!(again.standing().findings, []);
}

#[test]
fn a_swap_is_found_whole_while_one_circuit_is_traced() {
    let mut found = 0;
    for name in ["dunmarrow-z-52", "pellwick-gt-46", "tarnbeck-t-40"] {
        let drawn = document(name);
        let circuit = compiled(&drawn);
        let harness = Harness::new(&circuit);
        let plugs = ["seat-switch-plug", "pto-plug", "key-plug"];
        let pins = [("A", "C"), ("A", "B"), ("B", "D"), ("S", "M")];
        for (plug, (a, b)) in plugs.iter().flat_map(|plug| pins.map(|pins| (plug, pins))) {
            let (a, b) = (format!("{plug}.{a}"), format!("{plug}.{b}"));
            if harness.end(&a).is_none() || harness.end(&b).is_none() {
                continue;
            }
            let change = format!("{a}=swapped:{b}");
            let document = drawn.corrected(&[change], "", Provenance::Drawing);
            let truth = compiled(&document);
            for only in &drawn.circuits {
                let trace = traced_for(&circuit, &truth, Some(&only.id));
                let standing = trace.standing();
                let what = format!("{name}, {a} and {b}, {}: {:?}", only.id, standing.findings);
                assert!(standing.half_swapped.is_empty(), "{what}");
                match standing.findings[..] {
                    [] => {}
                    [TraceFinding::Swapped(..)] => {
                        // Or the other ends of the same two wires, which is the same.
                        let written = compiled(&trace.written(&standing));
                        let again = traced(&written, &truth);
                        assert_eq!(again.standing().findings, [], "{what}");
                        found += 1;
                    }
                    _ => panic!("{what}"),
                }
            }
        }
    }
    assert!(found > 20, "{found} found");
}

#[test]
fn what_was_usual_is_traced_and_what_was_open_is_settled() {
    let answers = looks().remove("pellwick-gt-46").expect("its looks");
    let drawn = describe(&answers, "Described", "GT").expect("a machine").document;
    let open = drawn.alternatives.first().expect("something is open");
    let choice = open.choices.first().expect("a choice");
    let settled = drawn.settled(&open.id, Some(&choice.id), Provenance::Usual).expect("settled");
    let others: Vec<_> = settled.alternatives.iter().map(|a| a.id.clone()).collect();
    let as_is = others
        .iter()
        .fold(settled, |d, id| d.settled(id, None, Provenance::Usual).expect("as drawn"));
    let (circuit, truth) = (compiled(&drawn), compiled(&as_is));
    let trace = traced(&circuit, &truth);
    let written = trace.written(&trace.standing());
    assert_eq!(written.alternatives, [], "nothing is open any more");
    let usual = written.wires.iter().filter(|w| w.source != Some(Provenance::Traced)).count();
    assert!(usual <= 2, "{usual} wires are only usual");
    for wire in &as_is.wires {
        let there = written
            .wires
            .iter()
            .any(|w| [(&w.from, &w.to), (&w.to, &w.from)].contains(&(&wire.from, &wire.to)));
        assert!(there, "{} to {}", wire.from, wire.to);
    }
}

fn probe(red: &str, black: &str, off: &[&str], reading: Reading) -> TraceEntry {
    TraceEntry::Probe {
        red: red.to_owned(),
        black: black.to_owned(),
        instrument: match reading {
            Reading::Ohms(_) => Instrument::Ohmmeter,
            _ => Instrument::Buzzer,
        },
        reading,
        off: off.iter().map(|p| (*p).to_owned()).collect(),
    }
}

#[test]
fn readings_that_do_not_agree_are_asked_for_again_and_the_third_decides() {
    let circuit = compiled(&document("dunmarrow-z-52"));
    let mut trace = Trace::new(Harness::new(&circuit));
    let ends = ("seat-switch-plug.B", "presence-relay-plug.86");
    let off = ["seat-switch-plug", "presence-relay-plug", "brake-switch-plug"];
    let link = |trace: &Trace<'_>| {
        let at = |a| trace.harness().end(a).expect("an end");
        let own = (at(ends.0), at(ends.1));
        trace.harness().links().iter().position(|l| l.ends == own || l.ends == (own.1, own.0))
    };
    let link = link(&trace).expect("a wire");
    let mut say = |beeps| {
        trace.found(probe(ends.0, ends.1, &off, Reading::Buzz(beeps))).expect("an entry");
        trace.standing()
    };
    assert_eq!(say(false).links[link], LinkState::Doubted);
    assert_eq!(say(true).links[link], LinkState::Traced);
    let settled = say(true);
    assert_eq!(settled.links[link], LinkState::Traced);
    assert_eq!(settled.slips, [0], "the first was the slip");
}

#[test]
fn a_beep_that_a_closed_switch_would_give_is_not_taken_for_a_wire() {
    // With everything plugged in, G's pin would beep to the frame if it were on the kill wire, too.
    let circuit = compiled(&document("dunmarrow-z-52"));
    let mut trace = Trace::new(Harness::new(&circuit));
    let beep = |off: &[&str]| probe("key-plug.G", "frame.metal", off, Reading::Buzz(true));
    let joined = |trace: &Trace<'_>| {
        let at = |a| trace.harness().end(a).expect("an end");
        trace.joined(at("key-plug.G"), at("frame.metal"))
    };
    trace.found(beep(&[])).expect("an entry");
    let plugged_in = joined(&trace);
    let all = ["key-plug", "presence-relay-plug", "brake-switch-plug", "module-plug"];
    let mut bare = Trace::new(Harness::new(&circuit));
    bare.found(beep(&all)).expect("an entry");
    assert!(joined(&bare) > plugged_in + 1.0, "{} {plugged_in}", joined(&bare));
    // The plan has the plug off before it asks.
    let mut planned = Trace::new(Harness::new(&circuit));
    while let Some(step) = planned.next(Some("kill")) {
        for end in [step.red, step.black] {
            let own = planned.harness().ends()[end].off;
            assert!(own.is_none_or(|plug| step.off.contains(&plug)), "{step:?}");
        }
        let entry = step.entry(
            &planned,
            match step.instrument {
                Instrument::Ohmmeter => Reading::Ohms(Some(0.2)),
                _ => Reading::Buzz(true),
            },
        );
        planned.found(entry).expect("an entry");
    }
    let kill = planned.standing().circuits.into_iter().find(|c| c.id == "kill").expect("kill");
    assert_eq!(kill.left, Vec::<usize>::new());
}

#[test]
fn what_is_no_entry_is_refused_by_name_and_a_short_is_said() {
    let circuit = compiled(&document("dunmarrow-z-52"));
    let mut trace = Trace::new(Harness::new(&circuit));
    let beep = Reading::Buzz(true);
    let none = |at: &str| TraceError::NoEnd(at.to_owned());
    let wrong = [
        (probe("seat-switch-plug.Z", "frame.metal", &[], beep), none("seat-switch-plug.Z")),
        (probe("frame.metal", "ground-strap.lug", &[], beep), TraceError::SameEnd),
        (
            probe("key-plug.S", "pto-plug.A", &["frame"], beep),
            TraceError::NotOff("frame".to_owned()),
        ),
        (probe("key-plug.S", "pto-plug.A", &[], Reading::Ohms(Some(-1.0))), TraceError::Reading),
        (
            TraceEntry::Color { at: "key-plug.S".to_owned(), color: " ".to_owned() },
            TraceError::Color,
        ),
        (TraceEntry::Empty { at: "nothing".to_owned() }, none("nothing")),
    ];
    for (entry, why) in wrong {
        assert_eq!(trace.found(entry), Err(why));
    }
    assert_eq!(trace.log(), []);
    assert!(!trace.standing().supply_grounded);
    let off = ["pos-clamp", "neg-clamp", "main-fuse", "charge-fuse"];
    for _ in 0..3 {
        trace.found(probe("pos-clamp.lug", "frame.metal", &off, beep)).expect("an entry");
    }
    assert!(trace.standing().supply_grounded, "{:?}", trace.standing().findings);
}

#[test]
fn colors_go_into_the_drawing_and_an_empty_pin_has_no_wire() {
    let circuit = compiled(&document("dunmarrow-z-52"));
    let mut trace = Trace::new(Harness::new(&circuit));
    let at = "seat-switch-plug.B".to_owned();
    trace.found(TraceEntry::Color { at: at.clone(), color: "Pink/black ".to_owned() }).unwrap();
    let written = trace.written(&trace.standing());
    let wire = written.wires.iter().find(|w| w.from == at || w.to == at).expect("its wire");
    assert_eq!(wire.color.as_deref(), Some("pink/black"));
    let silent = Reading::Buzz(false);
    let off = ["seat-switch-plug", "presence-relay-plug"];
    trace.found(TraceEntry::Empty { at: at.clone() }).unwrap();
    trace.found(probe(&at, "presence-relay-plug.86", &off, silent)).unwrap();
    let standing = trace.standing();
    let gone = standing.findings.iter().any(|f| matches!(f, TraceFinding::NotThere(_)));
    assert!(gone, "{standing:?}");
}

/// Ends of wires of a document that land on a terminal.
fn wires_at(document: &MachineDocument, at: &str) -> Vec<String> {
    let other = |w: &kelvok_core::machine::Wire| match (&w.from, &w.to) {
        (from, to) if from == at => Some(to.clone()),
        (from, to) if to == at => Some(from.clone()),
        _ => None,
    };
    document.wires.iter().filter_map(other).collect()
}

const ALL_OFF: [&str; 9] = [
    "seat-switch-plug",
    "key-plug",
    "presence-relay-plug",
    "pto-plug",
    "clutch-plug",
    "brake-switch-plug",
    "fuel-plug",
    "main-fuse",
    "clutch-fuse",
];

#[test]
fn half_a_swap_and_a_broken_wire_are_said_and_change_no_drawing() {
    let drawn = document("dunmarrow-z-52");
    let circuit = compiled(&drawn);
    let mut trace = Trace::new(Harness::new(&circuit));
    let (silent, beep) = (Reading::Buzz(false), Reading::Buzz(true));
    // Silent twice: broken, for all that is known. That something else is grounded has nothing to do with it.
    let broken = ("brake-switch-plug.F", "frame.metal");
    for _ in 0..2 {
        trace.found(probe(broken.0, broken.1, &ALL_OFF, silent)).expect("an entry");
        trace.found(probe("key-plug.A", "frame.metal", &ALL_OFF, beep)).expect("an entry");
    }
    let standing = trace.standing();
    let written = trace.written(&standing);
    assert!(!trace.leaves_nothing(&standing), "{:?}", standing.findings);
    assert_eq!(wires_at(&written, broken.0), wires_at(&drawn, broken.0), "it may be broken");

    // One pin of a swapped pair: where the other's wire goes is not known yet.
    let mut trace = Trace::new(Harness::new(&circuit));
    for _ in 0..2 {
        trace.found(probe("pto-plug.F", "seat-switch-plug.C", &ALL_OFF, silent)).expect("an entry");
        trace.found(probe("pto-plug.F", "seat-switch-plug.A", &ALL_OFF, beep)).expect("an entry");
    }
    let standing = trace.standing();
    let swapped = |f: &TraceFinding| matches!(f, TraceFinding::Swapped(..));
    assert!(!standing.findings.iter().any(swapped) && !standing.half_swapped.is_empty());
    assert!(!trace.leaves_nothing(&standing));
    let written = trace.written(&standing);
    for at in ["seat-switch-plug.A", "seat-switch-plug.C", "pto-plug.F"] {
        assert_eq!(wires_at(&written, at), wires_at(&drawn, at));
    }
}

#[test]
fn a_wire_found_in_another_pin_is_moved_there_once() {
    let drawn = document("dunmarrow-z-52");
    let circuit = compiled(&drawn);
    let mut trace = Trace::new(Harness::new(&circuit));
    let beep = Reading::Buzz(true);
    for _ in 0..2 {
        let silent = Reading::Buzz(false);
        trace.found(probe("key-plug.S", "pto-plug.A", &ALL_OFF, silent)).expect("an entry");
    }
    // It is on the orange net; three of that net's pins beep.
    for at in ["pto-plug.C", "key-plug.A", "seat-switch-plug.A"] {
        trace.found(probe("key-plug.S", at, &ALL_OFF, beep)).expect("an entry");
        trace.found(probe("key-plug.S", at, &ALL_OFF, beep)).expect("an entry");
        trace.found(probe("key-plug.A", "pto-plug.C", &ALL_OFF, beep)).expect("an entry");
    }
    let standing = trace.standing();
    let joined = |f: &&TraceFinding| matches!(f, TraceFinding::Joined(..));
    assert_eq!(standing.findings.iter().filter(joined).count(), 1, "{:?}", standing.findings);
    let written = trace.written(&standing);
    assert_eq!(wires_at(&written, "key-plug.S").len(), 1, "{:?}", standing.findings);
}

#[test]
fn the_largest_machine_is_traced_too() {
    let text = library::large::large(6);
    let circuit = Circuit::compile(&Machine::read(&text).expect("a sound machine"));
    let mut trace = Trace::new(Harness::new(&circuit));
    for turn in 0..6 {
        let step = trace.next(None).expect("a step");
        // Nobody can make sense of it: every other answer is wrong.
        let reading = match step.instrument {
            Instrument::Ohmmeter => Reading::Ohms((turn % 2 == 0).then_some(0.2)),
            _ => Reading::Buzz(turn % 2 == 0),
        };
        let entry = step.entry(&trace, reading);
        trace.found(entry).expect("an entry");
    }
    assert_eq!(trace.standing().links.len(), trace.harness().links().len());
}
