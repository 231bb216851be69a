//! One explanation of a whole log: what is wrong, and which repairs cured it.

use super::suspects::{Hypothesis, Suspects};
use crate::diagnosis::evidence::{Evidence, Observation, Unit};

/// What may be wrong: a hypothesis, or two at once, and whether what was repaired is cured.
#[derive(Clone, Debug)]
pub(crate) struct State {
    pub first: usize,
    pub second: Option<usize>,
    /// What the machine is like before any repair, by scenario; pairs have scenarios of their own,
    /// counted on from those of the suspects.
    pub before: usize,
    /// The entries at which the first, and the second, were repaired for good.
    cured: (Option<u64>, Option<u64>),
    /// The chance that it shows in any one observation.
    pub shows: f64,
    /// Natural logarithm of its prior share.
    pub ln_prior: f64,
}

/// The chance that a new part, or a repair, is as bad as what it is for.
const BAD_NEW: f64 = 0.03;

/// A state for every single hypothesis, and for how its repairs turned out.
pub(crate) fn singles(suspects: &Suspects, log: &[Evidence]) -> Vec<State> {
    let of = |(i, h): (usize, &Hypothesis)| State {
        first: i,
        second: None,
        before: h.scenario,
        cured: (None, None),
        shows: h.shows,
        ln_prior: h.prior.ln(),
    };
    let all = suspects.hypotheses.iter().enumerate().map(of);
    all.flat_map(|s| s.after_repairs(suspects, log)).collect()
}

impl State {
    /// Two lasting faults at once, with a scenario for both.
    pub fn pair((first, second): (usize, usize), before: usize, ln_prior: f64) -> Self {
        Self { first, second: Some(second), before, cured: (None, None), shows: 1.0, ln_prior }
    }

    /// A lasting fault with a scenario of its own, all sizes being equally likely.
    pub fn of_size(hypothesis: usize, before: usize) -> Self {
        let (second, ln_prior) = (None, 0.0);
        Self { first: hypothesis, second, before, cured: (None, None), shows: 1.0, ln_prior }
    }

    /// Both hypotheses of it, or the one.
    pub fn all(&self) -> impl Iterator<Item = usize> + use<> {
        [Some(self.first), self.second].into_iter().flatten()
    }

    /// The hypotheses that still hold after an entry.
    pub fn present(&self, after: u64) -> impl Iterator<Item = usize> + use<> {
        let holds = |cured: Option<u64>| cured.is_none_or(|at| at > after);
        let first = Some(self.first).filter(|_| holds(self.cured.0));
        let second = self.second.filter(|_| holds(self.cured.1));
        [first, second].into_iter().flatten()
    }

    /// What the machine is like after an entry, by scenario.
    pub fn scenario(&self, suspects: &Suspects, after: u64) -> usize {
        let mut present = self.present(after);
        match (present.next(), present.next(), self.second) {
            (None, ..) => 0,
            (Some(_), None, None) | (Some(_), Some(_), _) => self.before,
            (Some(one), None, Some(_)) => suspects.hypotheses[one].scenario,
        }
    }

    /// The same state in the ways that repairs may have turned out, with the share of each.
    pub fn after_repairs(self, suspects: &Suspects, log: &[Evidence]) -> Vec<Self> {
        let repair = |hypothesis: usize| {
            let unit = suspects.unit_of(hypothesis);
            let last = log.iter().rev().find(|e| e.observation == Observation::Repaired(unit));
            last.map(|e| e.sequence).filter(|_| unit != Unit::Nothing)
        };
        let (first, second) = (repair(self.first), self.second.and_then(repair));
        let share = |cured: bool| if cured { 1.0 - BAD_NEW } else { BAD_NEW };
        let ways = |at: Option<u64>| match at {
            Some(at) => vec![(Some(at), share(true).ln()), (None, share(false).ln())],
            None => vec![(None, 0.0)],
        };
        let mut all = Vec::new();
        for (a, of_a) in ways(first) {
            for (b, of_b) in ways(second) {
                let ln_prior = self.ln_prior + of_a + of_b;
                all.push(Self { cured: (a, b), ln_prior, ..self.clone() });
            }
        }
        all
    }
}
