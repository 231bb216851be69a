//! What makes a test dangerous, judged from the circuit alone and not by the planner's own rules.

use kelvok_core::circuit::{
    Change, Circuit, Coil, CoilState, Condition, Crank, ElementKind, Engine, Instrument, NodeId,
    Refusal, Relays, operating_point, read,
};
use kelvok_core::diagnosis::{Caution, NextTest, SetUp, TestAction};
use kelvok_core::machine::{PartKind, TEST_LAMP_OHMS};

/// What the machine does in a condition with some changes and an instrument hung there.
pub fn crank_of(
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

/// Holds a test against the machine with each of these things wrong with it.
pub fn is_safe<'a>(
    circuit: &Circuit,
    test: &NextTest,
    faults: impl IntoIterator<Item = &'a [Change]>,
) {
    let TestAction::Measure { instrument, red, black } = test.action else {
        return trying_is_safe(circuit, test, faults);
    };
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
    if instrument.feeds() && !test.set_up.contains(&SetUp::BatteryOff) {
        let own = |node, without| fed(circuit, &test.set_up, without).contains(&node);
        let both = own(probes.0, probes.1) && own(probes.1, probes.0);
        assert!(!both, "ohms where two faults could make it live: {}", what());
    }
    let module_off = test.cautions.contains(&Caution::KillLeadOff);
    for fault in faults {
        let changes: Vec<_> = fault.iter().chain(&set_up).copied().collect();
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

/// What is tried on the machine is tried with the kill lead on, and with its cautions.
fn trying_is_safe<'a>(
    circuit: &Circuit,
    test: &NextTest,
    faults: impl IntoIterator<Item = &'a [Change]>,
) {
    let TestAction::Try(_) = test.action else { return };
    let what = || format!("{}: {test:?}", circuit.document().identity.model);
    assert!(
        !test.cautions.contains(&Caution::KillLeadOff),
        "tried with the kill lead off: {}",
        what()
    );
    if test.condition.engine != Engine::Stopped {
        assert!(
            test.cautions.contains(&Caution::EngineRuns) || test.condition.engine < Engine::Running
        );
        return;
    }
    let set_up: Vec<_> = test.set_up.iter().flat_map(|s| s.changes(circuit)).collect();
    for fault in faults {
        let changes: Vec<_> = fault.iter().chain(&set_up).copied().collect();
        let (crank, pulled) = crank_of(circuit, &test.condition, &changes, &[]);
        if crank != Crank::No && pulled {
            let warned = test.cautions.contains(&Caution::MayCrank);
            assert!(warned, "cranks without a caution: {}", what());
        }
    }
}

/// All that the battery's posts reach through whatever could conduct, but not through a node, these
/// plugs being off.
fn fed(circuit: &Circuit, set_up: &[SetUp], without: NodeId) -> Vec<NodeId> {
    let source = |e: &ElementKind| matches!(e, ElementKind::Source { .. });
    let posts = circuit.elements().filter(|(_, e)| source(&e.kind));
    let mut reached: Vec<_> = posts.flat_map(|(_, e)| [e.a, e.b]).collect();
    reached.retain(|post| *post != without);
    let mut next = 0;
    while let Some(here) = reached.get(next).copied() {
        next += 1;
        for (_, e) in circuit.elements().filter(|(_, e)| e.a == here || e.b == here) {
            let joint = e.kind == ElementKind::Joint;
            let off = joint && e.part.is_some_and(|p| set_up.contains(&SetUp::Unplugged(p)));
            let port = e.kind == ElementKind::KillPort;
            let other = if e.a == here { e.b } else { e.a };
            if !off && !port && other != without && !reached.contains(&other) {
                reached.push(other);
            }
        }
    }
    reached
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
