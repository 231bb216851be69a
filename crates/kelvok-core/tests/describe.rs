//! Machines that nobody described, by what can be seen of them.

mod library;

use kelvok_core::circuit::{Circuit, Condition, Engine};
use kelvok_core::describe::{Answers, Described, Questions, describe, looks};
use kelvok_core::diagnosis::{Evidence, Model, Observation, Sensed, Source};
use kelvok_core::interlock::{EngineDoes, InterlockTable, Judge, check};
use kelvok_core::machine::Machine;
use library::dice::Dice;
use std::collections::BTreeMap;

fn answers(given: &[(&str, &str)]) -> Answers {
    Answers(given.iter().map(|(q, c)| ((*q).to_owned(), Some((*c).to_owned()))).collect())
}

fn compiled(described: &Described) -> Circuit {
    let text = serde_json::to_string(&described.document).unwrap();
    Circuit::compile(&Machine::read(&text).unwrap_or_else(|p| panic!("{p:#?}")))
}

/// What described machines call the controls of the library's, where that differs.
const NAMES: &[(&str, &[(&str, &str)])] = &[
    ("dunmarrow-f-60", &[("deflector", "chute")]),
    ("corrieford-8-speed", &[("pto", "blades")]),
    ("tarnbeck-t-40", &[("clutch", "pedal"), ("gear", "lever"), ("pto", "blades")]),
    ("tarnbeck-u-17d", &[("gear", "lever"), ("pto", "blades")]),
];

#[test]
fn a_library_machine_described_by_its_looks_decides_as_it_does() {
    assert_eq!(looks().len(), 9, "every description of a library machine is read");
    for (name, answers) in looks() {
        let given = &answers.0;
        let names = NAMES.iter().find(|(n, _)| *n == name).map_or(&[][..], |(_, names)| *names);
        assert!(answers.next().is_none(), "{name}: {:?}", answers.next());
        assert_eq!(answers.asked().len(), given.len(), "{name}: more is answered than is asked");
        assert!(given.len() <= 25, "{name}: {} taps", given.len());
        let described = describe(&answers, "Made-up", "Stranger").unwrap();
        let own = compiled(&described);
        let (library, own_table) =
            (library::circuit(&name), InterlockTable::of(&mut Judge::new(&own, &[])));
        let own_table = own_table.unwrap();
        // Not with what was bridged on it when it came in.
        let table = InterlockTable::of(&mut Judge::as_built(&library, &[])).unwrap();
        let called = |id: &str| {
            names.iter().find(|(l, _)| *l == id).map_or(id.to_owned(), |(_, d)| (*d).to_owned())
        };
        let of_own: BTreeMap<_, _> =
            own.controls.iter().enumerate().map(|(i, c)| (c.id.clone(), i)).collect();
        for control in &library.controls {
            assert!(of_own.contains_key(&called(&control.id)), "{name}: no {}", control.id);
        }
        let mut compared = 0;
        for (condition, behavior) in table.conditions(&library) {
            let mut there = Condition::at_rest(&own);
            for (i, control) in library.controls.iter().enumerate() {
                there.positions[of_own[&called(&control.id)]] = condition.positions[i];
            }
            let found = own_table.row(&there).unwrap();
            let of = |b: kelvok_core::interlock::Behavior| (b.cranks, b.starts, b.runs, b.blades);
            let set: Vec<_> = condition.named(&library).map(|(c, p)| format!("{c}={p}")).collect();
            assert_eq!(of(found), of(behavior), "{name} at {set:?}");
            compared += 1;
        }
        assert!(compared > 3, "{name}");
        let missing: Vec<_> = described.missing.iter().map(|d| &d.id).collect();
        println!(
            "{name}: {} taps, {} parts, missing {missing:?}",
            given.len(),
            own.document().parts.len()
        );
    }
}

/// Whatever is answered, and however much is passed over, what comes of it is a sound machine.
#[test]
fn any_answers_at_all_make_a_machine() {
    let mut dice = Dice(26);
    for round in 0..400 {
        let mut answers = Answers::default();
        while let Some(question) = answers.next() {
            let offered = answers.settle().unwrap().offered(question);
            let choice = dice.roll(offered.len() + 1);
            let given = offered.get(choice).map(|c| c.id.clone());
            answers.0.insert(question.id.clone(), given);
        }
        let described = describe(&answers, "Made-up", "Stranger");
        let described = described.unwrap_or_else(|e| panic!("{round}: {answers:?}: {e:?}"));
        let circuit = compiled(&described);
        let wrong: Vec<_> = check(&circuit).into_iter().filter(|p| !p.warning).collect();
        assert!(wrong.is_empty(), "{round}: {answers:?}: {wrong:#?}");
        assert!(described.document.duties.iter().any(|d| d.id == "starts"), "{answers:?}");
    }
}

