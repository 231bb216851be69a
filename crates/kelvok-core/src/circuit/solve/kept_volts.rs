//! Volts in two bytes, as a dictionary keeps them.

/// Volts are kept in steps of this many: a hand meter shows a hundredth. Beyond 65 V, where no point
/// of a 12 V machine lies, they are cut off.
pub(crate) const STEP: f64 = 0.002;
/// Stands for a node that nothing ties to the reference.
pub(crate) const FLOATS: i16 = i16::MIN;

/// Volts as they are kept.
pub(crate) fn kept(volts: f64) -> i16 {
    let steps = volts * (1.0 / STEP);
    // Half a step away from zero, then cut: a call to `round` costs more. The cast saturates.
    ((steps + 0.5f64.copysign(steps)) as i16).max(FLOATS + 1)
}
