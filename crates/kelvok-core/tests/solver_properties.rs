//! What must hold of any operating point, whatever the machine, condition and faults.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, Condition, ElementId, ElementKind, Engine, Lanes, NodeId, Relays, Setting,
    Solver, every_condition, single_faults,
};
use kelvok_core::machine::LIBRARY;
use proptest::prelude::*;
use std::sync::LazyLock;

struct World {
    circuit: Circuit,
    conditions: Vec<Condition>,
    faults: Vec<Change>,
}

fn world(circuit: Circuit) -> World {
    let conditions = every_condition(&circuit);
    let faults = single_faults(&circuit)
        .iter()
        .flat_map(|f| f.magnitudes().iter().map(|m| f.at(*m)))
        .collect();
    World { circuit, conditions, faults }
}

static WORLDS: LazyLock<Vec<World>> =
    LazyLock::new(|| LIBRARY.iter().map(|m| world(library::circuit(m.name))).collect());

/// R1, which has neither diode nor alternator.
static PLAIN: LazyLock<World> = LazyLock::new(|| world(library::r1()));

/// A machine, a condition with its engine's state, and up to two faults.
type Situation = (usize, (usize, Engine), Vec<usize>);

fn situation() -> impl Strategy<Value = Situation> {
    (
        0..LIBRARY.len(),
        (any::<prop::sample::Index>(), prop::sample::select(Engine::ALL)),
        prop::collection::vec(any::<prop::sample::Index>(), 0..3),
    )
        .prop_map(|(m, (condition, engine), faults)| {
            let world = &WORLDS[m];
            let faults = faults.iter().map(|f| f.index(world.faults.len())).collect();
            (m, (condition.index(world.conditions.len()), engine), faults)
        })
}

/// The situation's setting, and its changes.
fn setting((m, (condition, engine), faults): &Situation) -> (Setting, Vec<Change>) {
    let world = &WORLDS[*m];
    let changes: Vec<_> = faults.iter().map(|f| world.faults[*f]).collect();
    let condition = Condition { engine: *engine, ..world.conditions[*condition].clone() };
    (Setting::new(&world.circuit, &condition).with(&world.circuit, &changes), changes)
}

/// Amperes out of each node through what changes added.
fn added_amps(circuit: &Circuit, setting: &Setting, solver: &Solver<'_>) -> Vec<f64> {
    let mut out = vec![0.0; circuit.node_count()];
    for (a, b, siemens) in setting.added() {
        let amps = siemens * (solver.volts(0, a) - solver.volts(0, b));
        out[a.index()] += amps;
        out[b.index()] -= amps;
    }
    out
}

