//! What is read of a battery by itself, and what of it cannot be meant.

use super::published::LOAD_TEST_SECONDS;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How the plates are made, as far as it moves the volts.
#[derive(
    Clone,
    Copy,
    Debug,
    Default,
    PartialEq,
    Eq,
    Hash,
    Serialize,
    Deserialize,
    JsonSchema,
    strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Chemistry {
    /// Liquid acid, with caps or sealed.
    #[default]
    Flooded,
    /// Acid held in glass mat.
    Agm,
}

impl Chemistry {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Flooded => "Wet (caps or sealed)",
            Self::Agm => "AGM",
        }
    }

    /// Volts that it stands above a flooded one when full, a 12 V battery.
    pub(crate) fn above(self) -> f64 {
        match self {
            Self::Flooded => 0.0,
            Self::Agm => 0.18,
        }
    }
}

/// One reading of a battery by itself, or what was done to it with figures.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum BatteryTest {
    /// What its label says.
    Label {
        /// Cold-cranking amperes.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        cold_amps: Option<f64>,
        /// Ampere-hours, 20 h.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        amp_hours: Option<f64>,
        #[serde(default)]
        /// How its plates are made.
        chemistry: Chemistry,
    },
    /// Volts at its posts with nothing on.
    Rest {
        /// What was read.
        volts: f64,
        /// Since it was last charged, or driven.
        hours: f64,
        /// Lamps were on for some minutes before, to take the surface charge off.
        #[serde(default)]
        surface_off: bool,
        /// How warm the battery is.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        celsius: Option<f64>,
    },
    /// Volts at its posts at the end of so many seconds with a load on.
    Loaded {
        /// What was read.
        volts: f64,
        /// Drawn from it.
        amps: f64,
        /// They are worked out from what was switched on, not measured.
        #[serde(default)]
        estimated: bool,
        /// The load was on for so long.
        seconds: f64,
        /// How warm the battery is.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        celsius: Option<f64>,
    },
    /// Volts so many seconds after the last load was off.
    Recovered {
        /// What was read.
        volts: f64,
        /// Since the load was off.
        seconds: f64,
    },
    /// It was on a charger that gave so much.
    Charged {
        /// What the charger showed, on the average.
        amps: f64,
        /// For so long.
        hours: f64,
    },
    /// Specific gravity, cell by cell from the positive post.
    Hydrometer {
        /// Six of them, or three of a 6 V battery and three zeros.
        cells: [f64; 6],
    },
    /// What is drawn with everything off.
    Drain {
        /// In milliamperes.
        milliamps: f64,
    },
}

/// Why a reading is not taken.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum BatteryTestError {
    #[error("this machine has no battery")]
    /// It has none.
    NoBattery,
    #[error("{0} V is not the reading of a {1} V battery")]
    /// No such battery reads so.
    Volts(f64, f64),
    #[error("batteries are tested between -40 and 60 °C: is {0} in Fahrenheit?")]
    /// Too cold or too hot.
    Celsius(f64),
    #[error("give the amps as a plain figure above 0, up to 2000")]
    /// None, below zero, or too many.
    Amps,
    #[error("give the hours from 0 to 10000")]
    /// Below zero or too many.
    Hours,
    #[error("give the seconds from 1 to 7200")]
    /// None, below zero or too many.
    Seconds,
    #[error(
        "a heavy load stays on for {LOAD_TEST_SECONDS} s, a minute at the very most: it harms the battery and the reading says nothing"
    )]
    /// Much longer than it may be.
    TooLong,
    #[error("acid is read as 1.050 to 1.350, cell by cell: {0}")]
    /// No acid weighs so.
    Gravity(f64),
    #[error("give the milliamps from 0 to 20000")]
    /// Below zero or too many.
    Milliamps,
    #[error("a label says 50 to 2000 cold-cranking amps, or 5 to 300 amp-hours")]
    /// No battery of such a machine.
    Label,
}

/// From so many amperes on a load is a heavy one, that must not stay on.
const HEAVY_AMPS: f64 = 50.0;
/// What was seen to be on longer than a minute is a slip of the pen.
const HEAVY_SECONDS: f64 = 60.0;

impl BatteryTest {
    /// Checks it against a battery of so many volts.
    ///
    /// # Errors
    /// Says what cannot be meant.
    pub fn check(&self, nominal: f64) -> Result<(), BatteryTestError> {
        use BatteryTestError as No;
        let volts = |volts: f64| match volts {
            // A 6 V battery reads 8 on a charger, a 12 V one 16.
            v if (0.0..=nominal * 1.45).contains(&v) => Ok(()),
            v => Err(No::Volts(v, nominal)),
        };
        let celsius = |celsius: Option<f64>| match celsius {
            Some(t) if !(-40.0..=60.0).contains(&t) => Err(No::Celsius(t)),
            _ => Ok(()),
        };
        let within = |value: f64, low: f64, high: f64, no| {
            if (low..=high).contains(&value) { Ok(()) } else { Err(no) }
        };
        match *self {
            Self::Label { cold_amps, amp_hours, .. } => {
                if cold_amps.is_none() && amp_hours.is_none() {
                    return Err(No::Label);
                }
                cold_amps.map_or(Ok(()), |a| within(a, 50.0, 2000.0, No::Label))?;
                amp_hours.map_or(Ok(()), |a| within(a, 5.0, 300.0, No::Label))
            }
            Self::Rest { volts: v, hours, celsius: t, .. } => {
                volts(v)?;
                within(hours, 0.0, 10_000.0, No::Hours)?;
                celsius(t)
            }
            Self::Loaded { volts: v, amps, seconds, celsius: t, .. } => {
                volts(v)?;
                within(amps, 0.05, 2000.0, No::Amps)?;
                within(seconds, 1.0, 7200.0, No::Seconds)?;
                if amps >= HEAVY_AMPS && seconds > HEAVY_SECONDS {
                    return Err(No::TooLong);
                }
                celsius(t)
            }
            Self::Recovered { volts: v, seconds } => {
                volts(v)?;
                within(seconds, 1.0, 7200.0, No::Seconds)
            }
            Self::Charged { amps, hours } => {
                within(amps, 0.05, 2000.0, No::Amps)?;
                within(hours, 0.0, 10_000.0, No::Hours)
            }
            Self::Hydrometer { cells } => {
                let read = if nominal < 9.0 { &cells[..3] } else { &cells[..] };
                let odd = read.iter().find(|g| !(1.05..=1.35).contains(*g));
                odd.map_or(Ok(()), |g| Err(No::Gravity(*g)))
            }
            Self::Drain { milliamps } => within(milliamps, 0.0, 20_000.0, No::Milliamps),
        }
    }

