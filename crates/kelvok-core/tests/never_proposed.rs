//! Tests that must never be proposed, over the machines and their conditions.

mod library;

use kelvok_core::circuit::{Crank, Setting, Solver};
use kelvok_core::circuit::{
    Instrument, Refusal, Relays, clamp, every_condition, operating_point, parse_change, read,
};
use kelvok_core::diagnosis::{Belief, Caution, Suspects, plan};
use kelvok_core::machine::LIBRARY;

#[test]
fn no_proposed_test_puts_ohms_on_a_live_circuit_or_cranks_without_a_caution() {
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        let suspects = Suspects::of_circuits(&circuit, &["start", "crank"]).unwrap();
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
        assert!(ohms_tests > 0, "{}: some test is by ohms", shipped.name);
    }
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
