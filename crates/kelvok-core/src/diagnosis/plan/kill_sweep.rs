//! The sweep of a kill wire as a walk: the plug off the module, one lead on the kill wire, one on
//! ground, then only controls are moved; at each stand the buzzer sounds or is silent.
//!
//! The stands are a small set of conditions that together expose every contact and wire that any
//! stand exposes, found greedily, thinned, and put in an order in which few controls move. No stand
//! turns the starter, whatever single thing is wrong.

use crate::circuit::{
    Condition, ElementId, ElementKind, FaultMode, Instrument, Reading, Relays, by_moves,
};
use crate::diagnosis::candidates::{
    Caution, Hazards, cautions, key_is_held, may_be_live, may_turn, sweep_set_ups,
};
use crate::diagnosis::evidence::{Probe, SetUp, TestAction};
use crate::diagnosis::predict::{FaultModel, Predicted, Predictor, nominal_volts};
use crate::interlock::{Ladder, LayOutError};
use crate::machine::BUZZER_OHMS;
use serde::Serialize;
use std::collections::BTreeSet;

/// A kill circuit swept from one point.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct KillSweep {
    pub set_up: Vec<SetUp>,
    /// The buzzer, or the diode range where diodes are in the way.
    pub instrument: Instrument,
    /// Test points, by index.
    pub red: usize,
    pub black: usize,
    pub stands: Vec<Stand>,
    pub cautions: Vec<Caution>,
    /// Contacts of the ladder that no stand tells anything of, by index into the elements.
    pub not_told: Vec<ElementId>,
}

/// What the instrument says at a stand.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Sign {
    /// It buzzes; on the diode range it reads next to nothing.
    Buzzes,
    /// On the diode range: the drop of a diode.
    Drop,
    Silent,
}

/// On the diode range less than this is metal, more than the second is no diode.
const DROPS: [f64; 2] = [0.25, 1.2];

impl Sign {
    /// What a reading of the sweep is, if it is one.
    pub fn of(reading: Reading) -> Option<Self> {
        match reading {
            Reading::Buzz(on) => Some(if on { Self::Buzzes } else { Self::Silent }),
            Reading::Ohms(ohms) => Some(if ohms.is_some_and(|o| o < BUZZER_OHMS) {
                Self::Buzzes
            } else {
                Self::Silent
            }),
            Reading::Drop(volts) => Some(match volts {
                Some(volts) if volts < DROPS[0] => Self::Buzzes,
                Some(volts) if volts < DROPS[1] => Self::Drop,
                _ => Self::Silent,
            }),
            _ => None,
        }
    }
}

/// One stand of the controls.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Stand {
    pub condition: Condition,
    /// Controls moved since the stand before; at the first, since the machine at rest.
    pub moved: usize,
    /// What a sound machine shows there.
    pub shows: Sign,
    /// Contacts that would make it otherwise: open where it should buzz, made where it should be
    /// silent.
    pub tells: Vec<ElementId>,
}

/// A fault of the ladder that a stand may expose.
struct Target {
    scenario: usize,
    elements: Vec<ElementId>,
}

/// Stands looked at as candidates, the nearest to the machine at rest.
const MOST_CANDIDATES: usize = 600;

/// A walk of fewer stands is none: the plan's own tests ask as much.
const WALK: usize = 3;

impl KillSweep {
    /// Whether there is enough to walk through for the plug to come off.
    pub fn is_worth_it(&self) -> bool {
        self.stands.len() >= WALK
    }
}

