//! Every way to fail: named, written, read back, and solved.

mod library;

use kelvok_core::circuit::{
    Change, ClutchState, Condition, Crank, Engine, FaultDictionary, FaultMode, Instrument,
    LampState, Needle, Outcome, Reading, Relays, Spark, every_condition, fault_notation,
    operating_point, parse_change, read, single_faults,
};
use kelvok_core::interlock::Judge;
use kelvok_core::machine::LIBRARY;
use std::collections::BTreeSet;

/// What the machine does in ordinary use's condition of this name, with these faults.
fn with(machine: &str, when: &str, faults: &[&str]) -> Outcome {
    let circuit = library::circuit(machine);
    let changes: Vec<_> = faults.iter().map(|f| parse_change(&circuit, f).unwrap()).collect();
    let document = circuit.document();
    let index = document.normal_use.iter().position(|u| u.name == when).expect("a use");
    let mut judge = Judge::new(&circuit, &changes);
    let uses = circuit.normal_use();
    judge.session(&uses[..=index]).pop().expect("a session").0
}

#[test]
fn crossed_pins_come_off_with_their_plug() {
    let circuit = library::circuit("tarnbeck-c-24d");
    let crossed = "start-relay-plug.85=swapped:start-relay-plug.86";
    let crossed = parse_change(&circuit, crossed).unwrap();
    let apart = Change::Apart(circuit.part_named("start-relay-plug").unwrap());
    let ends = ["start-relay-plug.86", "start-relay.85"].map(|t| circuit.terminal(t).unwrap());
    let rest = Condition::at_rest(&circuit);
    let ohms = |changes: &[Change]| {
        let with = Instrument::Ohmmeter;
        read(&circuit, &rest, Relays::default(), changes, with, (ends[0], ends[1])).unwrap()
    };
    assert!(matches!(ohms(&[crossed]), Reading::Ohms(Some(ohms)) if ohms < 1.0), "crossed");
    assert_eq!(ohms(&[crossed, apart]), Reading::Ohms(None));
}

#[test]
fn every_mode_has_a_name_and_happens_to_some_library_machine() {
    let mut seen = BTreeSet::new();
    for machine in LIBRARY {
        let circuit = library::circuit(machine.name);
        for fault in single_faults(&circuit) {
            seen.insert(fault.mode);
            for magnitude in fault.magnitudes() {
                let change = fault.at(*magnitude);
                let text = fault_notation(&circuit, change);
                assert_eq!(parse_change(&circuit, &text), Ok(change), "{}: {text}", machine.name);
            }
        }
    }
    let all: BTreeSet<_> = FaultMode::ALL.iter().copied().collect();
    assert_eq!(seen, all, "modes that happen to nothing in the library");
    let names: BTreeSet<_> = all.iter().map(|m| m.words()).collect();
    assert!(names.len() + 1 >= all.len(), "\"dead\" is said of two parts, nothing else twice");
    assert!(all.iter().all(|m| !m.applies_to().is_empty()));
}

#[test]
fn what_a_mechanic_knows_of_single_faults() {
    let gt46 = "pellwick-gt-46";
    let sound = with(gt46, "key to start", &[]);
    assert_eq!(sound.crank, Crank::Yes);
    for (when, fault, holds) in [
        ("key to start", "brake.start=open", (|o| o.crank == Crank::No) as fn(&Outcome) -> bool),
        ("key to start", "brake=released", |o| o.crank == Crank::No),
        ("key to start", "battery=0.08ohm", |o| o.crank < Crank::Yes),
        ("key to start", "starter=seized", |o| o.crank == Crank::Click),
        ("key to start", "starter=no-drive", |o| o.crank == Crank::Click),
        ("key to start", "solenoid.contact=open", |o| o.crank == Crank::Click),
        ("parked", "solenoid.contact=made", |o| o.crank == Crank::Yes),
        ("key to start", "solenoid.coil=turns:75%", |o| o.crank != Crank::Yes),
        ("mowing", "module-1=dead", |o| o.spark == [Spark::Killed, Spark::On]),
        ("mowing", "kill-diode-1=open", |o| o.spark == [Spark::On, Spark::On]),
        ("key off", "kill-diode-1=open", |o| o.spark == [Spark::On, Spark::Killed]),
        ("mowing", "key-plug=apart", |o| o.clutch == Some(ClutchState::Off)),
        ("key off", "key.kill=open", |o| o.spark.contains(&Spark::On)),
    ] {
        let outcome = with(gt46, when, &[fault]);
        assert!(holds(&outcome), "{when}, {fault}: {outcome:?}");
    }
}

#[test]
fn a_worn_clutch_pulls_in_only_while_the_alternator_helps() {
    let circuit = library::gt46();
    let on = library::condition(&circuit, &[("key", "run"), ("blades", "on")]);
    let clutch = |engine: Engine, faults: &[&str]| {
        let changes: Vec<_> = faults.iter().map(|f| parse_change(&circuit, f).unwrap()).collect();
        let at = Condition { engine, ..on.clone() };
        operating_point(&circuit, &at, Relays::default(), &changes, &[]).outcome.clutch
    };
    assert_eq!(clutch(Engine::Stopped, &[]), Some(ClutchState::Engaged));
    assert_eq!(clutch(Engine::Stopped, &["clutch=wide-gap"]), Some(ClutchState::Off));
    assert_eq!(clutch(Engine::Running, &["clutch=wide-gap"]), Some(ClutchState::Engaged));
    assert_eq!(clutch(Engine::RunningHot, &["clutch=wide-gap"]), Some(ClutchState::Off));
}

