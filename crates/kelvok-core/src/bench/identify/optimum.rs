//! The best that any order of probes could do on average: what [`super::next_probe`] is measured by.

use crate::bench::found::Cell;
use crate::bench::profile::Profile;
use std::collections::HashMap;

/// Tables that a set has room for.
const MOST_TABLES: usize = 128;

/// Everything that a switch could turn out to be: tables, each with its chance.
struct Tables {
    /// By table, whether each cell is made; position by position.
    made: Vec<Vec<bool>>,
    chances: Vec<f64>,
    /// The position of each cell.
    positions: Vec<usize>,
    move_probes: f64,
    /// The best mean by what is still possible and where the switch stands.
    known: HashMap<(u128, usize), f64>,
}

/// Mean cost, in probes, of the optimal decision tree that tells which table it is, from the first
/// position: every profile of these alike likely, and every order of its terminals. `None` where
/// there are over 128 tables that differ.
///
/// The profiles have the same numbers of terminals and the same positions. Branch and bound over
/// sets of tables, each set worked out once; the bound is the entropy of what is left, a probe
/// answering yes or no.
pub fn optimal_mean_probes(profiles: &[&Profile], move_probes: f64) -> Option<f64> {
    let first = profiles.first()?;
    let (terminals, positions) = (first.terminals().len(), first.positions().len());
    let cells: Vec<Cell> = (0..positions)
        .flat_map(|p| (0..terminals).map(move |one| (p, one)))
        .flat_map(|(p, one)| (one + 1..terminals).map(move |other| Cell::new(p, one, other)))
        .collect();
    let mut tables: HashMap<Vec<bool>, f64> = HashMap::new();
    let mut total = 0.0;
    for profile in profiles {
        for order in orders(terminals) {
            let made = cells.iter().map(|c| profile.made(c.position, order[c.one], order[c.other]));
            *tables.entry(made.collect()).or_default() += 1.0;
            total += 1.0;
        }
    }
    if tables.len() > MOST_TABLES {
        return None;
    }
    let mut tables: Vec<_> = tables.into_iter().collect();
    tables.sort_by(|a, b| a.0.cmp(&b.0));
    let all = (0..tables.len()).fold(0, |all, t| all | 1u128 << t);
    let (made, chances) = tables.into_iter().map(|(made, weight)| (made, weight / total)).unzip();
    let positions = cells.iter().map(|c| c.position).collect();
    let mut search = Tables { made, chances, positions, move_probes, known: HashMap::new() };
    Some(search.best(all, 0))
}

impl Tables {
    /// The best mean cost from here on, weighted by the chance of coming here.
    fn best(&mut self, left: u128, at: usize) -> f64 {
        if left.count_ones() < 2 {
            return 0.0;
        }
        if let Some(known) = self.known.get(&(left, at)) {
            return *known;
        }
        let here = self.chance(left);
        let mut splits: Vec<(f64, f64, u128, usize)> = Vec::new();
        for (cell, position) in self.positions.iter().enumerate() {
            let yes = members(left).filter(|t| self.made[*t][cell]);
            let yes = yes.fold(0, |set, t| set | 1u128 << t);
            if yes == 0 || yes == left {
                continue;
            }
            let moves = position.abs_diff(at) as f64;
            let cost = here * (1.0 + self.move_probes * moves);
            let bound = cost + self.bits(yes) + self.bits(left & !yes);
            splits.push((bound, cost, yes, *position));
        }
        splits.sort_by(|a, b| a.0.total_cmp(&b.0));
        splits.dedup_by(|a, b| (a.2, a.3) == (b.2, b.3));
        let mut best = f64::MAX;
        for (bound, cost, yes, position) in splits {
            if bound >= best {
                break;
            }
            let one = cost + self.best(yes, position);
            if one + self.bits(left & !yes) < best {
                best = best.min(one + self.best(left & !yes, position));
            }
        }
        // What no cell tells apart is one.
        let best = if best == f64::MAX { 0.0 } else { best };
        self.known.insert((left, at), best);
        best
    }

    fn chance(&self, set: u128) -> f64 {
        members(set).map(|t| self.chances[t]).sum()
    }

    /// Entropy of a set, in bits, weighted by its chance: no tree of yes and no is quicker.
    fn bits(&self, set: u128) -> f64 {
        let whole = self.chance(set);
        members(set).map(|t| -self.chances[t] * (self.chances[t] / whole).log2()).sum()
    }
}

fn members(set: u128) -> impl Iterator<Item = usize> {
    (0..MOST_TABLES).filter(move |t| set >> t & 1 == 1)
}

/// Every order of so many terminals.
fn orders(terminals: usize) -> Vec<Vec<usize>> {
    (0..terminals).fold(vec![Vec::new()], |shorter, new| {
        let longer = shorter.iter().flat_map(|order: &Vec<usize>| {
            (0..=order.len()).map(move |at| {
                let mut order = order.clone();
                order.insert(at, new);
                order
            })
        });
        longer.collect()
    })
}