/// Plans the sweep of a kill circuit; `None` where no plug takes the module off its wire.
///
/// # Errors
/// The machine has no such kill circuit.
pub(crate) fn kill_sweep(model: &FaultModel, name: &str) -> Result<Option<KillSweep>, LayOutError> {
    let circuit = &*model.circuit;
    let ladder = Ladder::lay_out(circuit, name)?;
    let hazards = Hazards::of(circuit);
    let on_ladder: BTreeSet<ElementId> =
        ladder.rungs.iter().flat_map(|r| r.path.elements.iter().copied()).collect();
    let mut best: Option<KillSweep> = None;
    for (off, action) in sweep_set_ups(circuit, &hazards, &ladder) {
        for battery in [vec![], vec![SetUp::BatteryOff]] {
            let set_up = [off.clone(), battery].concat();
            let probe = action.probe(circuit);
            if probe.is_some_and(|p| may_be_live(circuit, &set_up, [p.red, p.black])) {
                continue;
            }
            let sweeping = Sweeping { model, set_up, action };
            let Some(sweep) = sweeping.plan(&hazards, &on_ladder) else { continue };
            let told = |s: &KillSweep| on_ladder.len() - s.not_told.len();
            // The battery stays on only where nothing can be live, as in the plan's own tests.
            if best.as_ref().is_none_or(|b| told(&sweep) > told(b)) {
                best = Some(sweep);
            }
        }
    }
    Ok(best)
}

struct Sweeping<'a> {
    model: &'a FaultModel,
    set_up: Vec<SetUp>,
    action: TestAction,
}

/// What a condition shows: whether a sound machine buzzes, and the targets that would not.
struct Candidate {
    condition: Condition,
    shows: Sign,
    exposes: BTreeSet<usize>,
}

