//! Evidence by name, as it is stored and sent; [`Entry::resolve`] turns the names into a circuit's.

use super::battery_event::BatteryEvent;
use super::close_up_entry::CloseUpEntry;
use super::entry_error::{EntryError, MOST_AMPS, MOST_MINUTES, WARMTH};
use super::log::Evidence;
use super::observation::{Heard, Inspected, Observation, Sensed, Source, Work};
use super::repair::Repair;
use super::set_up::SetUp;
use super::unit::Unit;
use crate::battery::{BatteryTest, battery_volts};
use crate::circuit::{
    Circuit, Condition, Engine, Instrument, LampState, PlungerId, Reading, UnknownName,
    wires_between,
};
use crate::interlock::EngineDoes;
use crate::loads::{at_20, copper};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// One entry of the evidence log.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Entry {
    /// Control id -> position id; a control not named stands at rest.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub condition: BTreeMap<String, String>,
    #[serde(default)]
    pub engine: Engine,
    #[serde(default)]
    pub set_up: Vec<SetUpEntry>,
    pub observation: ObservationEntry,
    #[serde(default = "once")]
    pub repeats: u32,
    /// Whether it was tested, or told by whoever brought the machine.
    #[serde(default, skip_serializing_if = "is_tested")]
    pub source: Source,
    /// What was noticed comes and goes in this condition.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub at_times: bool,
    /// How often that is, times an hour of running, where it was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub times_an_hour: Option<f64>,
    /// How warm the coil was that ohms were read of, in °C, where that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub celsius: Option<f64>,
    /// The engine idles while it is read; else it is at full speed, where it runs.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub idle: bool,
}

#[allow(clippy::trivially_copy_pass_by_ref)] // as serde calls it
fn is_tested(source: &Source) -> bool {
    *source == Source::Tested
}

fn once() -> u32 {
    1
}

/// What is set up before something is measured or tried, by names.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum SetUpEntry {
    Unplugged {
        connector: String,
    },
    PressedByHand {
        switch: String,
    },
    FreedByHand {
        switch: String,
    },
    Shaken {
        place: String,
    },
    /// The plug of a solenoid or clutch off, a 21 W lamp from its feed pin to ground.
    LampInPlace {
        connector: String,
    },
    BatteryOff,
    /// One wire, by id, off its stud or out of its plug.
    WireOff {
        wire: String,
    },
    /// A jumper wire between two terminals, as `part.terminal`.
    Jumper {
        from: String,
        to: String,
        /// What its fuse is rated at, in amperes, if it has one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        fuse: Option<u16>,
    },
}

/// What was observed, by names.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum ObservationEntry {
    /// The starter, with the engine standing.
    Heard { heard: Heard },
    /// What the engine does while it is cranked, or while it runs.
    Engine { does: EngineDoes },
    /// Whether the clutch has snapped in, or the blades turn.
    Blades { turn: bool },
    /// A lamp or glow plug, by part id.
    Lamp { lamp: String, burns: LampState },
    /// Something was looked at and felt.
    Looked { at: LookEntry, bad: bool },
    /// A unit was replaced or repaired: a part's id, a wire's id, or `part:linkage`.
    Repaired {
        unit: String,
        /// What was done to it, where that was said.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        how: Option<Repair>,
        /// In words of one's own.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        note: String,
    },
    /// A unit was tested by itself on the bench; whether it was bad.
    Benched { unit: String, bad: bool },
    /// What shows only to who puts a finger, a tester or a squirt of fuel to it.
    CloseUp { what: CloseUpEntry },
    /// Something was taken off, or a jumper put on, and stays so until it is put back.
    Arranged { what: SetUpEntry },
    /// What had been taken off for a test is back on.
    PutBack { what: SetUpEntry },
    /// Somebody had worked on a unit before the job began.
    WorkedOn { unit: String, work: Work },
    /// The machine worked for so many minutes with the engine running, and did nothing that it
    /// should not.
    Ran { minutes: f64 },
    /// The battery is not what it was: charged, jumped, another.
    Battery { event: BatteryEvent },
    /// The battery was tested by itself, or charged with figures.
    BatteryTest { test: BatteryTest },
    /// Words for people: another fault noticed on the way, who was in there before.
    Note { text: String },
    Reading {
        instrument: Instrument,
        /// Terminals, as `part.terminal`.
        red: String,
        black: String,
        reading: Reading,
        /// What was typed or tapped, if it was.
        #[serde(default)]
        typed: String,
    },
}

