//! What is recorded of a soak.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What brings a fault on that comes and goes.
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
#[allow(missing_docs)]
pub enum Trigger {
    Warm,
    Bumps,
    Load,
    Blades,
    Turning,
    Seat,
    Wet,
}

impl Trigger {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Warm => "Engine hot",
            Self::Bumps => "Rough ground",
            Self::Load => "Working hard",
            Self::Blades => "Blades on",
            Self::Turning => "Turning",
            Self::Seat => "Shifting in the seat",
            Self::Wet => "Wet",
        }
    }
}

/// How often it happened, as it is told.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Told {
    /// So many times.
    pub times: u32,
    /// In so many hours of running.
    pub hours: f64,
    /// The share of those hours in which what brings it on was there.
    #[serde(default = "all")]
    pub share: f64,
}

fn all() -> f64 {
    1.0
}

/// Something of a soak.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum SoakEntry {
    /// It begins; the clock runs.
    Began {
        /// How often it happened.
        told: Told,
        /// What brings it on; all of them together, or nothing known.
        #[serde(default)]
        needs: Vec<Trigger>,
        /// The chance that it is still there, before the first minute.
        still: f64,
    },
    /// Something that brings it on is there from now on, or no more.
    Trigger {
        /// Which.
        trigger: Trigger,
        /// It is there.
        on: bool,
    },
    /// It happened.
    Failed {
        /// What was done just then.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        note: String,
    },
    /// The engine stands; the clock too.
    Paused,
    /// It runs again.
    Resumed,
    /// Minutes that do not count: nobody was there, or the engine had stopped unseen.
    TakenOff {
        /// So many.
        minutes: f64,
    },
    /// It is over.
    Ended,
}

/// Why an entry is not taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[allow(missing_docs)]
pub enum SoakError {
    #[error("say how often it happened: from 0 to 10000 times")]
    Times,
    #[error("say in how many hours of running: more than 0, up to 10000")]
    Hours,
    #[error("say in how much of that time it could happen: more than none, up to all")]
    Share,
    #[error("give a chance from 0.01 to 0.99")]
    Still,
    #[error("take off more than no minutes, and no more than were counted")]
    Minutes,
    #[error("no soak is under way: begin one")]
    NotBegun,
    #[error("a soak is under way: end it first")]
    UnderWay,
    #[error("the clock runs already")]
    Running,
    #[error("the clock stands already")]
    Paused,
}

impl SoakEntry {
    /// Checks its figures.
    ///
    /// # Errors
    /// Says which cannot be meant.
    pub fn check(&self) -> Result<(), SoakError> {
        match self {
            Self::Began { told, still, .. } => {
                if told.times > 10_000 {
                    return Err(SoakError::Times);
                }
                if !(told.hours > 0.0 && told.hours <= 10_000.0) {
                    return Err(SoakError::Hours);
                }
                if !(told.share > 0.0 && told.share <= 1.0) {
                    return Err(SoakError::Share);
                }
                if (0.01..=0.99).contains(still) { Ok(()) } else { Err(SoakError::Still) }
            }
            Self::TakenOff { minutes } if !(*minutes > 0.0 && minutes.is_finite()) => {
                Err(SoakError::Minutes)
            }
            _ => Ok(()),
        }
    }
}
