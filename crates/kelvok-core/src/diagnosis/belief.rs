//! What the evidence leaves of each suspect.

use super::likelihood::{Supply, fit_heard, fit_reading, same_kind};
use super::predict::{Predictor, Probe};
use super::{Evidence, Observation, Suspects, Unit};
use crate::circuit::{Circuit, ElementKind};
use crate::machine::BATTERY_VOLTS;

/// The state of belief after a log of evidence.
#[derive(Clone, Debug)]
pub struct Belief {
    /// Probability by hypothesis; they add up to one.
    pub hypotheses: Vec<f64>,
    /// Probability by suspect.
    pub suspects: Vec<f64>,
    /// Battery volts at rest, as the evidence has it, and one standard deviation.
    pub supply_volts: f64,
    pub supply_spread: f64,
    /// What each entry of the log did.
    pub judgements: Vec<Judgement>,
}

/// What one entry of the log did.
#[derive(Clone, Debug)]
pub struct Judgement {
    pub sequence: u64,
    /// Chance, by all the evidence, that it was a slip: probe not touching, control not held,
    /// wrong setting.
    pub slip: f64,
    /// Hypotheses under which it must have been one.
    slips: Vec<bool>,
    /// How it fitted each hypothesis, the best being one.
    pub fits: Vec<f64>,
    /// Hypotheses' probabilities before it.
    before: Vec<f64>,
    observation: Observation,
    set_up: usize,
}

/// A unit, and what is held against it.
#[derive(Clone, Debug)]
pub struct UnitBelief {
    pub unit: Unit,
    pub probability: f64,
    /// The suspect that weighs most in it.
    pub suspect: usize,
}

/// A reading must speak this much for a unit to count as pointing to it.
const POINTS_TO: f64 = 3.0;

impl Belief {
    /// Judges a log, in order, from the priors.
    pub fn judge(circuit: &Circuit, suspects: &Suspects, log: &[Evidence]) -> Self {
        let nominal = circuit
            .elements
            .iter()
            .find_map(|e| match e.kind {
                ElementKind::Source { emf, .. } => Some(emf),
                _ => None,
            })
            .unwrap_or(BATTERY_VOLTS);
        let hypotheses = &suspects.hypotheses;
        let mut weights: Vec<f64> = hypotheses.iter().map(|h| h.prior).collect();
        let mut supplies: Vec<Supply> = hypotheses
            .iter()
            .map(|h| Supply::unread(h.emf.unwrap_or(nominal), h.emf.is_some()))
            .collect();
        let mut judgements = Vec::new();
        for entry in log {
            let before = weights.clone();
            let (volts, _) = mixture(&weights, &supplies);
            let mut predictor = Predictor::new(circuit, &entry.condition, &entry.set_up, volts);
            let mut fits = Vec::with_capacity(weights.len());
            let mut slips = Vec::with_capacity(weights.len());
            for (i, hypothesis) in hypotheses.iter().enumerate() {
                let emf = predictor.suppose(hypothesis);
                supplies[i].drift();
                let fit = match entry.observation {
                    Observation::Heard(heard) => fit_heard(heard, predictor.crank()),
                    Observation::Read { instrument, red, black, reading } => {
                        let predicted = predictor.read(&[Probe { instrument, red, black }])[0];
                        fit_reading(reading, predicted, emf, &mut supplies[i])
                    }
                };
                let (honest, slip) = fit.weigh(entry.repeats);
                slips.push(slip > honest);
                fits.push(honest + slip);
                weights[i] *= honest + slip;
            }
            let total: f64 = weights.iter().sum();
            for w in &mut weights {
                *w /= total;
            }
            let best = fits.iter().copied().fold(f64::MIN_POSITIVE, f64::max);
            judgements.push(Judgement {
                sequence: entry.sequence,
                slip: 0.0,
                slips,
                fits: fits.iter().map(|f| f / best).collect(),
                before,
                observation: entry.observation,
                set_up: entry.set_up.len(),
            });
        }
        // With all the evidence in: how much of the weight needs the entry to have been a slip.
        for judgement in &mut judgements {
            let needed = weights.iter().zip(&judgement.slips).filter(|(_, slip)| **slip);
            judgement.slip = needed.map(|(w, _)| w).sum();
        }
        let (supply_volts, supply_spread) = mixture(&weights, &supplies);
        Self {
            suspects: by_suspect(suspects, &weights),
            hypotheses: weights,
            supply_volts,
            supply_spread,
            judgements,
        }
    }

    /// The units, most suspected first.
    pub fn units(&self, suspects: &Suspects) -> Vec<UnitBelief> {
        let mut units: Vec<UnitBelief> = Vec::new();
        for (i, suspect) in suspects.list.iter().enumerate() {
            let probability = self.suspects[i];
            match units.iter_mut().find(|u| u.unit == suspect.unit) {
                Some(unit) => {
                    unit.probability += probability;
                    if probability > self.suspects[unit.suspect] {
                        unit.suspect = i;
                    }
                }
                None => units.push(UnitBelief { unit: suspect.unit, probability, suspect: i }),
            }
        }
        units.sort_by(|a, b| b.probability.total_cmp(&a.probability));
        units
    }

    /// What the units' probabilities were before the last entry of the log.
    pub fn before(&self, suspects: &Suspects, unit: Unit) -> Option<f64> {
        let last = self.judgements.last()?;
        let own = suspects
            .hypotheses
            .iter()
            .zip(&last.before)
            .filter(|(h, _)| suspects.list[h.suspect].unit == unit);
        Some(own.map(|(_, p)| p).sum())
    }

    /// Whether at least two observations of different kinds, or in different set-ups, each point
    /// to one of these units rather than to anything else.
    pub fn confirmed(&self, suspects: &Suspects, units: &[Unit]) -> bool {
        let mut pointing: Vec<&Judgement> = Vec::new();
        for judgement in &self.judgements {
            if matches!(judgement.observation, Observation::Heard(_)) {
                continue;
            }
            let (mut ours, mut ours_weight, mut rest, mut rest_weight) = (0.0, 0.0, 0.0, 0.0);
            let all = suspects.hypotheses.iter().zip(&judgement.fits).zip(&judgement.before);
            for ((h, fit), weight) in all {
                if units.contains(&suspects.list[h.suspect].unit) {
                    ours += weight * fit;
                    ours_weight += weight;
                } else {
                    rest += weight * fit;
                    rest_weight += weight;
                }
            }
            let likelier = ours * rest_weight > POINTS_TO * rest * ours_weight;
            let new = |other: &&Judgement| {
                !same_kind(&other.observation, &judgement.observation)
                    || other.set_up != judgement.set_up
            };
            if likelier && pointing.iter().all(new) {
                pointing.push(judgement);
            }
        }
        pointing.len() >= 2
    }
}

fn by_suspect(suspects: &Suspects, weights: &[f64]) -> Vec<f64> {
    let mut all = vec![0.0; suspects.list.len()];
    for (h, w) in suspects.hypotheses.iter().zip(weights) {
        all[h.suspect] += w;
    }
    all
}

/// Mean and standard deviation of the supply over all hypotheses.
fn mixture(weights: &[f64], supplies: &[Supply]) -> (f64, f64) {
    let total: f64 = weights.iter().sum();
    let mean = weights.iter().zip(supplies).map(|(w, s)| w * s.mean).sum::<f64>() / total;
    let variance = weights
        .iter()
        .zip(supplies)
        .map(|(w, s)| w * (s.variance + (s.mean - mean).powi(2)))
        .sum::<f64>()
        / total;
    (mean, variance.sqrt())
}
