//! What is wrong with a switch: found against expected, in the fewest words that say it.

use super::complete::Expected;
use super::consequence::{Consequence, of_extra, of_missing};
use super::travel::Band;
use crate::bench::found::{Cell, FoundTable, Grade};
use crate::bench::identify::Role;
use crate::bench::joined::Joined;
use crate::bench::profile::Function;
use serde::Serialize;
use std::collections::BTreeSet;

/// One thing that is wrong.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Finding {
    pub cell: Cell,
    pub kind: FindingKind,
    pub consequences: Vec<Consequence>,
}

/// In what a cell differs from what is expected.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum FindingKind {
    /// Apart, and should be joined.
    Missing,
    /// Joined, and should be apart: a cross-feed.
    Extra,
    /// Not made every time.
    Misses { made: usize, of: usize },
    /// Still made after it sprang back.
    HangsUp { hung: usize, of: usize },
    /// Apart at some times only, and should be at all.
    AtTimes { made: usize, of: usize },
    /// Made through more than a contact has, in ohms.
    Worn { ohms: f64 },
    /// Neither joined nor apart, in ohms: dirt or a coil lies between.
    Through { ohms: f64 },
    /// It lets go, or makes, on a stretch of its travel where it should not, in percent.
    DeadSpot { from: f64, to: f64 },
}

/// What is wrong with a switch that should be as expected, position by position.
///
/// Of terminals that belong together and are apart, one pair is named for each piece that has come
/// off, its supply or ground first; of those joined that belong apart, one pair for each two pieces.
pub fn findings(expected: Expected<'_>, table: &FoundTable) -> Vec<Finding> {
    let mut all = Vec::new();
    for position in 0..table.positions().len() {
        let role = Role::of(&table.positions()[position]);
        let Some(wanted) = wanted_classes(expected, table, position) else { continue };
        let here = Here { expected, table, position, role, joined: table.joined(position).0 };
        for class in &wanted {
            all.extend(here.missing(class));
        }
        for (i, one) in wanted.iter().enumerate() {
            for other in &wanted[i + 1..] {
                all.extend(here.extra(one, other));
            }
        }
        all.extend(here.doubtful());
    }
    all
}

/// The dead spot of a contact: what it does at that place of its travel, it does in a machine that
/// shakes.
///
/// # Arguments
/// - `cell`: the pair, in the position at the end of the travel.
/// - `dead`: the stretch; whether it makes there.
pub(super) fn dead_spot(
    expected: Expected<'_>,
    table: &FoundTable,
    cell: Cell,
    dead: Band,
) -> Finding {
    let joined = table.joined(cell.position).0;
    let role = Role::of(&table.positions()[cell.position]);
    let here = Here { expected, table, position: cell.position, role, joined };
    let by = if dead.made { of_extra } else { of_missing };
    let effects = here.all(&[cell.one], &[cell.other], by);
    let kind = FindingKind::DeadSpot { from: dead.from, to: dead.to };
    here.finding((cell.one, cell.other), kind, effects)
}

/// Terminals by what should be joined in a position; none where the profile has no such position.
fn wanted_classes(
    expected: Expected<'_>,
    table: &FoundTable,
    position: usize,
) -> Option<Vec<Vec<usize>>> {
    expected.profile.position(table.positions().get(position)?)?;
    let mut classes: Vec<Vec<usize>> = Vec::new();
    for terminal in 0..table.terminals().len() {
        let with = |c: &&mut Vec<usize>| {
            expected.made(table, Cell::new(position, c[0], terminal)) == Some(true)
        };
        match classes.iter_mut().find(with) {
            Some(class) => class.push(terminal),
            None => classes.push(vec![terminal]),
        }
    }
    Some(classes)
}

/// A switch in one position.
struct Here<'a> {
    expected: Expected<'a>,
    table: &'a FoundTable,
    position: usize,
    role: Role,
    joined: Joined,
}

