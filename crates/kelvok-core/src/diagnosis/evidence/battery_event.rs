//! What became of the battery between two readings.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What became of the battery between two readings.
#[derive(
    Clone,
    Copy,
    Debug,
    PartialEq,
    Eq,
    Hash,
    PartialOrd,
    Ord,
    Serialize,
    Deserialize,
    JsonSchema,
    strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum BatteryEvent {
    /// It was on a charger.
    Charged,
    /// Another battery of 12 V hangs on it by jumper cables, until they are off.
    JumperOn,
    /// The jumper cables are off.
    JumperOff,
    /// Another battery is in its place.
    Swapped,
    /// It stood for a night, or as long.
    LeftOvernight,
}

impl BatteryEvent {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Charged => "Battery charged",
            Self::JumperOn => "Jumper cables on",
            Self::JumperOff => "Jumper cables off",
            Self::Swapped => "Another battery in",
            Self::LeftOvernight => "Sat overnight",
        }
    }
}
