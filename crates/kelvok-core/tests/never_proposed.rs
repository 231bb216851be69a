//! Tests that must never be proposed, over the machines and their conditions.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, Coil, CoilState, Condition, Crank, ElementKind, Engine, Instrument, NodeId,
    Refusal, Relays, Setting, Solver, clamp, every_condition, operating_point, parse_change, read,
};
use kelvok_core::diagnosis::{Belief, Book, Caution, Doing, School, SetUp, Suspects, every_test};
use kelvok_core::machine::{LIBRARY, PartKind};

/// What the machine does in a condition with some changes.
fn crank_of(circuit: &Circuit, condition: &Condition, changes: &[Change]) -> (Crank, bool) {
    let point = operating_point(circuit, condition, Relays::default(), changes, &[]);
    // A welded contact turns the starter whatever is measured elsewhere.
    let pulled = |(c, s): (&Coil, &CoilState)| {
        let part = circuit.element(c.element).part.map(|p| circuit.part(p));
        let own = part.is_some_and(|p| p.kind == PartKind::Solenoid);
        own && *s != CoilState::Off
    };
    let pulled = circuit.coils.iter().zip(&point.outcome.coils).any(pulled);
    (point.outcome.crank, pulled)
}

#[test]
fn nothing_dangerous_is_ever_proposed() {
    let (mut by_ohms, mut off_kill) = (0, 0);
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        let (suspects, book) = (Suspects::of(&circuit), Book::default());
        let node =
            |i: usize| circuit.terminal(&circuit.document().test_points[i].terminal).unwrap();
        let modules: Vec<_> = circuit
            .elements()
            .filter(|(_, e)| e.kind == ElementKind::KillPort)
            .map(|(_, e)| e.a)
            .collect();
        let mut ohms_tests = 0;
        let conditions = every_condition(&circuit);
        let few = conditions.len() / 2 + 1;
        for condition in conditions.iter().step_by(few) {
            let belief = Belief::judge(&circuit, &suspects, &book, &[]);
            let at = (&circuit, &suspects, &book);
            for test in every_test(School::BestSplit, at, &belief, &[], condition) {
                let Doing::Measure { instrument, red, black } = test.doing else { continue };
                let what = || format!("{}: {test:?}", shipped.name);
                let set_up: Vec<_> = test.set_up.iter().flat_map(|s| s.changes(&circuit)).collect();
                let ohms = matches!(instrument, Instrument::Ohmmeter | Instrument::Buzzer);
                ohms_tests += usize::from(ohms);
                assert_eq!(test.condition.engine, Engine::Stopped, "{}", what());
                // Nothing on a kill lead that a module still hangs on.
                let probes = (node(red), node(black));
                for module in &modules {
                    let on = [probes.0, probes.1].into_iter().any(|probe| {
                        probe == *module || hangs_on(&circuit, *module, probe, &test.set_up)
                    });
                    assert!(!on, "a probe on a kill lead: {}", what());
                }
                let module_off = test.cautions.contains(&Caution::KillLeadOff);
                off_kill += usize::from(module_off);
                for column in suspects.columns.iter().step_by(67) {
                    let changes: Vec<_> = column.changes.iter().chain(&set_up).copied().collect();
                    let with = Relays::default();
                    let shown = read(&circuit, &test.condition, with, &changes, instrument, probes);
                    let live = matches!(shown, Err(Refusal::Live { .. }));
                    assert!(!live, "ohms on a live circuit: {}", what());
                    let (crank, pulled) = crank_of(&circuit, &test.condition, &changes);
                    if crank != Crank::No && pulled {
                        let warned = test.cautions.contains(&Caution::MayCrank);
                        assert!(warned, "cranks without a caution: {}", what());
                        assert!(!module_off, "cranks with the kill lead off: {}", what());
                    }
                }
            }
        }
        by_ohms += usize::from(ohms_tests > 0);
    }
    assert!(by_ohms >= 8, "tests by ohms are proposed on {by_ohms} machines only");
    assert!(off_kill > 0, "no kill wire is ever swept");
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
