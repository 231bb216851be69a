//! Published figures of lead-acid batteries, each with where it comes from. Nothing else in this room
//! has a figure of the trade.

/// Share of charge, and volts at rest of a 12 V battery at 27 °C: *Battery Service Manual*, Battery
/// Council International. The last rows are a battery run down past empty, its acid spent.
pub const VOLTS_BY_CHARGE: [(f64, f64); 9] = [
    (-0.40, 4.0),
    (-0.30, 8.0),
    (-0.20, 10.5),
    (-0.10, 11.5),
    (0.0, 11.89),
    (0.25, 12.06),
    (0.50, 12.24),
    (0.75, 12.45),
    (1.0, 12.65),
];

/// Share of charge, and specific gravity of its acid at 27 °C: the same.
pub const GRAVITY_BY_CHARGE: [(f64, f64); 6] =
    [(-0.40, 1.05), (0.0, 1.120), (0.25, 1.155), (0.50, 1.190), (0.75, 1.225), (1.0, 1.265)];
/// Specific gravity read falls by this a degree above 27 °C: the same (0.004 every 10 °F).
pub const GRAVITY_PER_KELVIN: f64 = 0.000_72;
/// Cells this far apart in specific gravity: one of them is bad (0.050, the same).
pub const GRAVITY_APART: f64 = 0.050;

/// Degrees Celsius, and the least volts of a good 12 V battery after 15 s at half its cold-cranking
/// amperes: the same (9.6 V at 70 °F).
pub const LOAD_TEST_VOLTS: [(f64, f64); 8] = [
    (-17.8, 8.5),
    (-12.2, 8.7),
    (-6.7, 8.9),
    (-1.1, 9.1),
    (4.4, 9.3),
    (10.0, 9.4),
    (15.6, 9.5),
    (21.1, 9.6),
];
/// The load test is made for so many seconds and not longer.
pub const LOAD_TEST_SECONDS: f64 = 15.0;
/// It says nothing of a battery charged to less than this share: charge it first.
pub const LOAD_TEST_CHARGE: f64 = 0.75;

/// Share of charge, and degrees Celsius at which the acid freezes: the same.
pub const FREEZES_BY_CHARGE: [(f64, f64); 5] =
    [(0.0, -7.0), (0.25, -15.0), (0.50, -23.0), (0.75, -37.0), (1.0, -57.0)];

/// Share of its charge that a battery loses by itself in a day at 25 °C, doubled every 10 K: Linden
/// and Reddy, *Handbook of Batteries*, lead-acid with low antimony.
pub const LOST_A_DAY: f64 = 0.003;
/// Kelvin for twice the loss.
pub const LOST_TWICE_KELVIN: f64 = 10.0;

/// At −18 °C a battery gives its cold-cranking amperes for 30 s at 7.2 V (SAE J537): so many
/// ohm-amperes of inner resistance then, a 12 V battery.
pub const COLD_OHM_AMPS: f64 = 12.5 - 7.2;
/// The degrees of that test.
pub const COLD_CELSIUS: f64 = -18.0;
/// The same ohm-amperes at 25 °C.
pub const WARM_OHM_AMPS: f64 = 3.0;
/// The degrees of that.
pub const WARM_CELSIUS: f64 = 25.0;

/// Ampere-hours (20 h) for each cold-cranking ampere, of the small starting batteries of mowers: 28 Ah
/// with 300 A. Makers' lists, rounded.
pub const AMP_HOURS_PER_COLD_AMP: f64 = 0.095;
/// What of the ampere-hours put in stays in: the same handbook.
pub const CHARGE_ACCEPTED: f64 = 0.9;
/// A battery that gives less than this share of its label's cold-cranking amperes is done for: shop
/// practice, 60 to 70 %.
pub const WORN_SHARE: f64 = 0.65;
/// Below this share of charge it is charged before anything else is said of it: as for the load test.
pub const LOW_CHARGE: f64 = LOAD_TEST_CHARGE;

/// Reads a table of rising first figures, straight between its rows and level beyond them.
pub fn read(table: &[(f64, f64)], at: f64) -> f64 {
    let after = table.iter().position(|(x, _)| *x >= at);
    match after {
        Some(0) => table[0].1,
        None => table[table.len() - 1].1,
        Some(i) => {
            let ((x0, y0), (x1, y1)) = (table[i - 1], table[i]);
            y0 + (y1 - y0) * (at - x0) / (x1 - x0)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tables_rise_and_are_read_straight_between_their_rows() {
        let tables: [&[(f64, f64)]; 4] =
            [&VOLTS_BY_CHARGE, &GRAVITY_BY_CHARGE, &LOAD_TEST_VOLTS, &FREEZES_BY_CHARGE];
        for table in tables {
            assert!(table.windows(2).all(|w| w[0].0 < w[1].0), "{table:?}");
        }
        assert!((read(&VOLTS_BY_CHARGE, 0.625) - 12.345).abs() < 1e-9);
        assert_eq!(read(&VOLTS_BY_CHARGE, 2.0), 12.65);
        assert_eq!(read(&VOLTS_BY_CHARGE, -3.0), 4.0);
    }

    #[test]
    fn the_ohms_at_the_cold_test_and_warm_are_those_of_the_engine() {
        // 3 / CCA at 25 °C is what the circuit's own battery has.
        let warm = WARM_OHM_AMPS / 300.0;
        assert!((warm - crate::machine::BATTERY_OHMS).abs() < 1e-12);
    }
}
