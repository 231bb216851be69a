//! Strategies: strategies of practice, each with what it would do next.
//!
//! All share suspects, likelihoods, costs and the rule for stopping; a strategy is only the order in
//! which tests are made. Where its own tests have nothing left to tell, it goes on by best split.

use serde::{Deserialize, Serialize};

/// Where to start, and how to go on.
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
    strum::EnumString,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[strum(serialize_all = "kebab-case")]
pub enum Strategy {
    /// The most information a minute, whatever it is.
    #[default]
    BestSplit,
    /// Volts, point by point, from the battery to the load.
    BatteryForward,
    /// Volts, point by point, from the load back to the battery.
    LoadBack,
    /// Volts, always in the middle of what is left of the circuit.
    HalfSplit,
    /// The likeliest of what is quickly looked at, first.
    QuickAndLikely,
    /// The kill wire swept from one point.
    KillSweep,
    /// What else works and what does not, before a meter is picked up.
    ComplaintLogic,
}

impl Strategy {
    /// Every strategy, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// Its name in the command line and the API.
    pub fn name(self) -> &'static str {
        self.into()
    }
}
