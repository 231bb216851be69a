//! The machine document, as written in `machines/*.json`. See `docs/machine-format.md`.

use super::{Alternative, AsFound, Drive, Duty, NormalUse, Part};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// The value every document's `format` must have.
pub const FORMAT: &str = "kelvok-machine/1";

/// A whole machine: how it is controlled, what it is made of, how it is wired.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct MachineDocument {
    /// Always `kelvok-machine/1`.
    pub format: String,
    pub identity: Identity,
    /// The metal body that is the zero of all voltages; the id of a part of kind `body`.
    pub reference: String,
    pub controls: Vec<Control>,
    /// Combinations of control positions that cannot occur, as expressions.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub impossible: Vec<String>,
    pub parts: Vec<Part>,
    pub wires: Vec<Wire>,
    /// Terminals that are one piece of metal: stacked ring terminals, a crimp.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub splices: Vec<Splice>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub places: Vec<Place>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub test_points: Vec<TestPoint>,
    pub circuits: Vec<NamedCircuit>,
    /// How the engine is turned over, kept running and coupled to the blades.
    #[serde(default)]
    pub drive: Drive,
    /// What the operator does with a sound machine, in order: parked, starting, mowing, ...
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub normal_use: Vec<NormalUse>,
    /// What the interlocks are there for.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub duties: Vec<Duty>,
    /// Changes that this very machine came with, such as a bypass made years ago.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub as_found: Vec<AsFound>,
    /// What is not known of its wiring.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub alternatives: Vec<Alternative>,
}

/// Which machine it is.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Identity {
    pub make: String,
    pub model: String,
    /// Lawn tractor, garden tractor, zero-turn, ... in the trade's words.
    pub family: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub years: Option<String>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub notes: Vec<String>,
    /// Where the document as a whole comes from.
    #[serde(default)]
    pub source: Provenance,
}

/// How a piece of knowledge about the machine was come by.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Provenance {
    /// As on most machines of its kind; nobody looked.
    Usual,
    Manual,
    #[default]
    Drawing,
    Traced,
    Measured,
    /// By readings of a job.
    Proved,
}

impl Provenance {
    /// Whether nobody has looked.
    pub fn is_usual(self) -> bool {
        self == Self::Usual
    }

    /// In words.
    pub fn plain(self) -> &'static str {
        match self {
            Self::Usual => "usual for its kind, not traced",
            Self::Manual => "manual",
            Self::Drawing => "drawing",
            Self::Traced => "traced",
            Self::Measured => "measured",
            Self::Proved => "proved",
        }
    }
}

/// Something the operator moves, with its positions in order.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Control {
    pub id: String,
    pub name: String,
    /// The key on a keyboard that moves it.
    pub letter: String,
    pub positions: Vec<Position>,
    /// The position the machine stands in when parked.
    pub rest: String,
    /// What stands between name and position in a sentence: "key *at* start". Nothing if not given.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub joined_by: Option<String>,
}

/// A position of a control.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Position {
    pub id: String,
    pub name: String,
    /// A momentary position springs back to this one when let go.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub returns_to: Option<String>,
    /// The position in a sentence, where name and position do not read well: "nobody in the seat".
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub says: Option<String>,
}

/// A wire from one terminal to another.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Wire {
    pub id: String,
    pub from: String,
    pub to: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub color: Option<String>,
    /// American wire gauge; with `length_m` gives the ohms where they are not stated.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gauge: Option<u8>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length_m: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ohms: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bundle: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub source: Option<Provenance>,
}

impl Wire {
    /// Its ohms: as stated, or by gauge and length.
    pub(crate) fn its_ohms(&self) -> f64 {
        let per_km = |gauge: u8| {
            super::WIRE_OHMS_PER_KM.iter().find(|(g, _)| *g == gauge).map(|(_, ohms)| *ohms)
        };
        self.ohms.unwrap_or_else(|| {
            let per_km = self.gauge.and_then(per_km).unwrap_or(20.9);
            (per_km / 1000.0 * self.length_m.unwrap_or(1.0)).max(1e-4)
        })
    }
}

/// Terminals that are one piece of metal.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Splice {
    pub id: String,
    pub terminals: Vec<String>,
}

/// Somewhere the mechanic stands or kneels.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Place {
    pub id: String,
    pub name: String,
    /// What must come off first, if anything.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cover: Option<String>,
    /// Minutes to take the cover off and put it back.
    #[serde(default)]
    pub cover_minutes: f64,
    /// Minutes to get here from the other places; those not named take the usual half minute.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub minutes_from: BTreeMap<String, f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub caution: Option<String>,
}

/// A terminal that a probe can reach.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct TestPoint {
    pub terminal: String,
    pub name: String,
    /// A name for where space is short: "in", "B".
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub short: Option<String>,
    pub place: String,
    /// Only reachable with this connector unplugged.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub unplugged: Option<String>,
}

/// A pair of ends, so that screens can speak of "the start circuit".
///
/// With a load between them it is a feed; without one it is a kill circuit, from a kill lead to
/// the metal that grounds it.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct NamedCircuit {
    pub id: String,
    pub name: String,
    pub from: String,
    /// A part with two terminals, or `part.coil`; the feed ends and the return begins here.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub load: Option<String>,
    pub to: String,
}
