//! The linkage, apart from the switch: pressed by hand against pressed by the machine.

use crate::bench::found::{Cell, FoundTable};
use serde::Serialize;

/// What is said of a linkage, apart from its switch.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum LinkageVerdict {
    /// Nothing was read while the machine worked it.
    NotTried,
    /// By hand it was not tried, or does not change: nothing can be told of the linkage.
    SwitchFirst,
    /// Seen in one position only, and right there.
    HalfTried,
    Works,
    /// By hand it works, by the machine it stays as it is at rest.
    DoesNotReach,
    /// By hand it works, by the machine it stays worked.
    DoesNotLetGo,
    /// Not the same every time the machine worked it.
    AtTimes,
}

/// What is to be said of the linkage. Both tables have the same terminals and two positions, the one
/// at rest first.
pub fn linkage_verdict(by_hand: &FoundTable, by_machine: &FoundTable) -> LinkageVerdict {
    use LinkageVerdict::*;
    if by_machine.cells().next().is_none() {
        return NotTried;
    }
    let mut worst = SwitchFirst;
    for (cell, _) in by_machine.cells() {
        let at = |position| by_hand.made(Cell { position, ..cell });
        let (Some(rest), Some(worked)) = (at(0), at(1)) else { continue };
        if rest == worked {
            continue;
        }
        let found = |position| by_machine.made(Cell { position, ..cell });
        let tried = |position| by_machine.grade(Cell { position, ..cell }).is_some();
        let here = match (found(0), found(1)) {
            (Some(made), _) if made != rest => DoesNotLetGo,
            (_, Some(made)) if made != worked => DoesNotReach,
            (Some(_), Some(_)) => Works,
            (None, _) if tried(0) => AtTimes,
            (_, None) if tried(1) => AtTimes,
            _ => HalfTried,
        };
        let bad = |v: LinkageVerdict| matches!(v, DoesNotReach | DoesNotLetGo | AtTimes);
        worst = match (worst, here) {
            (SwitchFirst | HalfTried, here) => here,
            (_, here) if bad(here) => here,
            (worst, _) => worst,
        };
    }
    worst
}
