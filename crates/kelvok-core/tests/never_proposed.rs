//! Tests that must never be proposed, over the machines and their conditions.

mod library;
mod safety;

use kelvok_core::circuit::{
    Circuit, Condition, Engine, Instrument, Relays, Setting, Solver, every_condition,
    operating_point, parse_change,
};
use kelvok_core::diagnosis::{
    Caution, EngineDoes, Evidence, Model, Observation, Sensed, SetUp, Source, Strategy, TestAction,
};
use kelvok_core::machine::{LIBRARY, TEST_LAMP_OHMS};
use safety::is_safe;
use std::collections::BTreeMap;

/// The engine was heard to run, so that tests with it running are worth proposing.
fn it_ran(circuit: &Circuit) -> Option<Evidence> {
    let condition = circuit.normal_use().into_iter().find(|c| c.engine >= Engine::Running)?;
    Some(Evidence {
        sequence: 1,
        condition,
        set_up: Vec::new(),
        observation: Observation::Sensed(Sensed::Engine(EngineDoes::Runs)),
        repeats: 1,
        source: Source::Tested,
        at_times: false,
        times_an_hour: None,
        celsius: None,
        idle: false,
    })
}

/// How often each instrument, and a lamp in place of a coil, was proposed.
#[derive(Default)]
struct Proposed {
    by: BTreeMap<Instrument, usize>,
    lamps_in_place: usize,
    kill_leads_off: usize,
}

#[test]
fn nothing_dangerous_is_ever_proposed() {
    let mut proposed = Proposed::default();
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        let model = Model::new(circuit);
        let circuit = model.circuit();
        let conditions = every_condition(circuit);
        let few = conditions.len() / 2 + 1;
        let logs = [Vec::new(), it_ran(circuit).into_iter().collect()];
        for (condition, log) in conditions.iter().step_by(few).zip(logs) {
            let belief = model.judge(&log);
            for test in model.every_test(Strategy::BestSplit, &belief, &log, condition) {
                let TestAction::Measure { instrument, .. } = test.action else { continue };
                *proposed.by.entry(instrument).or_default() += 1;
                let in_place = test.set_up.iter().any(|s| matches!(s, SetUp::LampInPlace(_)));
                proposed.lamps_in_place += usize::from(in_place);
                let module_off = test.cautions.contains(&Caution::KillLeadOff);
                proposed.kill_leads_off += usize::from(module_off);
                let faults = model.suspects().scenarios.iter().step_by(101);
                is_safe(circuit, &test, faults.map(|s| s.changes.as_slice()));
            }
        }
    }
    let all = [
        Instrument::Voltmeter,
        Instrument::Ohmmeter,
        Instrument::Buzzer,
        Instrument::TestLamp,
        Instrument::AcVoltmeter,
        Instrument::DiodeRange,
    ];
    for instrument in all {
        let often = proposed.by.get(&instrument).copied().unwrap_or(0);
        assert!(often > 0, "{instrument:?} is never proposed");
    }
    assert!(proposed.lamps_in_place > 0, "no lamp ever hangs in place of a coil");
    assert!(proposed.kill_leads_off > 0, "no kill wire is ever swept");
}

/// Nobody turns the key to start on an engine that runs: its pinion would meet the flywheel.
#[test]
fn no_key_is_turned_to_start_on_a_running_engine() {
    let mut running = 0;
    for shipped in LIBRARY {
        let model = Model::new(library::circuit(shipped.name));
        let circuit = model.circuit();
        // A bail is held while it runs; a key springs back.
        let held = |c: &Condition| {
            let at = c.positions.iter().zip(&circuit.document().controls).enumerate();
            let sprung = at.filter(|(_, (p, control))| {
                control.positions[usize::from(**p)].returns_to.is_some()
            });
            sprung.map(|(control, (position, _))| (control, *position)).collect::<Vec<_>>()
        };
        let runs = |c: &Condition| c.engine >= Engine::Running;
        let ordinary: Vec<_> =
            circuit.normal_use().iter().filter(|c| runs(c)).flat_map(held).collect();
        let log: Vec<_> = it_ran(circuit).into_iter().collect();
        let belief = model.judge(&log);
        for test in model.every_test(Strategy::BestSplit, &belief, &log, &log[0].condition) {
            if runs(&test.condition) {
                running += 1;
                let started = held(&test.condition).into_iter().find(|h| !ordinary.contains(h));
                assert_eq!(started, None, "{}: {test:?}", shipped.name);
            }
        }
    }
    assert!(running > 100, "{running}");
}