/// What was looked at.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum LookEntry {
    Plug { connector: String },
    Fuse { fuse: String },
    Linkage { switch: String },
    Lug { lug: String },
    Wire { wire: String },
}

/// The plunger of a switch, by part id.
fn plunger(circuit: &Circuit, switch: &str) -> Result<PlungerId, UnknownName> {
    let part = circuit.part_named(switch);
    let plunger = circuit.plungers.iter().position(|p| Some(p.part) == part);
    plunger
        .map(|p| PlungerId(p as u16))
        .ok_or_else(|| UnknownName { what: "plunger switch", name: switch.to_owned() })
}

/// A connector, by part id.
fn connector(circuit: &Circuit, id: &str) -> Result<usize, UnknownName> {
    circuit
        .part_named(id)
        .filter(|part| circuit.joints(*part).next().is_some())
        .ok_or_else(|| UnknownName { what: "connector", name: id.to_owned() })
}

/// A wire, by id.
fn wire(circuit: &Circuit, id: &str) -> Result<usize, UnknownName> {
    let found = circuit.document().wires.iter().position(|w| w.id == id);
    found.ok_or_else(|| UnknownName { what: "wire", name: id.to_owned() })
}

impl Unit {
    /// The unit of this id: a part's, a wire's, `part:linkage`, or `nothing`.
    ///
    /// # Errors
    /// Names the unit if the machine has none of that name.
    pub fn named(circuit: &Circuit, id: &str) -> Result<Self, UnknownName> {
        if let Some(switch) = id.strip_suffix(":linkage") {
            return plunger(circuit, switch).map(Self::Linkage);
        }
        if id == "nothing" {
            return Ok(Self::Nothing);
        }
        let wire = circuit.document().wires.iter().position(|w| w.id == id);
        let part = circuit.part_named(id).map(Self::Part);
        part.or(wire.map(Self::Wire))
            .ok_or_else(|| UnknownName { what: "unit", name: id.to_owned() })
    }

    /// Its id: what [`Unit::named`] reads back.
    pub fn id(self, circuit: &Circuit) -> String {
        match self {
            Self::Part(part) => circuit.part(part).id.clone(),
            Self::Wire(wire) => circuit.document().wires[wire].id.clone(),
            Self::Linkage(plunger) => {
                format!("{}:linkage", circuit.part(circuit.plungers[plunger.index()].part).id)
            }
            Self::Nothing => "nothing".to_owned(),
        }
    }
}

impl LookEntry {
    /// The same in the circuit's terms.
    ///
    /// # Errors
    /// Names what the machine does not have.
    pub fn resolve(&self, circuit: &Circuit) -> Result<Inspected, UnknownName> {
        let element = |id: &String| circuit.element_named(id);
        Ok(match self {
            Self::Plug { connector: id } => Inspected::Plug(connector(circuit, id)?),
            Self::Fuse { fuse } => Inspected::Fuse(element(fuse)?),
            Self::Linkage { switch } => Inspected::Linkage(plunger(circuit, switch)?),
            Self::Lug { lug } => Inspected::Lug(element(lug)?),
            Self::Wire { wire: id } => Inspected::Wire(wire(circuit, id)?),
        })
    }

    /// The entry that stands for a look.
    pub fn of(circuit: &Circuit, inspected: Inspected) -> Self {
        match inspected {
            Inspected::Plug(part) => Self::Plug { connector: circuit.part(part).id.clone() },
            Inspected::Fuse(element) => Self::Fuse { fuse: circuit.element(element).id.clone() },
            Inspected::Linkage(plunger) => {
                let part = circuit.plungers[plunger.index()].part;
                Self::Linkage { switch: circuit.part(part).id.clone() }
            }
            Inspected::Lug(element) => Self::Lug { lug: circuit.element(element).id.clone() },
            Inspected::Wire(wire) => Self::Wire { wire: circuit.document().wires[wire].id.clone() },
        }
    }
}

