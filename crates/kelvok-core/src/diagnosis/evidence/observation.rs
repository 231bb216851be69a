//! What may be observed: noticed, measured, looked at, done.

use super::battery_event::BatteryEvent;
use super::close_up::CloseUp;
use super::set_up::SetUp;
use super::unit::Unit;
use crate::battery::BatteryTest;
use crate::circuit::{Crank, ElementId, Instrument, LampState, NodeId, PlungerId, Reading};
use crate::interlock::EngineDoes;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What was heard when the key was turned to start.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
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

/// What is noticed without an instrument.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[allow(missing_docs)]
pub enum Sensed {
    /// The starter, with the engine standing.
    Starter(Heard),
    Engine(EngineDoes),
    /// Whether the clutch has snapped in, or the blades turn.
    Blades(bool),
    /// A lamp or glow plug, by its place among the machine's, and how it burns.
    Lamp(usize, LampState),
}

/// What is noticed when something is tried on the machine.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Sense {
    /// What the starter does.
    Starter,
    /// Whether the engine fires up, or goes on running.
    Engine,
    /// Whether the clutch snaps in, or the blades turn.
    Blades,
    /// How a lamp or glow plug burns, by its place among the machine's.
    Lamp(usize),
}

impl Sensed {
    /// What was attended to.
    pub fn sense(self) -> Sense {
        match self {
            Self::Starter(_) => Sense::Starter,
            Self::Engine(_) => Sense::Engine,
            Self::Blades(_) => Sense::Blades,
            Self::Lamp(lamp, _) => Sense::Lamp(lamp),
        }
    }
}

/// What is looked at and felt, nothing being measured.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Inspected {
    /// A plug, by part index: loose, wet, burnt, a pin pushed back.
    Plug(usize),
    /// A fuse's wire.
    Fuse(ElementId),
    /// Whether the linkage moves the plunger as it should.
    Linkage(PlungerId),
    /// A ground lug or battery clamp: loose, corroded.
    Lug(ElementId),
    /// A wire, by index, along its run: cut, chafed, crushed.
    Wire(usize),
}

/// What was observed, in the circuit's terms.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum Observation {
    Sensed(Sensed),
    Read {
        instrument: Instrument,
        red: NodeId,
        black: NodeId,
        reading: Reading,
    },
    /// Something was looked at; whether it was bad.
    Inspected(Inspected, bool),
    /// A unit was replaced or repaired; what follows is about the machine with that.
    Repaired(Unit),
    /// Somebody had worked on a unit before the job began.
    WorkedOn(Unit, Work),
    /// The machine worked for so many minutes and did nothing that it should not.
    Ran {
        minutes: f64,
    },
    /// A unit was tested by itself on the bench, with this result: it says more than its readings do,
    /// for a dead spot shows in none of them.
    Benched(Unit, bool),
    /// What shows only to who puts a finger or a tester to it.
    CloseUp(CloseUp),
    /// Something was taken off, or a jumper put on, and stays so.
    Arranged(SetUp),
    /// What had been taken off for a test is back on.
    PutBack(SetUp),
    /// The battery is not what it was.
    Battery(BatteryEvent),
    /// The battery was tested by itself, or charged with figures.
    BatteryTest(BatteryTest),
    /// Words for people; it says nothing of what is wrong.
    Noted,
}

impl Observation {
    /// What it says became of the battery.
    pub fn battery_event(&self) -> Option<BatteryEvent> {
        match self {
            Self::Battery(event) => Some(*event),
            Self::BatteryTest(BatteryTest::Charged { .. }) => Some(BatteryEvent::Charged),
            _ => None,
        }
    }
}

/// What was done to a unit before the job began.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Work {
    /// It is not excused by that, and what it hangs on was handled.
    Replaced,
    /// A wire or clip was put across it.
    Jumped,
    /// Something on it was cut, spliced or unplugged.
    Cut,
    /// Its fuse was changed.
    FuseChanged,
}

/// How an entry came to be known.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Source {
    /// Seen, heard or measured by who records it.
    #[default]
    Tested,
    /// Told by whoever brought the machine.
    Told,
}
