//! What is tried on the machine, and what is looked at, no meter in the hand.

use super::context::Context;
use super::kill_conditions::sweep_conditions;
use super::safety::key_is_held;
use super::survey::Candidates;
use crate::circuit::{Condition, ElementKind, Engine, Relays, one_move_away, operating_point};
use crate::diagnosis::evidence::{Inspected, Sense, TestAction, lamps};
use crate::diagnosis::faults::Suspects;
use crate::machine::PartKind;
use std::collections::BTreeSet;

impl Candidates<'_> {
    /// What can be tried on the machine, near the complaint and in ordinary use.
    pub(crate) fn tries(&self) -> Vec<Context> {
        let circuit = self.circuit;
        let mut conditions = vec![self.complaint.condition.clone()];
        conditions.extend(circuit.normal_use());
        conditions.extend(self.tracks.iter().filter_map(|t| self.fed(t)));
        if self.complaint.ran {
            // What kills it, one way at a time.
            let running = self.running().unwrap_or_else(|| self.standing.clone());
            for ladder in &self.ladders {
                let each = sweep_conditions(circuit, ladder, &running);
                let running = each.into_iter().map(|c| Condition { engine: Engine::Running, ..c });
                conditions.extend(running);
            }
        }
        let near: Vec<_> = [&self.complaint.condition]
            .into_iter()
            .chain(&conditions)
            .flat_map(|c| one_move_away(circuit, c))
            .collect();
        conditions.extend(near);
        conditions.extend(self.complaint.before.iter().cloned());
        let mut seen = BTreeSet::new();
        // Nobody turns the key to start on an engine that runs.
        let restarts = |c: &Condition| c.engine >= Engine::Running && key_is_held(circuit, c);
        conditions.retain(|c| !restarts(c) && seen.insert(c.clone()));
        let lamps = lamps(circuit).count();
        let starts = !circuit.document().drive.recoil;
        let clutch = circuit.document().parts.iter().any(|p| p.kind == PartKind::Clutch);
        let coupled = clutch || circuit.document().drive.blades_when.is_some();
        let mut all = Vec::new();
        for condition in conditions {
            let mut actions = Vec::new();
            match condition.engine {
                Engine::Stopped => {
                    actions.extend(starts.then_some(Sense::Starter));
                    actions.extend(clutch.then_some(Sense::Blades));
                    actions.extend((0..lamps).map(Sense::Lamp));
                }
                Engine::Cranking if self.complaint.cranked && self.turns(&condition) => {
                    actions.push(Sense::Engine);
                }
                Engine::Running if self.complaint.ran => {
                    actions.push(Sense::Engine);
                    actions.extend(coupled.then_some(Sense::Blades));
                    // Nobody watches a lamp while the engine dies.
                    if lamps > 0 && self.runs_on(&condition) {
                        actions.extend((0..lamps).map(Sense::Lamp));
                    }
                }
                _ => continue,
            }
            let actions = actions.into_iter().map(TestAction::Try).collect();
            all.push(self.context(&condition, vec![], actions));
        }
        all
    }

    /// Whether a good machine's engine turns, by its starter or its rope.
    fn turns(&self, condition: &Condition) -> bool {
        let sound = operating_point(self.circuit, condition, Relays::default(), &[], &[]);
        self.circuit.turns(condition, &sound.outcome)
    }

    /// Whether a good machine that runs goes on running.
    fn runs_on(&self, condition: &Condition) -> bool {
        let sound = operating_point(self.circuit, condition, Relays::default(), &[], &[]);
        self.circuit.runs(condition, &sound.outcome)
    }

    /// The walk-round: what can be seen and felt with everything off.
    pub(crate) fn looks(&self, suspects: &Suspects) -> Context {
        let circuit = self.circuit;
        let mut looks = BTreeSet::new();
        for suspect in suspects.list.iter().skip(1) {
            for (fault, element) in suspect.faults.iter().zip(&suspect.elements) {
                if let Some(plunger) = fault.plunger() {
                    looks.insert(Inspected::Linkage(plunger));
                    continue;
                }
                let e = circuit.element(*element);
                looks.extend(match (e.kind, e.part, e.wire) {
                    (ElementKind::Fuse { .. }, ..) => Some(Inspected::Fuse(*element)),
                    (ElementKind::Ground, ..) => Some(Inspected::Lug(*element)),
                    (ElementKind::Wire, None, Some(wire)) => Some(Inspected::Wire(wire)),
                    (ElementKind::Joint, Some(part), _)
                        if circuit.part(part).kind == PartKind::Connector =>
                    {
                        Some(Inspected::Plug(part))
                    }
                    _ => None,
                });
            }
        }
        self.context(&self.dead, vec![], looks.into_iter().map(TestAction::Look).collect())
    }
}
