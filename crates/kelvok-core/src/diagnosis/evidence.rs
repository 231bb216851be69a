//! The evidence log: every kind of observation, each bound to a condition and a set-up.

use super::{Unit, lamp_in_place};
use crate::circuit::{
    Change, Circuit, Condition, Crank, ElementId, ElementKind, Instrument, LampState, NodeId,
    PlungerId, Reading,
};
pub use crate::interlock::EngineDoes;
use crate::machine::PartKind;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Something the mechanic arranged before observing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum SetUp {
    /// A connector, by part index, is unplugged.
    Unplugged(usize),
    /// A switch is worked by hand, its linkage out of the way.
    PressedByHand(PlungerId),
    /// The linkage is out of the way of a switch's plunger, which nothing presses.
    FreedByHand(PlungerId),
    /// The harness at a place, by index, is shaken and pulled at while looking.
    Shaken(usize),
    /// The plug of a solenoid or clutch, by part index, is off and a 21 W lamp hangs in its place,
    /// from the feed pin to ground.
    LampInPlace(usize),
    /// The battery's lead is off, so that ohms may be read anywhere.
    BatteryOff,
}

impl SetUp {
    /// Everything that can be set up on a machine.
    pub fn all(circuit: &Circuit) -> Vec<Self> {
        let document = circuit.document();
        let parts = || document.parts.iter().enumerate();
        // Its negative clamp off is the battery off.
        let negative = circuit.elements().find_map(|(_, e)| match e.kind {
            ElementKind::Source { .. } => Some(e.a),
            _ => None,
        });
        let on_negative = |joint| {
            let e = circuit.element(joint);
            Some(e.a) == negative || Some(e.b) == negative
        };
        let plugs = parts().filter(|(part, p)| {
            let mut joints = circuit.joints(*part).peekable();
            let plug = p.kind == PartKind::Connector && joints.peek().is_some();
            plug && !joints.any(on_negative)
        });
        let plugs = plugs.map(|(part, _)| Self::Unplugged(part));
        let plungers = (0..circuit.plungers.len()).map(|p| PlungerId(p as u16));
        let by_hand = plungers.flat_map(|p| [Self::PressedByHand(p), Self::FreedByHand(p)]);
        let lamps = lamp_in_place::plugs(circuit).into_iter().map(Self::LampInPlace);
        let at = |id: &str| parts().any(|(_, p)| p.place.as_deref() == Some(id));
        let places = document.places.iter().enumerate().filter(|(_, p)| at(&p.id));
        let shaken = places.map(|(place, _)| Self::Shaken(place));
        let off = [Self::BatteryOff].into_iter().filter(|off| !off.changes(circuit).is_empty());
        off.chain(plugs).chain(by_hand).chain(lamps).chain(shaken).collect()
    }

    /// What it changes in the circuit.
    pub fn changes(self, circuit: &Circuit) -> Vec<Change> {
        match self {
            Self::Unplugged(part) => vec![Change::Apart(part)],
            Self::PressedByHand(plunger) => vec![Change::Pressed(plunger, true)],
            Self::FreedByHand(plunger) => vec![Change::Pressed(plunger, false)],
            Self::Shaken(_) => Vec::new(),
            Self::LampInPlace(plug) => lamp_in_place::changes(circuit, plug),
            Self::BatteryOff => circuit
                .elements()
                .filter(|(_, e)| matches!(e.kind, ElementKind::Source { .. }))
                .map(|(id, _)| Change::Open(id))
                .collect(),
        }
    }
}

/// What was heard when the key was turned to start.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema,
)]
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

/// What is noticed without an instrument.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Sensed {
    /// The starter, with the engine standing.
    Starter(Heard),
    Engine(EngineDoes),
    /// Whether the clutch has snapped in, or the blades turn.
    Blades(bool),
    /// A lamp or glow plug, by its place among the machine's, and how it burns.
    Lamp(usize, LampState),
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

#[derive(Clone, Copy, Debug, PartialEq)]
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
    /// Words for people; it says nothing of what is wrong.
    Noted,
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

/// One entry of the log.
#[derive(Clone, Debug, PartialEq)]
pub struct Evidence {
    /// Its place in the job's log.
    pub sequence: u64,
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub observation: Observation,
    /// How often it was seen, at least once.
    pub repeats: u32,
    pub source: Source,
    /// What was noticed comes and goes in this condition: "about twice an hour".
    pub at_times: bool,
    /// How often that is, times an hour of running, where it was said.
    pub times_an_hour: Option<f64>,
}

impl Evidence {
    /// What was heard of the starter, if that is what this is.
    pub fn heard(&self) -> Option<Heard> {
        match self.observation {
            Observation::Sensed(Sensed::Starter(heard)) => Some(heard),
            _ => None,
        }
    }

    /// Whether the machine was there to be worked, measured or looked at: not so of what is told.
    pub fn is_done(&self) -> bool {
        let words = matches!(self.observation, Observation::WorkedOn(..) | Observation::Noted);
        self.source == Source::Tested && !words
    }

    /// Whether it says how the machine behaves, rather than what a part or a point shows.
    pub fn is_behavior(&self) -> bool {
        matches!(self.observation, Observation::Sensed(_))
    }
}
