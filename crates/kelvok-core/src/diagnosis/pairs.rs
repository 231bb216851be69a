//! Two faults at once: which pairs are worth solving for, by prior and by fit.
//!
//! After de Kleer and Williams (1987), candidates grow only where the smaller ones fail. Solving
//! every pair of a machine would take minutes; so each pair is first given a bound, that every entry
//! is explained by the better of its two, and the best of those are solved exactly.

use super::belief::Case;
use super::book::running_relays;
use super::page::{Page, Situation};
use super::priors::TOGETHER;
use super::run::Run;
use super::state::State;
use super::suspects::Column;
use super::{Evidence, Observation, Suspects};
use crate::circuit::{Circuit, Relays};
use std::collections::{HashMap, HashSet};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

/// Pairs solved exactly.
const MOST_PAIRS: usize = 160;
/// Pairs that could at best be this much likelier than the best single fault are not worth it.
const OUT_OF_REACH: f64 = 1e-3;
/// The best single explanations of some entries, which are paired with everything.
const MOST_LEADS: usize = 24;

/// Columns of two faults each, and pages of them. The first is the sound machine's.
#[derive(Debug, Default)]
pub(super) struct Pairs {
    columns: Vec<Column>,
    pages: Mutex<HashMap<Situation, Arc<Page>>>,
    running: OnceLock<Arc<[Relays]>>,
}

impl Clone for Pairs {
    fn clone(&self) -> Self {
        let pages = self.pages.lock().unwrap_or_else(PoisonError::into_inner).clone();
        Self {
            columns: self.columns.clone(),
            pages: Mutex::new(pages),
            running: self.running.clone(),
        }
    }
}

impl Pairs {
    pub fn columns(&self) -> &[Column] {
        &self.columns
    }

    /// A column, counted on from those of the suspects.
    pub fn column<'a>(&'a self, suspects: &'a Suspects, column: usize) -> &'a Column {
        match column.checked_sub(suspects.columns.len()) {
            Some(pair) => &self.columns[pair],
            None => &suspects.columns[column],
        }
    }

    /// The pairs' page of a situation, solved now or before.
    pub fn page(&self, circuit: &Circuit, situation: &Situation) -> Option<Arc<Page>> {
        if self.columns.is_empty() {
            return None;
        }
        let running = || running_relays(circuit, &self.columns).into();
        let running = situation.runs().then(|| self.running.get_or_init(running).clone());
        let mut pages = self.pages.lock().unwrap_or_else(PoisonError::into_inner);
        let page = pages
            .entry(situation.clone())
            .or_insert_with(|| Arc::new(Page::new(circuit, &self.columns, situation, running)));
        Some(page.clone())
    }
}

/// The pairs that may explain a log better than any single fault, as states, with their columns.
pub(super) fn propose(case: Case<'_>, alone: &Run, log: &[Evidence]) -> (Vec<State>, Pairs) {
    let suspects = case.suspects;
    let first_repair = log.iter().position(|e| matches!(e.observation, Observation::Repaired(_)));
    let before = first_repair.unwrap_or(log.len());
    // One state a hypothesis: as if nothing of it had been repaired.
    let mut of: Vec<Option<usize>> = vec![None; suspects.hypotheses.len()];
    for (i, state) in alone.states.iter().enumerate() {
        let lasting = state.shows >= 1.0 && state.before != 0;
        if lasting && state.present(u64::MAX).next().is_some() {
            of[state.first] = Some(i);
        }
    }
    let lasting: Vec<(usize, usize)> =
        of.iter().enumerate().filter_map(|(h, state)| Some((h, (*state)?))).collect();
    let mut leads = lasting.clone();
    let prior = |h: usize| suspects.hypotheses[h].prior.ln();
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
            scored.push((prior(*one) + prior(*other) + bound, *one, *other));
        }
    }
    let best = alone.ln_best();
    scored.retain(|(bound, ..)| bound + TOGETHER.ln() > best + OUT_OF_REACH.ln());
    scored.sort_by(|a, b| b.0.total_cmp(&a.0));
    let mut seen = HashSet::new();
    scored.retain(|(_, a, b)| seen.insert((*a.min(b), *a.max(b))));
    scored.truncate(MOST_PAIRS);

    let mut pairs = Pairs { columns: vec![Column::default()], ..Pairs::default() };
    let mut states = Vec::new();
    for (_, one, other) in scored {
        let both = [one, other].map(|h| &suspects.columns[suspects.hypotheses[h].column]);
        let column = suspects.columns.len() + pairs.columns.len();
        pairs.columns.push(Column::both(both[0], both[1]));
        let ln_prior = TOGETHER.ln() + prior(one) + prior(other);
        let state = State::pair((one, other), column, ln_prior);
        states.extend(state.after_repairs(suspects, log));
    }
    (states, pairs)
}
