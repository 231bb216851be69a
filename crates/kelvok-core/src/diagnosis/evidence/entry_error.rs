//! What may be wrong with an entry.

use crate::battery::BatteryTestError;
use crate::circuit::{ConditionError, UnknownName};

/// Nobody runs a machine for longer than a season without a look.
pub(super) const MOST_MINUTES: f64 = 60_000.0;

/// No starter of such a machine draws more.
pub(crate) const MOST_AMPS: f64 = 2000.0;

/// No coil that somebody holds a probe to is colder or hotter, in °C.
pub(super) const WARMTH: std::ops::RangeInclusive<f64> = -40.0..=200.0;

/// A name in an entry that the machine does not have.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[allow(missing_docs)]
pub enum EntryError {
    #[error(transparent)]
    Condition(#[from] ConditionError),
    #[error(transparent)]
    Name(#[from] UnknownName),
    #[error("red and black are on the same piece of metal: {0}")]
    SamePoint(String),
    #[error("a clamp goes around a wire, and none runs from {0}")]
    NoWireThere(String),
    #[error("degrees go with ohms of a coil, from -40 to 200 °C")]
    Celsius,
    #[error("idle goes with what is read while the engine runs")]
    Idle,
    #[error("clamp amps are at most {MOST_AMPS} A either way")]
    Amps,
    #[error("this machine cannot stand like this: {0}")]
    CannotOccur(String),
    #[error("a run takes more than no minutes, and at most {MOST_MINUTES}")]
    Minutes,
    #[error("a machine runs with its engine running")]
    DidNotRun,
    #[error("this machine has no battery")]
    NoBattery,
    #[error(transparent)]
    Battery(#[from] BatteryTestError),
    #[error("a note says something")]
    EmptyNote,
    #[error("spark and fuel are tried while the engine turns")]
    EngineStands,
    #[error("this machine has no fuel solenoid")]
    NoFuelSolenoid,
    #[error(
        "a hand that holds a plunger or shakes a harness lets go again: it is said with the test"
    )]
    LetsGo,
    #[error("both ends of the jumper are on the same piece of metal: {0}")]
    JumpsNothing(String),
    #[error("a fuse carries something")]
    FuseOfNothing,
}
