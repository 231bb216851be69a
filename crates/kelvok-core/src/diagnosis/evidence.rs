//! The evidence log: every kind of observation, each bound to a condition and a set-up.

use crate::circuit::{Change, Condition, Crank, Instrument, NodeId, PlungerId, Reading};
use serde::{Deserialize, Serialize};

/// Something the mechanic arranged before observing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum SetUp {
    /// A connector, by part index, is unplugged.
    Unplugged(usize),
    /// A switch is worked by hand, its linkage out of the way.
    PressedByHand(PlungerId),
}

impl SetUp {
    /// What it changes in the circuit.
    pub fn change(self) -> Change {
        match self {
            Self::Unplugged(part) => Change::Apart(part),
            Self::PressedByHand(plunger) => Change::Pressed(plunger, true),
        }
    }
}

/// What was heard when the key was turned to start.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Heard {
    Silent,
    Click,
    Chatter,
    CranksSlowly,
    Cranks,
}

impl Heard {
    /// What a truthful ear hears of it.
    pub fn of(crank: Crank) -> Self {
        match crank {
            Crank::No => Self::Silent,
            Crank::Click => Self::Click,
            Crank::Chatter => Self::Chatter,
            Crank::Slow => Self::CranksSlowly,
            Crank::Yes => Self::Cranks,
        }
    }
}

#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Observation {
    Heard(Heard),
    Read { instrument: Instrument, red: NodeId, black: NodeId, reading: Reading },
}

/// One entry of the log.
#[derive(Clone, Debug)]
pub struct Evidence {
    /// Its place in the job's log.
    pub sequence: u64,
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub observation: Observation,
    /// How often it was seen, at least once.
    pub repeats: u32,
}
