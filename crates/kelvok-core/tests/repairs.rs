//! Repairs, and what was taken off for a test.

mod library;

use kelvok_core::circuit::{Condition, Engine, Instrument, Reading, Relays, operating_point};
use kelvok_core::diagnosis::{
    Evidence, Heard, Model, Observation, Repair, Sense, Sensed, SetUp, Source, TestAction, Unit,
    Why, before_repair, still_off, to_put_back,
};
use kelvok_core::interlock::EngineDoes;
use kelvok_core::machine::LIBRARY;
use library::entry;

#[test]
fn what_is_off_stays_off_until_somebody_says_it_is_back() {
    let circuit = library::circuit("dunmarrow-z-52");
    let rest = Condition::at_rest(&circuit);
    let plug = |id: &str| circuit.part_named(id).expect("a plug");
    let (brake, seat) = (plug("brake-switch-plug"), plug("seat-switch-plug"));
    let node = |t: &str| circuit.terminal(t).expect("a terminal");
    let read = Observation::Read {
        instrument: Instrument::Ohmmeter,
        red: node("brake-switch.start-in"),
        black: node("brake-switch.start-out"),
        reading: Reading::Ohms(None),
    };
    let heard = Observation::Sensed(Sensed::Starter(Heard::Silent));
    let off = [SetUp::Unplugged(brake), SetUp::BatteryOff];
    let pressed = SetUp::PressedByHand(kelvok_core::circuit::PlungerId(0));
    let mut log = vec![
        entry(1, &rest, vec![off[1], off[0], pressed], read),
        // Somebody else goes on as if nothing were off.
        entry(2, &rest, vec![], heard),
    ];
    assert_eq!(still_off(&log), [SetUp::BatteryOff, SetUp::Unplugged(brake)], "a hand lets go");
    assert_eq!(to_put_back(&still_off(&log), &off), []);
    assert_eq!(to_put_back(&still_off(&log), &[SetUp::Unplugged(seat)]), [off[1], off[0]]);
    // A lamp in its place is the same plug off.
    log.push(entry(3, &rest, vec![SetUp::LampInPlace(brake)], read));
    assert_eq!(still_off(&log), [SetUp::BatteryOff, SetUp::LampInPlace(brake)]);
    log.push(entry(
        4,
        &rest,
        vec![SetUp::BatteryOff],
        Observation::PutBack(SetUp::Unplugged(brake)),
    ));
    assert_eq!(still_off(&log), [SetUp::BatteryOff]);
    log.push(entry(5, &rest, vec![], Observation::PutBack(SetUp::BatteryOff)));
    assert_eq!(still_off(&log), []);
    // What a customer tells was never off here.
    let told = Evidence { source: Source::Told, ..entry(6, &rest, vec![off[0]], heard) };
    log.push(told);
    assert_eq!(still_off(&log), []);
}

#[test]
fn putting_a_plug_back_says_nothing_of_what_is_wrong() {
    let model = Model::new(library::circuit("dunmarrow-z-52"));
    let rest = Condition::at_rest(model.circuit());
    let plug = SetUp::Unplugged(model.circuit().part_named("brake-switch-plug").expect("a plug"));
    let start = model.complained_of(&[], &rest);
    let heard = entry(1, &start, vec![], Observation::Sensed(Sensed::Starter(Heard::Silent)));
    let before = model.judge(std::slice::from_ref(&heard));
    let after = model.judge(&[heard, entry(2, &rest, vec![], Observation::PutBack(plug))]);
    assert_eq!(before.suspects, after.suspects);
}

#[test]
fn what_it_was_is_judged_by_what_was_known_before_it_was_cured() {
    let model = Model::new(library::circuit("dunmarrow-z-52"));
    let circuit = model.circuit();
    let rest = Condition::at_rest(circuit);
    let start = model.complained_of(&[], &rest);
    let node = |t: &str| circuit.terminal(t).expect("a terminal");
    let brake = Unit::Part(circuit.part_named("brake-switch").expect("a switch"));
    let volts = |n: u64, at: &str, volts: f64| {
        let read = Observation::Read {
            instrument: Instrument::Voltmeter,
            red: node(at),
            black: node("battery.-"),
            reading: Reading::Volts(volts),
        };
        entry(n, &start, vec![], read)
    };
    let mut log = vec![
        entry(1, &start, vec![], Observation::Sensed(Sensed::Starter(Heard::Silent))),
        volts(2, "brake-switch.start-in", 12.4),
        volts(3, "brake-switch.start-out", 0.0),
    ];
    let known = |log: &[Evidence]| {
        let units = model.judge(log).units(model.suspects());
        units.iter().find(|u| u.unit == brake).map_or(0.0, |u| u.probability)
    };
    let before = known(&log);
    log.push(entry(4, &start, vec![], Observation::Repaired(brake)));
    log.push(entry(5, &start, vec![], Observation::Sensed(Sensed::Starter(Heard::Cranks))));
    assert!(before > 0.5 && known(&log) < 0.1, "{before} then {}", known(&log));
    assert!((known(before_repair(&log, &[brake])) - before).abs() < 1e-9);
    assert_eq!(before_repair(&log, &[Unit::Nothing]).len(), log.len());
}

#[test]
fn every_unit_that_may_be_bad_can_be_put_right_somehow() {
    for shipped in LIBRARY {
        let model = Model::new(library::circuit(shipped.name));
        let circuit = model.circuit();
        for suspect in &model.suspects().list {
            let ways = Repair::fitting(circuit, suspect.unit);
            assert_eq!(ways.is_empty(), suspect.unit == Unit::Nothing, "{}", shipped.name);
        }
        let fuse = circuit.document().parts.iter().position(|p| p.kind.words() == "fuse");
        if let Some(fuse) = fuse {
            assert_eq!(Repair::fitting(circuit, Unit::Part(fuse))[0], Repair::NewFuse);
        }
    }
}

