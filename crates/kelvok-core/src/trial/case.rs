//! One case: a machine with its trouble, and what is told of it.

use super::machine::TrialMachine;
use super::surroundings::Surroundings;
use super::world::World;
use super::yard::BatteryDay;
use crate::circuit::Condition;
use crate::diagnosis::Evidence;
use crate::random::Random;
use std::sync::Arc;

/// How many faults, and whether they last.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Faults {
    #[default]
    Single,
    Double,
    Intermittent,
}

/// A machine with its trouble and what was told of it.
#[derive(Clone)]
pub(super) struct Case {
    pub world: World,
    pub told: Vec<Evidence>,
    pub complaint: Condition,
    pub faults: Faults,
    pub random: Random,
    pub surroundings: Surroundings,
    /// Entries, by sequence, that are slips of the hand or ear.
    pub slips: Vec<u64>,
    /// What becomes of the battery on the way.
    pub battery_day: Option<BatteryDay>,
    /// What the drawing has wrong; it is put right by the verdict that says so.
    pub drawn_wrong: Option<Arc<DrawnWrong>>,
}

/// An error of the drawing, and the machine drawn right.
pub(super) struct DrawnWrong {
    /// In the fault notation: what puts it right is the same.
    pub change: String,
    pub right: TrialMachine,
}

impl DrawnWrong {
    /// Whether this is the error: of two swapped pins either may be named first.
    pub fn is(&self, change: &str) -> bool {
        let turned = |(one, other): (&str, &str)| format!("{other}=swapped:{one}") == self.change;
        change == self.change || change.split_once("=swapped:").is_some_and(turned)
    }
}
