//! What every element of the machine carries: at its worst in all conditions that can occur.

use crate::circuit::{Circuit, Condition, Engine, Relays, Setting, Solver};
use crate::interlock::Judge;

/// Of more conditions than this only those nearest to the parked machine are solved.
pub(super) const MOST_CONDITIONS: usize = 10_000;

/// Amperes, and where they are reached.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Load {
    pub amps: f64,
    pub condition: Condition,
}

/// The most that something carries.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Carried {
    /// In conditions that may last all day ...
    pub lasting: Option<Load>,
    /// ... and in those that last while a key is held against its spring.
    pub moment: Option<Load>,
}

impl Carried {
    pub(super) fn take(&mut self, amps: f64, condition: &Condition, moment: bool) {
        let slot = if moment { &mut self.moment } else { &mut self.lasting };
        let least = slot.as_ref().map_or(LEAST_AMPS, |most| most.amps);
        if amps > least * SAME {
            *slot = Some(Load { amps, condition: condition.clone() });
        }
    }
}

/// Under so many amperes nothing is carried.
const LEAST_AMPS: f64 = 0.01;
/// Conditions that differ by less are alike: the first is named, with the fewest controls moved.
const SAME: f64 = 1.001;

/// One condition, solved.
pub(super) struct Solved<'s, 'c> {
    pub solver: &'s Solver<'c>,
    pub condition: &'s Condition,
    /// A key is held against its spring.
    pub moment: bool,
}

/// Solves the sound machine in every condition that can occur, parked ones first, with the engine standing
/// and, where it keeps running, running.
pub(super) fn in_every_condition(circuit: &Circuit, mut take: impl FnMut(&Solved<'_, '_>)) {
    let mut conditions = crate::circuit::by_moves(circuit, &Condition::at_rest(circuit));
    conditions.truncate(MOST_CONDITIONS);
    let running = |c: &Condition| Condition { engine: Engine::Running, ..c.clone() };
    let mut judge = Judge::new(circuit, &[]);
    let runs: Vec<_> =
        judge.behavior_in_each(&conditions).into_iter().map(|behavior| behavior.runs).collect();
    let held = held_for_a_moment(circuit);
    let mut solver: Solver<'_> = Solver::new(circuit);
    for (parked, runs) in conditions.iter().zip(runs) {
        for condition in [Some(parked.clone()), runs.then(|| running(parked))].into_iter().flatten()
        {
            let moment = held.iter().any(|(control, at)| condition.positions[*control] == *at);
            // Nobody holds the key at start with the engine running.
            if moment && condition.engine != Engine::Stopped {
                continue;
            }
            let relays = match condition.engine {
                Engine::Stopped => Relays::default(),
                _ => judge.relays_in(&condition),
            };
            solver.solve(&[&Setting::new(circuit, &condition)], &[relays]);
            if solver.chatter(0).is_empty() {
                take(&Solved { solver: &solver, condition: &condition, moment });
            }
        }
    }
}

/// Positions that spring back, and in which nobody holds anything while the machine works: a key at start, and
/// not the bail of a mower.
fn held_for_a_moment(circuit: &Circuit) -> Vec<(usize, u8)> {
    let worked: Vec<_> =
        circuit.normal_use().into_iter().filter(|c| c.engine >= Engine::Running).collect();
    let mut held = Vec::new();
    for (control, c) in circuit.controls.iter().enumerate() {
        for (at, position) in c.positions.iter().enumerate() {
            let springs = position.returns_to.is_some();
            let at = at as u8;
            // Where nobody said how it works, whatever springs back is let go.
            let let_go = |used: &Condition| used.positions[control] != at;
            if springs && (worked.is_empty() || worked.iter().any(let_go)) {
                held.push((control, at));
            }
        }
    }
    held
}