#[test]
fn an_ailment_is_refused_of_what_cannot_have_it() {
    let circuit = library::gt46();
    for wrong in ["starter=dead", "module-1=seized", "fuel=wide-gap", "brake.start=no-drive"] {
        assert!(parse_change(&circuit, wrong).is_err(), "{wrong}");
    }
}

#[test]
fn pairs_of_faults_solve_like_single_ones() {
    let gt46 = "pellwick-gt-46";
    // Either alone stops it; curing one leaves the other.
    let both = with(gt46, "key to start", &["brake.start=open", "neutral.start=open"]);
    assert_eq!(both.crank, Crank::No);
    // One makes good what the other breaks.
    let bypassed = with(gt46, "key to start", &["brake.start=open", "brake.start=bypassed"]);
    assert_eq!(bypassed.crank, Crank::Yes, "a jumper over an open contact");
    // Each resistance alone lets it crank; together they drop too much for the coil.
    let one = with(gt46, "key to start", &["brake.start=1.7ohm"]);
    let two = with(gt46, "key to start", &["brake.start=1.7ohm", "neutral.start=5.3ohm"]);
    assert_eq!(one.crank, Crank::Yes);
    assert_ne!(two.crank, Crank::Yes);
    // Order does not matter.
    let circuit = library::circuit(gt46);
    let start = library::condition(&circuit, &[("key", "start"), ("pedal", "down")]);
    let [a, b] = ["w20=ground", "key.B=touches:key.L"].map(|f| parse_change(&circuit, f).unwrap());
    let solve =
        |changes: &[_]| operating_point(&circuit, &start, Relays::default(), changes, &[]).outcome;
    assert_eq!(solve(&[a, b]), solve(&[b, a]));
}

#[test]
fn a_sound_alternator_charges_and_a_dead_one_is_seen() {
    let circuit = library::circuit("pellwick-gt-46");
    let running =
        Condition { engine: Engine::Running, ..library::condition(&circuit, &[("key", "run")]) };
    let volts = |fault: Option<&str>| {
        let changes: Vec<_> =
            fault.map(|f| parse_change(&circuit, f).unwrap()).into_iter().collect();
        let point = operating_point(&circuit, &running, Relays::default(), &changes, &[]);
        let positive = circuit.terminal("battery.+").unwrap();
        let negative = circuit.terminal("battery.-").unwrap();
        point.volts[positive.index()].unwrap() - point.volts[negative.index()].unwrap()
    };
    let sound = volts(None);
    assert!((13.8..=14.7).contains(&sound), "{sound} V");
    let dead = volts(Some("regulator=dead"));
    assert!(dead < 12.7, "{dead} V");
    let over = volts(Some("regulator=16.5V"));
    assert!(over > 15.0, "{over} V");
    let grounded = volts(Some("charge-fuse=blown"));
    assert!(grounded < 12.7, "{grounded} V");
}

#[test]
fn the_generator_motors_charges_and_lets_go() {
    let machine = "corrieford-8-speed";
    assert_eq!(with(machine, "key to start", &[]).crank, Crank::Yes);
    assert_eq!(with(machine, "idling", &[]).ammeters, [Needle::Charge]);
    let lights = with(machine, "lights on", &[]);
    assert!(lights.lamps.iter().all(|l| *l == LampState::Bright), "{lights:?}");
    // The cut-out has fallen with the engine: nothing runs back through the armature.
    assert_ne!(with(machine, "key off", &[]).ammeters, [Needle::Charge]);
    let stuck = with(machine, "key off", &["cut-out.contact=made"]);
    assert_eq!(stuck.ammeters, [Needle::Discharge], "a welded cut-out drains the battery");
}

#[test]
fn the_dictionary_holds_what_single_solves_give() {
    for machine in ["pellwick-gt-46", "dunmarrow-z-52"] {
        let circuit = library::circuit(machine);
        let conditions: Vec<_> = every_condition(&circuit).into_iter().step_by(7).collect();
        let faults = single_faults(&circuit);
        let changes: Vec<_> = faults.iter().step_by(5).map(|f| f.at(f.magnitudes()[0])).collect();
        let dictionary = FaultDictionary::of(&circuit, &conditions, &changes);
        assert_eq!(dictionary.len(), conditions.len() * changes.len());
        let negative = circuit.terminal("battery.-").unwrap();
        for (f, change) in changes.iter().enumerate() {
            for (c, condition) in conditions.iter().enumerate() {
                let point =
                    operating_point(&circuit, condition, Relays::default(), &[*change], &[]);
                assert_eq!(dictionary.relays(f, c), point.relays);
                for (_, node) in circuit.terminals() {
                    let alone = point.volts[node.index()].zip(point.volts[negative.index()]);
                    let alone = alone.map(|(red, black)| red - black);
                    let kept = dictionary.volts(f, c, node, negative);
                    match (alone, kept) {
                        (Some(a), Some(b)) => assert!((a - b).abs() < 0.0021, "{a} and {b}"),
                        (a, b) => assert_eq!(a, b),
                    }
                }
            }
        }
    }
}
