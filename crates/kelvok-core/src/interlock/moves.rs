//! The fewest control moves that complete a circuit.

use super::Track;
use crate::circuit::{Circuit, Condition, Relays, Setting, Solver, every_condition};

/// The condition nearest to this one, by controls moved, in which a sound machine completes the
/// track; the same condition if it does already. `None` if none does.
///
/// Looks at every condition that can occur: O(conditions) solves.
pub fn nearest_complete(circuit: &Circuit, track: &Track, from: &Condition) -> Option<Condition> {
    let mut solver: Solver<'_> = Solver::new(circuit);
    let moved =
        |c: &Condition| c.positions.iter().zip(&from.positions).filter(|(a, b)| a != b).count();
    let mut conditions = every_condition(circuit);
    conditions.sort_by_key(moved);
    conditions.into_iter().find(|condition| {
        solver.solve(&[&Setting::new(circuit, condition)], &[Relays::default()]);
        track.complete(&|element| solver.conducts(0, element))
    })
}
