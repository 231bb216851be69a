//! A part of a machine: what it is, its terminals, and what moves its contacts.

use super::Provenance;
use super::part_kind::PartKind;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// A part. Which fields it needs depends on its kind; `docs/machine-format.md` has the table.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
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
    /// Battery: open-circuit volts. Diode: forward threshold. Stator: alternating volts at
    /// governed speed. Regulator, generator: volts held. Lamp: nominal.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub volts: Option<f64>,
    /// Fuse, breaker: rating. Starter: nominal cranking current. Switch, relay: what a contact
    /// of it is rated to carry. Stator: what it is made to charge with. In amperes.
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
    /// Ignition module: whether it fires with its lead open, as nearly all do, or grounded.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fires: Option<Fires>,
    /// Ignition module: inductive unless said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ignition: Option<Ignition>,
    /// Fuel solenoid: whether it is energized to run, as nearly all are, or to stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub energized_to: Option<EnergizedTo>,
    /// Module: what its lamp tells.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub codes: Vec<LampCode>,
    /// Ammeter without contact: the wire that runs through its loop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub clamps: Option<String>,
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
#[allow(missing_docs)]
pub struct Contact {
    pub id: String,
    /// What the trade calls it: "start contacts".
    pub name: String,
    pub between: [String; 2],
    /// Key or hand switch: the control positions that make it, as an expression. Module, relay:
    /// its own coils that make it, `seat=on & blades=off`.
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
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub timing: Option<Timing>,
    /// The gate as the operator would say it: control name and position.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gate: Option<Gate>,
}

/// The control and the position that shut a contact.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Gate {
    pub control: String,
    pub position: String,
}

/// How a contact stands with nothing moving it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Normally {
    Open,
    Closed,
}

/// A winding that moves contacts of its part.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Coil {
    pub id: String,
    pub between: [String; 2],
    pub ohms: f64,
    /// Pulls in at this or more, in volts (current times the winding's actual ohms).
    pub pulls_in: f64,
    /// Drops out at this or less, in volts.
    pub drops_out: f64,
    /// A pull-in winding adds its volts to those of this coil of the same part, and moves nothing
    /// by itself.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub assists: Option<String>,
    /// How many turns it has for each one of the coil that it assists: what counts is then current
    /// times turns, and the two cancel where one current runs through both against each other.
    /// Without it a volt counts alike in either.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub turns: Option<f64>,
}

/// How a contact lags behind what moves it, in seconds.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Timing {
    #[serde(default, skip_serializing_if = "is_zero")]
    pub makes_after: f64,
    #[serde(default, skip_serializing_if = "is_zero")]
    pub breaks_after: f64,
    /// Breaks again by itself after this long, until what moves it has let go once.
    #[serde(default, skip_serializing_if = "is_zero")]
    pub made_for: f64,
}

#[allow(clippy::trivially_copy_pass_by_ref)] // as serde calls it
fn is_zero(seconds: &f64) -> bool {
    *seconds == 0.0
}

/// How a linkage works a switch.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Plunger {
    /// The control positions in which the linkage presses it, as an expression.
    pub pressed_when: String,
    /// The linkage, in words: "rod from the brake pedal".
    pub linkage: String,
}

/// What a meter finds between a module's kill lead and its body.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum KillPort {
    Winding,
    Diode,
    Resistive,
    #[default]
    Unknown,
}

/// A code that a module's lamp blinks.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct LampCode {
    pub blinks: u8,
    pub means: String,
    /// When it is shown, over the module's own inputs: `start=on & pto=on`.
    pub when: String,
}

/// How an ignition module's lead must stand for a spark.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Fires {
    #[default]
    Open,
    Grounded,
}

/// How an ignition module makes its spark.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Ignition {
    #[default]
    Inductive,
    CapacitorDischarge,
}

/// Whether a fuel solenoid is fed to run or to stop.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum EnergizedTo {
    #[default]
    Run,
    Stop,
}