    /// As it is said across a bench.
    pub fn words(&self) -> String {
        let kelvin = |celsius: &Option<f64>| {
            celsius.map_or(String::new(), |t| format!(", battery at {:.0} °F", t * 1.8 + 32.0))
        };
        match self {
            Self::Label { cold_amps, amp_hours, chemistry } => {
                let cold = cold_amps.map(|a| format!("{a:.0} cold-cranking amps"));
                let hours = amp_hours.map(|ah| format!("{ah} amp-hours"));
                let kind = (*chemistry == Chemistry::Agm).then(|| "AGM".to_owned());
                let said: Vec<_> = [cold, hours, kind].into_iter().flatten().collect();
                format!("Label: {}", said.join(", "))
            }
            Self::Rest { volts, hours, surface_off, celsius } => {
                let since = if *hours < 1.0 {
                    "fresh off the charger or the road".to_owned()
                } else {
                    format!("{hours:.0} h after it was charged or driven")
                };
                let lamps = if *surface_off { ", surface charge taken off" } else { "" };
                format!("{volts:.2} V at rest, {since}{lamps}{}", kelvin(celsius))
            }
            Self::Loaded { volts, amps, estimated, seconds, celsius } => {
                let about = if *estimated { "about " } else { "" };
                let warm = kelvin(celsius);
                format!("{volts:.2} V after {seconds:.0} s with {about}{amps:.1} A drawn{warm}")
            }
            Self::Recovered { volts, seconds } => {
                format!("{volts:.2} V {seconds:.0} s after the load was off")
            }
            Self::Charged { amps, hours } => format!("Charged {hours} h at {amps} A"),
            Self::Hydrometer { cells } => {
                let read: Vec<_> =
                    cells.iter().filter(|c| **c > 0.0).map(|c| format!("{c:.3}")).collect();
                format!("Acid, from + to −: {}", read.join(" "))
            }
            Self::Drain { milliamps } => format!("{milliamps:.0} mA drawn with everything off"),
        }
    }

    /// How warm it is said to be.
    pub(crate) fn celsius(&self) -> Option<f64> {
        match self {
            Self::Rest { celsius, .. } | Self::Loaded { celsius, .. } => *celsius,
            _ => None,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn rest(volts: f64, celsius: Option<f64>) -> BatteryTest {
        BatteryTest::Rest { volts, hours: 12.0, surface_off: false, celsius }
    }

    fn loaded(amps: f64, seconds: f64) -> BatteryTest {
        BatteryTest::Loaded { volts: 10.0, amps, estimated: false, seconds, celsius: None }
    }

    #[test]
    fn what_cannot_be_meant_is_refused_with_a_sentence() {
        use BatteryTestError as No;
        assert_eq!(rest(12.4, Some(-12.0)).check(12.0), Ok(()));
        assert_eq!(rest(6.2, None).check(6.0), Ok(()));
        assert_eq!(rest(12.4, None).check(6.0), Err(No::Volts(12.4, 6.0)));
        assert_eq!(rest(124.0, None).check(12.0), Err(No::Volts(124.0, 12.0)));
        assert!(rest(f64::NAN, None).check(12.0).is_err());
        assert_eq!(rest(12.4, Some(-60.0)).check(12.0), Err(No::Celsius(-60.0)));
        assert_eq!(loaded(-150.0, 15.0).check(12.0), Err(No::Amps));
        assert_eq!(loaded(150.0, 90.0).check(12.0), Err(No::TooLong));
        assert_eq!(loaded(8.0, 180.0).check(12.0), Ok(()));
        let label = |cold_amps, amp_hours| {
            BatteryTest::Label { cold_amps, amp_hours, chemistry: Chemistry::Agm }.check(12.0)
        };
        assert_eq!(label(None, None), Err(No::Label));
        assert_eq!(label(Some(300.0), None), Ok(()));
        assert_eq!(label(Some(3.0), Some(28.0)), Err(No::Label));
        let acid = |cells, nominal| BatteryTest::Hydrometer { cells }.check(nominal);
        assert_eq!(acid([1.25, 1.25, 1.25, 0.0, 0.0, 0.0], 6.0), Ok(()));
        assert_eq!(acid([1.25, 1.25, 1.25, 0.0, 0.0, 0.0], 12.0), Err(No::Gravity(0.0)));
    }
}
