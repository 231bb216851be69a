//! How a 12 V filament lamp burns, as eyes would say: the machine's own lamps and the test lamp.

use crate::circuit::LampState;

/// Volts of the borders between out, dim and bright, about each of which eyes differ by so many.
const BORDERS: [(f64, f64, [LampState; 2]); 2] =
    [(3.0, 0.6, [LampState::Out, LampState::Dim]), (8.0, 0.9, [LampState::Dim, LampState::Bright])];

/// The two states between which eyes differ, if it burns so near a border; `unsure` are the volts
/// by which it may be off besides.
pub(crate) fn doubtful(volts: f64, unsure: f64) -> Option<[LampState; 2]> {
    let off = |at: f64| (volts.abs() - at).abs();
    let near = BORDERS.iter().filter(|(at, within, _)| off(*at) < within + unsure);
    near.min_by(|a, b| off(a.0).total_cmp(&off(b.0))).map(|(.., between)| *between)
}

/// The chance of an honest word about a lamp that burns like this.
pub(crate) fn chance(said: LampState, truth: LampState, doubtful: Option<[LampState; 2]>) -> f64 {
    use LampState::{Bright, Out};
    match (said, truth) {
        // Nearly bright is called dim as often as bright.
        _ if doubtful.is_some_and(|between| between.contains(&said)) => 0.48,
        _ if said == truth => 0.95,
        (Out, Bright) | (Bright, Out) => 0.01,
        _ => 0.1,
    }
}
