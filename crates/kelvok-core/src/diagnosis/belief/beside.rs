//! What the log says of one fault beside another that is known.

use super::pairs::Pairs;
use super::posterior::Belief;
use super::run::Run;
use crate::diagnosis::evidence::Evidence;
use crate::diagnosis::faults::{Scenario, State};
use crate::diagnosis::predict::FaultModel;

/// How many times as likely the log is with a second fault beside one that is there, as with that alone;
/// `None` where nothing of the first is left to stand beside.
///
/// # Arguments
/// `one` is a suspect, by index into the list; `other` the scenarios of the second fault.
pub(crate) fn odds_beside(
    model: &FaultModel,
    (belief, log): (&Belief, &[Evidence]),
    one: usize,
    other: &[usize],
) -> Option<f64> {
    let suspects = &model.suspects;
    let wiring = belief.wiring();
    let alone: Vec<&State> = belief
        .states
        .iter()
        .filter(|state| {
            let own = &suspects.hypotheses[state.first];
            state.second.is_none() && own.suspect == one && own.wiring == wiring
        })
        .collect();
    let beside: Vec<(usize, f64)> = suspects
        .hypotheses
        .iter()
        .enumerate()
        .filter(|(_, h)| other.contains(&h.scenario) && h.wiring == wiring && h.shows >= 1.0)
        .map(|(i, h)| (i, h.prior))
        .collect();
    let all: f64 = beside.iter().map(|(_, prior)| prior).sum();
    // What one size of the first leaves open, another may fit with the second.
    let mut both = vec![Scenario::default()];
    let mut states: Vec<State> = alone.iter().map(|one| (*one).clone()).collect();
    for one in &alone {
        for (other, prior) in &beside {
            let scenario = suspects.scenarios.len() + both.len();
            let own = &suspects.scenarios[suspects.hypotheses[*other].scenario];
            both.push(Scenario::both(&suspects.scenarios[one.before], own));
            states.push(one.beside(*other, scenario, (prior / all).ln()));
        }
    }
    if states.len() == alone.len() {
        return None;
    }
    let ln = Run::through(model, states, &Pairs::of(both), log).ln_weights();
    let most = ln.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    let sum = |ln: &[f64]| ln.iter().map(|w| (w - most).exp()).sum::<f64>();
    let (without, with) = ln.split_at(alone.len());
    (most.is_finite() && sum(without) > 0.0).then(|| sum(with) / sum(without))
}
