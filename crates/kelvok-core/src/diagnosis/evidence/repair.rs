//! What is done to a unit to put it right.

use super::log::Evidence;
use super::observation::Observation;
use super::unit::Unit;
use crate::circuit::Circuit;
use crate::machine::{PartKind, SiteKind};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How a unit was put right.
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
pub enum Repair {
    /// A new part.
    Replaced,
    /// Contacts, a terminal or a ground spot.
    Cleaned,
    /// A lug, clamp or screw.
    Tightened,
    /// A linkage, bracket or stop.
    Adjusted,
    /// A plunger or lever that hung up.
    Freed,
    /// A terminal crimped anew.
    Recrimped,
    /// A plug or pin pushed home.
    Reseated,
    /// A wire run anew, or spliced.
    NewWire,
    /// A fuse of the size that is called for.
    NewFuse,
    /// The battery charged.
    Charged,
}

impl Repair {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Replaced => "Replaced",
            Self::Cleaned => "Cleaned",
            Self::Tightened => "Tightened",
            Self::Adjusted => "Adjusted",
            Self::Freed => "Freed up",
            Self::Recrimped => "Re-crimped",
            Self::Reseated => "Plug re-seated",
            Self::NewWire => "New wire",
            Self::NewFuse => "New fuse, right size",
            Self::Charged => "Charged",
        }
    }

    /// What can be done to a unit, the usual first; nothing can be done to no unit.
    pub fn fitting(circuit: &Circuit, unit: Unit) -> &'static [Self] {
        match unit {
            Unit::Nothing => &[],
            Unit::Wire(_) => &[Self::NewWire, Self::Recrimped, Self::Reseated],
            Unit::Linkage(_) => &[Self::Adjusted, Self::Freed, Self::Tightened, Self::Replaced],
            Unit::Part(part) => match circuit.part(part).kind {
                PartKind::Fuse => &[Self::NewFuse, Self::Cleaned, Self::Reseated],
                PartKind::Battery => {
                    &[Self::Charged, Self::Cleaned, Self::Tightened, Self::Replaced]
                }
                PartKind::Connector => {
                    &[Self::Cleaned, Self::Reseated, Self::Recrimped, Self::Replaced]
                }
                kind if kind.site() == SiteKind::Ground => {
                    &[Self::Cleaned, Self::Tightened, Self::Replaced]
                }
                kind if kind.is_switch() => {
                    &[Self::Replaced, Self::Cleaned, Self::Reseated, Self::Adjusted, Self::Freed]
                }
                _ => &[Self::Replaced, Self::Cleaned, Self::Reseated, Self::Tightened],
            },
        }
    }
}

/// A log up to the first repair of any of these units: what it was known by before it was cured.
pub fn before_repair<'a>(log: &'a [Evidence], units: &[Unit]) -> &'a [Evidence] {
    let cures =
        |e: &Evidence| matches!(e.observation, Observation::Repaired(u) if units.contains(&u));
    &log[..log.iter().position(cures).unwrap_or(log.len())]
}
