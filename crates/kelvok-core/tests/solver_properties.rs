//! What must hold of any operating point, whatever the machine, condition and faults.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, Condition, ElementId, ElementKind, Lanes, NodeId, Relays, Setting, Solver,
    every_condition, single_faults,
};
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

static WORLDS: LazyLock<[World; 2]> =
    LazyLock::new(|| [world(library::r1()), world(library::gt46())]);

/// A machine, a condition and up to two faults.
fn situation() -> impl Strategy<Value = (usize, usize, Vec<usize>)> {
    (
        0..2usize,
        any::<prop::sample::Index>(),
        prop::collection::vec(any::<prop::sample::Index>(), 0..3),
    )
        .prop_map(|(m, condition, faults)| {
            let world = &WORLDS[m];
            let faults = faults.iter().map(|f| f.index(world.faults.len())).collect();
            (m, condition.index(world.conditions.len()), faults)
        })
}

fn setting(m: usize, condition: usize, faults: &[usize]) -> Setting {
    let world = &WORLDS[m];
    let changes: Vec<_> = faults.iter().map(|f| world.faults[*f]).collect();
    Setting::new(&world.circuit, &world.conditions[condition]).with(&world.circuit, &changes)
}

/// Amperes that a short to ground takes out of each node.
fn short_amps(world: &World, faults: &[usize], solver: &Solver<'_>) -> Vec<f64> {
    let mut out = vec![0.0; world.circuit.node_count()];
    for f in faults {
        if let Change::ShortToGround(node, ohms) = world.faults[*f] {
            out[node.index()] += solver.volts(0, node) / ohms;
        }
    }
    out
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(600))]

    #[test]
    fn currents_into_every_node_add_up_to_nothing((m, c, faults) in situation()) {
        let world = &WORLDS[m];
        let mut solver: Solver<'_> = Solver::new(&world.circuit);
        solver.solve(&[&setting(m, c, &faults)], &[Relays::default()]);
        let mut sum: Vec<f64> = short_amps(world, &faults, &solver).iter().map(|a| -a).collect();
        for (id, e) in world.circuit.elements() {
            let amps = solver.amps(0, id);
            sum[e.a.index()] -= amps;
            sum[e.b.index()] += amps;
        }
        for (node, amps) in sum.iter().enumerate().skip(1) {
            prop_assert!(amps.abs() < 1e-6, "node {node}: {amps} A");
        }
    }

    #[test]
    fn power_given_is_power_used((m, c, faults) in situation()) {
        let world = &WORLDS[m];
        let mut solver: Solver<'_> = Solver::new(&world.circuit);
        let setting = setting(m, c, &faults);
        solver.solve(&[&setting], &[Relays::default()]);
        let shorts = short_amps(world, &faults, &solver);
        let mut balance: f64 = shorts
            .iter()
            .enumerate()
            .map(|(n, amps)| amps * solver.volts(0, NodeId(n as u16)))
            .sum();
        let mut largest = 1.0f64;
        for (id, e) in world.circuit.elements() {
            let watts = solver.amps(0, id) * (solver.volts(0, e.a) - solver.volts(0, e.b));
            largest = largest.max(watts.abs());
            balance += watts;
        }
        prop_assert!(balance.abs() < 1e-7 * largest, "{balance} W of {largest} W");
    }

    #[test]
    fn eight_at_a_time_is_the_same_as_one_at_a_time(all in prop::collection::vec(situation(), 1..9)) {
        let m = all[0].0;
        let circuit = &WORLDS[m].circuit;
        let settings: Vec<_> = all
            .iter()
            .map(|(_, c, faults)| {
                let world = &WORLDS[m];
                let faults: Vec<_> = faults.iter().map(|f| f % world.faults.len()).collect();
                setting(m, c % world.conditions.len(), &faults)
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
        // R1 has no diode; its power is off with the battery open.
        let world = &WORLDS[0];
        let circuit = &world.circuit;
        let off = Change::Open(circuit.element_named("battery").unwrap());
        let fault = *fault.get(&world.faults);
        let setting = Setting::new(circuit, c.get(&world.conditions)).with(circuit, &[fault, off]);
        let mut solver: Solver<'_> = Solver::new(circuit);
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
        let world = &WORLDS[0];
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
