//! How a condition with the engine running is come to: started where it starts, then control by control.

use super::step::{Act, Step, may_move, may_stand};
use crate::circuit::{Circuit, Condition, Engine, every_condition, one_move_away};
use crate::diagnosis::{key_controls, key_is_held};
use crate::interlock::{Judge, Turning};
use std::cmp::Reverse;
use std::collections::{BinaryHeap, HashMap};

/// Ways through the conditions in which the machine as it should be keeps running.
pub(super) struct Routes<'c> {
    circuit: &'c Circuit,
    running: HashMap<Vec<u8>, Turning>,
    /// Where the engine is started, nearest to how the machine is parked; and how it stands once the key was
    /// let go.
    start: Option<(Condition, Condition)>,
}

/// A move of a control, and of one that makes the blades turn: as late as can be.
const MOVE: u32 = 10;
const UNDER_BLADES: u32 = 3;

impl<'c> Routes<'c> {
    pub fn of(circuit: &'c Circuit, judge: &mut Judge<'_>) -> Self {
        let all = every_condition(circuit);
        let does = judge.behavior_in_each(&all);
        let rest = Condition::at_rest(circuit);
        let away = |c: &Condition| moves(&c.positions, &rest.positions);
        let starts = all.iter().zip(&does).filter(|(c, b)| b.starts && may_stand(circuit, c));
        let starts = starts.map(|(c, _)| c);
        let start = starts.min_by_key(|c| away(c)).map(|at| (at.clone(), let_go(circuit, at)));
        let held = |c: &Condition| key_is_held(circuit, c);
        let running = all.iter().zip(&does).filter(|(c, b)| b.runs && !held(c));
        let running =
            running.map(|(c, b)| (c.positions.clone(), Turning { runs: true, blades: b.blades }));
        Self { circuit, running: running.collect(), start }
    }

    /// Whether a step can be come to.
    pub fn reaches(&self, step: &Step) -> bool {
        let started = || self.start.as_ref().and_then(|(_, s)| self.between(s, &step.from));
        step.act == Act::Crank || started().is_some()
    }

    /// Where the engine is started and how the machine stands then.
    pub fn start(&self) -> Option<&(Condition, Condition)> {
        self.start.as_ref()
    }

    /// How the controls stand once the key was let go.
    pub fn let_go(&self, at: &Condition) -> Condition {
        let_go(self.circuit, at)
    }

    /// The conditions on the way from one that runs to another, the last one included, control by control;
    /// none where it would stop on every way.
    pub fn between(&self, from: &Condition, to: &Condition) -> Option<Vec<Condition>> {
        let runs = |c: &Condition| self.running.contains_key(&c.positions);
        if !runs(from) || !runs(to) {
            return None;
        }
        let mut best: HashMap<Vec<u8>, (u32, Option<Vec<u8>>)> = HashMap::new();
        let mut next = BinaryHeap::from([Reverse((0, from.positions.clone()))]);
        best.insert(from.positions.clone(), (0, None));
        while let Some(Reverse((cost, here))) = next.pop() {
            if here == to.positions {
                break;
            }
            if best.get(&here).is_some_and(|(known, _)| *known < cost) {
                continue;
            }
            let condition = Condition { positions: here.clone(), engine: Engine::Running };
            for there in one_move_away(self.circuit, &condition) {
                let Some(turning) = self.running.get(&there.positions) else { continue };
                if !may_move(self.circuit, &condition, &there) {
                    continue;
                }
                let cost = cost + MOVE + if turning.blades { UNDER_BLADES } else { 0 };
                let known = best.get(&there.positions).map(|(c, _)| *c);
                if known.is_none_or(|known| cost < known) {
                    best.insert(there.positions.clone(), (cost, Some(here.clone())));
                    next.push(Reverse((cost, there.positions)));
                }
            }
        }
        let mut way = Vec::new();
        let mut here = to.positions.clone();
        loop {
            let (_, before) = best.get(&here)?;
            let Some(before) = before.clone() else { break };
            way.push(Condition { positions: here, engine: Engine::Running });
            here = before;
        }
        way.reverse();
        Some(way)
    }
}

/// How many controls stand otherwise.
pub(super) fn moves(a: &[u8], b: &[u8]) -> usize {
    a.iter().zip(b).filter(|(a, b)| a != b).count()
}

/// The key springs back.
pub(super) fn let_go(circuit: &Circuit, at: &Condition) -> Condition {
    let mut after = Condition { engine: Engine::Running, ..at.clone() };
    for key in key_controls(circuit) {
        let control = &circuit.controls[key];
        let back = control.positions[usize::from(at.positions[key])].returns_to.as_deref();
        let back = back.and_then(|b| control.positions.iter().position(|p| p.id == b));
        if let Some(back) = back {
            after.positions[key] = back as u8;
        }
    }
    after
}
