//! Tests that must never be proposed, over the machines and their conditions.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, Coil, CoilState, Condition, Crank, ElementKind, Engine, Instrument, NodeId,
    Refusal, Relays, Setting, Solver, clamp, every_condition, operating_point, parse_change, read,
};
use kelvok_core::diagnosis::{
    Caution, EngineDoes, Evidence, Model, NextTest, Observation, Sensed, SetUp, Source, Strategy,
    Suspects, TestAction,
};
use kelvok_core::machine::{LIBRARY, PartKind, TEST_LAMP_OHMS};
use std::collections::BTreeMap;

/// What the machine does in a condition with some changes and an instrument hung there.
fn crank_of(
    circuit: &Circuit,
    condition: &Condition,
    changes: &[Change],
    hung: &[(NodeId, NodeId, f64)],
) -> (Crank, bool) {
    let point = operating_point(circuit, condition, Relays::default(), changes, hung);
    // A welded contact turns the starter whatever is measured elsewhere.
    let pulled = |(c, s): (&Coil, &CoilState)| {
        let part = circuit.element(c.element).part.map(|p| circuit.part(p));
        let own = part.is_some_and(|p| p.kind == PartKind::Solenoid);
        own && *s != CoilState::Off
    };
    let pulled = circuit.coils.iter().zip(&point.outcome.coils).any(pulled);
    (point.outcome.crank, pulled)
}

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
                is_safe(circuit, model.suspects(), &test);
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

/// Holds a measurement against the machine with every so-manieth thing wrong with it.
fn is_safe(circuit: &Circuit, suspects: &Suspects, test: &NextTest) {
    let TestAction::Measure { instrument, red, black } = test.action else { return };
    let what = || format!("{}: {test:?}", circuit.document().identity.model);
    let node = |i: usize| circuit.terminal(&circuit.document().test_points[i].terminal).unwrap();
    let probes = (node(red), node(black));
    let lamp = instrument == Instrument::TestLamp;
    if test.condition.engine != Engine::Stopped {
        assert!(!instrument.feeds() && !lamp, "with the engine turning: {}", what());
    }
    // Nothing on a kill lead that a module still hangs on, and no lamp there at all.
    let set_up = if lamp { &[][..] } else { &test.set_up };
    for (_, module) in circuit.elements().filter(|(_, e)| e.kind == ElementKind::KillPort) {
        let on = |probe| probe == module.a || hangs_on(circuit, module.a, probe, set_up);
        assert!(!on(probes.0) && !on(probes.1), "a probe on a kill lead: {}", what());
    }
    let set_up: Vec<_> = test.set_up.iter().flat_map(|s| s.changes(circuit)).collect();
    let module_off = test.cautions.contains(&Caution::KillLeadOff);
    for scenario in suspects.scenarios.iter().step_by(101) {
        let changes: Vec<_> = scenario.changes.iter().chain(&set_up).copied().collect();
        let with = Relays::default();
        let shown = read(circuit, &test.condition, with, &changes, instrument, probes);
        let live = matches!(shown, Err(Refusal::Live { .. }));
        assert!(!live, "ohms on a live circuit: {}", what());
        if test.condition.engine != Engine::Stopped {
            continue;
        }
        let (crank, pulled) = crank_of(circuit, &test.condition, &changes, &[]);
        if lamp {
            let hung = [(probes.0, probes.1, TEST_LAMP_OHMS)];
            let (_, by_lamp) = crank_of(circuit, &test.condition, &changes, &hung);
            assert!(pulled || !by_lamp, "the lamp pulls a solenoid in: {}", what());
        }
        if crank != Crank::No && pulled {
            let warned = test.cautions.contains(&Caution::MayCrank);
            assert!(warned, "cranks without a caution: {}", what());
            assert!(!module_off, "cranks with the kill lead off: {}", what());
        }
    }
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

/// Whether solid metal joins a node to a module's lead, these plugs being off.
fn hangs_on(circuit: &Circuit, lead: NodeId, node: NodeId, set_up: &[SetUp]) -> bool {
    let ground = circuit.terminal("engine.block").unwrap_or(NodeId::REFERENCE);
    let mut reached = vec![lead];
    let mut next = 0;
    while let Some(here) = reached.get(next).copied() {
        next += 1;
        for (id, other, _) in circuit.around(here) {
            let e = circuit.element(*id);
            let solid = matches!(e.kind, ElementKind::Wire | ElementKind::Joint);
            let off = e.part.is_some_and(|p| set_up.contains(&SetUp::Unplugged(p)));
            if solid && !off && *other != ground && !reached.contains(other) {
                reached.push(*other);
            }
        }
    }
    reached.contains(&node)
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
    assert!((clamp(&solver, 0, starter) - 17.87).abs() < 0.02);
}
