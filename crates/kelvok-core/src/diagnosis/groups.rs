//! Units that no reachable test tells apart.

use super::catalog::Catalog;
use super::planner::NEGLIGIBLE;
use super::{Belief, Suspects, Unit};

/// Beside one that it cannot be told from, a unit is no longer named below this share of it: looks
/// and luck count for something.
const BESIDE: f64 = 0.004;

/// The units that count, those that cannot be told apart together; most suspected first.
///
/// Two units are alike where the likeliest way each would fail answers every test alike.
pub(super) fn groups(suspects: &Suspects, belief: &Belief, catalog: &Catalog) -> Vec<Vec<Unit>> {
    let likeliest = likeliest(suspects, belief);
    let mut groups: Vec<(usize, f64, Vec<Unit>)> = Vec::new();
    // What told the last two apart tells most others apart: it is asked first.
    let mut order: Vec<usize> = (0..catalog.prospects.len()).collect();
    for unit in belief.units(suspects).iter().filter(|u| u.probability > NEGLIGIBLE) {
        let Some(own) = likeliest[unit.suspect] else { continue };
        let mut alike = |first: usize| {
            let splits = |p: &usize| catalog.prospects[*p].scale.splits(suspects, first, own);
            let found = order.iter().position(splits);
            if let Some(found) = found {
                order.swap(0, found);
            }
            found.is_none()
        };
        match groups.iter_mut().find(|(first, ..)| alike(*first)) {
            Some((_, sum, _)) if unit.probability < BESIDE * *sum => {}
            Some((_, sum, units)) => {
                *sum += unit.probability;
                units.push(unit.unit);
            }
            None => groups.push((own, unit.probability, vec![unit.unit])),
        }
    }
    groups.sort_by(|a, b| b.1.total_cmp(&a.1));
    groups.into_iter().map(|(_, _, units)| units).collect()
}

/// By suspect the hypothesis that weighs most in it now.
fn likeliest(suspects: &Suspects, belief: &Belief) -> Vec<Option<usize>> {
    let mut best: Vec<Option<(f64, usize)>> = vec![None; suspects.list.len()];
    best[0] = Some((0.0, 0));
    for (state, weight) in belief.weights.iter().enumerate() {
        for h in belief.present(state) {
            let slot = &mut best[suspects.hypotheses[h].suspect];
            if slot.is_none_or(|(w, _)| *weight > w) {
                *slot = Some((*weight, h));
            }
        }
    }
    best.into_iter().map(|b| b.map(|(_, h)| h)).collect()
}
