//! One case: a machine with its trouble, and what is told of it.

use super::surroundings::Surroundings;
use super::world::World;
use super::yard::BatteryDay;
use crate::circuit::Condition;
use crate::diagnosis::Evidence;
use crate::random::Random;

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
}
