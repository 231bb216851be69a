//! How a 12 V filament lamp burns.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How a lamp burns.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum LampState {
    Out,
    Dim,
    Bright,
}

impl LampState {
    /// By the volts across a 12 V filament lamp: bright over 8, dim from 3, out below.
    pub fn at(volts: f64) -> Self {
        match volts.abs() {
            v if v > 8.0 => Self::Bright,
            v if v >= 3.0 => Self::Dim,
            _ => Self::Out,
        }
    }
}