impl Here<'_> {
    fn function(&self, terminal: usize) -> Function {
        self.expected.profile.terminals()[usize::from(self.expected.terminals[terminal])].function
    }

    /// The terminal that speaks for the others.
    fn head(&self, of: &[usize]) -> usize {
        let first = of.iter().copied().min_by_key(|t| (rank(self.function(*t)), *t));
        first.unwrap_or_default()
    }

    fn missing(&self, class: &[usize]) -> Vec<Finding> {
        let mut pieces: Vec<Vec<usize>> = Vec::new();
        for terminal in class {
            let with = |p: &&mut Vec<usize>| self.joined.known(p[0], *terminal) == Some(true);
            match pieces.iter_mut().find(with) {
                Some(piece) => piece.push(*terminal),
                None => pieces.push(vec![*terminal]),
            }
        }
        let main = self.head(class);
        let (own, off): (Vec<_>, Vec<_>) = pieces.into_iter().partition(|p| p.contains(&main));
        let own = own.concat();
        let came_off = off.iter().filter(|p| self.joined.known(main, p[0]) == Some(false));
        let found = came_off.map(|piece| {
            let pair = (main, self.head(piece));
            let effects = self.all(&own, piece, of_missing);
            self.finding(pair, FindingKind::Missing, effects)
        });
        found.collect()
    }

    fn extra(&self, one: &[usize], other: &[usize]) -> Option<Finding> {
        let joined = |(a, b): &(usize, usize)| self.joined.known(*a, *b) == Some(true);
        let pairs: Vec<_> = cross(one, other).filter(joined).collect();
        let rank = |(a, b): &(usize, usize)| rank(self.function(*a)) + rank(self.function(*b));
        let pair = *pairs.iter().min_by_key(|pair| rank(pair))?;
        let (ones, others): (Vec<_>, Vec<_>) = pairs.into_iter().unzip();
        let effects = self.all(&ones, &others, of_extra);
        Some(self.finding(pair, FindingKind::Extra, effects))
    }

    /// Cells that were not the same every time, or neither joined nor apart.
    fn doubtful(&self) -> Vec<Finding> {
        let here = self.table.cells().filter(|(cell, _)| cell.position == self.position);
        let found = here.filter_map(|(cell, _)| {
            let wanted = self.expected.made(self.table, cell)?;
            let grade = self.table.grade(cell)?;
            let (hung, of) = self.table.hang_ups(None, cell);
            let kind = match grade {
                Grade::AtTimes { made, of } if wanted => FindingKind::Misses { made, of },
                Grade::AtTimes { .. } if hung > 0 => FindingKind::HangsUp { hung, of },
                Grade::AtTimes { made, of } => FindingKind::AtTimes { made, of },
                Grade::Resistive { ohms } if wanted => FindingKind::Worn { ohms },
                Grade::Through { ohms } => FindingKind::Through { ohms },
                _ => return None,
            };
            let by = |of: Rule| of(self.role, self.function(cell.one), self.function(cell.other));
            let effect = match kind {
                FindingKind::Worn { .. } => Some(Consequence::DropsUnderLoad),
                _ if wanted => by(of_missing),
                _ => by(of_extra),
            };
            let pair = (cell.one, cell.other);
            Some(self.finding(pair, kind, effect.into_iter().collect()))
        });
        found.collect()
    }

    fn all(&self, ones: &[usize], others: &[usize], of: Rule) -> BTreeSet<Consequence> {
        let effects = cross(ones, others)
            .filter_map(|(a, b)| of(self.role, self.function(a), self.function(b)));
        effects.collect()
    }

    fn finding(
        &self,
        (one, other): (usize, usize),
        kind: FindingKind,
        effects: BTreeSet<Consequence>,
    ) -> Finding {
        let cell = Cell::new(self.position, one, other);
        Finding { cell, kind, consequences: effects.into_iter().collect() }
    }
}

type Rule = fn(Role, Function, Function) -> Option<Consequence>;

fn cross<'a>(ones: &'a [usize], others: &'a [usize]) -> impl Iterator<Item = (usize, usize)> + 'a {
    ones.iter().flat_map(move |a| others.iter().map(move |b| (*a, *b)))
}

/// Whoever feeds or grounds the others is named first.
fn rank(function: Function) -> usize {
    use Function::*;
    let order = [
        Supply,
        Ground,
        Common,
        Kill,
        Starter,
        Ignition,
        Heat,
        Regulator,
        Accessory,
        Lights,
        NormallyOpen,
        NormallyClosed,
        Contact,
    ];
    order.iter().position(|f| *f == function).unwrap_or(order.len())
}
