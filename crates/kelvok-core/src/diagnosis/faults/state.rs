//! One explanation of a whole log: what is wrong, and which repairs cured it.

use super::battery::{Away, Falls, cures, falls, helped};
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
    /// Between which entries the first, and the second, are no matter: repaired for good, or a battery
    /// helped by another.
    away: [Vec<Away>; 2],
    /// After which entries a flat battery was flatter, and by which scenario.
    fell: Falls,
    /// The chance that it shows in any one observation.
    pub shows: f64,
    /// Natural logarithm of its prior share.
    pub ln_prior: f64,
}

/// The chance that a new part, or a repair, is as bad as what it is for.
const BAD_NEW: f64 = 0.01;
/// So many repairs of one unit, the last first, may each have been the cure.
const MOST_CURES: usize = 3;

/// A state for every single hypothesis, and for how its repairs turned out.
pub(crate) fn singles(suspects: &Suspects, log: &[Evidence]) -> Vec<State> {
    let of = |(i, h): (usize, &Hypothesis)| {
        let own = State {
            first: i,
            second: None,
            before: h.scenario,
            away: Default::default(),
            fell: Falls::default(),
            shows: h.shows,
            ln_prior: h.prior.ln(),
        };
        falls(suspects, i, log).into_iter().map(move |(fell, share)| State {
            fell,
            ln_prior: own.ln_prior + share.ln(),
            ..own.clone()
        })
    };
    let all = suspects.hypotheses.iter().enumerate().flat_map(of);
    all.flat_map(|s| s.after_repairs(suspects, log)).collect()
}

impl State {
    /// Two lasting faults at once, with a scenario for both.
    pub fn pair((first, second): (usize, usize), before: usize, ln_prior: f64) -> Self {
        Self { second: Some(second), ln_prior, ..Self::of_size(first, before) }
    }

    /// The same with one more lasting fault, which no repair was for, and a scenario for both.
    pub fn beside(&self, other: usize, before: usize, ln_prior: f64) -> Self {
        let ln_prior = self.ln_prior + ln_prior;
        Self { second: Some(other), before, ln_prior, fell: Falls::default(), ..self.clone() }
    }

    /// A lasting fault with a scenario of its own, all sizes being equally likely.
    pub fn of_size(hypothesis: usize, before: usize) -> Self {
        let (away, fell) = Default::default();
        Self { first: hypothesis, second: None, before, away, fell, shows: 1.0, ln_prior: 0.0 }
    }

    /// Both hypotheses of it, or the one.
    pub fn all(&self) -> impl Iterator<Item = usize> + use<> {
        [Some(self.first), self.second].into_iter().flatten()
    }

    /// Whether it is a battery that fell.
    pub fn has_fallen(&self) -> bool {
        self.fell.iter().any(Option::is_some)
    }

    /// Whether what is wrong stays as it is.
    pub fn is_steady(&self) -> bool {
        !self.has_fallen() && self.away.iter().all(Vec::is_empty)
    }

    /// The hypotheses that are still wrong after an entry: a battery that is only helped by another, too.
    pub fn wrong(&self, after: u64) -> impl Iterator<Item = usize> + use<> {
        self.but(|away| away.is_cure() && away.covers(after))
    }

    /// The hypotheses that act after an entry.
    pub fn present(&self, after: u64) -> impl Iterator<Item = usize> + use<> {
        self.but(|away| away.covers(after))
    }

    fn but(
        &self,
        gone: impl Fn(Away) -> bool,
    ) -> std::iter::Flatten<std::array::IntoIter<Option<usize>, 2>> {
        let holds = |away: &[Away]| !away.iter().any(|a| gone(*a));
        let [of_first, of_second] = &self.away;
        let first = Some(self.first).filter(|_| holds(of_first));
        let second = self.second.filter(|_| holds(of_second));
        [first, second].into_iter().flatten()
    }

    /// What the machine is like after an entry, by scenario.
    pub fn scenario(&self, suspects: &Suspects, after: u64) -> usize {
        let mut present = self.present(after);
        match (present.next(), present.next(), self.second) {
            (None, ..) => suspects.sound_of(self.first),
            (Some(_), None, None) | (Some(_), Some(_), _) => {
                let fell = self.fell.iter().flatten().rev().find(|(at, _)| *at < after);
                fell.map_or(self.before, |(_, to)| *to)
            }
            (Some(one), None, Some(_)) => suspects.hypotheses[one].scenario,
        }
    }

    /// The same state in the ways that repairs may have turned out, with the share of each.
    pub fn after_repairs(self, suspects: &Suspects, log: &[Evidence]) -> Vec<Self> {
        let first = ways(suspects, self.first, log);
        let second =
            self.second.map_or_else(|| vec![(Vec::new(), 1.0)], |h| ways(suspects, h, log));
        let mut all = Vec::with_capacity(first.len() * second.len());
        for (a, of_a) in &first {
            for (b, of_b) in &second {
                let ln_prior = self.ln_prior + of_a.ln() + of_b.ln();
                all.push(Self { away: [a.clone(), b.clone()], ln_prior, ..self.clone() });
            }
        }
        all
    }
}

/// Between which entries a hypothesis may be no matter, with the share of each: cured by one of its
/// repairs or by none, and a battery's while another helps it.
fn ways(suspects: &Suspects, hypothesis: usize, log: &[Evidence]) -> Vec<(Vec<Away>, f64)> {
    let unit = suspects.unit_of(hypothesis);
    if unit == Unit::Nothing {
        return vec![(Vec::new(), 1.0)];
    }
    let repaired = |e: &Evidence| e.observation == Observation::Repaired(unit);
    let cure = |(at, entry): (usize, &Evidence)| match entry.observation {
        // Cleaned and its plug re-seated in one go is one repair.
        Observation::Repaired(_) if repaired(entry) => {
            let just_before = log[..at].iter().rev();
            let twice = just_before.take_while(|e| e.renews()).any(repaired);
            (!twice).then_some((entry.sequence, 1.0 - BAD_NEW))
        }
        _ => Some((entry.sequence, cures(suspects, hypothesis, entry)?)),
    };
    let mut cures: Vec<(u64, f64)> =
        log.iter().enumerate().rev().filter_map(cure).take(MOST_CURES).collect();
    cures.reverse();
    let helped = helped(suspects, hypothesis, log);
    let mut left = 1.0;
    let mut ways = Vec::with_capacity(cures.len() + 1);
    for (at, chance) in cures {
        let away = helped.iter().copied().chain([Away::cured(at)]).collect();
        ways.push((away, left * chance));
        left *= 1.0 - chance;
    }
    ways.push((helped, left));
    ways
}