impl SetUpEntry {
    /// The same in the circuit's terms.
    ///
    /// # Errors
    /// Names the connector, switch, wire or terminal that the machine does not have.
    pub fn resolve(&self, circuit: &Circuit) -> Result<SetUp, EntryError> {
        Ok(match self {
            Self::Unplugged { connector: id } => SetUp::Unplugged(connector(circuit, id)?),
            Self::PressedByHand { switch } => SetUp::PressedByHand(plunger(circuit, switch)?),
            Self::FreedByHand { switch } => SetUp::FreedByHand(plunger(circuit, switch)?),
            Self::Shaken { place } => {
                let found = circuit.document().places.iter().position(|p| p.id == *place);
                let unknown = || UnknownName { what: "place", name: place.clone() };
                SetUp::Shaken(found.ok_or_else(unknown)?)
            }
            Self::LampInPlace { connector: id } => {
                let set_up = SetUp::LampInPlace(connector(circuit, id)?);
                // Of another plug it would change nothing, and be taken for all plugged in.
                if set_up.changes(circuit).is_empty() {
                    let what = "plug of a solenoid or clutch";
                    return Err(UnknownName { what, name: id.clone() }.into());
                }
                set_up
            }
            Self::BatteryOff => SetUp::BatteryOff,
            Self::WireOff { wire: id } => SetUp::WireOff(wire(circuit, id)?),
            Self::Jumper { from, to, fuse } => {
                let ends = (circuit.terminal(from)?, circuit.terminal(to)?);
                if ends.0 == ends.1 {
                    return Err(EntryError::JumpsNothing(format!("{from} and {to}")));
                }
                if *fuse == Some(0) {
                    return Err(EntryError::FuseOfNothing);
                }
                SetUp::Jumper { ends, fuse: *fuse }
            }
        })
    }

    /// The entry that stands for a set-up.
    pub fn of(circuit: &Circuit, set_up: SetUp) -> Self {
        let switch = |p: PlungerId| circuit.part(circuit.plungers[p.index()].part).id.clone();
        match set_up {
            SetUp::Unplugged(part) => Self::Unplugged { connector: circuit.part(part).id.clone() },
            SetUp::PressedByHand(plunger) => Self::PressedByHand { switch: switch(plunger) },
            SetUp::FreedByHand(plunger) => Self::FreedByHand { switch: switch(plunger) },
            SetUp::Shaken(place) => {
                Self::Shaken { place: circuit.document().places[place].id.clone() }
            }
            SetUp::LampInPlace(part) => {
                Self::LampInPlace { connector: circuit.part(part).id.clone() }
            }
            SetUp::BatteryOff => Self::BatteryOff,
            SetUp::WireOff(wire) => {
                Self::WireOff { wire: circuit.document().wires[wire].id.clone() }
            }
            SetUp::Jumper { ends: (from, to), fuse } => {
                let name = |n| circuit.node_name(n).to_owned();
                Self::Jumper { from: name(from), to: name(to), fuse }
            }
        }
    }
}

impl ObservationEntry {
    /// The entry that stands for what was noticed.
    pub fn of_sensed(circuit: &Circuit, sensed: Sensed) -> Self {
        match sensed {
            Sensed::Starter(heard) => Self::Heard { heard },
            Sensed::Engine(does) => Self::Engine { does },
            Sensed::Blades(turn) => Self::Blades { turn },
            Sensed::Lamp(lamp, burns) => {
                let part = lamps(circuit).nth(lamp).map(|part| circuit.part(part).id.clone());
                Self::Lamp { lamp: part.unwrap_or_default(), burns }
            }
        }
    }
}

