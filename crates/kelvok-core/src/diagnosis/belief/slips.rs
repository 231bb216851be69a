//! What a reading looks like when it is a slip: a probe that does not touch or touches the next
//! terminal, leads swapped, a key let go, a decimal point gone. A reading that none of these would
//! give is hardly ever a slip, and one that looks just like one is one more easily.

use std::f64::consts::TAU;

/// A probe that does not touch, a key let go: nothing.
const NOTHING: f64 = 0.73;
const NOTHING_VOLTS: f64 = 0.1;
/// The next terminal, or another condition: the supply, more or less loaded.
const LIVE: f64 = 0.08;
const LIVE_VOLTS: f64 = 0.6;
const LIVE_BELOW_SUPPLY: f64 = 0.3;
/// Leads swapped: the supply below zero.
const SWAPPED: f64 = 0.05;
/// A decimal point gone.
const DECIMAL: f64 = 0.02;
const DECIMAL_VOLTS: f64 = 0.06;
/// Whatever else, anywhere up to this many volts.
const ELSE: f64 = 0.12;
const ELSE_VOLTS: f64 = 15.0;
const ELSE_AT_THE_POSTS: f64 = 0.02;

/// The density of a slip's volts.
///
/// # Arguments
/// `supply` is the battery's volts at rest.
pub(super) fn volts(read: f64, supply: f64) -> f64 {
    let live = supply - LIVE_BELOW_SUPPLY;
    NOTHING * normal(read, 0.0, NOTHING_VOLTS)
        + LIVE * normal(read, live, LIVE_VOLTS)
        + SWAPPED * normal(read, -live, LIVE_VOLTS)
        + DECIMAL * normal(read, live / 10.0, DECIMAL_VOLTS)
        + ELSE / ELSE_VOLTS
}

/// The same of what is read at the battery's own posts: whatever is live there is the battery, and it is
/// hard to miss.
pub(super) fn volts_at_the_posts(read: f64, supply: f64) -> f64 {
    NOTHING * normal(read, 0.0, NOTHING_VOLTS)
        + SWAPPED * normal(read, -supply, LIVE_VOLTS)
        + DECIMAL * normal(read, supply / 10.0, DECIMAL_VOLTS)
        + ELSE_AT_THE_POSTS / ELSE_VOLTS
}

/// Open leads, or a switch that nobody holds.
const OVER_RANGE: f64 = 0.6;
/// Points on each other, or a plug that was not really off.
const TOUCHING: f64 = 0.3;
const TOUCHING_OHMS: f64 = 0.2;
const TOUCHING_SPREAD: f64 = 0.25;
/// Whatever else, over this width of `ln(ohms)`.
const ELSEWHERE: f64 = 0.1;
const WIDTH: f64 = 15.0;

/// The chance of a slip over range, or its density in `ln(ohms + leads)`.
pub(super) fn ohms(read: Option<f64>, leads: f64) -> f64 {
    let Some(read) = read else { return OVER_RANGE };
    let at = (read + leads).ln();
    let touching = (TOUCHING_OHMS + leads).ln();
    TOUCHING * normal(at, touching, TOUCHING_SPREAD) + ELSEWHERE / WIDTH
}

/// The density of a slip's volts AC.
pub(super) fn ac_volts(read: f64) -> f64 {
    0.6 * normal(read, 0.0, 0.3) + 0.4 / 40.0
}

/// A clamp that is not shut, goes around the wrong wire or around both ways of one current: nothing, or
/// anything.
const NO_AMPS: f64 = 0.6;
const NO_AMPS_SPREAD: f64 = 0.4;
/// The natural logarithm of the most amperes that a clamp reads, over one.
const DECADES: f64 = 6.2;

/// The density of a slip's amperes.
pub(super) fn amps(read: f64) -> f64 {
    NO_AMPS * normal(read, 0.0, NO_AMPS_SPREAD)
        + (1.0 - NO_AMPS) / (2.0 * DECADES * (1.0 + read.abs()))
}

fn normal(at: f64, mean: f64, spread: f64) -> f64 {
    let off = (at - mean) / spread;
    (-off * off / 2.0).exp() / (spread * TAU.sqrt())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_looks_like_a_slip_is_one_more_easily() {
        for typical in [0.0, 0.05, 12.4, -12.4, 1.24] {
            assert!(volts(typical, 12.65) > 4.0 * volts(8.3, 12.65), "{typical}");
        }
        assert!(ohms(Some(0.2), 0.3) > 10.0 * ohms(Some(0.9), 0.3));
        assert!(ohms(None, 0.3) > 50.0 * ohms(Some(90.0), 0.3));
    }

    #[test]
    fn what_the_posts_show_is_hardly_ever_a_slip() {
        for shown in [12.4, 10.9, 8.6] {
            let elsewhere = volts(shown, 12.65);
            assert!(volts_at_the_posts(shown, 12.65) < elsewhere / 5.0, "{shown}");
        }
        // A probe that does not touch is one there, too.
        assert!(volts_at_the_posts(0.0, 12.65) > 1.0);
    }

    #[test]
    fn a_slip_is_something() {
        let sum: f64 = (-2000..2000).map(|i| volts(f64::from(i) * 0.01, 12.65) * 0.01).sum();
        let clamped: f64 = (-5000..5000).map(|i| amps(f64::from(i) * 0.1) * 0.1).sum();
        assert!((clamped - 1.0).abs() < 0.05, "{clamped}");
        assert!((0.95..1.3).contains(&sum), "{sum}");
    }
}
