//! Why it does not crank, does not run, does not cut: the contacts and ways that are the reason.

use super::Judge;
use super::ladder::Ladder;
use super::moves::blocked_by;
use crate::circuit::{
    Actuator, Circuit, Condition, Crank, ElementId, ElementKind, Engine, NodeId, Relays, Resolved,
    Solver, Spark,
};
use crate::machine::{EnergizedTo, PartKind};

/// One reason.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Reason {
    /// A kill lead reaches its ground through these contacts, rung by rung.
    Grounded { module: ElementId, rungs: Vec<Vec<ElementId>> },
    /// A module that fires grounded is not grounded: these contacts block it.
    NotGrounded { module: ElementId, blocked_by: Vec<ElementId> },
    /// A coil, a solenoid, a clutch is not fed: these contacts block its feed or its return.
    Unfed { load: ElementId, blocked_by: Vec<ElementId> },
    /// A stop solenoid is fed, through these contacts.
    StopFed { load: ElementId },
    /// Something mechanical is against it: a stop knob pulled out.
    Mechanical,
}

/// What is asked about.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Asked {
    Cranks,
    Runs,
    Blades,
}

/// The reasons why the machine does not, in this condition, do what is asked about; empty if it
/// does. Asked about cranking the engine stands; about running and blades it runs.
pub fn reasons(judge: &mut Judge<'_>, condition: &Condition, asked: Asked) -> Vec<Reason> {
    let circuit = judge.circuit();
    let engine = if asked == Asked::Cranks { Engine::Stopped } else { Engine::Running };
    let relays = if asked == Asked::Cranks { Relays::default() } else { judge.running_relays() };
    let condition = Condition { engine, ..condition.clone() };
    let setting = judge.setting(&condition);
    let mut solver: Solver<'_> = Solver::for_changes(circuit, judge.changes());
    solver.solve(&[&setting], &[relays]);
    let outcome = crate::circuit::Outcome::of(circuit, &solver.lane(0), &setting);
    let ask = Ask { circuit, solver: &solver };
    let mut found = Vec::new();
    match asked {
        Asked::Cranks => {
            if outcome.crank != Crank::Yes {
                found.extend(ask.unfed_coils(&[PartKind::Solenoid]));
            }
        }
        Asked::Runs => {
            if !judge.circuit().runs(&condition, &outcome) {
                if outcome.spark.iter().all(|s| *s == Spark::Killed) {
                    found.extend(ask.sparks());
                }
                if outcome.fuel == Some(false) {
                    found.extend(ask.fuel());
                }
                if found.is_empty() {
                    found.push(Reason::Mechanical);
                }
            }
        }
        Asked::Blades => {
            if !judge.circuit().blades(&condition, &outcome) {
                found.extend(ask.unfed_loads(&[PartKind::Clutch]));
            }
        }
    }
    found
}

struct Ask<'a> {
    circuit: &'a Circuit,
    solver: &'a Solver<'a>,
}

