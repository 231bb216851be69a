//! What shows only to who puts a finger, a tester or a squirt of fuel to it.

use crate::circuit::{ElementId, Spark};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What was found close up, by its place in the circuit.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum CloseUp {
    /// Whether a coil, by index, was felt or heard to pull in with a finger on it: a relay, a solenoid.
    Coil(usize, bool),
    /// What jumps at a spark tester on a module or ignition coil, by its place among the machine's.
    Spark(usize, SparkSeen),
    /// Whether fuel comes, where a solenoid has a say in it.
    Fuel(bool),
    /// Whether it fires on fuel given by hand.
    Sniff(bool),
    /// Whether a fuse blows, or a breaker trips.
    Blows(ElementId, bool),
}

/// What is seen at a spark tester.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum SparkSeen {
    No,
    Weak,
    Yes,
}

impl SparkSeen {
    /// What truthful eyes see of it.
    pub fn of(spark: Spark) -> Self {
        match spark {
            Spark::Killed => Self::No,
            Spark::Weak => Self::Weak,
            Spark::On => Self::Yes,
        }
    }
}

impl CloseUp {
    /// Whether two are about one and the same thing.
    pub fn is_of_the_same(self, other: Self) -> bool {
        match (self, other) {
            (Self::Coil(a, _), Self::Coil(b, _)) | (Self::Spark(a, _), Self::Spark(b, _)) => a == b,
            (Self::Blows(a, _), Self::Blows(b, _)) => a == b,
            (Self::Fuel(_), Self::Fuel(_)) | (Self::Sniff(_), Self::Sniff(_)) => true,
            _ => false,
        }
    }
}
