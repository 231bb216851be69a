//! What a document leaves open, as the circuit has it and as a document without it would.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, Condition, Engine, Relays, Setting, Solver, parse_change, read,
};
use kelvok_core::describe::{Answers, Questions, describe};
use kelvok_core::diagnosis::{Heard, Model, NextTest, Observation, Sense, Sensed, TestAction};
use kelvok_core::interlock::{EngineDoes, InterlockTable, Judge, check};
use kelvok_core::machine::{Machine, MachineDocument, Part, Provenance};
use library::dice::Dice;

fn compiled(document: &MachineDocument) -> Circuit {
    let text = serde_json::to_string(document).unwrap();
    Circuit::compile(&Machine::read(&text).unwrap_or_else(|p| panic!("{p:#?}")))
}

/// Described machines: of every kind as it usually is, and some of any answers.
fn described() -> Vec<MachineDocument> {
    let questions = Questions::shipped();
    let kinds = questions.named("kind").expect("asked");
    let mut all = Vec::new();
    let mut dice = Dice(17);
    for kind in &kinds.choices {
        for turn in 0..2 {
            let mut given = Answers::default();
            given.0.insert("kind".to_owned(), Some(kind.id.clone()));
            while let Some(next) = given.next().filter(|_| turn > 0) {
                let settled = given.settle().expect("answers");
                let offered = settled.offered(next);
                let choice = dice.of(&offered).id.clone();
                given.0.insert(next.id.clone(), Some(choice));
            }
            let own = describe(&given, "Described", &kind.says).unwrap_or_else(|e| panic!("{e:?}"));
            all.push(own.document);
        }
    }
    all
}

/// Volts at every test point in ordinary use.
fn volts(circuit: &Circuit, changes: &[Change]) -> Vec<f64> {
    let points = &circuit.document().test_points;
    let mut all = Vec::new();
    for condition in circuit.normal_use() {
        let setting = Setting::new(circuit, &condition).with(circuit, changes);
        let mut solver: Solver<'_> = Solver::new(circuit);
        solver.solve(&[&setting], &[Default::default()]);
        let at = |terminal: &str| solver.volts(0, circuit.terminal(terminal).expect("a terminal"));
        all.extend(points.iter().map(|p| at(&p.terminal)));
    }
    all
}

#[test]
fn a_choice_is_the_machine_that_a_document_of_its_own_would_be() {
    let (mut choices, mut otherwise) = (0, 0);
    for document in described() {
        let circuit = compiled(&document);
        let name = &document.identity.model;
        let wrong: Vec<_> = check(&circuit).into_iter().filter(|p| !p.warning).collect();
        assert!(wrong.is_empty(), "{name}: {wrong:#?}");
        assert!(circuit.wirings.len() <= 6);
        let sum: f64 = circuit.wirings.iter().map(|w| w.weight).sum();
        assert!((sum - 1.0).abs() < 1e-9 && circuit.wirings[0].changes.is_empty());
        for alternative in &document.alternatives {
            for choice in &alternative.choices {
                let settled =
                    document.settled(&alternative.id, Some(&choice.id), Provenance::Traced);
                let own = compiled(&settled.expect("it is left open"));
                let changes: Vec<_> =
                    choice.changes.iter().map(|c| circuit.wiring_change(c).unwrap()).collect();
                let said =
                    format!("{name}, {}: {} {:?}", alternative.id, choice.name, choice.changes);
                let tables = [
                    InterlockTable::of(&mut Judge::new(&circuit, &changes)).unwrap(),
                    InterlockTable::of(&mut Judge::new(&own, &[])).unwrap(),
                ];
                assert_eq!(tables[0].rows, tables[1].rows, "{said}");
                let [here, there] = [volts(&circuit, &changes), volts(&own, &[])];
                for (a, b) in here.iter().zip(&there) {
                    assert!((a - b).abs() < 0.05, "{said}: {a} and {b}");
                }
                choices += 1;
                let drawn = volts(&circuit, &[]);
                otherwise += usize::from(drawn.iter().zip(&here).any(|(a, b)| (a - b).abs() > 0.5));
            }
        }
    }
    assert!(choices > 40, "{choices} choices were compared");
    assert!(otherwise > 10, "{otherwise} of {choices} read otherwise in ordinary use");
}

#[test]
fn what_is_left_open_weighs_as_it_says_before_anything_is_measured() {
    let document = described().swap_remove(6);
    let model = Model::new(compiled(&document));
    let belief = model.judge(&[]);
    for (wiring, share) in model.circuit().wirings.iter().zip(&belief.wirings) {
        assert!((wiring.weight - share).abs() < 0.02, "{wiring:?}: {share}");
    }
    let at_rest = Condition::at_rest(model.circuit());
    assert!(!model.plan(&belief, &[], &at_rest).tests.is_empty());
}

