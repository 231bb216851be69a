//! What a document leaves open: the ways in which a machine may be wired otherwise than drawn.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// One thing that is not known of a machine: it is as drawn, or one of the choices.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Alternative {
    pub id: String,
    /// What is open, in words: "How the seat switch stops the engine".
    pub about: String,
    /// What the document has, in words.
    pub drawn: String,
    /// What it may be instead; no two at once.
    pub choices: Vec<WiringChoice>,
}

/// One way in which something may be wired otherwise than drawn.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct WiringChoice {
    pub id: String,
    /// What it would be, in words.
    pub name: String,
    /// The chance that it is so, before anything is measured; what all choices leave of one is the
    /// chance that it is as drawn.
    pub weight: f64,
    /// What differs, in the fault notation: `w7=open` is a wire that is not there,
    /// `key.S=touches:brake-plug.A` one that is, `seat-switch.kill=other-kind` a contact that closes
    /// where it is drawn to open.
    pub changes: Vec<String>,
}
