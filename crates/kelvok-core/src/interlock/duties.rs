//! Duties proved, or the conditions listed in which they are broken.

use super::Judge;
use crate::circuit::{Circuit, Condition, Engine, Step, every_condition};
use crate::machine::{Duty, PartKind, Shall};
use std::collections::HashMap;

/// What became of one duty.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct DutyProof {
    /// Index into the document's duties.
    pub duty: usize,
    /// In how many conditions it came up; none means that it never does.
    pub checked: usize,
    /// The conditions in which it came up and was not done.
    pub broken: Vec<Condition>,
}

impl DutyProof {
    /// Whether it came up at all, and was done every time.
    pub fn proved(&self) -> bool {
        self.checked > 0 && self.broken.is_empty()
    }
}

/// Seconds after which whatever shall happen has happened, if the duty does not say.
const LONG_ENOUGH: f64 = 60.0;
/// Seconds an operator is away before coming back.
const AWAY: f64 = 5.0;

/// Checks every duty in every condition that it speaks of.
///
/// Duties about something that the operator does are worked as a sequence where the machine has
/// delays or relays that seal themselves in, else read off the condition that results.
pub fn prove_duties(judge: &mut Judge<'_>) -> Vec<DutyProof> {
    let circuit = judge.circuit();
    let conditions = every_condition(circuit);
    let mut prover = Prover {
        history: has_history(circuit),
        judge,
        conditions,
        seen: HashMap::new(),
        cranks: HashMap::new(),
    };
    let duties = circuit.document().duties.iter().enumerate();
    duties.map(|(i, duty)| prover.prove(i, duty)).collect()
}

/// Whether what the machine does may depend on more than where its controls stand.
fn has_history(circuit: &Circuit) -> bool {
    circuit.contacts.iter().any(|c| c.timing.is_some())
        || circuit
            .document()
            .parts
            .iter()
            .any(|p| matches!(p.kind, PartKind::Relay | PartKind::PresenceModule))
}

/// Whether the engine runs and whether the blades turn.
#[derive(Clone, Copy, PartialEq, Eq)]
struct Turning {
    runs: bool,
    blades: bool,
}

struct Prover<'j, 'c> {
    judge: &'j mut Judge<'c>,
    conditions: Vec<Condition>,
    history: bool,
    /// What was found of conditions with the engine running.
    seen: HashMap<Vec<u8>, Turning>,
    /// In which conditions it cranks, as far as asked.
    cranks: HashMap<Vec<u8>, bool>,
}

impl Prover<'_, '_> {
    fn prove(&mut self, index: usize, duty: &Duty) -> DutyProof {
        let mut proof = DutyProof { duty: index, checked: 0, broken: Vec::new() };
        let circuit = self.judge.circuit();
        let Ok(from) = circuit.expression(&duty.from) else {
            return proof;
        };
        let standing = matches!(duty.shall, Shall::NotCrank | Shall::Start);
        let engine = if standing { Engine::Stopped } else { Engine::Running };
        let spoken_of = |c: &Condition| Condition { engine, ..c.clone() };
        let conditions: Vec<_> =
            self.conditions.iter().map(spoken_of).filter(|c| circuit.holds(&from, c)).collect();
        for condition in conditions {
            match self.done(duty, &condition) {
                None => {}
                Some(true) => proof.checked += 1,
                Some(false) => {
                    proof.checked += 1;
                    proof.broken.push(condition);
                }
            }
        }
        proof
    }

    /// Whether the duty is done in a condition; `None` if it does not come up there.
    fn done(&mut self, duty: &Duty, condition: &Condition) -> Option<bool> {
        match duty.shall {
            Shall::NotCrank => return Some(!self.cranks(condition)),
            Shall::Start => return Some(self.judge.behavior(condition).starts),
            _ => {}
        }
        let before = self.turning(condition);
        let comes_up = match duty.shall {
            Shall::StopEngine | Shall::KeepRunning => before.runs,
            _ => before.runs && before.blades,
        };
        if !comes_up {
            return None;
        }
        let circuit = self.judge.circuit();
        let mut changed = condition.clone();
        for (control, position) in &duty.change {
            changed.set(circuit, control, position).ok()?;
        }
        if !circuit.can_occur(&changed) {
            return None;
        }
        let after = match duty.shall {
            Shall::NotRestartBlades => self.back_again(condition, &changed),
            _ if self.history => self.after(condition, &changed, duty.within),
            _ => self.turning(&changed),
        };
        Some(match duty.shall {
            Shall::StopEngine => !after.runs,
            Shall::StopBlades | Shall::NotRestartBlades => !after.blades,
            Shall::StopEngineOrBlades => !after.runs || !after.blades,
            _ => after.runs,
        })
    }

    fn cranks(&mut self, condition: &Condition) -> bool {
        if let Some(cranks) = self.cranks.get(&condition.positions) {
            return *cranks;
        }
        let cranks = self.judge.cranks(condition);
        self.cranks.insert(condition.positions.clone(), cranks);
        cranks
    }

    fn turning(&mut self, condition: &Condition) -> Turning {
        if let Some(seen) = self.seen.get(&condition.positions) {
            return *seen;
        }
        let (outcome, _) = self.judge.outcome(condition, self.judge.running_relays());
        let runs = self.judge.circuit().runs(condition, &outcome);
        let turning =
            Turning { runs, blades: runs && self.judge.circuit().blades(condition, &outcome) };
        self.seen.insert(condition.positions.clone(), turning);
        turning
    }

    /// At the end of the time allowed after the controls were moved.
    fn after(&self, from: &Condition, to: &Condition, within: Option<f64>) -> Turning {
        let hold = within.unwrap_or(LONG_ENOUGH);
        self.last(from, &[Step { moves: moves(from, to), engine: None, hold }])
    }

    /// The operator is away for a while and comes back. An engine that stopped meanwhile is not
    /// started again by that.
    fn back_again(&self, from: &Condition, to: &Condition) -> Turning {
        let away = Step { moves: moves(from, to), engine: None, hold: AWAY };
        let back = Step { moves: moves(to, from), engine: None, hold: AWAY };
        if !self.last(from, std::slice::from_ref(&away)).runs {
            return Turning { runs: false, blades: false };
        }
        self.last(from, &[away, back])
    }

    fn last(&self, from: &Condition, steps: &[Step]) -> Turning {
        let moments = self.judge.begin(from, self.judge.running_relays()).run(steps);
        moments.last().map_or(Turning { runs: false, blades: false }, |moment| {
            let (condition, outcome) = (&moment.condition, &moment.point.outcome);
            let runs = self.judge.circuit().runs(condition, outcome);
            Turning { runs, blades: runs && self.judge.circuit().blades(condition, outcome) }
        })
    }
}

fn moves(from: &Condition, to: &Condition) -> Vec<(usize, u8)> {
    let pairs = from.positions.iter().zip(&to.positions).enumerate();
    pairs.filter(|(_, (a, b))| a != b).map(|(i, (_, b))| (i, *b)).collect()
}
