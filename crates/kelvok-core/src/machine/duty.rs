//! What the machine is for and what its interlocks owe the operator.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// How the engine is turned over, kept running and coupled to what cuts.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Drive {
    /// Turned over by hand: a recoil rope. The machine then needs no starter.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub recoil: bool,
    /// Control positions that the engine needs by other than electric means, as an expression: a
    /// mechanical stop pushed in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub runs_when: Option<String>,
    /// Control positions in which a belt, a shaft or a cone drives the blades of a running engine,
    /// as an expression. A machine with an electric clutch does not say this.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub blades_when: Option<String>,
    /// What is driven, in a sentence: "blades" unless said ("rear PTO").
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub called: Option<String>,
}

impl Drive {
    /// What the engine drives, as the trade calls it.
    pub fn driven(&self) -> &str {
        self.called.as_deref().unwrap_or("blades")
    }
}

/// One thing an operator does in the ordinary use of the machine.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct NormalUse {
    pub name: String,
    /// Controls away from rest.
    #[serde(default)]
    pub set: BTreeMap<String, String>,
    #[serde(default)]
    pub engine: Engine,
}

/// The engine's state. "Cranks" is asked of a stopped engine, "would start" of a cranking one.
#[derive(
    Clone,
    Copy,
    Debug,
    Default,
    PartialEq,
    Eq,
    Hash,
    PartialOrd,
    Ord,
    Serialize,
    Deserialize,
    JsonSchema,
    strum::EnumString,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[strum(serialize_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Engine {
    #[default]
    Stopped,
    Cranking,
    Running,
    RunningHot,
}

impl Engine {
    /// Every state, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// Its name in documents and expressions.
    pub fn name(self) -> &'static str {
        self.into()
    }

    /// The state of a name.
    pub fn named(name: &str) -> Option<Self> {
        name.parse().ok()
    }

    /// A set of states as bits.
    pub const fn mask(states: &[Self]) -> u32 {
        let mut mask = 0;
        let mut i = 0;
        while i < states.len() {
            mask |= 1 << states[i] as u32;
            i += 1;
        }
        mask
    }
}

/// Something the interlocks shall bring about, in every condition that it speaks of.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Duty {
    pub id: String,
    /// As a mechanic would say it: "The operator leaves the seat with the blades on".
    pub name: String,
    /// The conditions it speaks of, as an expression.
    pub from: String,
    /// What the operator then moves; nothing, if the duty is about standing conditions.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub change: BTreeMap<String, String>,
    pub shall: Shall,
    /// At the latest after this many seconds.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub within: Option<f64>,
    /// Where the duty comes from: the manual, a standard, the shop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub source: Option<String>,
}

/// What a duty asks for.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Shall {
    /// The starter does not turn.
    #[default]
    NotCrank,
    /// The engine, if it was running, stops.
    StopEngine,
    /// The blades stop; the engine may run on.
    StopBlades,
    StopEngineOrBlades,
    /// What had stopped does not start again by itself.
    NotRestartBlades,
    /// The engine can be started: an interlock that stops work is no interlock.
    Start,
    /// The engine keeps running.
    KeepRunning,
}

impl Shall {
    /// Whether it protects somebody, rather than letting the work go on.
    pub fn protects(self) -> bool {
        !matches!(self, Self::Start | Self::KeepRunning)
    }
}

/// A change the machine came with.
#[derive(Clone, Debug, Default, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct AsFound {
    /// In the fault notation: `neutral.start=made`.
    pub change: String,
    /// What was found, in words.
    pub note: String,
}
