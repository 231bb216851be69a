//! A look close up by name, as it is stored and sent.

use super::close_up::{CloseUp, SparkSeen};
use super::entry_error::EntryError;
use crate::circuit::{Circuit, Engine, UnknownName};
use crate::machine::PartKind;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What was found close up, by part id.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum CloseUpEntry {
    /// Whether a relay or solenoid was felt or heard to pull in, a finger on it.
    Coil { part: String, pulls: bool },
    /// What jumps at a spark tester on a module or ignition coil, the engine turning.
    Spark { part: String, spark: SparkSeen },
    /// Whether fuel comes past its solenoid.
    Fuel { flows: bool },
    /// Whether it fires on fuel given by hand while it is cranked.
    Sniff { fires: bool },
    /// Whether a fuse blows, or a breaker trips.
    Blows { fuse: String, blows: bool },
}

impl CloseUpEntry {
    /// The same in the circuit's terms.
    ///
    /// # Errors
    /// Names what the machine does not have; says where the engine would have to turn.
    pub fn resolve(&self, circuit: &Circuit, engine: Engine) -> Result<CloseUp, EntryError> {
        let unknown = |what, name: &String| UnknownName { what, name: name.clone() };
        let turns = || (engine != Engine::Stopped).then_some(()).ok_or(EntryError::EngineStands);
        Ok(match self {
            Self::Coil { part, pulls } => {
                let mut coils = coils(circuit);
                let own = coils.find(|(_, p)| circuit.part(*p).id == *part);
                CloseUp::Coil(own.ok_or_else(|| unknown("relay or solenoid", part))?.0, *pulls)
            }
            Self::Spark { part, spark } => {
                turns()?;
                let mut all = ignition(circuit);
                let own = all.position(|p| p.is_some_and(|p| circuit.part(p).id == *part));
                let missing = || unknown("ignition module or coil", part);
                CloseUp::Spark(own.ok_or_else(missing)?, *spark)
            }
            Self::Fuel { .. } if circuit.telltales.fuel.is_empty() => {
                return Err(EntryError::NoFuelSolenoid);
            }
            Self::Fuel { flows } => CloseUp::Fuel(*flows),
            Self::Sniff { fires } => {
                turns()?;
                CloseUp::Sniff(*fires)
            }
            Self::Blows { fuse, blows } => {
                let own = circuit.fuses().find(|f| circuit.element(*f).id == *fuse);
                CloseUp::Blows(own.ok_or_else(|| unknown("fuse", fuse))?, *blows)
            }
        })
    }

    /// The entry that stands for a look close up.
    pub fn of(circuit: &Circuit, seen: CloseUp) -> Self {
        let id = |part: Option<usize>| part.map(|p| circuit.part(p).id.clone()).unwrap_or_default();
        match seen {
            CloseUp::Coil(coil, pulls) => {
                let part = circuit.element(circuit.coils[coil].element).part;
                Self::Coil { part: id(part), pulls }
            }
            CloseUp::Spark(at, spark) => {
                Self::Spark { part: id(ignition(circuit).nth(at).flatten()), spark }
            }
            CloseUp::Fuel(flows) => Self::Fuel { flows },
            CloseUp::Sniff(fires) => Self::Sniff { fires },
            CloseUp::Blows(fuse, blows) => {
                Self::Blows { fuse: circuit.element(fuse).id.clone(), blows }
            }
        }
    }

    /// The part that it is about, by id, if it is about one.
    pub fn part(&self) -> Option<&str> {
        match self {
            Self::Coil { part, .. } | Self::Spark { part, .. } | Self::Blows { fuse: part, .. } => {
                Some(part)
            }
            Self::Fuel { .. } | Self::Sniff { .. } => None,
        }
    }

    /// Whether the engine must turn for it.
    pub fn wants_turning(&self) -> bool {
        matches!(self, Self::Spark { .. } | Self::Sniff { .. })
    }

    /// Everything of a machine that can be found out close up, as it would be at its best.
    pub fn all(circuit: &Circuit) -> Vec<Self> {
        let coils = coils(circuit).map(|(coil, _)| CloseUp::Coil(coil, true));
        let sparks = (0..ignition(circuit).count()).map(|at| CloseUp::Spark(at, SparkSeen::Yes));
        let fuel = (!circuit.telltales.fuel.is_empty()).then_some(CloseUp::Fuel(true));
        let sniff = [CloseUp::Sniff(true)];
        let fuses = circuit.fuses().map(|fuse| CloseUp::Blows(fuse, false));
        let all = coils.chain(sparks).chain(fuel).chain(sniff).chain(fuses);
        all.map(|seen| Self::of(circuit, seen)).collect()
    }
}

/// The coils that move something of a relay or solenoid, and the part each is in.
fn coils(circuit: &Circuit) -> impl Iterator<Item = (usize, usize)> + '_ {
    let felt = |part: &usize| {
        let kind = circuit.part(*part).kind;
        matches!(kind, PartKind::Relay | PartKind::Solenoid | PartKind::FuelSolenoid)
    };
    circuit
        .coils
        .iter()
        .enumerate()
        .filter(|(_, c)| c.assists.is_none())
        .filter_map(move |(coil, c)| Some((coil, circuit.element(c.element).part.filter(felt)?)))
}

/// The parts of what sparks, in the order in which an outcome lists it.
fn ignition(circuit: &Circuit) -> impl Iterator<Item = Option<usize>> + '_ {
    circuit.telltales.ignition.iter().map(|id| circuit.element(*id).part)
}
