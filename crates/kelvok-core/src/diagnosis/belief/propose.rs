//! Two faults at once: which pairs are worth solving for, by prior and by fit.
//!
//! After de Kleer and Williams (1987), candidates grow only where the smaller ones fail. Solving
//! every pair of a machine would take minutes; so each pair is first given a bound, that every entry
//! is explained by the better of its two, and the best of those are solved exactly. Neither of the
//! two need explain much by itself.

use super::pairs::Pairs;
use super::run::Run;
use crate::diagnosis::evidence::{Evidence, Observation};
use crate::diagnosis::faults::{RELATED, Scenario, State, Suspects, together};
use crate::diagnosis::predict::FaultModel;
use crate::errand::{carried, step};
use rayon::prelude::*;

/// Pairs of suspects of which the sizes are tried.
const MOST_COUPLES: usize = 400;
/// Of one suspect with any other.
const MOST_PARTNERS: usize = 24;
/// Pairs of sizes of one pair of suspects. Of the likeliest few there are more: with both in one path
/// neither is of the size that it would be alone.
const MOST_SIZES: usize = 2;
const LIKELIEST: usize = 6;
const MOST_SIZES_OF_LIKELIEST: usize = 48;
/// Pairs solved exactly.
const MOST_PAIRS: usize = 480;
/// Pairs that by their bound come to less than this share of the best single fault are not worth it.
/// Two together may fit better than either by itself, and so than the bound.
const OUT_OF_REACH: f64 = 1e-5;

/// A suspect, or one size of it, and how well it fits each entry; not at all from its repair on.
struct Half {
    /// Place among the suspects in every wiring, or index of the hypothesis.
    of: usize,
    wiring: usize,
    ln_prior: f64,
    fits: Vec<f32>,
}

/// The pairs that may explain a log better than any single fault, as states, with their scenarios.
pub(crate) fn propose(model: &FaultModel, alone: &Run, log: &[Evidence]) -> (Vec<State>, Pairs) {
    let suspects = &model.suspects;
    let (sizes, sound) = halves(suspects, alone, log);
    let whole = sizes.iter().enumerate().filter_map(|(place, sizes)| largest(place, sizes));
    let whole: Vec<Half> = whole.collect();
    let floor = alone.ln_best() + OUT_OF_REACH.ln();
    let fits = |one: &Half, other: &Half| {
        let both = one.fits.iter().zip(&other.fits).zip(&sound[one.wiring]);
        let better = both.map(|((a, b), sound)| match a.max(*b) {
            // Both are repaired.
            f32::NEG_INFINITY => *sound,
            better => better,
        });
        one.ln_prior + other.ln_prior + f64::from(better.sum::<f32>())
    };
    let suspect = |place: usize| &suspects.list[place % suspects.list.len()];
    let unit = |half: &Half| suspect(half.of).unit;
    let carried = carried();
    let partners = |at: usize| {
        let one = &whole[at];
        let others = whole[at + 1..].iter();
        let others = others.filter(|o| o.wiring == one.wiring && unit(o) != unit(one));
        let scored = others.map(|other| (fits(one, other), one.of, other.of));
        let mut best: Vec<_> = scored.filter(|(s, ..)| s + RELATED.ln() > floor).collect();
        best.sort_by(|a, b| b.0.total_cmp(&a.0));
        best.truncate(MOST_PARTNERS);
        step();
        best
    };
    let rows = (0..whole.len()).into_par_iter();
    let mut couples: Vec<_> = rows.flat_map_iter(|at| carried.within(|| partners(at))).collect();
    let ln_share =
        |one: usize, other: usize| together(&model.circuit, suspect(one), suspect(other)).ln();
    for (score, one, other) in &mut couples {
        *score += ln_share(*one, *other);
    }
    couples.sort_by(|a, b| b.0.total_cmp(&a.0));
    couples.truncate(MOST_COUPLES);

    let mut pairs = Vec::new();
    for (rank, (_, one, other)) in couples.into_iter().enumerate() {
        let ln_share = ln_share(one, other);
        let of = |a: &Half, b: &Half| (fits(a, b) + ln_share, a.of, b.of, ln_share);
        let each = sizes[one].iter().flat_map(|a| sizes[other].iter().map(move |b| of(a, b)));
        let mut each: Vec<_> = each.filter(|(score, ..)| *score > floor).collect();
        each.sort_by(|a, b| b.0.total_cmp(&a.0));
        each.truncate(if rank < LIKELIEST { MOST_SIZES_OF_LIKELIEST } else { MOST_SIZES });
        pairs.extend(each);
    }
    pairs.truncate(MOST_PAIRS);

    let mut scenarios = vec![Scenario::default()];
    let mut states = Vec::new();
    for (_, one, other, ln_share) in pairs {
        let both = [one, other].map(|h| &suspects.scenarios[suspects.hypotheses[h].scenario]);
        let scenario = suspects.scenarios.len() + scenarios.len();
        scenarios.push(Scenario::both(both[0], both[1]));
        let priors = [one, other].map(|h| suspects.hypotheses[h].prior.ln());
        let state = State::pair((one, other), scenario, ln_share + priors[0] + priors[1]);
        states.extend(state.after_repairs(suspects, log));
    }
    (states, Pairs::of(scenarios))
}

/// Every lasting size of each suspect, wiring by wiring, and how the sound machine of each fits each
/// entry.
fn halves(suspects: &Suspects, alone: &Run, log: &[Evidence]) -> (Vec<Vec<Half>>, Vec<Vec<f32>>) {
    let fits = |state: usize| (0..log.len()).map(move |e| alone.ln_fit(e, state) as f32);
    let wirings = suspects.hypotheses.iter().map(|h| h.wiring + 1).max().unwrap_or(1);
    let mut sound = vec![vec![0.0; log.len()]; wirings];
    let places = 0..wirings * suspects.list.len();
    let mut all: Vec<Vec<Half>> = places.map(|_| Vec::new()).collect();
    for (i, state) in alone.states.iter().enumerate() {
        let hypothesis = &suspects.hypotheses[state.first];
        if hypothesis.suspect == 0 {
            sound[hypothesis.wiring] = fits(i).collect();
            continue;
        }
        // One state a hypothesis: as if nothing of it had been repaired.
        let lasting = state.shows >= 1.0 && !state.has_fallen();
        if !lasting || state.present(u64::MAX).next().is_none() {
            continue;
        }
        let unit = suspects.unit_of(state.first);
        let repair = log.iter().position(|e| e.observation == Observation::Repaired(unit));
        let mut own: Vec<f32> = fits(i).collect();
        own[repair.unwrap_or(log.len())..].fill(f32::NEG_INFINITY);
        let (of, wiring) = (state.first, hypothesis.wiring);
        let half = Half { of, wiring, ln_prior: hypothesis.prior.ln(), fits: own };
        all[wiring * suspects.list.len() + hypothesis.suspect].push(half);
    }
    (all, sound)
}

/// A suspect at whatever size fits each entry best: no size of it fits better.
fn largest(place: usize, sizes: &[Half]) -> Option<Half> {
    let first = sizes.first()?;
    let mut best = Half { of: place, fits: first.fits.clone(), ..*first };
    for size in &sizes[1..] {
        best.ln_prior = best.ln_prior.max(size.ln_prior);
        for (fit, its) in best.fits.iter_mut().zip(&size.fits) {
            *fit = fit.max(*its);
        }
    }
    Some(best)
}
