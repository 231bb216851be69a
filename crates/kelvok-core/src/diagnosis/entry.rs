//! Evidence by name, as it is stored and sent; [`Entry::resolve`] turns the names into a circuit's.

use super::{Evidence, Heard, Observation, SetUp};
use crate::circuit::{
    Circuit, Condition, ConditionError, Engine, Instrument, PlungerId, Reading, UnknownName,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// One entry of the evidence log.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Entry {
    /// Control id -> position id; a control not named stands at rest.
    pub condition: BTreeMap<String, String>,
    #[serde(default)]
    pub engine: Engine,
    #[serde(default)]
    pub set_up: Vec<SetUpEntry>,
    pub observation: ObservationEntry,
    #[serde(default = "once")]
    pub repeats: u32,
}

fn once() -> u32 {
    1
}

#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum SetUpEntry {
    Unplugged { connector: String },
    PressedByHand { switch: String },
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum ObservationEntry {
    Heard {
        heard: Heard,
    },
    Reading {
        instrument: Instrument,
        /// Terminals, as `part.terminal`.
        red: String,
        black: String,
        reading: Reading,
        /// What was typed or tapped.
        typed: String,
    },
}

/// A name in an entry that the machine does not have.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum EntryError {
    #[error(transparent)]
    Condition(#[from] ConditionError),
    #[error(transparent)]
    Name(#[from] UnknownName),
    #[error("red and black are on the same piece of metal: {0}")]
    SamePoint(String),
}

impl SetUpEntry {
    /// The same in the circuit's terms.
    ///
    /// # Errors
    /// Names the connector or switch that the machine does not have.
    pub fn resolve(&self, circuit: &Circuit) -> Result<SetUp, UnknownName> {
        match self {
            Self::Unplugged { connector } => circuit
                .part_named(connector)
                .filter(|part| circuit.joints(*part).next().is_some())
                .map(SetUp::Unplugged)
                .ok_or_else(|| UnknownName { what: "connector", name: connector.clone() }),
            Self::PressedByHand { switch } => {
                let part = circuit.part_named(switch);
                let plunger = circuit.plungers.iter().position(|p| Some(p.part) == part);
                plunger
                    .map(|p| SetUp::PressedByHand(PlungerId(p as u16)))
                    .ok_or_else(|| UnknownName { what: "plunger switch", name: switch.clone() })
            }
        }
    }

    /// The entry that stands for a set-up.
    pub fn of(circuit: &Circuit, set_up: SetUp) -> Self {
        match set_up {
            SetUp::Unplugged(part) => Self::Unplugged { connector: circuit.part(part).id.clone() },
            SetUp::PressedByHand(plunger) => {
                let part = circuit.plungers[plunger.index()].part;
                Self::PressedByHand { switch: circuit.part(part).id.clone() }
            }
        }
    }
}

impl Entry {
    /// The evidence this is on a machine.
    ///
    /// # Errors
    /// Names the control, position, terminal, connector or switch that the machine does not have.
    pub fn resolve(&self, circuit: &Circuit, sequence: u64) -> Result<Evidence, EntryError> {
        let named = self.condition.iter().map(|(c, p)| (c.as_str(), p.as_str()));
        let mut condition = Condition::with(circuit, named)?;
        condition.engine = self.engine;
        let set_up: Result<Vec<_>, _> = self.set_up.iter().map(|s| s.resolve(circuit)).collect();
        let observation = match &self.observation {
            ObservationEntry::Heard { heard } => Observation::Heard(*heard),
            ObservationEntry::Reading { instrument, red, black, reading, .. } => {
                let (at, other) = (circuit.terminal(red)?, circuit.terminal(black)?);
                if at == other {
                    return Err(EntryError::SamePoint(format!("{red} and {black}")));
                }
                Observation::Read {
                    instrument: *instrument,
                    red: at,
                    black: other,
                    reading: *reading,
                }
            }
        };
        Ok(Evidence {
            sequence,
            condition,
            set_up: set_up?,
            observation,
            repeats: self.repeats.max(1),
        })
    }
}
