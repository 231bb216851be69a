//! The leads and the meter, before a reading is believed.

use crate::circuit::{Instrument, Reading};
use crate::diagnosis::{ReadingError, one_is_an_ohm, parse_reading};
use serde::Serialize;

/// Leads of more than this hide a worn contact, in ohms; a pair of sound ones has 0.1 to 0.3.
const MOST_LEAD_OHMS: f64 = 1.0;
/// Apart, a meter that shows less than this is not on ohms, or touches something, in ohms.
const LEAST_APART_OHMS: f64 = 1e6;

/// What the display showed, as it was typed, with the probes touching and apart.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Leads {
    /// What the leads themselves have, in ohms; taken off every reading.
    pub ohms: f64,
    pub verdict: LeadsVerdict,
    /// What this meter shows over range, bare.
    over_range: String,
}

/// What the meter and its leads are good for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum LeadsVerdict {
    Good,
    /// Over an ohm, touching: a broken strand, dirty tips, a flat meter battery.
    TooHigh,
    /// Over range, touching: a lead is open or in the wrong socket.
    Broken,
    /// A figure, apart: the wrong range, or something between the probes.
    NotOpen,
}

impl Leads {
    /// Reads what a display showed. A bare `1` at its left edge is over range where the probes are
    /// apart, whatever it would be otherwise.
    ///
    /// # Errors
    /// What was typed is no reading.
    pub fn of(touching: &str, apart: &str) -> Result<Self, ReadingError> {
        let over_range = bare(apart);
        let open = match over_range.as_str() {
            "1" => None,
            _ => ohms(apart)?,
        };
        let closed = match bare(touching) == over_range {
            true => None,
            false => ohms(touching)?,
        };
        let verdict = match (closed, open) {
            (_, Some(apart)) if apart < LEAST_APART_OHMS => LeadsVerdict::NotOpen,
            (None, _) => LeadsVerdict::Broken,
            (Some(ohms), _) if ohms > MOST_LEAD_OHMS => LeadsVerdict::TooHigh,
            _ => LeadsVerdict::Good,
        };
        let over_range = if open.is_none() { over_range } else { String::new() };
        Ok(Self { ohms: closed.unwrap_or(0.0), verdict, over_range })
    }

    /// What a display shows, on the buzzer or on ohms, with what this meter shows over range.
    ///
    /// # Errors
    /// It is no reading.
    pub fn read(leads: Option<&Self>, typed: &str) -> Result<Reading, ReadingError> {
        let own = leads.map(|l| l.over_range.as_str()).unwrap_or_default();
        if !own.is_empty() && bare(typed) == own {
            return Ok(Reading::Ohms(None));
        }
        let typed = if own.is_empty() { typed } else { one_is_an_ohm(typed) };
        // `OL` says more on ohms than that it did not buzz.
        let on_ohms = parse_reading(Instrument::Ohmmeter, typed);
        match parse_reading(Instrument::Buzzer, typed) {
            Ok(buzz) if on_ohms.is_err() => Ok(buzz),
            _ => on_ohms,
        }
    }
}

fn ohms(typed: &str) -> Result<Option<f64>, ReadingError> {
    match parse_reading(Instrument::Ohmmeter, one_is_an_ohm(typed))? {
        Reading::Ohms(ohms) => Ok(ohms),
        _ => Ok(None),
    }
}

fn bare(typed: &str) -> String {
    let lower = typed.to_lowercase();
    lower.chars().filter(|c| !matches!(c, '.' | ',') && !c.is_whitespace()).collect()
}
