//! What a mechanic types for a reading, turned into a number.

use super::entry_error::MOST_AMPS;
use crate::circuit::{Instrument, LampState, Reading};

/// Why a text is no reading.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[allow(missing_docs)]
pub enum ReadingError {
    #[error("Type what the meter shows.")]
    Empty,
    #[error("That is too long to be a reading: type what the meter shows, such as {0}.")]
    TooLong(&'static str),
    #[error("\"{text}\" is not a reading: type what the meter shows, such as {example}.")]
    NotANumber { text: String, example: &'static str },
    #[error("Ohms cannot be negative: zero the leads and read again.")]
    NegativeOhms,
    #[error("{value} V cannot be on a 12 V machine: check the dial and the decimal point.")]
    ImpossibleVolts { value: String },
    #[error("A meter shows nothing over 40 megohm but over range: type OL if it did.")]
    ImpossibleOhms,
    #[error("A voltmeter shows OL only on the wrong range: set the dial to 20 V or auto.")]
    OverRangeVolts,
    #[error("A clamp shows OL only on too small a range: set it to the next one up.")]
    OverRangeAmps,
    #[error(
        "{value} A is more than any starter here draws: check the range and the decimal point."
    )]
    ImpossibleAmps { value: String },
    #[error("\"{0}\" is megohms, not volts: check the dial, or type mV with a small m.")]
    Mega(String),
    #[error("A lone 1 at the left edge is over range: type OL for that, or 1.0 for one ohm.")]
    LoneOne,
}

/// Longer than any meter shows.
const LONGEST: usize = 24;

/// Reads what was typed: `12.4`, `12,4`, `12.4V`, `340 mV`, `.02`, `135 A`, `0.4 ohm`, `1.2k`, `OL`, `-`
/// (a meter's dashes, over range), `buzz`, `silent`, `bright`, `dim`, `out`.
///
/// # Errors
/// A sentence for the person who typed it.
///
/// ```
/// use kelvok_core::circuit::{Instrument, Reading};
/// use kelvok_core::diagnosis::parse_reading;
///
/// assert_eq!(parse_reading(Instrument::Voltmeter, "12.57"), Ok(Reading::Volts(12.57)));
/// assert_eq!(parse_reading(Instrument::Ohmmeter, "OL"), Ok(Reading::Ohms(None)));
/// ```
pub fn parse_reading(instrument: Instrument, text: &str) -> Result<Reading, ReadingError> {
    let example = match instrument {
        Instrument::Voltmeter => "12.4",
        Instrument::Ohmmeter => "0.3 or OL",
        Instrument::Buzzer => "beep or no beep",
        Instrument::TestLamp => "bright, dim or out",
        Instrument::LedLamp => "lit or dark",
        Instrument::AcVoltmeter => "28.5",
        Instrument::DiodeRange => "0.55 or OL",
        Instrument::Clamp => "135",
    };
    let trimmed = text.trim();
    if trimmed.is_empty() {
        return Err(ReadingError::Empty);
    }
    if trimmed.chars().count() > LONGEST {
        return Err(ReadingError::TooLong(example));
    }
    let lower = trimmed.to_lowercase().replace(['−', '–', '—'], "-");
    let wrong = || ReadingError::NotANumber {
        text: trimmed.chars().filter(|c| !c.is_control()).collect(),
        example,
    };
    let volts = matches!(instrument, Instrument::Voltmeter | Instrument::DiodeRange);
    if volts && trimmed.contains('M') && trimmed.starts_with(|c: char| c.is_ascii_digit()) {
        return Err(ReadingError::Mega(trimmed.to_owned()));
    }
    match instrument {
        Instrument::Buzzer => match lower.as_str() {
            "buzz" | "buzzes" | "beep" | "beeps" | "yes" | "z" => Ok(Reading::Buzz(true)),
            "silent" | "no beep" | "no" | "none" | "n" | "ol" => Ok(Reading::Buzz(false)),
            _ => Err(wrong()),
        },
        Instrument::TestLamp => match lower.as_str() {
            "bright" | "on" => Ok(Reading::Lamp(LampState::Bright)),
            "dim" => Ok(Reading::Lamp(LampState::Dim)),
            "out" | "dark" | "off" => Ok(Reading::Lamp(LampState::Out)),
            _ => Err(wrong()),
        },
        Instrument::LedLamp => match lower.as_str() {
            "lit" | "on" | "bright" => Ok(Reading::Lit(true)),
            "dark" | "out" | "off" => Ok(Reading::Lit(false)),
            _ => Err(wrong()),
        },
        Instrument::DiodeRange => match number(&lower, &["v", "volts", "volt"], &[("m", 1e-3)]) {
            _ if over_range(&lower) => Ok(Reading::Drop(None)),
            Some(volts) if (0.0..=3.0).contains(&volts) => Ok(Reading::Drop(Some(volts))),
            _ => Err(wrong()),
        },
        Instrument::Clamp => {
            if over_range(&lower) {
                return Err(ReadingError::OverRangeAmps);
            }
            let units = ["amperes", "amps", "amp", "a"];
            let amps = number(&lower, &units, &[("m", 1e-3)]).ok_or_else(wrong)?;
            match amps.abs() > MOST_AMPS {
                true => Err(ReadingError::ImpossibleAmps { value: amps.to_string() }),
                false => Ok(Reading::Amps(amps)),
            }
        }
        Instrument::AcVoltmeter => match number(&lower, &["vac", "v", "volts", "volt"], &[]) {
            Some(volts) if (0.0..=200.0).contains(&volts) => Ok(Reading::AcVolts(volts)),
            Some(volts) => Err(ReadingError::ImpossibleVolts { value: volts.to_string() }),
            None => Err(wrong()),
        },
        Instrument::Voltmeter => {
            if over_range(&lower) {
                return Err(ReadingError::OverRangeVolts);
            }
            let volts =
                number(&lower, &["v", "volts", "volt", "vdc"], &[("m", 1e-3)]).ok_or_else(wrong)?;
            if volts.abs() > 60.0 {
                return Err(ReadingError::ImpossibleVolts { value: volts.to_string() });
            }
            Ok(Reading::Volts(volts))
        }
        Instrument::Ohmmeter => {
            if over_range(&lower) {
                return Ok(Reading::Ohms(None));
            }
            // Some meters show over range so, and one ohm as 1.0 or 001.
            if is_lone_one(&lower) {
                return Err(ReadingError::LoneOne);
            }
            let units = ["ohms", "ohm", "ω", "r"];
            let ohms = number(&lower, &units, &[("k", 1e3), ("meg", 1e6), ("m", 1e6)])
                .ok_or_else(wrong)?;
            // A zeroed meter may dip a hair under nothing.
            match ohms {
                o if o < -0.5 => Err(ReadingError::NegativeOhms),
                o if o > 40e6 => Err(ReadingError::ImpossibleOhms),
                o => Ok(Reading::Ohms(Some(o.max(0.0)))),
            }
        }
    }
}

