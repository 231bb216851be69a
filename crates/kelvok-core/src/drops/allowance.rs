//! What may be lost: by the machine's own figures, and by what the trade goes by.

use super::path::Lost;
use crate::circuit::{Circuit, ElementId, ElementKind};

/// Where the trade's figures are from.
pub const TRADE_SOURCE: &str = "what shops usually go by; the maker's own figure comes first";

/// Volts that the trade allows a whole side of a circuit.
pub const SUPPLY_SIDE_VOLTS: f64 = 0.5;
/// The same of the way back.
pub const GROUND_SIDE_VOLTS: f64 = 0.3;
/// Volts across one joint, fuse or ground bolt ...
const JOINT_VOLTS: f64 = 0.1;
/// ... one wire or cable ...
const WIRE_VOLTS: f64 = 0.2;
/// ... and one contact.
const CONTACT_VOLTS: f64 = 0.2;

/// Good parts lose up to this many tolerances more than they should, or less ...
const TOLERANCES: f64 = 1.2;
/// ... and this many volts, which a meter and a thumb lose.
const HAND_VOLTS: f64 = 0.03;

/// What the trade allows everything in a stretch to lose together.
pub fn trade_volts(circuit: &Circuit, stretch: &[ElementId]) -> f64 {
    let each = stretch.iter().map(|id| match circuit.element(*id).kind {
        ElementKind::Wire | ElementKind::Possible => WIRE_VOLTS,
        ElementKind::Joint | ElementKind::Ground | ElementKind::Fuse { .. } => JOINT_VOLTS,
        ElementKind::Contact(_) => CONTACT_VOLTS,
        _ => 0.0,
    });
    each.sum()
}

/// What good parts lose.
#[derive(Clone, Copy, Debug)]
pub(super) struct Allowance {
    /// At least this much.
    pub least: f64,
    pub expected: f64,
    /// At most this much: their tolerances, and the hand's.
    pub limit: f64,
}

/// What good parts lose together, at the current that is drawn.
///
/// # Arguments
/// `ratio` is the current that is drawn, beside a sound machine's.
pub(super) fn own_volts(lost: impl Iterator<Item = Lost>, ratio: f64) -> Allowance {
    let (sum, unsure) = lost.fold((0.0, 0.0), |(sum, unsure), lost| {
        let ratio = if lost.own { ratio } else { 1.0 };
        (sum + ratio * lost.volts, unsure + (ratio * lost.unsure).powi(2))
    });
    let either = TOLERANCES * unsure.sqrt();
    Allowance { least: (sum - either).max(0.0), expected: sum, limit: sum + either + HAND_VOLTS }
}
