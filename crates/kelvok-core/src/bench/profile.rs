//! How a kind of switch is made: its terminals, its positions, and what is joined in each.

use crate::machine::Problem;
use crate::plain_text::control_characters;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::collections::{BTreeMap, BTreeSet};

/// What the documents of this version say in `format`.
pub const SWITCH_FORMAT: &str = "kelvok-switch-1";

/// Terminals of one switch: what a mask has room for.
const MOST_TERMINALS: usize = 16;
const MOST_POSITIONS: usize = 8;

/// A kind of switch, as a document.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct ProfileDocument {
    pub format: String,
    pub id: String,
    /// What the trade calls it.
    pub name: String,
    pub kind: SwitchKind,
    /// What works it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub actuator: Option<Actuator>,
    /// Of a key switch: what it switches. One for a magneto on a battery coil's machine, or the
    /// other way round, destroys the module or never stops the engine.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ignition: Option<Ignition>,
    pub terminals: Vec<Terminal>,
    /// In the order in which they are come by.
    pub positions: Vec<Position>,
    /// Position id -> what is joined there, each a list of terminals; what is in none stands alone.
    pub made: BTreeMap<String, Vec<Vec<String>>>,
    /// What its contacts are rated for, in amperes, where that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amps: Option<f64>,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub notes: String,
}

/// What a switch is.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum SwitchKind {
    KeySwitch,
    InterlockSwitch,
    PtoSwitch,
    Relay,
}

/// What works a switch.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Actuator {
    Key,
    Plunger,
    /// A ball, in a switch that is threaded into a housing.
    Ball,
    /// A plate that slides over two studs.
    SlidingPlate,
    Pull,
    Rocker,
    Coil,
}

/// What a key switch is made to stop or to feed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Ignition {
    /// Grounds a kill wire to stop.
    Magneto,
    /// Feeds a coil, or a fuel solenoid, to run.
    BatteryCoil,
}

/// A terminal of a profile.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(as = SwitchTerminal))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Terminal {
    /// As it is printed beside it.
    pub id: String,
    pub function: Function,
    /// Where it sits, seen from the back, in tenths of the switch's width, right and down.
    pub at: [f64; 2],
}

/// What a terminal is for.
#[derive(
    Clone,
    Copy,
    Debug,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Serialize,
    Deserialize,
    JsonSchema,
    strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(as = SwitchFunction))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Function {
    Supply,
    Starter,
    Kill,
    Ground,
    Accessory,
    Lights,
    Regulator,
    Heat,
    Ignition,
    /// The side of a contact that is common to its two throws.
    Common,
    NormallyOpen,
    NormallyClosed,
    /// One side of a plain contact.
    Contact,
}

/// A position of a profile.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(as = SwitchPosition))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Position {
    pub id: String,
    pub name: String,
    /// The position that it springs back to.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub returns_to: Option<String>,
}

/// A profile that was found sound.
#[derive(Clone, Debug, PartialEq)]
pub struct Profile {
    document: ProfileDocument,
    /// By position and terminal, the terminals joined to it, itself among them.
    joined: Vec<Vec<u16>>,
}

macro_rules! shipped {
    ($($name:literal),* $(,)?) => {
        [$(include_str!(concat!("../../../../switches/", $name, ".json"))),*]
    };
}

/// Every profile that ships with Kelvok, as text.
pub const PROFILES: [&str; 20] = shipped![
    "key-5-lettered-magneto",
    "key-6-lettered-magneto",
    "key-7-lettered-magneto",
    "key-7-lettered-reverse",
    "key-5-numbered-magneto",
    "key-3-lettered-battery-coil",
    "key-4-lettered-battery-coil",
    "key-5-vehicle-numbers-diesel",
    "key-4-metal-diesel",
    "interlock-2-open",
    "interlock-2-closed",
    "interlock-3-changeover",
    "interlock-4-double",
    "interlock-4-one-of-each",
    "interlock-2-ball",
    "interlock-2-sliding-plate",
    "pto-3-columns",
    "pto-3-columns-rocker",
    "relay-changeover",
    "relay-normally-open",
];

impl Profile {
    /// Reads and checks a document.
    ///
    /// # Errors
    /// Everything that is wrong with it.
    pub fn read(text: &str) -> Result<Self, Vec<Problem>> {
        let value: Result<ProfileDocument, _> =
            serde_path_to_error::deserialize(&mut serde_json::Deserializer::from_str(text));
        let document = value.map_err(|e| {
            let path: String = e.path().iter().map(|s| format!("/{s}")).collect();
            vec![Problem::error(path.replace("/?", ""), format!("{}.", e.inner()))]
        })?;
        let raw: Value = serde_json::from_str(text).unwrap_or_default();
        let plain = "Plain text, please: no line ends and no control characters.";
        let odd: Vec<_> =
            control_characters(&raw).into_iter().map(|path| Problem::error(path, plain)).collect();
        if !odd.is_empty() {
            return Err(odd);
        }
        Self::of(document)
    }

