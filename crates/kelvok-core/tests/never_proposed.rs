//! Tests that must never be proposed, over the machines and their conditions.

mod library;

use kelvok_core::circuit::{
    Coil, CoilState, Crank, Instrument, Refusal, Relays, Setting, Solver, clamp, every_condition,
    operating_point, parse_change, read,
};
use kelvok_core::diagnosis::{Belief, Caution, Suspects, plan};
use kelvok_core::machine::{LIBRARY, PartKind};

#[test]
fn no_proposed_test_puts_ohms_on_a_live_circuit_or_cranks_without_a_caution() {
    let mut by_ohms = 0;
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        let feeds = |name: &&str| circuit.document().circuits.iter().any(|c| c.id == *name);
        let names: Vec<_> = ["start", "crank"].into_iter().filter(feeds).collect();
        if names.is_empty() {
            assert!(circuit.document().drive.recoil, "{}: no start circuit", shipped.name);
            continue;
        }
        let suspects = Suspects::of_circuits(&circuit, &names).unwrap();
        let belief = Belief::judge(&circuit, &suspects, &[]);
        let node =
            |i: usize| circuit.terminal(&circuit.document().test_points[i].terminal).unwrap();
        let mut ohms_tests = 0;
        for condition in every_condition(&circuit).iter().step_by(11) {
            let plan = plan(&circuit, &suspects, &belief, &[], condition);
            assert!(plan.listen, "nothing was heard yet");
            for test in &plan.tests {
                let set_up: Vec<_> = test.set_up.iter().map(|s| s.change()).collect();
                let ohms = test.instrument == Instrument::Ohmmeter;
                ohms_tests += usize::from(ohms);
                for hypothesis in suspects.hypotheses.iter().step_by(3) {
                    let changes: Vec<_> =
                        hypothesis.changes.iter().chain(&set_up).copied().collect();
                    let probes = (node(test.red), node(test.black));
                    let (at, with) = (&test.condition, Relays::default());
                    let shown = read(&circuit, at, with, &changes, test.instrument, probes);
                    let live = matches!(shown, Err(Refusal::Live { .. }));
                    assert!(!live, "{}: ohms on a live circuit: {test:?}", shipped.name);
                    let point = operating_point(&circuit, at, with, &changes, &[]);
                    if point.outcome.crank != Crank::No {
                        // A welded contact turns the starter whatever is measured elsewhere.
                        let pulled = |(c, s): (&Coil, &CoilState)| {
                            let part = circuit.element(c.element).part.map(|p| circuit.part(p));
                            let own = part.is_some_and(|p| p.kind == PartKind::Solenoid);
                            own && *s != CoilState::Off
                        };
                        let welded = !circuit.coils.iter().zip(&point.outcome.coils).any(pulled);
                        let warned = test.cautions.contains(&Caution::MayCrank);
                        assert!(warned || welded, "{}: cranks: {test:?}", shipped.name);
                    }
                }
            }
        }
        by_ohms += usize::from(ohms_tests > 0);
    }
    // Where a module decides, or a plug is out of reach, there may be none.
    assert!(by_ohms >= 8, "tests by ohms are proposed on {by_ohms} machines only");
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
