//! How great a fault is, as the evidence has it: a posterior over its size, not one of the sizes that
//! suspects are listed in.

use super::pairs::Pairs;
use super::posterior::Belief;
use super::run::{Run, mixture};
use super::unknowns::Unknowns;
use crate::circuit::FaultMode;
use crate::diagnosis::evidence::Evidence;
use crate::diagnosis::faults::{Hypothesis, Scenario, State, Suspects, magnitudes};
use crate::diagnosis::predict::FaultModel;
use serde::Serialize;

/// A fault's size: the median, and what it lies between nine times in ten.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct FaultSize {
    pub kind: SizeKind,
    pub low: f64,
    pub likely: f64,
    pub high: f64,
}

/// What a size is given in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum SizeKind {
    /// Ohms in series with what it sits in, or between what should not touch.
    Ohms,
    /// Volts of a battery at rest.
    Volts,
    /// Ohms inside a battery.
    InnerOhms,
    /// Share of a coil's turns that are shorted.
    Share,
}

/// Sizes solved for from one listed size to the next.
const STEPS: usize = 8;
/// Below this chance that it is that fault alone, what it would be alone is not said.
const ALONE: f64 = 0.5;
/// Listed sizes that weigh less than this share of their suspect are not looked into.
const COUNTS: f64 = 0.002;
/// The bounds of what is said.
const BOUNDS: [f64; 3] = [0.05, 0.5, 0.95];
/// The same in standard deviations to either side.
const NINE_IN_TEN: f64 = 1.645;
/// A size that may be so many times as great is not known, and not said.
const KNOWN_WITHIN: f64 = 4.0;

impl SizeKind {
    fn of(mode: FaultMode) -> Option<Self> {
        match mode {
            FaultMode::HighResistance | FaultMode::Water => Some(Self::Ohms),
            FaultMode::BatteryFlat => Some(Self::Volts),
            FaultMode::BatteryWeak => Some(Self::InnerOhms),
            FaultMode::ShortedTurns => Some(Self::Share),
            _ => None,
        }
    }

    /// Sizes are equally likely along a scale: of ohms a logarithmic one.
    fn on_scale(self, size: f64) -> f64 {
        match self {
            Self::Ohms | Self::InnerOhms => size.ln(),
            Self::Volts | Self::Share => size,
        }
    }

    fn off_scale(self, at: f64) -> f64 {
        match self {
            Self::Ohms | Self::InnerOhms => at.exp(),
            Self::Volts | Self::Share => at,
        }
    }
}

/// How great a suspect's fault is; `None` where it has no size, where the evidence leaves it open, or
/// where it is not likelier than not that it is that fault alone: beside another it would be of another
/// size.
pub(crate) fn size_of(
    model: &FaultModel,
    belief: &Belief,
    log: &[Evidence],
    suspect: usize,
) -> Option<FaultSize> {
    let suspects = &model.suspects;
    let fault = suspects.list.get(suspect)?.faults.first()?;
    let kind = SizeKind::of(fault.mode)?;
    let wiring = belief.wiring();
    let wired = &suspects.scenarios[suspects.sound_in(wiring)];
    let listed = listed(suspects, belief, (suspect, wiring));
    let total: f64 = listed.iter().map(|(_, weight)| weight).sum();
    if total < ALONE {
        return None;
    }
    if kind == SizeKind::Volts {
        return now_at_rest(belief, |state| listed.iter().any(|(h, _)| state.first == *h));
    }
    let counts = |(_, weight): &(usize, f64)| *weight >= COUNTS * total;
    let first = listed.iter().position(counts)?;
    let last = listed.iter().rposition(counts)?;
    let at = magnitudes(fault, wiring).into_iter().map(|m| kind.on_scale(m));
    let at: Vec<f64> = at.collect();
    // Each listed size stands for the stretch around it; sizes are listed rising or falling.
    let half = |one: usize, other: usize| (at[one] - at[other]).abs() / 2.0;
    let before = half(first, (first + 1).min(at.len() - 1));
    let after = half(last, last.saturating_sub(1));
    let (low, high) = match at[0] <= at[at.len() - 1] {
        true => (at[first] - before, at[last] + after),
        false => (at[last] - after, at[first] + before),
    };
    let cells = STEPS * (last - first + 1);
    let middle = |cell: usize| low + (high - low) * (cell as f64 + 0.5) / cells as f64;

    let mut scenarios = vec![Scenario::default()];
    let mut states = Vec::new();
    let mut cell_of = Vec::new();
    for cell in 0..cells {
        let size = kind.off_scale(middle(cell));
        let scenario = suspects.scenarios.len() + scenarios.len();
        scenarios.push(wired.sized(fault.at(size), None, None));
        let own = State::of_size(listed[first].0, scenario).after_repairs(suspects, log);
        cell_of.extend(own.iter().map(|_| cell));
        states.extend(own);
    }
    let run = Run::through(model, states, &Pairs::of(scenarios), log);
    let mut weights = vec![0.0; cells];
    for (cell, weight) in cell_of.iter().zip(run.weights()) {
        weights[*cell] += weight;
    }
    let [low, likely, high] = BOUNDS.map(|share| {
        let mut before = 0.0;
        let mut cell = 0;
        while cell + 1 < cells && before + weights[cell] < share {
            before += weights[cell];
            cell += 1;
        }
        let within = ((share - before) / weights[cell].max(1e-12)).clamp(0.0, 1.0);
        let step = (middle(1) - middle(0)).abs();
        kind.off_scale(middle(cell) + (within - 0.5) * step)
    });
    (high <= KNOWN_WITHIN * low).then_some(FaultSize { kind, low, likely, high })
}

/// What a battery has by now, as the explanations have learned it that blame it alone; of one that
/// another helps nothing is known.
fn now_at_rest(belief: &Belief, blames: impl Fn(&State) -> bool) -> Option<FaultSize> {
    let own: Vec<usize> = (0..belief.states.len())
        .filter(|s| blames(&belief.states[*s]) && belief.states[*s].second.is_none())
        .filter(|s| belief.wrong(*s).next().is_some())
        .collect();
    if own.iter().any(|s| belief.present(*s).next().is_none()) {
        return None;
    }
    let weights: Vec<f64> = own.iter().map(|s| belief.weights[*s]).collect();
    let total: f64 = weights.iter().sum();
    let shares: Vec<f64> = weights.iter().map(|w| w / total).collect();
    let unknowns: Vec<Unknowns> = own.iter().map(|s| belief.unknowns[*s]).collect();
    let (likely, spread) = mixture(&shares, &unknowns);
    let either = NINE_IN_TEN * spread;
    let (low, high) = (likely - either, likely + either);
    let known = total > 0.0 && high <= KNOWN_WITHIN * low;
    known.then_some(FaultSize { kind: SizeKind::Volts, low, likely, high })
}

/// A suspect's hypotheses in a wiring, the sizes in their order, with what each weighs alone.
fn listed(
    suspects: &Suspects,
    belief: &Belief,
    (suspect, wiring): (usize, usize),
) -> Vec<(usize, f64)> {
    let own = |h: &Hypothesis| h.suspect == suspect && h.wiring == wiring;
    let own = suspects.hypotheses.iter().enumerate().filter(|(_, h)| own(h));
    own.map(|(h, _)| {
        let alone = belief.states.iter().zip(&belief.weights);
        let alone = alone.filter(|(s, _)| s.first == h && s.second.is_none());
        (h, alone.map(|(_, weight)| weight).sum())
    })
    .collect()
}
