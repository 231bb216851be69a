//! Every way to fail: named, written, read back, and solved.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, ClutchState, Condition, Crank, Engine, FAULT_FORMS, FaultMode, Instrument,
    LampState, Needle, Outcome, OutcomeDictionary, Reading, Relays, Spark, every_condition,
    fault_notation, operating_point, parse_change, read, single_faults,
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

/// One list: the parser reads it, and the handbook shows it (`kelvok solve --help` is made from it).
#[test]
fn every_form_of_the_notation_is_read_and_in_the_handbook() {
    let circuits: Vec<_> = LIBRARY.iter().map(|m| library::circuit(m.name)).collect();
    let handbook = include_str!("../../../docs/machine-format.md");
    for (form, stands_for) in FAULT_FORMS {
        let read = circuits.iter().find_map(|c| {
            let change = parse_change(c, form).ok()?;
            Some(parse_change(c, &fault_notation(c, change)) == Ok(change))
        });
        // What nothing in the library has is had by a machine that is made for it.
        assert!(read.unwrap_or_else(|| is_form_of_another(&circuits, form)), "{form}");
        assert!(handbook.contains(&format!("| `{form}` | {stands_for} |")), "{form}");
    }
}

/// Whether the mode of a form is read of something else in a machine of the library.
fn is_form_of_another(circuits: &[Circuit], form: &str) -> bool {
    let (_, mode) = form.split_once('=').expect("SUBJECT=MODE");
    let named = |c: &Circuit| {
        let elements = c.elements().map(|(_, e)| e.id.clone());
        let parts = c.document().parts.iter().map(|p| p.id.clone());
        elements.chain(parts).any(|subject| parse_change(c, &format!("{subject}={mode}")).is_ok())
    };
    circuits.iter().any(named)
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

/// What is looked up as dormant, or follows by compensation, is what a solve of its own gives.
#[test]
fn the_dictionary_holds_what_single_solves_give() {
    for (m, machine) in LIBRARY.iter().enumerate() {
        let circuit = library::circuit(machine.name);
        let engines = [Engine::Stopped, Engine::Cranking, Engine::Running, Engine::RunningHot];
        let conditions = every_condition(&circuit).into_iter().skip(m % 3).step_by(13);
        let conditions: Vec<_> = conditions
            .zip(engines.iter().cycle())
            .map(|(c, engine)| Condition { engine: *engine, ..c })
            .take(24)
            .collect();
        let sizes = single_faults(&circuit)
            .into_iter()
            .flat_map(|f| f.magnitudes().iter().map(move |m| f.at(*m)).collect::<Vec<_>>());
        let mut sets: Vec<_> = sizes.map(|change| vec![change]).step_by(3).collect();
        let pairs: Vec<_> = sets.windows(2).step_by(41).map(|w| w.concat()).collect();
        sets.extend(pairs);
        sets.push(Vec::new());
        // Some settle from relays as they stood before.
        let pulled = |set: usize| Relays(u64::from(set.is_multiple_of(5)));
        let dictionary = OutcomeDictionary::of(&circuit, &conditions, &sets, |_, s| pulled(s));
        assert_eq!(dictionary.len(), conditions.len() * sets.len());
        for (s, changes) in sets.iter().enumerate() {
            for condition in &conditions {
                let mut alone = operating_point(&circuit, condition, pulled(s), changes, &[]);
                if condition.engine == Engine::Stopped {
                    alone.outcome.spark.clear();
                }
                let (outcome, relays) = dictionary.outcome(condition, s).expect("asked for");
                let what = || format!("{}: {changes:?} in {condition:?}", machine.name);
                assert_eq!(*outcome, alone.outcome, "{}", what());
                assert_eq!(*relays, alone.relays, "{}", what());
            }
        }
        let elsewhere = Condition { engine: Engine::RunningHot, ..conditions[0].clone() };
        assert!(dictionary.outcome(&elsewhere, 0).is_none(), "that was not asked for");
    }
}
