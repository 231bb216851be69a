//! What is believed, as scenarios.

use crate::diagnosis::belief::Belief;
use crate::diagnosis::faults::Suspects;
use std::collections::HashMap;

/// States of belief below this share are left out.
const LEAST: f64 = 1e-3;

/// What is believed, as scenarios with their weights.
pub(crate) fn believed(suspects: &Suspects, belief: &Belief) -> Vec<(usize, f64)> {
    let mut scenarios: HashMap<usize, f64> = HashMap::new();
    for (state, weight) in belief.weights.iter().enumerate().filter(|(_, w)| **w > LEAST) {
        let scenario = belief.scenario_now(suspects, state);
        if scenario < suspects.scenarios.len() {
            *scenarios.entry(scenario).or_default() += weight;
        }
    }
    let mut scenarios: Vec<_> = scenarios.into_iter().collect();
    scenarios.sort_by_key(|(scenario, _)| *scenario);
    scenarios
}
