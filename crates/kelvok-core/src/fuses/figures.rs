//! Published figures: what a wire carries, and how long a fuse lasts.

use serde::Serialize;

/// Where the amperes of wires are from.
pub const WIRE_SOURCE: &str = "ABYC E-11, single 80 °C copper wire in a hot engine space";
/// Where the times of fuses are from.
pub const BLOW_SOURCE: &str = "ISO 8820-3, blade fuse";

/// American gauge, and what a wire of it carries all day, in amperes.
const WIRE_AMPS: [(u8, f64); 8] =
    [(18, 11.7), (16, 15.6), (14, 19.5), (12, 27.3), (10, 39.0), (8, 54.6), (6, 78.0), (4, 101.4)];

/// What a wire of a gauge carries all day, in amperes.
pub fn wire_amps(gauge: u8) -> Option<f64> {
    WIRE_AMPS.iter().find(|(g, _)| *g == gauge).map(|(_, amps)| *amps)
}

/// How long a fuse lasts, in seconds: at least, and at most.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct BlowTime {
    pub least: f64,
    pub most: f64,
}

/// The current as a multiple of the rating, and how long a fuse lasts then.
const BLOWS: [(f64, BlowTime); 4] = [
    (1.35, BlowTime { least: 0.75, most: 600.0 }),
    (1.6, BlowTime { least: 0.25, most: 50.0 }),
    (2.0, BlowTime { least: 0.15, most: 5.0 }),
    (3.5, BlowTime { least: 0.04, most: 0.5 }),
];

/// How long a blade fuse of this rating lasts, between the published points by straight lines on
/// logarithmic paper; `None` where it may last for ever.
pub fn blow_time(rating: f64, amps: f64) -> Option<BlowTime> {
    let times = amps / rating;
    let after = BLOWS.iter().position(|(at, _)| times < *at);
    match after {
        Some(0) => None,
        None => {
            // Beyond the last point: no slower, and no less is promised.
            Some(BlowTime { least: 0.0, most: BLOWS[BLOWS.len() - 1].1.most })
        }
        Some(next) => {
            let ((low, a), (high, b)) = (BLOWS[next - 1], BLOWS[next]);
            let share = (times / low).ln() / (high / low).ln();
            let on = |a: f64, b: f64| (a.ln() + share * (b / a).ln()).exp();
            Some(BlowTime { least: on(a.least, b.least), most: on(a.most, b.most) })
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_fuse_lasts_as_published_and_in_between_in_between() {
        assert_eq!(blow_time(10.0, 11.0), None);
        let at = |amps: f64| blow_time(10.0, amps).unwrap();
        let published = at(20.0);
        assert!((published.least - 0.15).abs() < 1e-9 && (published.most - 5.0).abs() < 1e-9);
        let between = at(18.0);
        assert!(between.least < 0.25 && between.least > 0.15 && between.most < 50.0, "{between:?}");
        assert!(between.most > 5.0, "{between:?}");
        assert_eq!(at(90.0), BlowTime { least: 0.0, most: 0.5 });
        let all: Vec<_> = (14..60).map(|tenths| at(f64::from(tenths)).most).collect();
        assert!(all.is_sorted_by(|a, b| a >= b), "{all:?}");
    }

    #[test]
    fn a_thicker_wire_carries_more() {
        assert!(WIRE_AMPS.is_sorted_by(|a, b| a.0 > b.0 && a.1 < b.1));
        assert_eq!(wire_amps(16), Some(15.6));
        assert_eq!(wire_amps(17), None);
    }
}