/// What a machine with a change shows in a test, as its own circuit has it; no look finds anything.
fn answer(circuit: &Circuit, change: Change, test: &NextTest) -> Option<Observation> {
    let node = |point| circuit.test_point(point);
    let changes: Vec<Change> =
        [change].into_iter().chain(test.set_up.iter().flat_map(|s| s.changes(circuit))).collect();
    match test.action {
        TestAction::Measure { instrument, red, black } => {
            let (red, black) = (node(red)?, node(black)?);
            let released = Relays::default();
            let at = &test.condition;
            let reading = read(circuit, at, released, &changes, instrument, (red, black)).ok()?;
            Some(Observation::Read { instrument, red, black, reading })
        }
        TestAction::Look(looked) => Some(Observation::Inspected(looked, false)),
        TestAction::Try(sense) => {
            let at = &test.condition;
            let done = Judge::new(circuit, &changes).behavior(at);
            Some(Observation::Sensed(match sense {
                Sense::Starter => {
                    let cranks = if done.cranks { Heard::Cranks } else { Heard::Silent };
                    Sensed::Starter(cranks)
                }
                Sense::Engine if done.runs => Sensed::Engine(EngineDoes::Runs),
                Sense::Engine => Sensed::Engine(EngineDoes::Stops),
                Sense::Blades => Sensed::Blades(done.blades),
                Sense::Lamp(_) => return None,
            }))
        }
    }
}

/// The library's Z-52 with two pins of its seat plug the other way round, by an earlier repair or by the
/// drawing: the readings show which, and the drawing can have it.
#[test]
fn two_pins_the_other_way_round_are_a_drawing_to_be_put_right() {
    let model = Model::new(library::circuit("dunmarrow-z-52"));
    let circuit = model.circuit();
    let swapped = "seat-switch-plug.B=swapped:seat-switch-plug.C";
    let change = parse_change(circuit, swapped).unwrap();
    let set = [("key", "run"), ("brake", "off")];
    let standing = library::condition(circuit, &set);
    let driving = Condition { engine: Engine::Running, ..standing };
    let dies = Observation::Sensed(Sensed::Engine(EngineDoes::Stops));
    let mut log = vec![library::entry(1, &driving, vec![], dies)];
    for turn in 2..40 {
        let belief = model.judge(&log);
        let plan = model.plan(&belief, &log, &driving);
        if let Some(found) = plan.conclusion.as_ref().filter(|c| c.confirmed) {
            assert_eq!(model.drawing_error(&belief, &found.units).as_deref(), Some(swapped));
            break;
        }
        let test = plan.tests.iter().find_map(|t| Some((t, answer(circuit, change, t)?)));
        let Some((test, observed)) = test else { break };
        log.push(library::entry(turn, &test.condition, test.set_up.clone(), observed));
    }
    let belief = model.judge(&log);
    let units = [belief.units(model.suspects())[0].unit];
    assert_eq!(model.drawing_error(&belief, &units).as_deref(), Some(swapped), "{log:#?}");

    // The drawing put right is the machine as it is.
    let document = circuit.document().corrected(&[swapped.to_owned()], "", Provenance::Proved);
    let own = compiled(&document);
    let tables = [
        InterlockTable::of(&mut Judge::new(circuit, &[change])).unwrap(),
        InterlockTable::of(&mut Judge::new(&own, &[])).unwrap(),
    ];
    assert_eq!(tables[0].rows, tables[1].rows);
}

/// A switch, and each contact of one, of the other kind: the circuit with that change, and the document that
/// has it for good.
#[test]
fn a_contact_of_the_other_kind_is_the_machine_that_is_drawn_so() {
    let mut compared = 0;
    for name in ["dunmarrow-z-52", "hexley-w-21e", "pellwick-r-30"] {
        let circuit = library::circuit(name);
        let named = |p: &Part| {
            let contacts = p.contacts.iter().map(|c| format!("{}.{}=other-kind", p.id, c.id));
            contacts.chain([format!("{}=inverted", p.id)]).collect::<Vec<_>>()
        };
        let sound = InterlockTable::of(&mut Judge::new(&circuit, &[])).unwrap();
        let mut differs = 0;
        for text in circuit.document().parts.iter().filter(|p| p.kind.is_switch()).flat_map(named) {
            let Ok(change) = parse_change(&circuit, &text) else { continue };
            let changes = std::slice::from_ref(&text);
            let document = circuit.document().corrected(changes, "", Provenance::Traced);
            assert_eq!(document.as_found.len(), circuit.document().as_found.len(), "{text}");
            let own = compiled(&document);
            let changed = InterlockTable::of(&mut Judge::new(&circuit, &[change])).unwrap();
            let drawn = InterlockTable::of(&mut Judge::new(&own, &[])).unwrap();
            assert_eq!(changed.rows, drawn.rows, "{name}: {text}");
            differs += usize::from(changed.rows != sound.rows);
            compared += 1;
        }
        assert!(differs > 2, "{name}: {differs}");
    }
    assert!(compared > 20, "{compared}");
}
