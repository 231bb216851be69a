//! What is written down at the bench, in order.

use crate::circuit::Reading;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What worked the switch while it was probed.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum WorkedBy {
    /// A finger: tells of the switch.
    #[default]
    Hand,
    /// The seat, pedal or lever that it sits on: tells of the linkage too.
    Machine,
}

/// Which way a plunger moves.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(as = StrokeWay))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Way {
    In,
    Out,
}

/// One line of a switch's log.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum BenchEntry {
    /// The leads, before anything is believed: what the display shows with the probes touching, and
    /// apart.
    Leads { touching: String, apart: String },
    /// A pair of terminals in a position.
    Probe {
        position: String,
        from: String,
        to: String,
        reading: Reading,
        /// What was typed or tapped.
        #[serde(default)]
        typed: String,
        /// The position that it has just sprung back from, let go.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        sprung_from: Option<String>,
        #[serde(default)]
        worked_by: WorkedBy,
    },
    /// A point of a slow stroke: how far the plunger is in, in percent, and whether the pair is
    /// joined there.
    Stroke { from: String, to: String, way: Way, travel: f64, made: bool },
    /// One wire of the plug was moved: to a terminal, or out of the plug and held aside.
    WireMoved { wire: String, to: Option<String> },
    /// A check with all wires moved, from wire to wire.
    WireChecked { position: String, from: String, to: String, made: bool },
}