/// The largest current that does not add up at any node but the reference, in amperes.
fn residual(circuit: &Circuit, setting: &Setting, solver: &Solver<'_>) -> f64 {
    let mut sum: Vec<f64> = added_amps(circuit, setting, solver).iter().map(|a| -a).collect();
    for (id, e) in circuit.elements() {
        let amps = solver.amps(0, id);
        sum[e.a.index()] -= amps;
        sum[e.b.index()] += amps;
    }
    sum.iter().skip(1).fold(0.0, |most, amps| amps.abs().max(most))
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(600))]

    #[test]
    fn currents_into_every_node_add_up_to_nothing(situation in situation()) {
        let circuit = &WORLDS[situation.0].circuit;
        let (setting, changes) = setting(&situation);
        let mut solver: Solver<'_> = Solver::for_changes(circuit, &changes);
        solver.solve(&[&setting], &[Relays::default()]);
        let amps = residual(circuit, &setting, &solver);
        prop_assert!(amps < 1e-9, "{amps} A");
    }

    #[test]
    fn power_given_is_power_used(situation in situation()) {
        let circuit = &WORLDS[situation.0].circuit;
        let (setting, changes) = setting(&situation);
        let mut solver: Solver<'_> = Solver::for_changes(circuit, &changes);
        solver.solve(&[&setting], &[Relays::default()]);
        let added = added_amps(circuit, &setting, &solver);
        let mut balance: f64 = added
            .iter()
            .enumerate()
            .map(|(n, amps)| amps * solver.volts(0, NodeId(n as u16)))
            .sum();
        let mut largest = 1.0f64;
        for (id, e) in circuit.elements() {
            let watts = solver.amps(0, id) * (solver.volts(0, e.a) - solver.volts(0, e.b));
            largest = largest.max(watts.abs());
            balance += watts;
        }
        prop_assert!(balance.abs() < 1e-7 * largest, "{balance} W of {largest} W");
    }

    #[test]
    fn eight_at_a_time_is_the_same_as_one_at_a_time(
        all in prop::collection::vec(situation(), 1..9),
    ) {
        // Eight of one machine, with faults that join nothing: those need a program of their own.
        let circuit = &WORLDS[all[0].0].circuit;
        let world = &WORLDS[all[0].0];
        let settings: Vec<_> = all
            .iter()
            .map(|(_, (c, engine), faults)| {
                let index = |f: &usize| f % world.faults.len();
                let joins = |f: &usize| !world.faults[*f].joins(circuit).is_empty();
                let faults: Vec<_> = faults.iter().map(index).filter(|f| !joins(f)).collect();
                setting(&(all[0].0, (c % world.conditions.len(), *engine), faults)).0
            })
            .collect();
        let mut one: Solver<'_> = Solver::new(circuit);
        let mut eight: Solver<'_, Lanes> = Solver::new(circuit);
        let views: Vec<_> = settings.iter().collect();
        eight.solve(&views, &[]);
        for (lane, setting) in settings.iter().enumerate() {
            one.solve(&[setting], &[Relays::default()]);
            prop_assert_eq!(one.chatter(0), eight.chatter(lane));
            for n in 0..circuit.node_count() {
                let (a, b) = (one.volts(0, NodeId(n as u16)), eight.volts(lane, NodeId(n as u16)));
                prop_assert!((a - b).abs() < 1e-9, "node {n}: {a} and {b}");
            }
        }
    }

    #[test]
    fn an_ohmmeter_reads_the_same_either_way_round(
        c in any::<prop::sample::Index>(),
        fault in any::<prop::sample::Index>(),
        ends in (any::<prop::sample::Index>(), any::<prop::sample::Index>()),
    ) {
        // Its power is off with the battery open.
        let world = &*PLAIN;
        let circuit = &world.circuit;
        let off = Change::Open(circuit.element_named("battery").unwrap());
        let changes = [*fault.get(&world.faults), off];
        let setting = Setting::new(circuit, c.get(&world.conditions)).with(circuit, &changes);
        let mut solver: Solver<'_> = Solver::for_changes(circuit, &changes);
        solver.solve(&[&setting], &[Relays::default()]);
        let node = |i: &prop::sample::Index| NodeId(i.index(circuit.node_count()) as u16);
        let (a, b) = (node(&ends.0), node(&ends.1));
        match (solver.resistance(0, a, b), solver.resistance(0, b, a)) {
            (Some(there), Some(back)) => {
                prop_assert!((there - back).abs() <= 1e-9 * (1.0 + there.abs()));
                prop_assert!(there >= 0.0);
            }
            (there, back) => prop_assert_eq!(there, back),
        }
    }

    #[test]
    fn resistance_added_never_raises_the_current_in_it_nor_the_batterys(
        c in any::<prop::sample::Index>(),
        which in any::<prop::sample::Index>(),
        pulled in any::<bool>(),
        factor in 1.01f64..1000.0,
    ) {
        let world = &*PLAIN;
        let circuit = &world.circuit;
        let element = ElementId(which.index(circuit.elements.len()) as u16);
        let more = Change::Ohms(element, circuit.element(element).ohms * factor);
        let battery = circuit.element_named("battery").unwrap();
        let condition = c.get(&world.conditions);
        let amps = |changes: &[Change]| {
            let mut solver: Solver<'_> = Solver::new(circuit);
            let setting = Setting::new(circuit, condition).with(circuit, changes);
            solver.solve_held(&setting, Relays(u64::from(pulled)));
            (solver.amps(0, element).abs(), solver.amps(0, battery).abs())
        };
        let (before, after) = (amps(&[]), amps(&[more]));
        prop_assert!(after.0 <= before.0 + 1e-9, "in it: {} then {}", before.0, after.0);
        prop_assert!(after.1 <= before.1 + 1e-9, "battery: {} then {}", before.1, after.1);
    }
}

#[test]
fn what_floats_is_said_to_float_and_nothing_else() {
    // With every source open, nothing is driven; a node floats where no element leads to the frame.
    for world in &*WORLDS {
        let circuit = &world.circuit;
        let mut solver: Solver<'_> = Solver::new(circuit);
        for condition in world.conditions.iter().step_by(7) {
            let setting = Setting::new(circuit, condition);
            solver.solve(&[&setting], &[Relays::default()]);
            let pieces = solver.pieces(0);
            // Flood from the reference through what conducts.
            let mut reached = vec![false; circuit.node_count()];
            reached[0] = true;
            loop {
                let before = reached.iter().filter(|r| **r).count();
                for (id, e) in circuit.elements() {
                    if solver.conducts(0, id) && (reached[e.a.index()] || reached[e.b.index()]) {
                        reached[e.a.index()] = true;
                        reached[e.b.index()] = true;
                    }
                }
                if reached.iter().filter(|r| **r).count() == before {
                    break;
                }
            }
            for n in 0..circuit.node_count() {
                let name = circuit.node_name(NodeId(n as u16));
                assert_eq!(pieces[n] == 0, reached[n], "{name}");
            }
        }
    }
}

#[test]
fn a_fuse_over_1_35_times_its_rating_blows_and_stays_blown() {
    let circuit = library::gt46();
    let fuse = circuit.element_named("main-fuse").unwrap();
    let run = library::condition(&circuit, &[("key", "run")]);
    let short = kelvok_core::circuit::parse_change(&circuit, "w20=ground").unwrap();
    let point =
        kelvok_core::circuit::operating_point(&circuit, &run, Relays::default(), &[short], &[]);
    assert_eq!(point.blown, [fuse]);
    assert_eq!(point.amps[fuse.index()], 0.0);
    assert!(matches!(circuit.element(fuse).kind, ElementKind::Fuse { rating: Some(20.0) }));
}
