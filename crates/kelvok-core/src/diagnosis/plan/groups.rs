//! Units that no reachable test tells apart.

use super::stakes::NEGLIGIBLE;
use crate::diagnosis::belief::Belief;
use crate::diagnosis::candidates::Catalog;
use crate::diagnosis::evidence::Unit;
use crate::diagnosis::faults::Suspects;
use std::collections::HashMap;

/// Beside one that it cannot be told from, a unit is no longer named below this share of it: looks
/// and luck count for something.
const BESIDE: f64 = 0.004;

/// Ways to fail that hold less than this share of a unit's weight do not count in comparing it.
const COUNTS: f64 = 0.1;
/// Two units are alike where this share of what speaks for the one would not tell them apart.
const ALIKE: f64 = 0.5;

/// The units that count, those that cannot be told apart together; most suspected first.
///
/// Two units are alike where the likeliest way the one would fail, and most ways the other would,
/// answer every test alike.
pub(crate) fn groups(suspects: &Suspects, belief: &Belief, catalog: &Catalog) -> Vec<Vec<Unit>> {
    let ways = ways(suspects, belief);
    let mut groups: Vec<(Unit, f64, Vec<Unit>)> = Vec::new();
    // What told the last two apart tells most others apart: it is asked first.
    let mut order: Vec<usize> = (0..catalog.prospects.len()).collect();
    for unit in belief.units(suspects).iter().filter(|u| u.probability > NEGLIGIBLE) {
        let own = ways.get(&unit.unit).and_then(|ways| ways.first());
        let Some((own, _)) = own else { continue };
        let mut splits = |way: usize| {
            let splits = |p: &usize| catalog.prospects[*p].scale.splits(suspects, way, *own);
            let found = order.iter().position(splits);
            if let Some(found) = found {
                order.swap(0, found);
            }
            found.is_some()
        };
        let mut alike = |first: &Unit| {
            let ways = ways.get(first).map_or(&[][..], Vec::as_slice);
            let all: f64 = ways.iter().map(|(_, weight)| weight).sum();
            let same = ways.iter().filter(|(way, _)| !splits(*way)).map(|(_, weight)| weight);
            same.sum::<f64>() >= ALIKE * all
        };
        match groups.iter_mut().find(|(first, ..)| alike(first)) {
            Some((_, sum, _)) if unit.probability < BESIDE * *sum => {}
            Some((_, sum, units)) => {
                *sum += unit.probability;
                units.push(unit.unit);
            }
            None => groups.push((unit.unit, unit.probability, vec![unit.unit])),
        }
    }
    groups.sort_by(|a, b| b.1.total_cmp(&a.1));
    groups.into_iter().map(|(_, _, units)| units).collect()
}

/// By unit the hypotheses that weigh most in it now, the heaviest first, with their weights.
fn ways(suspects: &Suspects, belief: &Belief) -> HashMap<Unit, Vec<(usize, f64)>> {
    let mut weights: HashMap<usize, f64> = HashMap::new();
    for (state, weight) in belief.weights.iter().enumerate() {
        for h in belief.wrong(state) {
            *weights.entry(h).or_default() += weight;
        }
    }
    weights.entry(0).or_default();
    let mut by_unit: HashMap<Unit, Vec<(usize, f64)>> = HashMap::new();
    for (h, weight) in weights {
        by_unit.entry(suspects.unit_of(h)).or_default().push((h, weight));
    }
    for ways in by_unit.values_mut() {
        ways.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
        let all: f64 = ways.iter().map(|(_, weight)| weight).sum();
        let heavy = ways.iter().take_while(|(_, weight)| *weight >= COUNTS * all).count();
        ways.truncate(heavy.max(1));
    }
    by_unit
}