/// Whether it is what some meters show over range, and others at one ohm.
fn is_lone_one(typed: &str) -> bool {
    matches!(typed.trim(), "1" | "1.")
}

/// The same where a lone 1 can only be one ohm: the meter is known to show over range otherwise, or a
/// spreadsheet has left the rest of the figure out.
pub(crate) fn one_is_an_ohm(typed: &str) -> &str {
    if is_lone_one(typed) { "1.0" } else { typed }
}

/// `OL`, `O.L`, `0L`, `1.`-style over range is typed as OL; dashes are what some meters show.
fn over_range(lower: &str) -> bool {
    let bare: String = lower.chars().filter(|c| !matches!(c, '.' | ' ')).collect();
    matches!(bare.as_str(), "ol" | "0l" | "open" | "inf" | "∞")
        || (!bare.is_empty() && bare.chars().all(|c| c == '-'))
}

fn number(lower: &str, units: &[&str], scales: &[(&str, f64)]) -> Option<f64> {
    let mut rest = lower;
    if let Some(unit) = units.iter().find(|u| rest.ends_with(**u)) {
        rest = rest[..rest.len() - unit.len()].trim_end();
    }
    let mut scale = 1.0;
    if let Some((name, by)) = scales.iter().find(|(s, _)| rest.ends_with(s)) {
        rest = rest[..rest.len() - name.len()].trim_end();
        scale = *by;
    }
    let plain = rest.replace(',', ".");
    let sound = plain.chars().all(|c| c.is_ascii_digit() || matches!(c, '.' | '-' | '+' | 'e'));
    if !sound {
        return None;
    }
    plain.parse::<f64>().ok().map(|n| n * scale).filter(|n| n.is_finite())
}
