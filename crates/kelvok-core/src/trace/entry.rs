//! What a mechanic finds at two ends of a harness.

use crate::circuit::{Instrument, Reading};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// One thing found while tracing.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "kind", deny_unknown_fields)]
pub enum TraceEntry {
    /// The probes were on two ends.
    Probe {
        /// `part.terminal`, on the harness side.
        red: String,
        /// The other one.
        black: String,
        /// Buzzer, ohmmeter or diode range.
        instrument: Instrument,
        /// What it showed.
        reading: Reading,
        /// Plugs and fuses that were off, by part.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        off: Vec<String>,
    },
    /// The color of the wire in a cavity.
    Color {
        /// `part.terminal`.
        at: String,
        /// In words: "white/black".
        color: String,
    },
    /// No wire is in this cavity.
    Empty {
        /// `part.terminal`.
        at: String,
    },
}

/// Why an entry is none.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[allow(missing_docs)]
pub enum TraceError {
    #[error("No wire of this machine ends at \"{0}\".")]
    NoEnd(String),
    #[error("Both probes are on the same piece of metal.")]
    SameEnd,
    #[error("\"{0}\" is no plug and no fuse of this machine.")]
    NotOff(String),
    #[error("Trace with the buzzer, in ohms or in the diode range.")]
    Instrument,
    #[error("That is not what this meter setting shows.")]
    Reading,
    #[error("Say the color in a word or two.")]
    Color,
}