#[test]
fn nothing_answered_is_what_is_usual() {
    for kind in &Questions::shipped().questions[0].choices {
        let described = describe(&answers(&[("kind", &kind.id)]), "Made-up", &kind.id).unwrap();
        assert!(described.missing.is_empty(), "{}: {:#?}", kind.id, described.missing);
    }
}

#[test]
fn an_answer_that_is_none_is_named() {
    let wrong = describe(&answers(&[("seat", "3")]), "a", "b").unwrap_err().to_string();
    assert!(wrong.contains("none, 2, 4"), "{wrong}");
    let wrong = describe(&answers(&[("wings", "2")]), "a", "b").unwrap_err().to_string();
    assert!(wrong.contains("wings"), "{wrong}");
}

/// What a customer says of a machine is gone after, however odd it is for it; what was tried on it and
/// fits nothing is asked about.
#[test]
fn a_complaint_about_a_stranger_is_not_doubted_before_anything_was_tried() {
    let given = [("kind", "lawn-tractor"), ("blades", "lever"), ("blade-switch", "4")];
    let mut described = describe(&answers(&given), "Made-up", "Stranger").unwrap();
    // On a machine that is known to be wired as drawn; with what is open it would not be odd.
    described.document.alternatives.clear();
    let model = Model::new(compiled(&described));
    let at = |seat| {
        let set = [("key", "run"), ("seat", seat), ("pedal", "down")];
        let standing = library::condition(model.circuit(), &set);
        Condition { engine: Engine::Running, ..standing }
    };
    let says = |sequence, seat, engine, source| {
        let sensed = Observation::Sensed(Sensed::Engine(engine));
        let tested = library::entry(sequence, &at(seat), vec![], sensed);
        Evidence { source, ..tested }
    };
    let mut log = vec![
        says(1, "on", EngineDoes::Runs, Source::Told),
        says(2, "empty", EngineDoes::Stops, Source::Told),
    ];
    let belief = model.judge(&log);
    assert!(belief.judgements[1].slip > 0.35, "{}", belief.judgements[1].slip);
    assert!(model.misfit(&belief, &log).is_none());
    // Once somebody has run it himself, what does not fit is asked about.
    log[0].source = Source::Tested;
    assert!(model.misfit(&model.judge(&log), &log).is_some());
}

/// What fits no fault of the drawing may fit how else the machine is wired.
#[test]
fn what_a_machine_does_tells_how_it_is_wired() {
    let given = [("kind", "lawn-tractor"), ("blades", "lever"), ("blade-switch", "4")];
    let described = describe(&answers(&given), "Made-up", "Stranger").unwrap();
    let model = Model::new(compiled(&described));
    let kill = described.document.alternatives.iter().position(|a| a.id == "kill").unwrap();
    let alone = described.document.alternatives[kill].choices.iter();
    let alone = alone.map(|c| c.id.as_str()).collect::<Vec<_>>();
    let alone = 1 + alone.iter().position(|c| *c == "seat-alone").unwrap();
    let before = model.judge(&[]).alternatives(model.circuit())[kill][alone];
    // It dies as soon as nobody sits on it, the pedal down and the blades off.
    let at = |seat| {
        let set = [("key", "run"), ("seat", seat), ("pedal", "down")];
        let standing = library::condition(model.circuit(), &set);
        Condition { engine: Engine::Running, ..standing }
    };
    let does = |sequence, seat, engine| {
        let sensed = Observation::Sensed(Sensed::Engine(engine));
        library::entry(sequence, &at(seat), vec![], sensed)
    };
    let log = [does(1, "on", EngineDoes::Runs), does(2, "empty", EngineDoes::Stops)];
    let belief = model.judge(&log);
    let after = belief.alternatives(model.circuit())[kill][alone];
    assert!(after > 4.0 * before, "{before} and then {after}");
    assert!(model.misfit(&belief, &log).is_none());
}
