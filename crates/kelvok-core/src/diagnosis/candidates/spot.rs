//! Where an answer lies on a scale that is cut into cells: volts in steps of 0.4, ohms by factors of
//! two, a sound or a look in as many as it has.

use crate::circuit::LampState;
use crate::diagnosis::belief::{DROP_VOLTS, LEADS_OHMS, ac_spread, amps_spread};
use crate::diagnosis::evidence::{Heard, Sense};
use crate::diagnosis::predict::{Predicted, Shown, doubtful};

/// Volts to a cell.
pub(crate) const VOLTS: f64 = 0.4;
/// Cells below zero volts: fifteen volts' worth.
pub(crate) const BELOW: f64 = 38.0;
/// Natural logarithm of ohms to a cell.
pub(crate) const LN_OHMS: f64 = 0.7;
/// Alternating volts to a cell, and those across a diode.
pub(crate) const AC_VOLTS: f64 = 1.0;
pub(crate) const DROP: f64 = 0.1;
/// Amperes below which a clamp's steps are even, how many e-folds a cell is above, and the cell of
/// nothing.
const AMPS: f64 = 1.0;
const LN_AMPS: f64 = 0.2;
const NO_AMPS: f64 = 38.0;
/// The amperes at a place on the scale.
pub(crate) fn amps_at(place: f64) -> f64 {
    AMPS * ((place - NO_AMPS) * LN_AMPS).sinh()
}
/// The cell of over range, beyond forty megohm.
pub(crate) const OVER: u8 = 40;
/// No scale has more cells.
pub(crate) const CELLS: usize = 80;

/// Where an answer lies on its scale, and how far it may be off.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Spot {
    pub at: f32,
    /// Half the width it is spread over, in cells; none for what is one thing or another.
    pub half: f32,
}

/// Whether whoever measures both can tell one from the other.
pub(crate) fn told_apart(one: Predicted, other: Predicted) -> bool {
    let (one, other) = (Spot::of(one), Spot::of(other));
    one.at.is_nan() != other.at.is_nan() || one.apart_from(other)
}

/// The cell of what is noticed.
fn sensed(sense: Sense, shown: &Shown) -> u8 {
    match sense {
        Sense::Starter => Heard::of(shown.crank) as u8,
        Sense::Engine => shown.engine as u8,
        Sense::Blades => u8::from(shown.blades),
        Sense::Lamp(lamp) => shown.lamp(lamp) as u8,
    }
}

impl Spot {
    /// Of a lamp between two states, half in each.
    pub fn sensed(sense: Sense, shown: &Shown) -> Self {
        let doubtful = match sense {
            Sense::Lamp(lamp) => shown.doubtful_lamp(lamp),
            _ => None,
        };
        doubtful.map_or_else(|| Self::exactly(sensed(sense, shown)), Self::between)
    }

    /// Between two neighboring states, half in each.
    fn between([_, upper]: [LampState; 2]) -> Self {
        Self { at: f32::from(upper as u8), half: 1.0 }
    }

    pub fn exactly(cell: u8) -> Self {
        Self { at: f32::from(cell) + 0.5, half: 0.0 }
    }

    pub fn of(predicted: Predicted) -> Self {
        match predicted {
            Predicted::Volts { mean, swing, slope } => Self::volts(mean, swing.hypot(slope)),
            Predicted::Ohms { ohms: Some(ohms), slope } => {
                Self::ln_ohms((ohms + LEADS_OHMS).ln(), slope.abs())
            }
            Predicted::Ohms { ohms: None, .. } => Self::exactly(OVER),
            Predicted::Buzz(on) | Predicted::Lit(on) => Self::exactly(u8::from(on)),
            Predicted::Lamp { volts, slope } => match doubtful(volts, slope.abs()) {
                Some(between) => Self::between(between),
                None => Self::exactly(LampState::at(volts) as u8),
            },
            Predicted::AcVolts(volts) => Self::about(volts / AC_VOLTS, ac_spread(volts) / AC_VOLTS),
            Predicted::Drop(Some(volts)) => Self::about(volts / DROP, DROP_VOLTS / 1.7 / DROP),
            Predicted::Drop(None) => Self::exactly(OVER),
            Predicted::Amps { mean, swing, slope } => {
                Self::amps(mean, amps_spread(mean).hypot(swing).hypot(slope))
            }
            Predicted::Refused => Self { at: f32::NAN, half: 0.0 },
        }
    }

    /// Volts with their standard deviation.
    pub fn volts(mean: f64, spread: f64) -> Self {
        Self::about(mean / VOLTS + BELOW, spread / VOLTS)
    }

    /// The natural logarithm of ohms, leads included, with its standard deviation.
    pub fn ln_ohms(mean: f64, spread: f64) -> Self {
        Self::about(mean / LN_OHMS + 3.0, spread / LN_OHMS)
    }

    /// Amperes with their standard deviation: even steps near nothing, even factors far from it.
    pub fn amps(mean: f64, spread: f64) -> Self {
        let slope = (mean * mean + AMPS * AMPS).sqrt();
        Self::about((mean / AMPS).asinh() / LN_AMPS + NO_AMPS, spread / slope / LN_AMPS)
    }

    fn about(at: f64, spread: f64) -> Self {
        Self {
            at: at.clamp(0.0, CELLS as f64 - 2.0) as f32,
            // A uniform of the same standard deviation, and never finer than a cell.
            half: (1.7 * spread).clamp(0.5, CELLS as f64) as f32,
        }
    }

    /// Volts or ohms this far apart are told apart by whoever looks twice.
    pub fn apart_from(self, other: Self) -> bool {
        let room: f32 = if self.half == 0.0 || other.half == 0.0 { 0.1 } else { 0.7 };
        (self.at - other.at).abs() > room.max(0.6 * self.half.max(other.half)).max(0.1)
    }

    /// Adds a weight to the cells it is spread over.
    pub fn spread(self, weight: f64, row: &mut [f64; CELLS]) {
        if self.half == 0.0 {
            row[(self.at as usize).min(CELLS - 1)] += weight;
            return;
        }
        let (low, high) = ((self.at - self.half).max(0.0), self.at + self.half);
        let density = weight / f64::from(high - low);
        let last = (high as usize).min(CELLS - 1);
        for (cell, slot) in row.iter_mut().enumerate().take(last + 1).skip(low as usize) {
            let from = low.max(cell as f32);
            let to = if cell == last { high } else { high.min(cell as f32 + 1.0) };
            *slot += density * f64::from(to - from).max(0.0);
        }
    }
}
