//! A drawing that says which terminal is which, and what the readings say of it.

use super::assignments::assignments;
use super::next_probe::{Identity, identify, next_probe};
use crate::bench::found::{Cell, FoundTable};
use crate::bench::profile::Profile;
use std::slice::from_ref;

/// What the readings make of a layout.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum LayoutVerdict {
    /// Nothing speaks against it, and other orders fit too; so many in all.
    Open { fit: u64 },
    /// Every order that fits does what it says: nothing read at the switch can tell them apart.
    Confirmed,
    /// These cells say otherwise. So many other orders of the same kind do fit; none, and it is the
    /// switch that is bad, or of another kind.
    Contradicted { cells: Vec<Cell>, fit: u64 },
}

/// What was found, against a layout of a profile.
pub fn layout_verdict(profile: &Profile, layout: &[u8], table: &FoundTable) -> LayoutVerdict {
    let says = |cell: &Cell| {
        let position = profile.position(&table.positions()[cell.position])?;
        let [one, other] = [cell.one, cell.other].map(|t| usize::from(layout[t]));
        Some(profile.made(position, one, other))
    };
    let against = table.holding().into_iter();
    let cells: Vec<Cell> = against
        .filter(|(cell, made)| says(cell).is_some_and(|said| said != *made))
        .map(|(cell, _)| cell)
        .collect();
    let fit = assignments(profile, table, 0).count;
    match cells.is_empty() {
        false => LayoutVerdict::Contradicted { cells, fit },
        // Whatever still fits would answer every probe alike, and the layout is among it.
        true if fit > 0 && next_probe(from_ref(profile), table, 0, 0.0).is_none() => {
            LayoutVerdict::Confirmed
        }
        true => LayoutVerdict::Open { fit },
    }
}

/// What would fit if one cell were not as it was found: a switch of that kind with one fault.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct NearMiss {
    pub cell: Cell,
    /// By index into the profiles.
    pub profile: usize,
    /// How many orders of its terminals would fit.
    pub count: u64,
}

/// Every profile that would fit but for one cell, where none fits as it is: at most one cell each,
/// the one that leaves most.
pub fn near_misses(profiles: &[Profile], table: &FoundTable) -> Vec<NearMiss> {
    let mut best: Vec<NearMiss> = Vec::new();
    for (cell, _) in table.holding() {
        let without = table.without(cell);
        for Identity { profile, fits, .. } in identify(profiles, &without, 0) {
            let miss = NearMiss { cell, profile, count: fits.count };
            match best.iter_mut().find(|b| b.profile == profile) {
                Some(b) if b.count >= miss.count => {}
                Some(b) => *b = miss,
                None => best.push(miss),
            }
        }
    }
    best
}
