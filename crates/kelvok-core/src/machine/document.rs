//! The machine document, as written in `machines/*.json`. See `docs/machine-format.md`.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// The value every document's `format` must have.
pub const FORMAT: &str = "kelvok-machine/1";

/// A whole machine: how it is controlled, what it is made of, how it is wired.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
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
}

#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
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
pub enum Provenance {
    Manual,
    #[default]
    Drawing,
    Traced,
    Measured,
}

/// Something the operator moves, with its positions in order.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Control {
    pub id: String,
    pub name: String,
    /// The key on a keyboard that moves it.
    pub letter: String,
    pub positions: Vec<Position>,
    /// The position the machine stands in when parked.
    pub rest: String,
}

#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Position {
    pub id: String,
    pub name: String,
    /// A momentary position springs back to this one when let go.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub returns_to: Option<String>,
}

#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum PartKind {
    Battery,
    Fuse,
    KeySwitch,
    /// Any other switch that a hand works directly: PTO, lights.
    HandSwitch,
    InterlockSwitch,
    Solenoid,
    Relay,
    Starter,
    IgnitionModule,
    Clutch,
    FuelSolenoid,
    Lamp,
    HourMeter,
    Diode,
    /// A plain load or resistor.
    #[default]
    Resistance,
    /// A lug bolted to a body.
    Ground,
    /// A piece of metal that is one node: frame, engine block.
    Body,
    /// A plug: its cavities mate with terminals of another part.
    Connector,
    /// The fixed half of an in-line plug: terminals only.
    Socket,
}

/// A part. Which fields it needs depends on its kind; `docs/machine-format.md` has the table.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Part {
    pub id: String,
    pub kind: PartKind,
    pub name: String,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub terminals: Vec<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<String>,
    /// Ohms: internal (battery), element (fuse), winding (load), joint (connector, ground).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ohms: Option<f64>,
    /// Tolerance of `ohms` as a fraction, e.g. 0.1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tolerance: Option<f64>,
    /// Battery: open-circuit volts. Diode: forward threshold.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub volts: Option<f64>,
    /// Fuse: rating. Starter: nominal cranking current. In amperes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amps: Option<f64>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub contacts: Vec<Contact>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub coils: Vec<Coil>,
    /// How the machine's linkage works the plunger, apart from what the contacts do.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub plunger: Option<Plunger>,
    /// Connector: cavity -> the terminal of another part that it mates with.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub mates: BTreeMap<String, String>,
    /// Ground: the body that the lug is bolted to. Ignition module: its own ground.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub body: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kill_port: Option<KillPort>,
    /// The thing that is bought and fitted when this part is bad; the part itself if not given.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub unit: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub replace_minutes: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub source: Option<Provenance>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

/// One pole and throw: two terminals that are joined or not.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Contact {
    pub id: String,
    /// What the trade calls it: "start pole".
    pub name: String,
    pub between: [String; 2],
    /// Key switch: the control positions that make it, as an expression.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub made_when: Option<String>,
    /// Interlock switch, relay, solenoid: its state with the plunger or coil released.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub normally: Option<Normally>,
    /// Relay, solenoid: the coil that moves it, if there is more than one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub coil: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ohms: Option<f64>,
    /// The gate as the operator would say it: control name and position.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gate: Option<Gate>,
}

#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Gate {
    pub control: String,
    pub position: String,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Normally {
    Open,
    Closed,
}

#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Coil {
    pub id: String,
    pub between: [String; 2],
    pub ohms: f64,
    /// Pulls in at this or more, in volts (current times the winding's actual ohms).
    pub pulls_in: f64,
    /// Drops out at this or less, in volts.
    pub drops_out: f64,
}

#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Plunger {
    /// The control positions in which the linkage presses it, as an expression.
    pub pressed_when: String,
    /// The linkage, in words: "rod from the brake pedal".
    pub linkage: String,
}

#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum KillPort {
    Winding,
    Diode,
    Resistive,
    #[default]
    Unknown,
}

#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
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

#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Splice {
    pub id: String,
    pub terminals: Vec<String>,
}

/// Somewhere the mechanic stands or kneels.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
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

/// A pair of ends with a load between them, so that screens can speak of "the start circuit".
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct NamedCircuit {
    pub id: String,
    pub name: String,
    pub from: String,
    /// A part with two terminals, or `part.coil`; the feed ends and the return begins here.
    pub load: String,
    pub to: String,
}