impl Ask<'_> {
    fn kind(&self, id: ElementId) -> Option<PartKind> {
        self.circuit.element(id).part.map(|p| self.circuit.part(p).kind)
    }

    fn sparks(&self) -> Vec<Reason> {
        let mut reasons = Vec::new();
        for (id, e) in self.circuit.elements() {
            match (e.kind, self.kind(id)) {
                (ElementKind::KillPort, _) => {
                    let part = e.part.map(|p| self.circuit.part(p));
                    let grounded = part.and_then(|p| p.fires).unwrap_or_default();
                    reasons.extend(match grounded {
                        crate::machine::Fires::Open => self.grounded(id, (e.a, e.b)),
                        crate::machine::Fires::Grounded => self
                            .blocked((e.a, e.b))
                            .map(|blocked_by| Reason::NotGrounded { module: id, blocked_by }),
                    });
                }
                (ElementKind::Load, Some(PartKind::IgnitionCoil)) => reasons.extend(self.unfed(id)),
                _ => {}
            }
        }
        reasons
    }

    fn grounded(&self, module: ElementId, (lead, ground): (NodeId, NodeId)) -> Option<Reason> {
        let conducts = |e: ElementId| {
            let diode = matches!(self.circuit.element(e).kind, ElementKind::Diode { .. });
            diode || self.solver.conducts(0, e)
        };
        let ladder = Ladder::between(self.circuit, lead, ground);
        let lit = ladder.rungs.into_iter().filter(|r| r.complete(&conducts));
        let rungs: Vec<_> = lit.map(|r| r.contacts).collect();
        (!rungs.is_empty()).then_some(Reason::Grounded { module, rungs })
    }

    fn fuel(&self) -> Vec<Reason> {
        let mut reasons = self.unfed_coils(&[PartKind::FuelSolenoid]);
        reasons.extend(self.unfed_loads(&[PartKind::FuelSolenoid]));
        for (id, e) in self.circuit.elements() {
            let stops = e.part.is_some_and(|p| {
                let part = self.circuit.part(p);
                part.kind == PartKind::FuelSolenoid && part.energized_to == Some(EnergizedTo::Stop)
            });
            if stops {
                reasons.retain(|r| !matches!(r, Reason::Unfed { load, .. } if *load == id));
                reasons.push(Reason::StopFed { load: id });
            }
        }
        reasons
    }

    fn unfed_coils(&self, kinds: &[PartKind]) -> Vec<Reason> {
        let coils = self.circuit.coils.iter().filter(|c| c.assists.is_none());
        let own = coils.filter(|c| self.kind(c.element).is_some_and(|k| kinds.contains(&k)));
        own.filter_map(|c| self.unfed(c.element)).collect()
    }

    fn unfed_loads(&self, kinds: &[PartKind]) -> Vec<Reason> {
        let loads = self.circuit.elements().filter(|(_, e)| e.kind == ElementKind::Load);
        let own = loads.filter(|(id, _)| self.kind(*id).is_some_and(|k| kinds.contains(&k)));
        own.filter_map(|(id, _)| self.unfed(id)).collect()
    }

    /// What blocks a load from a battery, on either side of it. A contact that a coil moves is
    /// followed to what blocks the coil.
    fn unfed(&self, load: ElementId) -> Option<Reason> {
        let mut blocked_by = Vec::new();
        self.follow(load, &mut blocked_by, 0);
        (!blocked_by.is_empty()).then_some(Reason::Unfed { load, blocked_by })
    }

    /// Adds what blocks a load to what is known to; whether anything does.
    fn follow(&self, load: ElementId, blocked: &mut Vec<ElementId>, depth: u32) -> bool {
        let e = self.circuit.element(load);
        let battery =
            self.circuit.elements().find(|(_, e)| matches!(e.kind, ElementKind::Source { .. }));
        let Some((_, battery)) = battery else { return false };
        // The side that is nearer to the feed is fed, the other returns.
        let sides = [(e.a, e.b), (e.b, e.a)].map(|(near, far)| {
            let feed = self.blocked((battery.b, near))?;
            let back = self.blocked((far, battery.a))?;
            Some(feed.into_iter().chain(back).collect::<Vec<_>>())
        });
        let Some(open) = sides.into_iter().flatten().min_by_key(Vec::len) else { return false };
        for id in &open {
            let mut followed = false;
            for coil in self.wanted(*id).into_iter().filter(|_| depth < 4) {
                let coil = self.circuit.coils[coil].element;
                followed |= self.follow(coil, blocked, depth + 1);
            }
            if !followed && !blocked.contains(id) {
                blocked.push(*id);
            }
        }
        !open.is_empty()
    }

    /// The coils, or inputs of a module, that would have to pull for a contact to be made.
    fn wanted(&self, contact: ElementId) -> Vec<usize> {
        let ElementKind::Contact(c) = self.circuit.element(contact).kind else {
            return Vec::new();
        };
        let Actuator::Coils(expression) = &self.circuit.contacts[c].actuator else {
            return Vec::new();
        };
        let relays = self.solver.relays(0);
        let wanted = expression.terms().into_iter().filter_map(|term| match term {
            Resolved::Coil { index, pulled: true } if !relays.pulled(*index) => Some(*index),
            _ => None,
        });
        wanted.collect()
    }

    fn blocked(&self, ends: (NodeId, NodeId)) -> Option<Vec<ElementId>> {
        blocked_by(self.circuit, ends, &|e| self.solver.conducts(0, e))
    }
}
