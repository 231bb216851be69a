//! The standard instrument command language (IEEE 488.2 and SCPI-99), as far as a bench multimeter
//! needs it: identify, measure, over range.

use crate::circuit::{Instrument, Reading};
use crate::machine::BUZZER_OHMS;
use serde::{Deserialize, Serialize};

/// What the dial stands at.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Range {
    DcVolts,
    AcVolts,
    Ohms,
    Continuity,
    Diode,
    DcAmps,
}

impl Range {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// The range an instrument of the plan is; a lamp is none.
    pub fn of(instrument: Instrument) -> Option<Self> {
        match instrument {
            Instrument::Voltmeter => Some(Self::DcVolts),
            Instrument::AcVoltmeter => Some(Self::AcVolts),
            Instrument::Ohmmeter => Some(Self::Ohms),
            Instrument::Buzzer => Some(Self::Continuity),
            Instrument::DiodeRange => Some(Self::Diode),
            Instrument::Clamp => Some(Self::DcAmps),
            Instrument::TestLamp | Instrument::LedLamp => None,
        }
    }

    /// The command that measures on it and asks for the figure.
    pub fn query(self) -> &'static str {
        match self {
            Self::DcVolts => "MEAS:VOLT:DC?",
            Self::AcVolts => "MEAS:VOLT:AC?",
            Self::Ohms => "MEAS:RES?",
            Self::Continuity => "MEAS:CONT?",
            Self::Diode => "MEAS:DIOD?",
            Self::DcAmps => "MEAS:CURR:DC?",
        }
    }

    /// The range that a command measures on: long and short forms, any case.
    pub fn asked(command: &str) -> Option<Self> {
        let command = command.trim().to_ascii_uppercase();
        let command = command.strip_suffix('?')?.trim_start_matches(':');
        let mut words = command.split(':');
        let is = |word: Option<&str>, short: &str, long: &str| {
            word.is_some_and(|w| w == short || w == long)
        };
        if !is(words.next(), "MEAS", "MEASURE") {
            return None;
        }
        let what = words.next()?;
        let how = words.next();
        let dc = how.is_none() || how == Some("DC");
        match what {
            "VOLT" | "VOLTAGE" if dc => Some(Self::DcVolts),
            "VOLT" | "VOLTAGE" if how == Some("AC") => Some(Self::AcVolts),
            "RES" | "RESISTANCE" => Some(Self::Ohms),
            "CONT" | "CONTINUITY" => Some(Self::Continuity),
            "DIOD" | "DIODE" => Some(Self::Diode),
            "CURR" | "CURRENT" if dc => Some(Self::DcAmps),
            _ => None,
        }
    }

    /// What a figure on this range is as a reading.
    pub fn reading(self, shown: Shown) -> Option<Reading> {
        let figure = shown.figure();
        Some(match self {
            Self::DcVolts => Reading::Volts(figure?),
            Self::AcVolts => Reading::AcVolts(figure?),
            Self::Ohms => Reading::Ohms(figure.map(|f| f.max(0.0))),
            Self::Continuity => Reading::Buzz(figure.is_some_and(|o| o < BUZZER_OHMS)),
            Self::Diode => Reading::Drop(figure),
            Self::DcAmps => Reading::Amps(figure?),
        })
    }
}

/// What a display shows.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum Shown {
    Figure(f64),
    OverRange,
}

/// Figures from here on stand for over range, and not a number for no reading (SCPI-99, 7.2.1).
const OVER_RANGE: f64 = 9.0e37;

/// An answer that is no figure.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("the meter answered \"{0}\", which is no figure")]
pub struct Garbage(pub String);

impl Garbage {
    /// What was answered, as far as it can be shown.
    pub fn of(answer: &str) -> Self {
        Self(answer.trim().chars().filter(|c| !c.is_control()).take(LONGEST).collect())
    }
}

/// No figure is longer than this.
const LONGEST: usize = 40;

impl Shown {
    /// Reads an answer.
    ///
    /// # Errors
    /// It is no figure.
    pub fn parse(answer: &str) -> Result<Self, Garbage> {
        let text = answer.trim();
        let garbage = || Garbage::of(text);
        if text.len() > LONGEST {
            return Err(garbage());
        }
        match text.parse::<f64>() {
            Ok(figure) if figure.is_nan() => Err(garbage()),
            Ok(figure) if figure.abs() >= OVER_RANGE => Ok(Self::OverRange),
            Ok(figure) => Ok(Self::Figure(figure)),
            Err(_) => Err(garbage()),
        }
    }

    /// As a meter sends it.
    pub fn text(self) -> String {
        match self {
            Self::Figure(figure) => format!("{figure:+.6E}"),
            Self::OverRange => "+9.900000E+37".to_owned(),
        }
    }

    /// The figure it answers with; `None` over range.
    pub fn figure(self) -> Option<f64> {
        match self {
            Self::Figure(figure) => Some(figure),
            Self::OverRange => None,
        }
    }
}

/// Who a meter says it is: the answer to `*IDN?`.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Identity {
    pub maker: String,
    pub model: String,
    pub serial: String,
}

impl Identity {
    /// Reads the answer; `None` if it is not one.
    pub fn parse(answer: &str) -> Option<Self> {
        let fields: Vec<String> = answer
            .trim()
            .split(',')
            .map(|f| f.chars().filter(|c| !c.is_control()).take(60).collect::<String>())
            .map(|f| f.trim().to_owned())
            .collect();
        match fields.as_slice() {
            [maker, model, rest @ ..] if !maker.is_empty() && !model.is_empty() => Some(Self {
                maker: maker.clone(),
                model: model.clone(),
                serial: rest.first().cloned().unwrap_or_default(),
            }),
            _ => None,
        }
    }

    /// Whether it is the stand-in that ships with Kelvok, whose probes can be told where to go.
    pub fn is_stand_in(&self) -> bool {
        self.maker == "KELVOK" && self.model == "STAND-IN"
    }
}
