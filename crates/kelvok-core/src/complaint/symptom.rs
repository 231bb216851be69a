//! The symptoms a customer speaks of.

use serde::{Deserialize, Serialize};

/// What the machine does, or does not.
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
    strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Symptom {
    /// Nothing happens when the key is turned.
    Dead,
    /// One click, and no more.
    OneClick,
    /// It clicks again and again.
    Chatters,
    /// The starter drags.
    CranksSlowly,
    /// It cranks and does not fire.
    CranksNoFire,
    /// A running engine stops where it should go on.
    Dies,
    /// A running engine goes on where it should stop.
    WontShutOff,
    /// The starter turns where it must not.
    CranksItself,
    /// The blades, or whatever is driven, do not come on.
    BladesWontEngage,
    /// They come on and drop out.
    BladesDropOut,
    /// They go on where they should stop.
    BladesWontStop,
    /// A fuse blows.
    FuseBlows,
    /// The battery goes flat standing.
    BatteryFlat,
}

impl Symptom {
    /// Every one, in the order in which they are offered.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As a customer says it.
    pub fn words(self) -> &'static str {
        match self {
            Self::Dead => "Dead: nothing happens",
            Self::OneClick => "One click",
            Self::Chatters => "Clicks and clicks",
            Self::CranksSlowly => "Cranks slow",
            Self::CranksNoFire => "Cranks, won’t fire",
            Self::Dies => "Dies",
            Self::WontShutOff => "Won’t shut off",
            Self::CranksItself => "Cranks when it shouldn’t",
            Self::BladesWontEngage => "Blades won’t engage",
            Self::BladesDropOut => "Blades drop out",
            Self::BladesWontStop => "Blades won’t stop",
            Self::FuseBlows => "Blows a fuse",
            Self::BatteryFlat => "Battery goes flat",
        }
    }
}

/// When it does that.
#[derive(Clone, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum When {
    /// Whenever it is used.
    Always,
    /// When a control is moved, or stands, somewhere: by ids.
    Control {
        /// The control.
        control: String,
        /// Its position.
        position: String,
    },
    /// Once the engine is hot.
    Hot,
    /// Over bumps.
    Bumps,
    /// Of a fuse, which: by part id.
    Fuse {
        /// The fuse.
        fuse: String,
    },
}

/// A control at a position, by ids.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) struct At {
    pub control: String,
    pub position: String,
}
