//! What the evidence leaves of each suspect.

use super::likelihood::same_kind;
use super::pairs::Pairs;
use super::propose::propose;
use super::run::{Run, mixture};
use super::unknowns::Unknowns;
use crate::circuit::Circuit;
use crate::diagnosis::evidence::{Evidence, Observation, SetUp, Unit};
use crate::diagnosis::faults::{Hypothesis, State, Suspects, singles};
use crate::diagnosis::predict::FaultModel;
use std::collections::HashMap;

/// The state of belief after a log of evidence.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Belief {
    pub(crate) states: Vec<State>,
    /// Probability by state; they add up to one.
    pub(crate) weights: Vec<f64>,
    /// What each state has learned of battery, sag and size.
    pub(crate) unknowns: Vec<Unknowns>,
    /// Probability by suspect that it is so now. Where two may be wrong at once, these add up to
    /// more than one.
    pub suspects: Vec<f64>,
    /// Probability by wiring of the circuit; as drawn first.
    pub wirings: Vec<f64>,
    /// Battery volts at rest, as the evidence has it, and one standard deviation.
    pub supply_volts: f64,
    pub supply_spread: f64,
    /// What each entry of the log did.
    pub judgements: Vec<Judgement>,
    pub(crate) pairs: Pairs,
}

/// What one entry of the log did.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Judgement {
    pub sequence: u64,
    /// Chance, by all the evidence, that it was a slip: probe not touching, control not held,
    /// wrong setting.
    pub slip: f64,
    /// How it fitted each state, the best being one.
    pub(crate) fits: Vec<f32>,
    /// Probability by state before it.
    before: Vec<f32>,
    observation: Observation,
    set_up: Vec<SetUp>,
}

/// A unit, and what is held against it.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct UnitBelief {
    pub unit: Unit,
    pub probability: f64,
    /// The suspect that weighs most in it.
    pub suspect: usize,
}

/// A reading must speak this much for a unit to count as pointing to it.
pub(crate) const POINTS_TO: f64 = 3.0;
/// A wiring is known at this probability.
pub const WIRING_KNOWN_AT: f64 = 0.97;
/// Above this chance of having been a slip an entry counts as not explained by one fault.
const MISFIT: f64 = 0.35;

impl Belief {
    /// Judges a log, in order, from the priors. Two faults at once are considered where one does
    /// not explain it, and after a repair.
    pub(crate) fn judge(model: &FaultModel, log: &[Evidence]) -> Self {
        let alone = Run::through(model, singles(&model.suspects, log), &Pairs::default(), log);
        let repaired = log.iter().any(Evidence::repairs);
        if !repaired && alone.most_slip() < MISFIT {
            return Self::of(model, alone, Pairs::default(), log);
        }
        let (together, pairs) = propose(model, &alone, log);
        let together = Run::through(model, together, &pairs, log);
        Self::of(model, alone.with(together), pairs, log)
    }

    /// Sums up what a log did.
    fn of(model: &FaultModel, run: Run, pairs: Pairs, log: &[Evidence]) -> Self {
        let weights = run.weights();
        let judgements = log.iter().zip(run.steps(&weights)).map(|(entry, step)| Judgement {
            sequence: entry.sequence,
            slip: step.slip,
            fits: step.fits,
            before: step.before,
            observation: entry.observation,
            set_up: entry.set_up.clone(),
        });
        let judgements = judgements.collect();
        let mut suspects = vec![0.0; model.suspects.list.len()];
        let mut wirings = vec![0.0; model.circuit.wirings.len()];
        for (state, weight) in run.states.iter().zip(&weights) {
            wirings[model.suspects.hypotheses[state.first].wiring] += weight;
            let mut present = state.wrong(u64::MAX).peekable();
            if present.peek().is_none() {
                suspects[0] += weight;
            }
            for h in present {
                suspects[model.suspects.hypotheses[h].suspect] += weight;
            }
        }
        // Said of the battery as most of the weight has it: a suspicion that it may be flat drags down
        // no reading that is expected.
        let flat = |state: &State| {
            let now = state.scenario(&model.suspects, u64::MAX);
            pairs.scenario(&model.suspects, now).emf.is_some()
        };
        let flat: Vec<bool> = run.states.iter().map(flat).collect();
        let of_flat: f64 = weights.iter().zip(&flat).filter(|(_, f)| **f).map(|(w, _)| w).sum();
        let most = of_flat > 0.5;
        let share = if most { of_flat } else { 1.0 - of_flat };
        let own = |(w, flat): (&f64, &bool)| if *flat == most { w / share } else { 0.0 };
        let as_most: Vec<f64> = weights.iter().zip(&flat).map(own).collect();
        let (supply_volts, supply_spread) = mixture(&as_most, &run.unknowns);
        Self {
            states: run.states,
            weights,
            unknowns: run.unknowns,
            suspects,
            wirings,
            supply_volts,
            supply_spread,
            judgements,
            pairs,
        }
    }

    /// The likeliest wiring, by index into the circuit's.
    pub fn wiring(&self) -> usize {
        let all = 0..self.wirings.len();
        all.rev().max_by(|a, b| self.wirings[*a].total_cmp(&self.wirings[*b])).unwrap_or(0)
    }

