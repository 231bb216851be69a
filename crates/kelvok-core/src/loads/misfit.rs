//! Ohms that do not go with volts and amperes: what it can be.

use super::belief::{Cold, Hot};
use super::figures::copper;
use super::load::Load;
use serde::Serialize;

/// Why ohms, volts and amperes of one load do not go together.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum LoadMisfit {
    /// Open leads on something that works: the probe, or the plug, did not touch.
    NotTouching,
    /// Ohms ten or a thousand times off.
    WrongRange,
    /// A few tenths too many on something of few ohms.
    LeadsNotZeroed,
    /// Volts across it, and no amperes to speak of: the clamp is around both wires, or the wrong one.
    ClampAroundBoth,
    /// It draws more than its ohms let: turns that touch once it is warm or pulls.
    ShortsWhenOn,
    /// It draws less than its ohms let, and no coil gets that warm: a loose plug.
    LoosePlug,
}

impl LoadMisfit {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::NotTouching => "It works, so it isn’t open: a probe or plug didn’t touch",
            Self::WrongRange => "Wrong range: check for k on the meter",
            Self::LeadsNotZeroed => "Touch the leads together, take that off the reading",
            Self::ClampAroundBoth => "Clamp around one wire only, the one that feeds it",
            Self::ShortsWhenOn => {
                "It shorts when it is on or warm: read ohms again while it is hot"
            }
            Self::LoosePlug => "Loose plug, or a bad joint at it: wiggle it with the clamp on",
        }
    }
}

/// Leads and their plugs have no more ohms, and count where there are few.
const MOST_LEADS: f64 = 1.0;
const FEW_OHMS: f64 = 8.0;
/// No more amperes than this share of what it should draw are none.
const NO_AMPS: f64 = 0.08;
/// Under so many amperes a clamp says nothing.
const NO_AMPS_AT_ALL: f64 = 0.25;

/// What they can be; empty where they go together.
///
/// # Arguments
/// `by_ohms` and `by_amps` are the ohms at 20 °C, least and most, that either leaves.
pub(super) fn misfits(
    load: &Load,
    (cold, by_ohms): (Option<Cold>, Option<(f64, f64)>),
    (hot, by_amps): (Option<Hot>, Option<(f64, f64)>),
) -> Vec<LoadMisfit> {
    let (Some(cold), Some(hot)) = (cold, hot) else { return Vec::new() };
    let none = hot.amps.abs() < (NO_AMPS * load.draws(hot.volts)).max(NO_AMPS_AT_ALL);
    let Some(shown) = cold.ohms else {
        return if none { Vec::new() } else { vec![LoadMisfit::NotTouching] };
    };
    if none {
        return vec![LoadMisfit::ClampAroundBoth];
    }
    let cold_ohms = shown / copper(cold.celsius.unwrap_or(20.0));
    let hot_ohms = hot.volts / hot.amps.abs();
    let over = cold_ohms / hot_ohms;
    let near = |times: f64| (over / times).ln().abs() < 0.3;
    let range = [10.0, 100.0, 1000.0].iter().any(|k| near(*k) || near(1.0 / k));
    if range {
        return vec![LoadMisfit::WrongRange];
    }
    let (Some(by_ohms), Some(by_amps)) = (by_ohms, by_amps) else { return Vec::new() };
    if by_ohms.0 > by_amps.1 {
        let few = load.ohms < FEW_OHMS && shown - hot_ohms < MOST_LEADS;
        let leads = few.then_some(LoadMisfit::LeadsNotZeroed);
        leads.into_iter().chain([LoadMisfit::ShortsWhenOn]).collect()
    } else if by_ohms.1 < by_amps.0 {
        vec![LoadMisfit::LoosePlug]
    } else {
        Vec::new()
    }
}