    /// Checks a document.
    ///
    /// # Errors
    /// Everything that is wrong with it.
    pub fn of(document: ProfileDocument) -> Result<Self, Vec<Problem>> {
        let problems = problems(&document);
        if !problems.is_empty() {
            return Err(problems);
        }
        let at = |id: &String| document.terminals.iter().position(|t| t.id == *id);
        let joined = document.positions.iter().map(|position| {
            let mut joined: Vec<u16> = (0..document.terminals.len()).map(|t| 1 << t).collect();
            for group in document.made.get(&position.id).into_iter().flatten() {
                let members: Vec<usize> = group.iter().filter_map(at).collect();
                let mask = members.iter().fold(0, |mask, t| mask | 1u16 << t);
                for member in members {
                    joined[member] = mask;
                }
            }
            joined
        });
        Ok(Self { joined: joined.collect(), document })
    }

    /// The profiles that ship with Kelvok.
    pub fn shipped() -> Vec<Self> {
        PROFILES.iter().filter_map(|text| Self::read(text).ok()).collect()
    }

    /// The document it was read from.
    pub fn document(&self) -> &ProfileDocument {
        &self.document
    }

    /// Its terminals, in order.
    pub fn terminals(&self) -> &[Terminal] {
        &self.document.terminals
    }

    /// Its positions, in order.
    pub fn positions(&self) -> &[Position] {
        &self.document.positions
    }

    /// A position, by id.
    pub fn position(&self, id: &str) -> Option<usize> {
        self.document.positions.iter().position(|p| p.id == id)
    }

    /// The terminals joined to each in a position, as masks.
    pub fn joined(&self, position: usize) -> &[u16] {
        &self.joined[position]
    }

    /// Whether two terminals are joined in a position.
    pub fn made(&self, position: usize, one: usize, other: usize) -> bool {
        self.joined[position][one] >> other & 1 == 1
    }
}

fn problems(document: &ProfileDocument) -> Vec<Problem> {
    let mut all = Vec::new();
    let mut wrong = |path: String, sentence: String| all.push(Problem::error(path, sentence));
    if document.format != SWITCH_FORMAT {
        wrong("/format".into(), format!("The format is \"{SWITCH_FORMAT}\"."));
    }
    let sizes = [
        ("terminals", document.terminals.len(), 2, MOST_TERMINALS),
        ("positions", document.positions.len(), 1, MOST_POSITIONS),
    ];
    for (what, has, least, most) in sizes {
        if !(least..=most).contains(&has) {
            wrong(format!("/{what}"), format!("A switch has {least} to {most} {what}, not {has}."));
        }
    }
    let mut named = BTreeSet::new();
    for (t, terminal) in document.terminals.iter().enumerate() {
        if terminal.id.trim().is_empty() {
            wrong(format!("/terminals/{t}/id"), "A terminal has a name.".into());
        }
        if !named.insert(terminal.id.as_str()) {
            let sentence = format!("Two terminals are named \"{}\".", terminal.id);
            wrong(format!("/terminals/{t}/id"), sentence);
        }
    }
    let mut stands = BTreeSet::new();
    for (p, position) in document.positions.iter().enumerate() {
        if !stands.insert(position.id.as_str()) {
            let sentence = format!("Two positions are named \"{}\".", position.id);
            wrong(format!("/positions/{p}/id"), sentence);
        }
    }
    for (p, position) in document.positions.iter().enumerate() {
        let back = position.returns_to.as_deref();
        if back.is_some_and(|b| !stands.contains(b) || b == position.id) {
            let sentence = format!("\"{}\" springs back to another position.", position.id);
            wrong(format!("/positions/{p}/returns_to"), sentence);
        }
    }
    for (position, groups) in &document.made {
        if !stands.contains(position.as_str()) {
            wrong(format!("/made/{position}"), format!("There is no position \"{position}\"."));
        }
        let mut met = BTreeSet::new();
        for (g, group) in groups.iter().enumerate() {
            if group.len() < 2 {
                wrong(format!("/made/{position}/{g}"), "It takes two to be joined.".into());
            }
            for terminal in group {
                if !named.contains(terminal.as_str()) {
                    let sentence = format!("There is no terminal \"{terminal}\".");
                    wrong(format!("/made/{position}/{g}"), sentence);
                } else if !met.insert(terminal) {
                    let sentence = format!("\"{terminal}\" is joined twice: put it into one list.");
                    wrong(format!("/made/{position}/{g}"), sentence);
                }
            }
        }
    }
    if document.amps.is_some_and(|amps| !(amps > 0.0 && amps.is_finite())) {
        wrong("/amps".into(), "A rating is over 0 A.".into());
    }
    all
}

/// JSON Schema of the document.
pub fn profile_schema() -> serde_json::Value {
    schemars::schema_for!(ProfileDocument).to_value()
}