impl Entry {
    /// The entry that stands for some evidence; of a piece of metal, one of its terminals.
    pub fn of(circuit: &Circuit, evidence: &Evidence) -> Self {
        let named = evidence.condition.named(circuit);
        let node = |n| circuit.node_name(n).to_owned();
        let observation = match evidence.observation {
            Observation::Sensed(sensed) => ObservationEntry::of_sensed(circuit, sensed),
            Observation::Inspected(at, bad) => {
                ObservationEntry::Looked { at: LookEntry::of(circuit, at), bad }
            }
            Observation::Repaired(unit) => ObservationEntry::Repaired {
                unit: unit.id(circuit),
                how: None,
                note: String::new(),
            },
            Observation::Benched(unit, bad) => {
                ObservationEntry::Benched { unit: unit.id(circuit), bad }
            }
            Observation::CloseUp(seen) => {
                ObservationEntry::CloseUp { what: CloseUpEntry::of(circuit, seen) }
            }
            Observation::Arranged(what) => {
                ObservationEntry::Arranged { what: SetUpEntry::of(circuit, what) }
            }
            Observation::PutBack(what) => {
                ObservationEntry::PutBack { what: SetUpEntry::of(circuit, what) }
            }
            Observation::WorkedOn(unit, work) => {
                ObservationEntry::WorkedOn { unit: unit.id(circuit), work }
            }
            Observation::Ran { minutes } => ObservationEntry::Ran { minutes },
            Observation::Battery(event) => ObservationEntry::Battery { event },
            Observation::BatteryTest(test) => ObservationEntry::BatteryTest { test },
            Observation::Noted => ObservationEntry::Note { text: String::new() },
            Observation::Read { instrument, red, black, reading } => ObservationEntry::Reading {
                instrument,
                red: node(red),
                black: node(black),
                reading: match (reading, evidence.celsius) {
                    (Reading::Ohms(Some(ohms)), Some(celsius)) => {
                        Reading::Ohms(Some(ohms * copper(celsius)))
                    }
                    (reading, _) => reading,
                },
                typed: String::new(),
            },
        };
        Self {
            condition: named.map(|(c, p)| (c.to_owned(), p.to_owned())).collect(),
            engine: evidence.condition.engine,
            set_up: evidence.set_up.iter().map(|s| SetUpEntry::of(circuit, *s)).collect(),
            observation,
            repeats: evidence.repeats,
            source: evidence.source,
            at_times: evidence.at_times,
            times_an_hour: evidence.times_an_hour,
            celsius: evidence.celsius,
            idle: evidence.idle,
        }
    }

    /// An entry as the customer tells it.
    pub fn told(circuit: &Circuit, at: &Condition, observation: ObservationEntry) -> Self {
        Self {
            condition: at.named(circuit).map(|(c, p)| (c.to_owned(), p.to_owned())).collect(),
            engine: at.engine,
            set_up: Vec::new(),
            observation,
            repeats: 1,
            source: Source::Told,
            at_times: false,
            times_an_hour: None,
            celsius: None,
            idle: false,
        }
    }

