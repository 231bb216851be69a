//! The poles of a switch, from what was found alone.

use crate::bench::found::FoundTable;
use serde::Serialize;

/// Terminals that have to do with one another.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Pole {
    pub terminals: Vec<usize>,
    pub kind: PoleKind,
}

/// How the contacts of a plain switch act together.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum PoleKind {
    NormallyOpen,
    NormallyClosed,
    /// One common terminal, joined to one other at rest and to another when it is worked.
    Changeover,
    /// Joined whichever way it stands.
    AlwaysMade,
    /// More than two or three terminals, or more than two positions.
    Other,
}

/// The poles of a switch with two positions, the one at rest first: each group of terminals that are
/// joined in any position, and how. Terminals that nothing was ever joined to are in none.
///
/// Complete once both positions are; until then these are the poles seen so far.
pub fn poles(table: &FoundTable) -> Vec<Pole> {
    let terminals = table.terminals().len();
    let positions = table.positions().len();
    let known: Vec<_> = (0..positions).map(|p| table.joined(p).0).collect();
    let joined = |p: usize, a: usize, b: usize| known[p].known(a, b) == Some(true);
    let mut group: Vec<usize> = (0..terminals).collect();
    for position in 0..positions {
        for one in 0..terminals {
            for other in one + 1..terminals {
                let (keeps, goes) = (group[one], group[other]);
                if keeps != goes && joined(position, one, other) {
                    group.iter_mut().filter(|g| **g == goes).for_each(|g| *g = keeps);
                }
            }
        }
    }
    let heads = (0..terminals).filter(|t| group[*t] == *t);
    let all = heads.map(|head| (0..terminals).filter(|t| group[*t] == head).collect::<Vec<_>>());
    all.filter(|members| members.len() > 1)
        .map(|terminals| {
            let kind = match (terminals.as_slice(), positions) {
                ([a, b], 2) => match (joined(0, *a, *b), joined(1, *a, *b)) {
                    (false, _) => PoleKind::NormallyOpen,
                    (true, false) => PoleKind::NormallyClosed,
                    (true, true) => PoleKind::AlwaysMade,
                },
                ([_, _, _], 2) => {
                    let with = |p: usize| {
                        let pairs = [(0, 1), (0, 2), (1, 2)];
                        let pair =
                            |(x, y): &(usize, usize)| joined(p, terminals[*x], terminals[*y]);
                        pairs.iter().filter(|xy| pair(xy)).count()
                    };
                    if with(0) == 1 && with(1) == 1 {
                        PoleKind::Changeover
                    } else {
                        PoleKind::Other
                    }
                }
                _ => PoleKind::Other,
            };
            Pole { terminals, kind }
        })
        .collect()
}
