//! The order of pairs that finishes a whole table soonest.
//!
//! In a position whose classes are known beforehand, from a profile, the pairs that should be joined
//! are probed first, one less than the terminals of each class; then one pair between every two
//! classes. That is [`Joined::certificate`] probes, and no order can do with fewer where the switch
//! is as it should be. Where it is not, or nothing is known beforehand, what does not follow is
//! asked all the same.

use crate::bench::found::{Cell, FoundTable};
use crate::bench::joined::Joined;
use crate::bench::profile::Profile;

/// A switch that is thought to be of a profile: by found terminal, which of the profile's it is.
#[derive(Clone, Copy, Debug)]
#[allow(missing_docs)]
pub struct Expected<'a> {
    pub profile: &'a Profile,
    pub terminals: &'a [u8],
}

impl Expected<'_> {
    /// Whether a cell should be joined; `None` where the profile has no such position.
    pub fn made(&self, table: &FoundTable, cell: Cell) -> Option<bool> {
        let position = self.profile.position(table.positions().get(cell.position)?)?;
        let terminal = |t: usize| self.terminals.get(t).map(|t| usize::from(*t));
        Some(self.profile.made(position, terminal(cell.one)?, terminal(cell.other)?))
    }
}

/// The next pair to probe; `None` once every position is complete.
///
/// The switch is moved as little as can be: straight through all positions that are not complete,
/// the nearer end of them first.
///
/// # Arguments
/// `at` is the position in which the switch stands.
pub fn next_cell(expected: Option<Expected<'_>>, table: &FoundTable, at: usize) -> Option<Cell> {
    let known: Vec<Joined> = (0..table.positions().len()).map(|p| table.joined(p).0).collect();
    let asked = |position: usize| {
        let joined = &known[position];
        let classes = joined.classes();
        let of = |head: usize| classes.iter().find(|c| c[0] == head).cloned().unwrap_or_default();
        // A pair that came and went, or lies behind a coil, tells no more; another of its classes may.
        let untried = |(one, other): (usize, usize)| {
            let others = of(other);
            let pairs = of(one)
                .into_iter()
                .flat_map(move |a| others.clone().into_iter().map(move |b| (a, b)));
            let mut cells = pairs.map(|(a, b)| Cell::new(position, a, b));
            cells.find(|cell| table.grade(*cell).is_none())
        };
        joined.open_questions().into_iter().filter_map(untried).collect::<Vec<_>>()
    };
    let incomplete: Vec<usize> = (0..known.len()).filter(|p| !asked(*p).is_empty()).collect();
    let (least, most) = (*incomplete.first()?, *incomplete.last()?);
    let position = match incomplete.contains(&at) {
        true => at,
        // Down to the lower end first if that is nearer, and the other way round.
        false if at.abs_diff(least) <= at.abs_diff(most) => {
            incomplete.iter().copied().filter(|p| *p <= at).max().unwrap_or(least)
        }
        false => incomplete.iter().copied().filter(|p| *p >= at).min().unwrap_or(most),
    };
    let cells = asked(position);
    let joined = |cell: &&Cell| expected.and_then(|e| e.made(table, **cell)) == Some(true);
    cells.iter().find(joined).or_else(|| cells.first()).copied()
}
