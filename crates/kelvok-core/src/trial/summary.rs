//! What a trial comes to, with how sure that is.

use super::mechanic::Outcome;
use crate::diagnosis::Strategy;
use crate::random::Random;

/// A figure with its 95 % interval.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Interval {
    pub mean: f64,
    pub low: f64,
    pub high: f64,
}

/// One machine, or all, by one strategy.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Summary {
    pub strategy: Strategy,
    pub runs: usize,
    /// Share of verdicts that name the unit, or a group that nothing splits with it in it.
    pub right: Interval,
    /// Share in which the unit itself stood first.
    pub unit_right: f64,
    /// Mean size of the groups named.
    pub group: f64,
    pub wrong_parts: f64,
    /// Share of cases in which a part was changed for nothing.
    pub wrong_cases: f64,
    /// Share of cases in which an entry that was true was called a slip with more than 90 %.
    pub called_slips: f64,
    pub tests: f64,
    pub minutes: Interval,
    pub median_minutes: f64,
    /// Bits of doubt taken away, a test.
    pub bits_a_test: f64,
    /// Of verdicts given at 98.5 % and more: how many were right, less what they gave themselves.
    pub calibration: f64,
    pub named: f64,
}

/// Resamples for an interval.
const RESAMPLES: usize = 1000;

impl Summary {
    /// Sums up outcomes of one strategy, at least one.
    pub fn of(strategy: Strategy, outcomes: &[&Outcome]) -> Self {
        let mean = |of: &dyn Fn(&Outcome) -> f64| {
            outcomes.iter().map(|o| of(o)).sum::<f64>() / outcomes.len().max(1) as f64
        };
        let share = |of: fn(&Outcome) -> bool| mean(&|o| f64::from(u8::from(of(o))));
        let minutes: Vec<f64> = outcomes.iter().map(|o| o.minutes).collect();
        let sure: Vec<_> = outcomes.iter().filter(|o| o.named).collect();
        let off = sure.iter().map(|o| f64::from(u8::from(o.right)) - o.probability);
        Self {
            strategy,
            runs: outcomes.len(),
            right: wilson(outcomes.iter().filter(|o| o.right).count(), outcomes.len()),
            unit_right: share(|o| o.unit_right),
            group: mean(&|o| o.group as f64),
            wrong_parts: mean(&|o| o.wrong_parts as f64),
            wrong_cases: share(|o| o.wrong_parts > 0),
            called_slips: share(|o| o.called_slips > 0),
            tests: mean(&|o| o.tests as f64),
            minutes: resampled(&minutes, |sample| sample.iter().sum::<f64>() / sample.len() as f64),
            median_minutes: median(&mut minutes.clone()),
            bits_a_test: mean(&|o| (o.bits.0 - o.bits.1) / o.tests.max(1) as f64),
            calibration: off.sum::<f64>() / sure.len().max(1) as f64,
            named: share(|o| o.named),
        }
    }
}

/// How much shorter the medians of the first are than those of the second, as a share; paired case
/// by case.
pub fn saving(pairs: &[(f64, f64)]) -> Interval {
    let ratio = |sample: &[(f64, f64)]| {
        let mut own: Vec<f64> = sample.iter().map(|p| p.0).collect();
        let mut other: Vec<f64> = sample.iter().map(|p| p.1).collect();
        1.0 - median(&mut own) / median(&mut other)
    };
    resampled(pairs, ratio)
}

fn median(values: &mut [f64]) -> f64 {
    values.sort_by(f64::total_cmp);
    match values.len() {
        0 => f64::NAN,
        n if n % 2 == 1 => values[n / 2],
        n => (values[n / 2 - 1] + values[n / 2]) / 2.0,
    }
}

/// A share with Wilson's interval (1927).
pub fn wilson(hits: usize, of: usize) -> Interval {
    let (n, z) = (of.max(1) as f64, 1.96_f64);
    let p = hits as f64 / n;
    let middle = (p + z * z / (2.0 * n)) / (1.0 + z * z / n);
    let half = z / (1.0 + z * z / n) * (p * (1.0 - p) / n + z * z / (4.0 * n * n)).sqrt();
    Interval { mean: p, low: middle - half, high: middle + half }
}

/// A figure with the percentiles of its bootstrap (Efron, 1979).
fn resampled<T: Copy>(values: &[T], figure: impl Fn(&[T]) -> f64) -> Interval {
    if values.is_empty() {
        return Interval { mean: f64::NAN, low: f64::NAN, high: f64::NAN };
    }
    let mut random = Random::new(values.len() as u64);
    let mut figures: Vec<f64> = (0..RESAMPLES)
        .map(|_| {
            let sample: Vec<T> =
                values.iter().map(|_| values[random.index(values.len())]).collect();
            figure(&sample)
        })
        .collect();
    figures.sort_by(f64::total_cmp);
    let at = |share: f64| figures[((RESAMPLES - 1) as f64 * share) as usize];
    Interval { mean: figure(values), low: at(0.025), high: at(0.975) }
}
