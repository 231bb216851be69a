//! Every machine in every condition with 200 faults drawn at random: the currents add up, and a
//! dense LU of a general linear-algebra crate finds the same volts.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, Condition, ElementKind, Engine, NodeId, Relays, Setting, Solved, Solver,
    every_condition, single_faults,
};
use kelvok_core::machine::LIBRARY;
use library::dice::Dice;
use nalgebra::{DMatrix, DVector};
use std::thread;

const FAULTS: usize = 200;

#[derive(Default)]
struct Worst {
    amps: f64,
    volts: f64,
    points: usize,
}

/// What conducts and what drives, as the solver left it: two nodes, siemens, and volts of its own
/// that push from the first to the second.
fn branches(
    circuit: &Circuit,
    solver: &Solver<'_>,
    setting: &Setting,
) -> Vec<(NodeId, NodeId, f64, f64)> {
    let own = circuit.elements().map(|(id, e)| {
        let volts = match e.kind {
            ElementKind::Source { .. } | ElementKind::Winding { .. } => setting.volts(id),
            ElementKind::Diode { .. } => -setting.volts(id),
            _ => 0.0,
        };
        (e.a, e.b, solver.lane(0).siemens(id), volts)
    });
    let added = setting.added().map(|(a, b, siemens)| (a, b, siemens, 0.0));
    own.chain(added).filter(|(_, _, siemens, _)| *siemens > 0.0).collect()
}

fn dense(branches: &[(NodeId, NodeId, f64, f64)], pieces: &[u16]) -> Vec<f64> {
    // Row by node; those that float, and the reference, have none.
    let mut rows = vec![None; pieces.len()];
    let mut size = 0;
    for (n, piece) in pieces.iter().enumerate().skip(1) {
        if *piece == 0 {
            rows[n] = Some(size);
            size += 1;
        }
    }
    let mut matrix = DMatrix::<f64>::zeros(size, size);
    let mut right = DVector::<f64>::zeros(size);
    for (a, b, siemens, volts) in branches {
        let amps = siemens * volts;
        for (one, other, amps) in [(a, b, -amps), (b, a, amps)] {
            let Some(row) = rows[one.index()] else { continue };
            matrix[(row, row)] += siemens;
            right[row] += amps;
            if let Some(column) = rows[other.index()] {
                matrix[(row, column)] -= siemens;
            }
        }
    }
    let solved = matrix.lu().solve(&right).expect("regular");
    rows.iter().map(|row| row.map_or(0.0, |r| solved[r])).collect()
}

fn look(circuit: &Circuit, condition: &Condition, fault: Change, worst: &mut Worst) {
    let setting = Setting::new(circuit, condition).with(circuit, &[fault]);
    let mut solver: Solver<'_> = Solver::for_changes(circuit, &[fault]);
    solver.solve(&[&setting], &[Relays::default()]);
    let branches = branches(circuit, &solver, &setting);
    let mut sum = vec![0.0; circuit.node_count()];
    for (a, b, siemens, volts) in &branches {
        let amps = siemens * (solver.volts(0, *a) - solver.volts(0, *b) + volts);
        sum[a.index()] -= amps;
        sum[b.index()] += amps;
    }
    worst.amps = sum.iter().skip(1).fold(worst.amps, |most, amps| amps.abs().max(most));
    let pieces = solver.pieces(0);
    let other = dense(&branches, &pieces);
    for n in 1..circuit.node_count() {
        if pieces[n] == 0 {
            let off = (other[n] - solver.volts(0, NodeId(n as u16))).abs();
            worst.volts = worst.volts.max(off);
        }
    }
    worst.points += 1;
}

fn look_at(name: &str) -> Worst {
    let circuit = library::circuit(name);
    let faults = single_faults(&circuit);
    let mut dice = Dice(name.len() as u64);
    let drawn: Vec<_> = (0..FAULTS)
        .map(|_| {
            let fault = faults[dice.roll(faults.len())];
            fault.at(fault.magnitudes()[dice.roll(fault.magnitudes().len())])
        })
        .collect();
    let mut worst = Worst::default();
    for condition in every_condition(&circuit) {
        for fault in &drawn {
            let engine = Engine::ALL[dice.roll(4)];
            let condition = Condition { engine, ..condition.clone() };
            look(&circuit, &condition, *fault, &mut worst);
        }
    }
    worst
}

#[test]
fn currents_add_up_and_a_dense_lu_agrees() {
    thread::scope(|scope| {
        let all: Vec<_> = LIBRARY
            .iter()
            .map(|machine| (machine.name, scope.spawn(|| look_at(machine.name))))
            .collect();
        for (name, worst) in all {
            let worst = worst.join().expect("looked at");
            println!("{name}: {} points, {:e} A, {:e} V", worst.points, worst.amps, worst.volts);
            assert!(worst.points > FAULTS, "{name}");
            assert!(worst.amps < 1e-9, "{name}: currents miss by {} A", worst.amps);
            assert!(worst.volts < 1e-6, "{name}: volts differ by {}", worst.volts);
        }
    });
}
