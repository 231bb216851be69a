//! The fault notation of the command line: `SUBJECT=MODE`.
//!
//! ```text
//! brake.start=open        a contact that never makes        brake.start=made   never breaks
//! brake.start=3.3ohm      a contact (when made), wire, joint, coil, load or battery with these ohms
//! w7=open                 a wire, joint, ground, coil or load that does not conduct
//! main-fuse=blown         a fuse
//! brake-plug=apart        a connector worked loose, or unplugged
//! brake=released          the linkage does not reach the plunger
//! brake=pressed           the linkage does not let go, or a hand presses it
//! battery=11.7V           a battery's volts at rest
//! w7=ground               a wire chafed through to the frame (0.05 ohm)
//! key.M=ground:2ohm       any terminal touching the frame through these ohms
//! ```

use super::{Change, Circuit, ElementId, ElementKind, NodeId, PlungerId, UnknownName};
use crate::machine::SHORT_OHMS;

#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum NotationError {
    #[error("\"{0}\" is not SUBJECT=MODE")]
    Form(String),
    #[error(transparent)]
    Unknown(#[from] UnknownName),
    #[error("{subject} cannot be \"{mode}\"")]
    Mode { subject: String, mode: String },
}

/// Parses one change.
///
/// # Errors
/// Says whether the form, the name or the mode is wrong.
pub fn parse_change(circuit: &Circuit, text: &str) -> Result<Change, NotationError> {
    let form = || NotationError::Form(text.to_owned());
    let (subject, mode) = text.split_once('=').ok_or_else(form)?;
    let (subject, mode) = (subject.trim(), mode.trim());
    let wrong = || NotationError::Mode { subject: subject.to_owned(), mode: mode.to_owned() };
    if let Some(ohms) = mode.strip_prefix("ground") {
        let ohms = match ohms.strip_prefix(':') {
            Some(ohms) => quantity(ohms, "ohm").ok_or_else(wrong)?,
            None if ohms.is_empty() => SHORT_OHMS,
            None => return Err(wrong()),
        };
        let node = match circuit.element_named(subject) {
            Ok(element) => circuit.element(element).a,
            Err(_) => circuit.terminal(subject)?,
        };
        return Ok(Change::ShortToGround(node, ohms));
    }
    if let Some(part) = circuit.part_named(subject) {
        match mode {
            "apart" if circuit.joints(part).next().is_some() => return Ok(Change::Apart(part)),
            "pressed" | "released" => {
                let plunger = circuit.plungers.iter().position(|p| p.part == part);
                let plunger = PlungerId(plunger.ok_or_else(wrong)? as u16);
                return Ok(Change::Pressed(plunger, mode == "pressed"));
            }
            _ => {}
        }
    }
    let element = circuit.element_named(subject)?;
    let kind = circuit.element(element).kind;
    match mode {
        "open" => Ok(Change::Open(element)),
        "blown" if matches!(kind, ElementKind::Fuse { .. }) => Ok(Change::Open(element)),
        "made" if matches!(kind, ElementKind::Contact(_)) => Ok(Change::Made(element)),
        _ => {
            if let Some(ohms) = quantity(mode, "ohm") {
                return Ok(Change::Ohms(element, ohms));
            }
            match (kind, quantity(mode, "V")) {
                (ElementKind::Source { .. }, Some(volts)) => Ok(Change::Emf(element, volts)),
                _ => Err(wrong()),
            }
        }
    }
}

fn quantity(text: &str, unit: &str) -> Option<f64> {
    let number = text.trim().strip_suffix(unit)?.trim();
    number.parse().ok().filter(|n: &f64| *n > 0.0 && n.is_finite())
}

/// Writes a change so that [`parse_change`] reads it back.
pub fn fault_notation(circuit: &Circuit, change: Change) -> String {
    let name = |e: ElementId| circuit.element(e).id.as_str();
    match change {
        Change::Open(e) if matches!(circuit.element(e).kind, ElementKind::Fuse { .. }) => {
            format!("{}=blown", name(e))
        }
        Change::Open(e) => format!("{}=open", name(e)),
        Change::Made(e) => format!("{}=made", name(e)),
        Change::Ohms(e, ohms) => format!("{}={ohms}ohm", name(e)),
        Change::Emf(e, volts) => format!("{}={volts}V", name(e)),
        Change::ShortToGround(node, ohms) => {
            let terminal = ground_subject(circuit, node);
            if ohms == SHORT_OHMS {
                format!("{terminal}=ground")
            } else {
                format!("{terminal}=ground:{ohms}ohm")
            }
        }
        Change::Apart(part) => format!("{}=apart", circuit.part(part).id),
        Change::Pressed(plunger, pressed) => {
            let part = circuit.part(circuit.plungers[plunger.index()].part);
            format!("{}={}", part.id, if pressed { "pressed" } else { "released" })
        }
    }
}

/// A terminal that names the node, and no element of the same name.
fn ground_subject(circuit: &Circuit, node: NodeId) -> &str {
    circuit
        .terminals()
        .find(|(t, n)| {
            *n == node && circuit.element_named(t).map_or(true, |e| circuit.element(e).a == node)
        })
        .map_or(circuit.node_name(node), |(t, _)| t)
}