    /// By alternative of the machine's document the probability of what is drawn, and of each choice.
    pub fn alternatives(&self, circuit: &Circuit) -> Vec<Vec<f64>> {
        let all = circuit.document().alternatives.iter().enumerate();
        all.map(|(i, alternative)| {
            let mut shares = vec![0.0; alternative.choices.len() + 1];
            for (wiring, share) in circuit.wirings.iter().zip(&self.wirings) {
                shares[wiring.chosen.get(i).copied().flatten().map_or(0, |c| c + 1)] += share;
            }
            shares
        })
        .collect()
    }

    /// The units, most suspected first.
    pub fn units(&self, suspects: &Suspects) -> Vec<UnitBelief> {
        let mut units: Vec<UnitBelief> = Vec::new();
        let mut at = HashMap::new();
        for (i, suspect) in suspects.list.iter().enumerate() {
            let probability = self.suspects[i];
            let next = units.len();
            let place = *at.entry(suspect.unit).or_insert(next);
            if place == next {
                units.push(UnitBelief { unit: suspect.unit, probability, suspect: i });
                continue;
            }
            let unit = &mut units[place];
            unit.probability += probability;
            if probability > self.suspects[unit.suspect] {
                unit.suspect = i;
            }
        }
        units.sort_by(|a, b| b.probability.total_cmp(&a.probability));
        units
    }

    /// A unit's probability.
    pub fn of_unit(&self, suspects: &Suspects, unit: Unit) -> f64 {
        let own = suspects.list.iter().zip(&self.suspects).filter(|(s, _)| s.unit == unit);
        own.map(|(_, p)| p).sum()
    }

    /// How the likeliest way that a unit is bad fitted each entry, the best explanation being one.
    pub fn fits(&self, suspects: &Suspects, unit: Unit) -> Vec<f32> {
        self.fits_of(|state| state.all().any(|h| suspects.unit_of(h) == unit))
    }

    /// The same of a suspect, by index, with nothing else wrong and the machine as drawn.
    pub(crate) fn fits_alone(&self, suspects: &Suspects, suspect: usize) -> Vec<f32> {
        let alone = |h: &Hypothesis| h.suspect == suspect && h.wiring == 0;
        self.fits_of(|s| s.second.is_none() && alone(&suspects.hypotheses[s.first]))
    }

    fn fits_of(&self, own: impl Fn(&State) -> bool) -> Vec<f32> {
        let states = (0..self.states.len()).filter(|s| own(&self.states[*s]));
        let best = states.max_by(|a, b| self.weights[*a].total_cmp(&self.weights[*b]));
        let fit = |j: &Judgement| best.map_or(0.0, |state| j.fits[state]);
        self.judgements.iter().map(fit).collect()
    }

    /// What a unit's probability was before the last entry of the log.
    pub fn before(&self, suspects: &Suspects, unit: Unit) -> Option<f64> {
        let last = self.judgements.last()?;
        let own = self.states.iter().zip(&last.before).filter(|(s, _)| {
            s.wrong(last.sequence.saturating_sub(1)).any(|h| suspects.unit_of(h) == unit)
        });
        Some(own.map(|(_, p)| f64::from(*p)).sum())
    }

    /// What is wrong now in a state, by hypothesis; nothing where all is cured.
    pub(crate) fn wrong(&self, state: usize) -> impl Iterator<Item = usize> + '_ {
        self.states[state].wrong(u64::MAX)
    }

    /// What of it acts now: not a battery that another helps.
    pub(crate) fn present(&self, state: usize) -> impl Iterator<Item = usize> + '_ {
        self.states[state].present(u64::MAX)
    }

    /// The scenario that a state comes to now.
    pub(crate) fn scenario_now(&self, suspects: &Suspects, state: usize) -> usize {
        self.states[state].scenario(suspects, u64::MAX)
    }

    /// Whether at least two observations of different kinds, or in different set-ups, each point
    /// to one of these units rather than to anything else.
    pub fn confirmed(&self, suspects: &Suspects, units: &[Unit]) -> bool {
        self.pointing(suspects, units).len() >= 2
    }

    /// The entries, by sequence, that point to one of these units: what a verdict rests on. No two
    /// are of one kind in one set-up.
    pub fn pointing(&self, suspects: &Suspects, units: &[Unit]) -> Vec<u64> {
        let ours: Vec<bool> = self
            .states
            .iter()
            .map(|s| s.all().any(|h| units.contains(&suspects.unit_of(h))))
            .collect();
        let mut pointing: Vec<&Judgement> = Vec::new();
        for judgement in &self.judgements {
            let of_a_part = matches!(
                judgement.observation,
                Observation::Read { .. } | Observation::Inspected(..)
            );
            if !of_a_part {
                continue;
            }
            let (mut own, mut own_weight, mut rest, mut rest_weight) = (0.0, 0.0, 0.0, 0.0);
            for ((ours, fit), weight) in ours.iter().zip(&judgement.fits).zip(&judgement.before) {
                let (fit, weight) = (f64::from(*fit), f64::from(*weight));
                if *ours {
                    own += weight * fit;
                    own_weight += weight;
                } else {
                    rest += weight * fit;
                    rest_weight += weight;
                }
            }
            let likelier = own * rest_weight > POINTS_TO * rest * own_weight;
            let new = |other: &&Judgement| {
                !same_kind(&other.observation, &judgement.observation)
                    || other.set_up != judgement.set_up
            };
            if likelier && pointing.iter().all(new) {
                pointing.push(judgement);
            }
        }
        pointing.iter().map(|j| j.sequence).collect()
    }
}
