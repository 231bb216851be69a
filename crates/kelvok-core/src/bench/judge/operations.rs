//! What operations without a miss are worth, and which pairs are operated.

use super::complete::Expected;
use crate::bench::found::{Cell, FoundTable};
use crate::bench::profile::{Function, Position, SwitchKind};

/// A contact that is operated again and again: made in a position that springs back, open where it
/// springs back to; or the other way round.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Operated {
    pub held: Cell,
    pub let_go: Cell,
    /// Whether it should be made while it is held.
    pub makes: bool,
    /// How often it was held and read, and how often let go and read.
    pub held_times: usize,
    pub let_go_times: usize,
    /// How often it was not as it should be.
    pub missed: usize,
    pub hung: usize,
}

impl Operated {
    /// Whole operations: held and let go.
    pub fn times(&self) -> usize {
        self.held_times.min(self.let_go_times)
    }

    /// Below which rate its misses lie with 95 % confidence, none having been seen; none where one
    /// was.
    pub fn below(&self) -> Option<f64> {
        let sound = self.missed == 0 && self.hung == 0;
        sound.then(|| miss_rate_below(self.times() as u32, 0.95))
    }
}

/// The contacts of a switch that spring back, with how often each was operated. Of a key switch
/// those of the starter and of the heater; of anything else all of them.
pub fn operated_pairs(
    kind: SwitchKind,
    positions: &[Position],
    expected: Expected<'_>,
    table: &FoundTable,
) -> Vec<Operated> {
    let terminals = table.terminals().len();
    let function =
        |t: usize| expected.profile.terminals()[usize::from(expected.terminals[t])].function;
    let worth = |t: usize| {
        kind != SwitchKind::KeySwitch || matches!(function(t), Function::Starter | Function::Heat)
    };
    let mut all: Vec<Operated> = Vec::new();
    for (held, position) in positions.iter().enumerate() {
        let Some(back) = &position.returns_to else { continue };
        let Some(back) = table.positions().iter().position(|p| p == back) else { continue };
        // One pair for each terminal that changes sides is enough.
        let mut told = 0u16;
        for one in 0..terminals {
            for other in one + 1..terminals {
                let (at, let_go) = (Cell::new(held, one, other), Cell::new(back, one, other));
                let (Some(makes), Some(made)) =
                    (expected.made(table, at), expected.made(table, let_go))
                else {
                    continue;
                };
                let new = told >> one & 1 == 0 || told >> other & 1 == 0;
                let feeds = kind != SwitchKind::KeySwitch
                    || [one, other].into_iter().any(|t| function(t) == Function::Supply);
                if makes == made || !new || !feeds || !(worth(one) || worth(other)) {
                    continue;
                }
                told |= 1 << one | 1 << other;
                all.push(counted(at, let_go, makes, table));
            }
        }
    }
    all
}

fn counted(held: Cell, let_go: Cell, makes: bool, table: &FoundTable) -> Operated {
    let seen = table.seen(held);
    let missed = seen.iter().filter(|s| s.joined() == Some(!makes)).count();
    let (after_made, after) = table.hang_ups(Some(held.position), let_go);
    let hung = if makes { after_made } else { after - after_made };
    Operated { held, let_go, makes, held_times: seen.len(), let_go_times: after, missed, hung }
}

/// The rate of misses below which, with this confidence, a contact lies that was operated so often
/// without one: the rate at which so many operations in a row go well with the chance that is left.
/// From 1 (nothing is known) down.
///
/// For 95 % some three over the number of operations ("the rule of three").
pub fn miss_rate_below(operations: u32, confidence: f64) -> f64 {
    if operations == 0 {
        return 1.0;
    }
    1.0 - (1.0 - confidence).powf(1.0 / f64::from(operations))
}

/// How many operations without a miss are wanted until, with this confidence, fewer than one in so
/// many fails: n >= ln(1 - c) / ln(1 - p).
pub fn operations_for(miss_rate: f64, confidence: f64) -> u32 {
    let wanted = (1.0 - confidence).ln() / (1.0 - miss_rate).ln();
    // Casts saturate; one that never misses wants no more than there are.
    wanted.ceil() as u32
}
