//! Instruments, and what each would show. They disagree, because each is part of the circuit.

use super::lamp_state::LampState;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What is put to the circuit, with red and black probes.
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
pub enum Instrument {
    /// Direct volts, 10 megohm.
    Voltmeter,
    /// Leads zeroed; over range above 40 megohm.
    Ohmmeter,
    /// Sounds under 30 ohm.
    Buzzer,
    /// A 48 ohm filament lamp: a real load. Its clip goes to ground or to battery positive.
    TestLamp,
    /// A light-emitting diode behind a kilohm.
    LedLamp,
    /// Alternating volts, rms.
    AcVoltmeter,
    /// One milliampere, red to black, and the volts it takes.
    DiodeRange,
    /// Direct amperes, by a clamp round what runs from red's terminal to black's; it touches nothing.
    Clamp,
}

impl Instrument {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// Whether it puts a current of its own into the circuit, which must then be dead.
    pub fn feeds(self) -> bool {
        matches!(self, Self::Ohmmeter | Self::Buzzer | Self::DiodeRange)
    }

    /// Whether both measure the same: a buzzer is an ohmmeter that only says yes or no.
    pub fn measures_as(self, other: Self) -> bool {
        let ohms = |instrument| matches!(instrument, Self::Ohmmeter | Self::Buzzer);
        self == other || ohms(self) && ohms(other)
    }

    /// What it does not see, for whoever is about to trust it.
    pub fn cannot_see(self) -> &'static str {
        match self {
            Self::Voltmeter => {
                "It draws no current: a corroded joint of 200 ohm reads like a good one until a \
                 load pulls current through it."
            }
            Self::Ohmmeter => {
                "It pushes a thousandth of an ampere: a contact that reads good here may fail \
                 under load. On a live circuit the reading is worthless. Across a module's \
                 winding it always reads something."
            }
            Self::Buzzer => {
                "It beeps for anything under 30 ohm. 20 ohm is enough to stop a solenoid, and it \
                 still beeps."
            }
            Self::TestLamp => {
                "It draws a quarter of an ampere: it finds a corroded joint that a meter misses, \
                 but not one that fails only at 100 A. Never on a kill wire with the engine turning."
            }
            Self::LedLamp => "It lights through 200 ohm and more: lit does not mean good.",
            Self::AcVoltmeter => {
                "It reads the stator's volts, not what the regulator makes of them."
            }
            Self::Clamp => {
                "It reads all that it goes around: two wires that carry the same current back and \
                 forth read nothing. Under an ampere it reads mostly its own zero."
            }
            Self::DiodeRange => {
                "It shows which way a diode conducts at a thousandth of an ampere, not whether it \
                 blocks at full volts."
            }
        }
    }
}

/// What an instrument shows.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case", tag = "kind", content = "value")]
#[allow(missing_docs)]
pub enum Reading {
    Volts(f64),
    /// `None` is over range.
    Ohms(Option<f64>),
    Buzz(bool),
    Lamp(LampState),
    /// Whether a light-emitting lamp is lit.
    Lit(bool),
    AcVolts(f64),
    /// Volts in the diode range; `None` is over range.
    Drop(Option<f64>),
    /// Amperes from red to black.
    Amps(f64),
}

/// Why an instrument must not be put there.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, thiserror::Error)]
#[serde(rename_all = "kebab-case", tag = "reason")]
#[allow(missing_docs)]
pub enum Refusal {
    #[error(
        "the circuit is live here: {volts:.2} V. Ohms there mean nothing and can harm the meter"
    )]
    Live { volts: f64 },
}
