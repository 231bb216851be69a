//! What a reading looks like, and how likely it is to.

use super::entry::TraceError;
use super::lookalikes::WIRE_OHMS;
use crate::circuit::{Instrument, Reading};
use crate::machine::{BUZZER_OHMS, OHMMETER_LIMIT_OHMS};

/// A good wire that reads like something else: a bad joint.
const BAD_JOINT: f64 = 0.01;
/// Diode range: volts under which it is a wire.
const WIRE_VOLTS: f64 = 0.05;

/// What a reading looks like.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Looks {
    Wire,
    /// A beep, which may be anything under 30 ohm.
    Beep,
    /// Something, and no wire.
    Through,
    /// No beep: what has more than 30 ohm is not heard.
    Silent,
    /// Over range.
    Open,
}

/// How likely a reading is to look so where the circuit has these ohms.
pub(super) fn shown(looks: Looks, ohms: f64) -> f64 {
    let wire = ohms < WIRE_OHMS;
    match looks {
        Looks::Beep => f64::from(ohms < BUZZER_OHMS),
        Looks::Silent => f64::from(ohms >= BUZZER_OHMS),
        Looks::Open => f64::from(ohms > OHMMETER_LIMIT_OHMS),
        // A good wire may read like something else: a bad joint.
        Looks::Wire if wire => 1.0 - BAD_JOINT,
        Looks::Wire => 0.0,
        Looks::Through if wire => BAD_JOINT,
        Looks::Through => f64::from(ohms <= OHMMETER_LIMIT_OHMS).max(BAD_JOINT),
    }
}

/// What an instrument shows.
pub(super) fn looks(instrument: Instrument, reading: Reading) -> Result<Looks, TraceError> {
    match (instrument, reading) {
        (Instrument::Buzzer, Reading::Buzz(true)) => Ok(Looks::Beep),
        (Instrument::Buzzer, Reading::Buzz(false)) => Ok(Looks::Silent),
        (Instrument::Ohmmeter, Reading::Ohms(None)) => Ok(Looks::Open),
        (Instrument::Ohmmeter, Reading::Ohms(Some(ohms))) if ohms < 0.0 || !ohms.is_finite() => {
            Err(TraceError::Reading)
        }
        (Instrument::Ohmmeter, Reading::Ohms(Some(ohms))) if ohms < WIRE_OHMS => Ok(Looks::Wire),
        (Instrument::DiodeRange, Reading::Drop(None)) => Ok(Looks::Open),
        (Instrument::DiodeRange, Reading::Drop(Some(volts))) if volts.abs() < WIRE_VOLTS => {
            Ok(Looks::Wire)
        }
        (Instrument::Ohmmeter, Reading::Ohms(_)) | (Instrument::DiodeRange, Reading::Drop(_)) => {
            Ok(Looks::Through)
        }
        (Instrument::Buzzer | Instrument::Ohmmeter | Instrument::DiodeRange, _) => {
            Err(TraceError::Reading)
        }
        _ => Err(TraceError::Instrument),
    }
}
