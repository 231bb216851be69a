//! Two faults at once: which pairs are worth solving for, by prior and by fit.
//!
//! After de Kleer and Williams (1987), candidates grow only where the smaller ones fail. Solving
//! every pair of a machine would take minutes; so each pair is first given a bound, that every entry
//! is explained by the better of its two, and the best of those are solved exactly.

use super::pairs::Pairs;
use super::run::Run;
use crate::diagnosis::evidence::{Evidence, Observation};
use crate::diagnosis::faults::{Scenario, State, together};
use crate::diagnosis::predict::FaultModel;
use std::collections::HashSet;

/// Pairs solved exactly.
const MOST_PAIRS: usize = 160;
/// Pairs that could at best be this much likelier than the best single fault are not worth it.
const OUT_OF_REACH: f64 = 1e-3;
/// The best single explanations of some entries, which are paired with everything.
const MOST_LEADS: usize = 24;

/// The pairs that may explain a log better than any single fault, as states, with their scenarios.
pub(crate) fn propose(model: &FaultModel, alone: &Run, log: &[Evidence]) -> (Vec<State>, Pairs) {
    let suspects = &model.suspects;
    let first_repair = log.iter().position(Evidence::renews);
    let before = first_repair.unwrap_or(log.len());
    // One state a hypothesis: as if nothing of it had been repaired.
    let mut of: Vec<Option<usize>> = vec![None; suspects.hypotheses.len()];
    for (i, state) in alone.states.iter().enumerate() {
        let lasting = state.shows >= 1.0 && state.before != 0 && !state.has_fallen();
        if lasting && state.present(u64::MAX).next().is_some() {
            of[state.first] = Some(i);
        }
    }
    let lasting: Vec<(usize, usize)> =
        of.iter().enumerate().filter_map(|(h, state)| Some((h, (*state)?))).collect();
    let mut leads = lasting.clone();
    let prior = |h: usize| suspects.hypotheses[h].prior.ln();
    let suspect = |h: usize| &suspects.list[suspects.hypotheses[h].suspect];
    let ln_both = |one: usize, other: usize| {
        together(&model.circuit, suspect(one), suspect(other)).ln() + prior(one) + prior(other)
    };
    let alone_fit = |(h, state): (usize, usize)| {
        prior(h) + (0..before).map(|e| alone.ln_fit(e, state)).sum::<f64>()
    };
    leads.sort_by(|a, b| alone_fit(*b).total_cmp(&alone_fit(*a)));
    leads.truncate(MOST_LEADS);

    let mut scored: Vec<(f64, usize, usize)> = Vec::new();
    for (one, state) in &leads {
        let unit = suspects.unit_of(*one);
        let repaired = |e: usize| {
            log[..e].iter().any(|other| other.observation == Observation::Repaired(unit))
        };
        let repaired: Vec<bool> = (0..log.len()).map(repaired).collect();
        for (other, its) in &lasting {
            if suspects.unit_of(*other) == unit {
                continue;
            }
            let bound: f64 = (0..log.len())
                .map(|e| match repaired[e] {
                    true => alone.ln_fit(e, *its),
                    false => alone.ln_fit(e, *its).max(alone.ln_fit(e, *state)),
                })
                .sum();
            scored.push((ln_both(*one, *other) + bound, *one, *other));
        }
    }
    let best = alone.ln_best();
    scored.retain(|(bound, ..)| *bound > best + OUT_OF_REACH.ln());
    scored.sort_by(|a, b| b.0.total_cmp(&a.0));
    let mut seen = HashSet::new();
    scored.retain(|(_, a, b)| seen.insert((*a.min(b), *a.max(b))));
    scored.truncate(MOST_PAIRS);

    let mut scenarios = vec![Scenario::default()];
    let mut states = Vec::new();
    for (_, one, other) in scored {
        let both = [one, other].map(|h| &suspects.scenarios[suspects.hypotheses[h].scenario]);
        let scenario = suspects.scenarios.len() + scenarios.len();
        scenarios.push(Scenario::both(both[0], both[1]));
        let state = State::pair((one, other), scenario, ln_both(one, other));
        states.extend(state.after_repairs(suspects, log));
    }
    (states, Pairs::of(scenarios))
}
