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
    let mut tried = TriedDuties::on(judge);
    let duties = circuit.document().duties.iter().enumerate();
    let proofs = duties.map(|(index, duty)| {
        let mut proof = DutyProof { duty: index, checked: 0, broken: Vec::new() };
        for condition in spoken_of(circuit, duty) {
            match tried.seen(duty, &condition).and_then(|seen| seen.does(duty.shall)) {
                None => {}
                Some(true) => proof.checked += 1,
                Some(false) => {
                    proof.checked += 1;
                    proof.broken.push(condition);
                }
            }
        }
        proof
    });
    proofs.collect()
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
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[allow(missing_docs)]
pub struct Turning {
    pub runs: bool,
    pub blades: bool,
}

/// What a person sees who tries a duty in one condition.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[allow(missing_docs)]
pub enum DutySeen {
    /// The controls stand so and nothing runs.
    Cranked(bool),
    /// The same where it is to start.
    Started { cranks: bool, starts: bool },
    /// The engine ran, something was moved; `after` is none where it did not come so far.
    Moved { before: Turning, after: Option<Turning> },
}

impl DutySeen {
    /// Whether what shall be was done; none where the duty did not come up.
    pub fn does(self, shall: Shall) -> Option<bool> {
        let after = match self {
            Self::Cranked(cranks) => return Some(!cranks),
            Self::Started { starts, .. } => return Some(starts),
            Self::Moved { after, .. } => after?,
        };
        Some(match shall {
            Shall::StopEngine => !after.runs,
            Shall::StopBlades | Shall::NotRestartBlades => !after.blades,
            Shall::StopEngineOrBlades => !after.runs || !after.blades,
            _ => after.runs,
        })
    }
}

/// The conditions that a duty speaks of, those without an engine that runs where it is about standing.
pub(crate) fn spoken_of(circuit: &Circuit, duty: &Duty) -> Vec<Condition> {
    let Ok(from) = circuit.expression(&duty.from) else { return Vec::new() };
    let standing = matches!(duty.shall, Shall::NotCrank | Shall::Start);
    let engine = if standing { Engine::Stopped } else { Engine::Running };
    let all = every_condition(circuit).into_iter().map(|c| Condition { engine, ..c });
    all.filter(|c| circuit.holds(&from, c)).collect()
}

/// The condition that a duty's change makes of one, if it can occur.
pub(crate) fn changed(circuit: &Circuit, duty: &Duty, from: &Condition) -> Option<Condition> {
    let mut changed = from.clone();
    for (control, position) in &duty.change {
        changed.set(circuit, control, position).ok()?;
    }
    circuit.can_occur(&changed).then_some(changed)
}

/// Tries duties on one machine, one condition after the other; what it has found once is kept.
pub(crate) struct TriedDuties<'j, 'c> {
    judge: &'j mut Judge<'c>,
    history: bool,
    /// What was found of conditions with the engine running.
    turning: HashMap<Vec<u8>, Turning>,
    /// In which conditions it cranks, as far as asked.
    cranks: HashMap<Vec<u8>, bool>,
}

impl<'j, 'c> TriedDuties<'j, 'c> {
    pub fn on(judge: &'j mut Judge<'c>) -> Self {
        let history = has_history(judge.circuit());
        Self { judge, history, turning: HashMap::new(), cranks: HashMap::new() }
    }

    /// What is seen in a condition that the duty speaks of; none where it cannot be tried.
    pub fn seen(&mut self, duty: &Duty, condition: &Condition) -> Option<DutySeen> {
        match duty.shall {
            Shall::NotCrank => return Some(DutySeen::Cranked(self.cranks(condition))),
            Shall::Start => {
                let behavior = self.judge.behavior(condition);
                let (cranks, starts) = (behavior.cranks, behavior.starts);
                return Some(DutySeen::Started { cranks, starts });
            }
            _ => {}
        }
        let before = self.turning(condition);
        let comes_up = match duty.shall {
            Shall::StopEngine | Shall::KeepRunning => before.runs,
            _ => before.runs && before.blades,
        };
        if !comes_up {
            return Some(DutySeen::Moved { before, after: None });
        }
        let changed = changed(self.judge.circuit(), duty, condition)?;
        let after = match duty.shall {
            Shall::NotRestartBlades => self.back_again(condition, &changed),
            _ if self.history => self.after(condition, &changed, duty.within),
            _ => self.turning(&changed),
        };
        Some(DutySeen::Moved { before, after: Some(after) })
    }

    fn cranks(&mut self, condition: &Condition) -> bool {
        if let Some(cranks) = self.cranks.get(&condition.positions) {
            return *cranks;
        }
        let cranks = self.judge.cranks(condition);
        self.cranks.insert(condition.positions.clone(), cranks);
        cranks
    }

    /// What goes on in a condition with the engine running.
    pub fn turning(&mut self, condition: &Condition) -> Turning {
        if let Some(seen) = self.turning.get(&condition.positions) {
            return *seen;
        }
        let (outcome, _) = self.judge.outcome(condition, self.judge.running_relays());
        let runs = self.judge.circuit().runs(condition, &outcome);
        let turning =
            Turning { runs, blades: runs && self.judge.circuit().blades(condition, &outcome) };
        self.turning.insert(condition.positions.clone(), turning);
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
            return Turning::default();
        }
        self.last(from, &[away, back])
    }

    fn last(&self, from: &Condition, steps: &[Step]) -> Turning {
        let moments = self.judge.begin(from, self.judge.running_relays()).run(steps);
        moments.last().map_or(Turning::default(), |moment| {
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