impl Sweeping<'_> {
    fn plan(&self, hazards: &Hazards, on_ladder: &BTreeSet<ElementId>) -> Option<KillSweep> {
        let probe = self.action.probe(&self.model.circuit)?;
        let TestAction::Measure { instrument, red, black } = self.action else { return None };
        let targets = self.targets(on_ladder);
        let mut candidates = self.candidates(probe, &targets);
        let mut chosen: Vec<Candidate> = Vec::new();
        let mut open: BTreeSet<usize> = (0..targets.len()).collect();
        while let Some(best) = (0..candidates.len())
            .max_by_key(|i| (candidates[*i].exposes.intersection(&open).count(), usize::MAX - i))
        {
            let candidate = candidates.swap_remove(best);
            candidates.sort_by_key(|c| self.moves(&c.condition, &self.rest()));
            if candidate.exposes.is_disjoint(&open) {
                break;
            }
            // A stand that anything wrong would crank at is none.
            if !self.set_up.contains(&SetUp::BatteryOff) && self.may_crank(&candidate.condition) {
                continue;
            }
            open.retain(|t| !candidate.exposes.contains(t));
            chosen.push(candidate);
        }
        if chosen.is_empty() {
            return None;
        }
        thin(&mut chosen);
        let ordered = self.in_order(chosen);
        let mut before = self.rest();
        let mut stands = Vec::new();
        for candidate in ordered {
            let told: BTreeSet<ElementId> = candidate
                .exposes
                .iter()
                .flat_map(|t| targets[*t].elements.iter().copied())
                .filter(|e| self.is_contact(*e))
                .collect();
            stands.push(Stand {
                moved: self.moves(&candidate.condition, &before),
                shows: candidate.shows,
                tells: told.into_iter().collect(),
                condition: candidate.condition.clone(),
            });
            before = candidate.condition;
        }
        let told: BTreeSet<ElementId> = stands.iter().flat_map(|s| s.tells.clone()).collect();
        let not_told =
            on_ladder.iter().copied().filter(|e| self.is_contact(*e) && !told.contains(e));
        let not_told = not_told.collect();
        let first = &stands.first()?.condition;
        let at = (first, self.set_up.as_slice());
        let cautions = cautions(&self.model.circuit, hazards, at, self.action, (false, false));
        let set_up = self.set_up.clone();
        Some(KillSweep { instrument, red, black, stands, cautions, not_told, set_up })
    }

    fn rest(&self) -> Condition {
        Condition::at_rest(&self.model.circuit)
    }

    fn moves(&self, one: &Condition, other: &Condition) -> usize {
        one.positions.iter().zip(&other.positions).filter(|(a, b)| a != b).count()
    }

    fn is_contact(&self, element: ElementId) -> bool {
        matches!(self.model.circuit.element(element).kind, ElementKind::Contact(_))
    }

    /// Everything on the ladder that may be open, or made for good.
    fn targets(&self, on_ladder: &BTreeSet<ElementId>) -> Vec<Target> {
        let hypotheses = self.model.suspects.hypotheses.iter();
        let lasting = hypotheses.filter(|h| h.shows >= 1.0);
        let of = lasting.filter_map(|h| {
            let suspect = &self.model.suspects.list[h.suspect];
            let mode = suspect.faults.first()?.mode;
            let counts = matches!(mode, FaultMode::Open | FaultMode::StuckMade);
            let elements: Vec<_> =
                suspect.elements.iter().copied().filter(|e| on_ladder.contains(e)).collect();
            (counts && !elements.is_empty()).then_some(Target { scenario: h.scenario, elements })
        });
        of.collect()
    }

    /// Conditions with the engine standing, and what the buzzer tells in each.
    fn candidates(&self, probe: Probe, targets: &[Target]) -> Vec<Candidate> {
        let rest = self.rest();
        let near = by_moves(&self.model.circuit, &rest).into_iter();
        let near = near.filter(|c| !key_is_held(&self.model.circuit, c)).take(MOST_CANDIDATES);
        let mut all = Vec::new();
        for condition in near {
            let supply = nominal_volts(&self.model.circuit);
            let mut predictor =
                Predictor::new(&self.model.circuit, &condition, &self.set_up, supply);
            let mut sign = |scenario: usize| {
                predictor.suppose(&self.model.suspects.scenarios[scenario], Relays::default());
                match predictor.read(&[probe])[..] {
                    [Predicted::Buzz(on)] => Sign::of(Reading::Buzz(on)),
                    [Predicted::Drop(volts)] => Sign::of(Reading::Drop(volts)),
                    _ => None,
                }
            };
            let Some(shows) = sign(0) else { continue };
            let found: Vec<_> = targets.iter().map(|t| sign(t.scenario)).collect();
            // Where anything of it would be live the leads are not put.
            if found.iter().any(Option::is_none) {
                continue;
            }
            let exposes: BTreeSet<usize> =
                (0..targets.len()).filter(|t| found[*t] != Some(shows)).collect();
            if !exposes.is_empty() {
                all.push(Candidate { condition, shows, exposes });
            }
        }
        all
    }

    /// Whether the starter would stir here with any single thing wrong, or nothing.
    fn may_crank(&self, condition: &Condition) -> bool {
        let shown = self.model.dictionary_at(condition, &self.set_up).shown();
        shown.iter().any(|s| may_turn(s.crank))
    }

    /// From the machine at rest always to the nearest that is left, then improved by turning
    /// stretches round while that saves moves.
    fn in_order(&self, mut left: Vec<Candidate>) -> Vec<Candidate> {
        let mut ordered: Vec<Candidate> = Vec::new();
        let mut now = self.rest();
        while !left.is_empty() {
            let near = (0..left.len()).min_by_key(|i| (self.moves(&left[*i].condition, &now), *i));
            let next = left.remove(near.unwrap_or(0));
            now = next.condition.clone();
            ordered.push(next);
        }
        let cost = |order: &[Candidate]| {
            let rest = self.rest();
            let from = std::iter::once(&rest).chain(order.iter().map(|c| &c.condition));
            from.zip(order).map(|(a, b)| self.moves(a, &b.condition)).sum::<usize>()
        };
        let mut best = cost(&ordered);
        let mut improved = true;
        while improved {
            improved = false;
            for i in 0..ordered.len() {
                for j in i + 1..ordered.len() {
                    ordered[i..=j].reverse();
                    let now = cost(&ordered);
                    if now < best {
                        best = now;
                        improved = true;
                    } else {
                        ordered[i..=j].reverse();
                    }
                }
            }
        }
        ordered
    }
}

/// Leaves out what the others expose between them.
fn thin(chosen: &mut Vec<Candidate>) {
    let mut i = 0;
    while i < chosen.len() {
        let others: BTreeSet<usize> = chosen
            .iter()
            .enumerate()
            .filter(|(o, _)| *o != i)
            .flat_map(|(_, c)| c.exposes.iter().copied())
            .collect();
        if chosen[i].exposes.is_subset(&others) {
            chosen.remove(i);
        } else {
            i += 1;
        }
    }
}
