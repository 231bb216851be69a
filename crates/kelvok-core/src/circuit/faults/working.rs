//! What the sound machine's parts carry at work, and from which size a bad joint matters there.

use crate::circuit::model::{Circuit, Condition, every_condition};
use crate::circuit::solve::{Relays, Setting, Solver};
use crate::machine::Engine;

/// Ohms that stand for equal stretches of a logarithmic scale: from a joint that is felt only where a
/// starter draws through it, to one that hardly conducts. Each is the middle of its stretch.
pub(crate) const SERIES_OHMS: [f64; 11] =
    [0.0017, 0.0053, 0.017, 0.053, 0.17, 0.53, 1.7, 5.3, 17.0, 53.0, 170.0];
/// Half a stretch, as a factor: the fourth root of ten.
const HALF_A_STRETCH: f64 = 1.778;
/// From here on it matters wherever it is: the smallest relay's coil, the lamp of a dash.
const MATTERS_ANYWHERE: usize = 5;

/// Resistance in series matters from where it loses so many volts: 2 % of twelve.
const FELT_VOLTS: f64 = 0.24;

/// Every load is at work within so many moves of the parked machine.
const MOST_MOVES: usize = 3;

/// The greatest current of each element of the sound machine, in amperes.
fn working_amps(circuit: &Circuit) -> Vec<f64> {
    let rest = Condition::at_rest(circuit);
    let moves =
        |c: &Condition| c.positions.iter().zip(&rest.positions).filter(|(a, b)| a != b).count();
    let mut solver: Solver<'_> = Solver::new(circuit);
    let mut most = vec![0.0f64; circuit.elements().count()];
    for parked in every_condition(circuit).into_iter().filter(|c| moves(c) <= MOST_MOVES) {
        for engine in [Engine::Stopped, Engine::Running] {
            let condition = Condition { engine, ..parked.clone() };
            solver.solve(&[&Setting::new(circuit, &condition)], &[Relays::default()]);
            for ((id, _), most) in circuit.elements().zip(&mut most) {
                *most = most.max(solver.amps(0, id).abs());
            }
        }
    }
    most
}

/// By element, the first of [`SERIES_OHMS`] that is felt in series with it.
pub(super) fn first_felt(circuit: &Circuit) -> Vec<usize> {
    let felt = |amps: f64| {
        let first = SERIES_OHMS.iter().position(|o| o * HALF_A_STRETCH * amps > FELT_VOLTS);
        first.map_or(MATTERS_ANYWHERE, |first| first.min(MATTERS_ANYWHERE))
    };
    working_amps(circuit).into_iter().map(felt).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::circuit::model::ElementKind;
    use crate::machine::{LIBRARY, Machine, PartKind};

    #[test]
    fn milliohms_matter_where_a_starter_draws_and_nowhere_else() {
        for shipped in LIBRARY {
            let circuit = Circuit::compile(&Machine::read(shipped.text).expect("sound"));
            let first = first_felt(&circuit);
            for (id, e) in circuit.elements() {
                let ohms = SERIES_OHMS[first[id.index()]];
                let starter = e.part.is_some_and(|p| circuit.part(p).kind == PartKind::Starter);
                let cable = ["pos-clamp.lug", "neg-clamp.lug"].contains(&e.id.as_str());
                if starter || cable {
                    assert!(ohms < 0.006, "{}: {} from {ohms}", shipped.name, e.id);
                }
                let kill = matches!(e.kind, ElementKind::KillPort);
                if kill || matches!(e.kind, ElementKind::Coil(_)) && e.ohms > 60.0 {
                    assert_eq!(ohms, 0.53, "{}: {}", shipped.name, e.id);
                }
            }
        }
    }
}