#[test]
fn a_lamp_that_would_turn_the_starter_is_not_proposed() {
    // The start relay's coil is fed by the key, and the interlocks ground it: a lamp to ground at
    // one of them that is open would ground it too, and crank.
    let circuit = library::circuit("tarnbeck-t-40");
    let model = Model::new(circuit);
    let circuit = model.circuit();
    let node = |t: &str| circuit.terminal(t).unwrap();
    let condition = library::condition(circuit, &[("key", "start")]);
    let coils = |hung: &[_]| {
        operating_point(circuit, &condition, Relays::default(), &[], hung).outcome.coils
    };
    let (interlock, negative) = (node("clutch-switch-plug.A"), node("battery.-"));
    assert_ne!(coils(&[(interlock, negative, TEST_LAMP_OHMS)]), coils(&[]), "it would crank");
    let belief = model.judge(&[]);
    let mut lamps = 0;
    for test in model.every_test(Strategy::BestSplit, &belief, &[], &condition) {
        let TestAction::Measure { instrument: Instrument::TestLamp, red, .. } = test.action else {
            continue;
        };
        if test.condition == condition {
            let red = node(&circuit.document().test_points[red].terminal);
            let with = coils(&[(red, negative, TEST_LAMP_OHMS)]);
            assert_eq!(with, coils(&[]), "{test:?}");
            lamps += 1;
        }
    }
    assert!(lamps > 0, "no lamp is proposed there at all");
}

#[test]
fn a_clamp_shows_the_current_of_what_it_goes_round() {
    let circuit = library::r1();
    let condition = library::condition(&circuit, &[("key", "start"), ("pedal", "down")]);
    let weak = parse_change(&circuit, "w-engine=0.6ohm").unwrap();
    let mut solver: Solver<'_> = Solver::new(&circuit);
    let setting = Setting::new(&circuit, &condition).with(&circuit, &[weak]);
    solver.solve(&[&setting], &[Relays::default()]);
    let starter = circuit.element_named("starter").unwrap();
    assert!((solver.amps(0, starter) - 17.87).abs() < 0.02);
}

/// What a machine that stands tells as well and as soon is asked of that, not of a running one.
#[test]
fn no_engine_is_started_for_what_a_standing_machine_tells_as_soon() {
    let (mut running, mut standing) = (0, 0);
    for shipped in LIBRARY {
        let model = Model::new(library::circuit(shipped.name));
        let log: Vec<_> = it_ran(model.circuit()).into_iter().collect();
        let Some(usual) = log.first().map(|e| e.condition.clone()) else { continue };
        let belief = model.judge(&log);
        let tests = model.every_test(Strategy::BestSplit, &belief, &log, &usual);
        // What tells most in the fewest minutes of those that stand and come later.
        let mut later: Vec<(f64, f64)> = Vec::new();
        for test in tests.iter().rev() {
            if test.condition.engine == Engine::Stopped
                && !test.cautions.contains(&Caution::MayCrank)
            {
                later.push((test.bits, test.minutes));
                standing += 1;
            } else if test.condition.engine >= Engine::Running && test.condition != usual {
                let better = later.iter().find(|(b, m)| *b >= test.bits && *m <= test.minutes);
                assert_eq!(better, None, "{}: {test:?}", shipped.name);
                running += 1;
            }
        }
    }
    assert!(running > 20 && standing > 1000, "{running}, {standing}");
}
