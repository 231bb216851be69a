//! What the log rules out only as long as nothing else is wrong.
//!
//! A welded start contact is ruled out by a key at start that does nothing; with a breaker that trips
//! there it is not. Two faults are judged together only where one explains the log badly: for safety
//! they are asked after here, one that would do harm beside one that is believed.

use super::pairs::Pairs;
use super::posterior::Belief;
use super::run::Run;
use crate::diagnosis::evidence::Evidence;
use crate::diagnosis::faults::{Scenario, together};
use crate::diagnosis::predict::{FaultModel, Shown, Situation};

/// Believed faults, the likeliest, beside which others are supposed.
const MOST_BELIEVED: usize = 24;
/// Pairs that are solved.
const MOST_PAIRS: usize = 240;

/// What a pair comes to at most, its share of the product of both chances, the state of the believed
/// one, and the hypothesis beside it.
type Couple = (f64, f64, usize, usize);

/// Whether the machine may do something in a situation by two faults at once: by one that would do
/// it alone, which the log speaks against, beside one that is believed.
///
/// # Arguments
/// Pairs below the probability `least` do not count; `does` says of what shows whether it is that.
pub(crate) fn may_do_by_two(
    model: &FaultModel,
    (belief, log): (&Belief, &[Evidence]),
    situation: &Situation,
    (least, does): (f64, impl Fn(&Shown) -> bool),
) -> bool {
    let suspects = &model.suspects;
    let shown = model.dictionary(situation).shown();
    let lasting = suspects.hypotheses.iter().enumerate().filter(|(_, h)| h.shows >= 1.0);
    let harmful: Vec<usize> =
        lasting.filter(|(_, h)| does(&shown[h.scenario])).map(|(i, _)| i).collect();
    let mut believed: Vec<usize> = (0..belief.states.len())
        .filter(|s| {
            let state = &belief.states[*s];
            state.second.is_none() && state.shows >= 1.0 && state.wrong(u64::MAX).next().is_some()
        })
        .collect();
    believed.sort_by(|a, b| belief.weights[*b].total_cmp(&belief.weights[*a]));
    believed.truncate(MOST_BELIEVED);

    let mut couples: Vec<Couple> = Vec::new();
    for state in &believed {
        let one = belief.states[*state].first;
        let of = |h: usize| &suspects.list[suspects.hypotheses[h].suspect];
        let wiring = suspects.hypotheses[one].wiring;
        let others = harmful.iter().filter(|h| {
            let alike = suspects.hypotheses[**h].wiring == wiring;
            alike && suspects.unit_of(**h) != suspects.unit_of(one)
        });
        couples.extend(others.filter_map(|other| {
            let share = together(&model.circuit, of(one), of(*other));
            let most = belief.weights[*state] * suspects.hypotheses[*other].prior * share;
            (most > least).then_some((most, share, *state, *other))
        }));
    }
    couples.sort_by(|a, b| b.0.total_cmp(&a.0));
    couples.truncate(MOST_PAIRS);

    let own = |(_, _, state, other): &Couple| {
        let other = &suspects.scenarios[suspects.hypotheses[*other].scenario];
        Scenario::both(&suspects.scenarios[belief.states[*state].before], other)
    };
    let pairs_of = |couples: &[Couple]| {
        Pairs::of([Scenario::default()].into_iter().chain(couples.iter().map(own)).collect())
    };
    // Most do nothing of the kind together: what keeps one silent keeps both.
    let pairs = pairs_of(&couples);
    let Some(here) = pairs.dictionary(&model.circuit, situation) else { return false };
    let here = here.shown();
    let mut at = 0;
    couples.retain(|_| {
        at += 1;
        does(&here[at])
    });
    if couples.is_empty() {
        return false;
    }
    // What the log says of them, against the believed one alone.
    let pairs = pairs_of(&couples);
    let mut states = Vec::new();
    for (at, (_, share, state, other)) in couples.iter().enumerate() {
        let one = &belief.states[*state];
        let scenario = suspects.scenarios.len() + 1 + at;
        let prior = suspects.hypotheses[*other].prior.ln();
        states.extend([one.clone(), one.beside(*other, scenario, prior + share.ln())]);
    }
    let run = Run::through(model, states, &pairs, log);
    let ln = run.ln_weights();
    couples
        .iter()
        .zip(ln.chunks(2))
        .any(|((_, _, state, _), ln)| belief.weights[*state] * (ln[1] - ln[0]).exp() > least)
}
