//! What is believed, as planning counts it.

use crate::diagnosis::belief::Belief;
use crate::diagnosis::candidates::Spot;
use crate::diagnosis::evidence::Unit;
use crate::diagnosis::faults::{Hypothesis, Suspects};
use std::collections::HashMap;

/// What is believed, as planning counts it: who it could be, in how many ways.
#[derive(Clone, Debug)]
pub(crate) struct Stakes {
    pub states: Vec<Stake>,
    pub labels: usize,
}

#[derive(Clone, Copy, Debug)]
pub(crate) struct Stake {
    /// By index into the belief's states.
    pub state: usize,
    pub suspect: usize,
    pub scenario: usize,
    /// The scenario of the sound machine that is wired the same.
    pub sound: usize,
    pub shows: f64,
    pub weight: f64,
    /// The unit that it would lead to, as a number.
    pub label: usize,
}

impl Stake {
    /// What shows while the fault does, and while it hides.
    pub fn put(&self, bad: Spot, good: Spot, put: &mut Put<'_>) {
        put(bad, self.shows * self.weight);
        if self.shows < 1.0 {
            put(good, (1.0 - self.shows) * self.weight);
        }
    }
}

/// Takes a spot and the weight that lies there.
pub(crate) type Put<'a> = dyn FnMut(Spot, f64) + 'a;

/// Above this a unit leads.
const LEADS_AT: f64 = 0.9;
/// States below this no longer count in planning.
pub(crate) const NEGLIGIBLE: f64 = 1e-4;
/// Of more states than this only the heaviest count.
const MOST_STATES: usize = 200;

/// The weight above which states count.
fn least_counted(weights: &[f64]) -> f64 {
    let mut heavy: Vec<f64> = weights.iter().copied().filter(|w| *w > NEGLIGIBLE).collect();
    if heavy.len() <= MOST_STATES {
        return NEGLIGIBLE;
    }
    *heavy.select_nth_unstable_by(MOST_STATES, |a, b| b.total_cmp(a)).1
}

/// The states that count, labeled by the unit each would lead to.
///
/// Where one unit leads but is not confirmed, its lead is taken back a little, so that the test
/// that would confirm it is worth making.
pub(crate) fn stakes(suspects: &Suspects, belief: &Belief) -> (Vec<Unit>, Stakes) {
    let mut units: Vec<Unit> = Vec::new();
    let mut of: HashMap<Unit, usize> = HashMap::new();
    let mut states = Vec::new();
    let least = least_counted(&belief.weights);
    for state in (0..belief.weights.len()).filter(|s| belief.weights[*s] > least) {
        let first = found_first(suspects, belief, state);
        let unit = suspects.unit_of(first);
        let next = units.len();
        let label = *of.entry(unit).or_insert(next);
        if label == next {
            units.push(unit);
        }
        states.push(Stake { label, ..stake(suspects, belief, state, first) });
    }
    let mut by_label = vec![0.0; units.len()];
    for stake in &states {
        by_label[stake.label] += stake.weight;
    }
    let leading = (0..units.len()).max_by(|a, b| by_label[*a].total_cmp(&by_label[*b]));
    if let Some(leading) = leading.filter(|l| by_label[*l] > LEADS_AT)
        && !belief.confirmed(suspects, &[units[leading]])
    {
        for stake in &mut states {
            stake.weight *= by_label[stake.label].max(f64::MIN_POSITIVE).powf(-0.5);
        }
    }
    let labels = units.len();
    (units, Stakes { states, labels })
}

/// Of two faults the likelier by itself is found first.
fn found_first(suspects: &Suspects, belief: &Belief, state: usize) -> usize {
    let prior = |h: &usize| belief.suspects[suspects.hypotheses[*h].suspect];
    belief.wrong(state).max_by(|a, b| prior(a).total_cmp(&prior(b))).unwrap_or(0)
}

/// A state as planning counts it, where this is the hypothesis that is found first.
pub(crate) fn stake(
    suspects: &Suspects,
    belief: &Belief,
    state: usize,
    hypothesis: usize,
) -> Stake {
    let Hypothesis { suspect, scenario, shows, .. } = suspects.hypotheses[hypothesis];
    // A pair that is still one is planned for by the fault that is found first.
    let now = belief.scenario_now(suspects, state);
    let scenario = if now < suspects.scenarios.len() { now } else { scenario };
    let sound = suspects.sound_of(hypothesis);
    let shows = if scenario == sound { 1.0 } else { shows };
    Stake { state, suspect, scenario, sound, shows, weight: belief.weights[state], label: 0 }
}