#[test]
fn what_is_done_to_a_unit_in_one_go_is_one_repair() {
    let model = Model::new(library::circuit("dunmarrow-z-52"));
    let circuit = model.circuit();
    let start = model.complained_of(&[], &Condition::at_rest(circuit));
    let brake = Unit::Part(circuit.part_named("brake-switch").expect("a switch"));
    let silent =
        |n: u64| entry(n, &start, vec![], Observation::Sensed(Sensed::Starter(Heard::Silent)));
    let repaired = |n: u64| entry(n, &start, vec![], Observation::Repaired(brake));
    let still = |log: &[Evidence]| {
        let units = model.judge(log).units(model.suspects());
        units.iter().find(|u| u.unit == brake).map_or(0.0, |u| u.probability)
    };
    // Cleaned and its plug re-seated, and it does not crank.
    let once = still(&[silent(1), repaired(2), silent(4)]);
    let in_one_go = still(&[silent(1), repaired(2), repaired(3), silent(4)]);
    assert!((once - in_one_go).abs() < 1e-9, "{once} {in_one_go}");
    // Tried in between, it was worked on twice, and is that much less likely to be it.
    let twice = still(&[silent(1), repaired(2), silent(3), repaired(4), silent(5)]);
    assert!(twice < once * 0.5, "{once} then {twice}");
}

/// What is tried after a repair that is believed, in order.
fn tried_after(model: &Model, log: &[Evidence], at: &Condition) -> Vec<(TestAction, Condition)> {
    let plan = model.plan(&model.judge(log), log, at);
    let tries = plan.reproduce.into_iter().chain(plan.tests).filter(|t| t.why == Why::Recheck);
    tries.map(|t| (t.action, t.condition)).collect()
}

#[test]
fn what_was_complained_of_is_tried_first_after_a_repair() {
    let model = Model::new(library::circuit("dunmarrow-z-52"));
    let circuit = model.circuit();
    let brake = Unit::Part(circuit.part_named("brake-switch").expect("a switch"));
    let set = |key, seat, engine| {
        let at = Condition::with(circuit, [("key", key), ("seat", seat)]).expect("positions");
        Condition { engine, ..at }
    };
    let off = set("run", "empty", Engine::Running);
    let on = set("run", "on", Engine::Running);
    let start = set("start", "empty", Engine::Stopped);
    let volts = |n: u64, red: &str, volts: f64| {
        let node = |t: &str| circuit.terminal(t).expect("a terminal");
        let read = Observation::Read {
            instrument: Instrument::Voltmeter,
            red: node(red),
            black: node("battery.-"),
            reading: Reading::Volts(volts),
        };
        entry(n, &start, vec![], read)
    };
    let does = |n: u64, at: &Condition, does| {
        entry(n, at, vec![], Observation::Sensed(Sensed::Engine(does)))
    };
    let log = [
        does(1, &on, EngineDoes::Runs),
        does(2, &off, EngineDoes::Stops),
        volts(3, "brake-switch.presence-in", 10.7),
        volts(4, "brake-switch.presence-out", 0.02),
        entry(5, &start, vec![], Observation::Repaired(brake)),
    ];
    // Whatever the last reading was taken at.
    let tries = tried_after(&model, &log, &start);
    assert_eq!(tries.first(), Some(&(TestAction::Try(Sense::Engine), off.clone())), "{tries:?}");
    // It keeps running: that is done, and what ran before it was repaired is no complaint.
    let mut log = log.to_vec();
    log.push(does(6, &off, EngineDoes::Runs));
    let tries = tried_after(&model, &log, &off);
    assert!(!tries.is_empty() && tries.iter().all(|(_, at)| *at != off), "{tries:?}");
}

#[test]
fn nothing_is_tried_after_a_repair_with_the_key_off_but_whether_the_engine_stops() {
    let (mut asked, mut lamps) = (0, 0);
    for shipped in LIBRARY {
        let model = Model::new(library::circuit(shipped.name));
        let circuit = model.circuit();
        let at = model.complained_of(&[], &Condition::at_rest(circuit));
        let silent = entry(1, &at, vec![], Observation::Sensed(Sensed::Starter(Heard::Silent)));
        let unit = model.judge(std::slice::from_ref(&silent)).units(model.suspects())[0].unit;
        let cranks = entry(3, &at, vec![], Observation::Sensed(Sensed::Starter(Heard::Cranks)));
        let log = [silent, entry(2, &at, vec![], Observation::Repaired(unit)), cranks];
        let Some(key) = circuit.controls.iter().position(|c| c.id == "key") else { continue };
        for (action, at) in tried_after(&model, &log, &at) {
            let position = &circuit.controls[key].positions[usize::from(at.positions[key])].name;
            let off = position == "off" && at.engine == Engine::Stopped;
            assert!(!off, "{}: {action:?} with the key off", shipped.name);
            let watched = matches!(action, TestAction::Try(Sense::Lamp(_)));
            if watched && at.engine >= Engine::Running {
                let sound = operating_point(circuit, &at, Relays::default(), &[], &[]);
                assert!(circuit.runs(&at, &sound.outcome), "{}: {at:?} stops it", shipped.name);
                lamps += 1;
            }
            asked += 1;
        }
    }
    assert!(asked > 20 && lamps > 2, "{asked}, {lamps}");
}