    /// The evidence this is on a machine.
    ///
    /// # Errors
    /// Names the control, position, terminal, connector or switch that the machine does not have.
    pub fn resolve(&self, circuit: &Circuit, sequence: u64) -> Result<Evidence, EntryError> {
        let (condition, set_up) =
            resolve_situation(circuit, &self.condition, self.engine, &self.set_up)?;
        let of_ohms =
            matches!(self.observation, ObservationEntry::Reading { reading: Reading::Ohms(_), .. });
        if self.celsius.is_some_and(|celsius| !of_ohms || !WARMTH.contains(&celsius)) {
            return Err(EntryError::Celsius);
        }
        let read = matches!(self.observation, ObservationEntry::Reading { .. });
        if self.idle && !(read && condition.engine >= Engine::Running) {
            return Err(EntryError::Idle);
        }
        let observation = match &self.observation {
            ObservationEntry::Heard { heard } => Observation::Sensed(Sensed::Starter(*heard)),
            ObservationEntry::Engine { does } => Observation::Sensed(Sensed::Engine(*does)),
            ObservationEntry::Blades { turn } => Observation::Sensed(Sensed::Blades(*turn)),
            ObservationEntry::Lamp { lamp, burns } => {
                let at = lamps(circuit).position(|part| circuit.part(part).id == *lamp);
                let unknown = || UnknownName { what: "lamp", name: lamp.clone() };
                Observation::Sensed(Sensed::Lamp(at.ok_or_else(unknown)?, *burns))
            }
            ObservationEntry::Looked { at, bad } => {
                Observation::Inspected(at.resolve(circuit)?, *bad)
            }
            ObservationEntry::Repaired { unit, .. } => {
                Observation::Repaired(Unit::named(circuit, unit)?)
            }
            ObservationEntry::Benched { unit, bad } => {
                Observation::Benched(Unit::named(circuit, unit)?, *bad)
            }
            ObservationEntry::CloseUp { what } => {
                Observation::CloseUp(what.resolve(circuit, self.engine)?)
            }
            ObservationEntry::Arranged { what } => match what.resolve(circuit)? {
                what if what.stays() => Observation::Arranged(what),
                _ => return Err(EntryError::LetsGo),
            },
            ObservationEntry::PutBack { what } => Observation::PutBack(what.resolve(circuit)?),
            ObservationEntry::WorkedOn { unit, work } => {
                Observation::WorkedOn(Unit::named(circuit, unit)?, *work)
            }
            ObservationEntry::Ran { minutes } => {
                if !(*minutes > 0.0 && *minutes <= MOST_MINUTES) {
                    return Err(EntryError::Minutes);
                }
                if self.engine < Engine::Running {
                    return Err(EntryError::DidNotRun);
                }
                Observation::Ran { minutes: *minutes }
            }
            ObservationEntry::Battery { event } => match circuit.posts() {
                Some(_) => Observation::Battery(*event),
                None => return Err(EntryError::NoBattery),
            },
            ObservationEntry::BatteryTest { test } => {
                test.check(battery_volts(circuit)?)?;
                Observation::BatteryTest(*test)
            }
            ObservationEntry::Note { text } => match text.trim() {
                "" => return Err(EntryError::EmptyNote),
                _ => Observation::Noted,
            },
            ObservationEntry::Reading { instrument, red, black, reading, .. } => {
                let (at, other) = (circuit.terminal(red)?, circuit.terminal(black)?);
                if at == other {
                    return Err(EntryError::SamePoint(format!("{red} and {black}")));
                }
                let clamp = *instrument == Instrument::Clamp;
                if clamp && wires_between(circuit, (at, other)).next().is_none() {
                    return Err(EntryError::NoWireThere(format!("{red} to {black}")));
                }
                if let Reading::Amps(amps) = reading
                    && amps.abs() > MOST_AMPS
                {
                    return Err(EntryError::Amps);
                }
                let reading = match (*reading, self.celsius) {
                    (Reading::Ohms(ohms), Some(celsius)) => {
                        Reading::Ohms(ohms.map(|ohms| at_20(ohms, celsius)))
                    }
                    (reading, _) => reading,
                };
                Observation::Read { instrument: *instrument, red: at, black: other, reading }
            }
        };
        Ok(Evidence {
            sequence,
            condition,
            set_up,
            observation,
            repeats: self.repeats.max(1),
            source: self.source,
            at_times: self.at_times,
            times_an_hour: self.times_an_hour,
            celsius: self.celsius,
            idle: self.idle,
        })
    }
}

/// How a machine stands and what is set up, in the circuit's terms.
///
/// # Errors
/// Names the control, position, connector or switch that the machine does not have, or says that
/// the machine cannot stand so.
pub fn resolve_situation(
    circuit: &Circuit,
    condition: &BTreeMap<String, String>,
    engine: Engine,
    set_up: &[SetUpEntry],
) -> Result<(Condition, Vec<SetUp>), EntryError> {
    let named = condition.iter().map(|(c, p)| (c.as_str(), p.as_str()));
    let mut condition = Condition::with(circuit, named)?;
    condition.engine = engine;
    if !circuit.can_occur(&condition) {
        let stands: Vec<_> = condition.named(circuit).map(|(c, p)| format!("{c} {p}")).collect();
        return Err(EntryError::CannotOccur(stands.join(", ")));
    }
    let set_up: Result<Vec<_>, _> = set_up.iter().map(|s| s.resolve(circuit)).collect();
    Ok((condition, set_up?))
}

/// The part, by index, of a lamp or glow plug by its place among the machine's.
pub fn lamp_part(circuit: &Circuit, lamp: usize) -> Option<usize> {
    lamps(circuit).nth(lamp)
}

/// Parts that are lamps or glow plugs, by index, in the order in which an outcome lists them.
pub(crate) fn lamps(circuit: &Circuit) -> impl Iterator<Item = usize> + '_ {
    circuit.lamps().iter().filter_map(|e| circuit.element(*e).part)
}
