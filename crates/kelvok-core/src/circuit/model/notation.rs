//! The fault notation: `SUBJECT=MODE`.

use super::change::{Ailment, Change};
use super::circuit::{Circuit, UnknownName};
use super::contact::Actuator;
use super::element::{Element, ElementKind};
use super::ids::{ElementId, NodeId, PlungerId};
use crate::machine::{PartKind, SHORT_OHMS};

/// Every form of the notation by an example, with what it stands for. The command line's help and the
/// handbook show this list; a test has the parser read each of it.
pub const FAULT_FORMS: [(&str, &str); 30] = [
    ("brake.start=open", "a contact that never makes"),
    ("brake.start=made", "a contact that never breaks"),
    ("brake.start=bypassed", "a contact jumped over: as made"),
    (
        "brake.start=3.3ohm",
        "a contact (when made), wire, joint, coil, load or battery with these ohms",
    ),
    ("w7=open", "a wire, joint, ground, coil or load that does not conduct"),
    ("w7=at-times", "a wire, joint or contact in its bad moments: an intermittent, a dead spot"),
    ("main-fuse=blown", "a fuse"),
    ("main-fuse=40A", "a fuse of this rating"),
    ("brake-plug=apart", "a connector worked loose, or unplugged"),
    ("brake=released", "the linkage does not reach the plunger"),
    ("brake=pressed", "the linkage does not let go, or a hand presses it"),
    ("brake=inverted", "a switch of the wrong kind, NO for NC"),
    ("seat.kill=other-kind", "one contact of the other kind: NO for NC"),
    ("seat.kill=no-delay", "a contact whose delay is gone"),
    ("battery=11.7V", "a battery's volts at rest"),
    (
        "battery=flat:11.1V",
        "a battery discharged to these volts, its inner resistance risen with it",
    ),
    ("w7=ground", "a wire chafed through to the frame (0.05 ohm)"),
    ("key.M=ground:2ohm", "a terminal touching the frame through these ohms"),
    ("w7=hot-ground", "the same, only with the engine hot"),
    ("key.B=touches:key.L", "two terminals joined (0.05 ohm)"),
    ("key.B=touches:key.L:300ohm", "two terminals joined through these ohms"),
    ("key.B=touches:key.M@key=run,start", "two terminals joined in these positions of a control"),
    ("dash-plug.1=swapped:dash-plug.2", "two pins of a plug in each other's place"),
    ("solenoid.coil=turns:40%", "a coil or clutch with this share of its turns shorted"),
    ("regulator=dead", "a regulator that gives nothing"),
    ("regulator=16.5V", "what a regulator or a stator puts out"),
    ("module=dead", "an ignition module or coil without a spark"),
    ("starter=no-drive", "a starter that spins alone"),
    ("starter=seized", "an engine that cannot be turned"),
    ("clutch=wide-gap", "a clutch that does not pull in for its gap"),
];

/// Why a text is no change of a machine.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[allow(missing_docs)]
pub enum NotationError {
    #[error("\"{0}\" is not SUBJECT=MODE")]
    Form(String),
    #[error(transparent)]
    Unknown(#[from] UnknownName),
    #[error("{subject} cannot be \"{mode}\"")]
    Mode { subject: String, mode: String },
}

const AILMENTS: [(&str, Ailment); 4] = [
    ("dead", Ailment::Dead),
    ("no-drive", Ailment::NoDrive),
    ("seized", Ailment::Seized),
    ("wide-gap", Ailment::WideGap),
];

/// Parses one change.
///
/// # Errors
/// Says whether the form, the name or the mode is wrong.
pub fn parse_change(circuit: &Circuit, text: &str) -> Result<Change, NotationError> {
    let form = || NotationError::Form(text.to_owned());
    let (subject, mode) = text.split_once('=').ok_or_else(form)?;
    let (subject, mode) = (subject.trim(), mode.trim());
    let wrong = || NotationError::Mode { subject: subject.to_owned(), mode: mode.to_owned() };
    let node = || match circuit.element_named(subject) {
        Ok(element) => Ok(circuit.element(element).a),
        Err(_) => circuit.terminal(subject),
    };
    if let Some(ohms) = mode.strip_prefix("ground") {
        return Ok(Change::ShortToGround(node()?, short_ohms(ohms).ok_or_else(wrong)?));
    }
    if let Some(ohms) = mode.strip_prefix("hot-ground") {
        return Ok(Change::GroundWhenHot(node()?, short_ohms(ohms).ok_or_else(wrong)?));
    }
    if let Some(rest) = mode.strip_prefix("touches:") {
        let (rest, when) = match rest.split_once('@') {
            Some((rest, when)) => (rest, Some(position_mask(circuit, when).ok_or_else(wrong)?)),
            None => (rest, None),
        };
        let (other, ohms) = rest.split_once(':').map_or((rest, ""), |(t, _)| (t, &rest[t.len()..]));
        let ohms = short_ohms(ohms).ok_or_else(wrong)?;
        let ends = (circuit.terminal(subject)?, circuit.terminal(other)?);
        return Ok(Change::Join { ends, ohms, when });
    }
    if let Some(part) = circuit.part_named(subject) {
        match mode {
            "apart" if circuit.joints(part).next().is_some() => return Ok(Change::Apart(part)),
            "pressed" | "released" => {
                let plunger = circuit.plungers.iter().position(|p| p.part == part);
                let plunger = PlungerId(plunger.ok_or_else(wrong)? as u16);
                return Ok(Change::Pressed(plunger, mode == "pressed"));
            }
            "inverted" => {
                let plunger = circuit.plungers.iter().position(|p| p.part == part);
                return Ok(Change::Inverted(PlungerId(plunger.ok_or_else(wrong)? as u16)));
            }
            _ => {}
        }
    }
    let element = circuit.element_named(subject)?;
    let kind = circuit.element(element).kind;
    if let Some(other) = mode.strip_prefix("swapped:") {
        let other = circuit.element_named(other)?;
        let both = [element, other].map(|e| circuit.element(e).kind == ElementKind::Joint);
        return if both == [true, true] {
            Ok(Change::Swapped(element, other))
        } else {
            Err(wrong())
        };
    }
    if let Some((_, ailment)) = AILMENTS.iter().find(|(name, _)| *name == mode) {
        use PartKind::{Clutch, Generator, IgnitionCoil, IgnitionModule, Regulator, Starter};
        return match (ailment, circuit.element(element).part.map(|p| circuit.part(p).kind)) {
            (Ailment::Dead, Some(Regulator)) => Ok(Change::Open(element)),
            (Ailment::Dead, Some(IgnitionModule | IgnitionCoil))
            | (Ailment::NoDrive | Ailment::Seized, Some(Starter | Generator))
            | (Ailment::WideGap, Some(Clutch)) => Ok(Change::Ails(element, *ailment)),
            _ => Err(wrong()),
        };
    }
    let contact = matches!(kind, ElementKind::Contact(_));
    match mode {
        "open" => Ok(Change::Open(element)),
        "at-times" => Ok(Change::AtTimes(element)),
        "blown" if matches!(kind, ElementKind::Fuse { .. }) => Ok(Change::Open(element)),
        "made" | "bypassed" if contact => Ok(Change::Made(element)),
        "other-kind" if worked_from_outside(circuit, kind) => Ok(Change::OtherKind(element)),
        "no-delay" if contact => Ok(Change::NoDelay(element)),
        _ => measured(circuit.element(element), element, mode).ok_or_else(wrong),
    }
}

/// Whether it is a contact that a hand or a linkage works, rather than a coil.
fn worked_from_outside(circuit: &Circuit, kind: ElementKind) -> bool {
    let ElementKind::Contact(contact) = kind else { return false };
    !matches!(circuit.contacts[contact].actuator, Actuator::Coils(_))
}

/// A mode with a figure in it.
fn measured(element: &Element, id: ElementId, mode: &str) -> Option<Change> {
    if let Some(share) = mode.strip_prefix("turns:") {
        let share = quantity(share, "%").filter(|s| *s < 100.0)? / 100.0;
        return Some(Change::ShortedTurns(id, share));
    }
    if let Some(volts) = mode.strip_prefix("flat:") {
        let battery = matches!(element.kind, ElementKind::Source { .. });
        return quantity(volts, "V").filter(|_| battery).map(|volts| Change::Drained(id, volts));
    }
    if let Some(ohms) = quantity(mode, "ohm") {
        return Some(Change::Ohms(id, ohms));
    }
    if let Some(amps) = quantity(mode, "A") {
        let fuse = matches!(element.kind, ElementKind::Fuse { .. });
        return fuse.then_some(Change::Rating(id, amps));
    }
    let volts = mode.strip_suffix('V')?.trim().parse().ok().filter(|v: &f64| v.is_finite())?;
    match element.kind {
        ElementKind::Source { .. } => Some(Change::Emf(id, volts)),
        ElementKind::Winding { .. } => Some(Change::Emf(id, volts)),
        // A regulator is a diode with its volts behind it.
        ElementKind::Diode { volts: own } if own < 0.0 => Some(Change::Emf(id, -volts)),
        _ => None,
    }
}

/// Nothing is a dead short; `:2ohm` is that many ohms.
fn short_ohms(text: &str) -> Option<f64> {
    match text.strip_prefix(':') {
        Some(ohms) => quantity(ohms, "ohm"),
        None => text.is_empty().then_some(SHORT_OHMS),
    }
}

/// `key=run,start` as the control's index and its positions' bits.
fn position_mask(circuit: &Circuit, text: &str) -> Option<(usize, u32)> {
    let (control, positions) = text.split_once('=')?;
    let index = circuit.controls.iter().position(|c| c.id == control)?;
    let own = &circuit.controls[index].positions;
    let mut mask = 0;
    for name in positions.split(',') {
        mask |= 1 << own.iter().position(|p| p.id == name)?;
    }
    Some((index, mask))
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
        Change::Emf(e, volts) => match circuit.element(e).kind {
            ElementKind::Diode { .. } => format!("{}={}V", name(e), -volts),
            _ => format!("{}={volts}V", name(e)),
        },
        Change::Drained(e, volts) => format!("{}=flat:{volts}V", name(e)),
        Change::ShortToGround(node, ohms) => {
            format!("{}=ground{}", ground_subject(circuit, node), ohms_suffix(ohms))
        }
        Change::GroundWhenHot(node, ohms) => {
            format!("{}=hot-ground{}", ground_subject(circuit, node), ohms_suffix(ohms))
        }
        Change::Join { ends: (a, b), ohms, when } => {
            let (a, b) = (circuit.node_name(a), circuit.node_name(b));
            let when = when.map(|(control, mask)| {
                let control = &circuit.controls[control];
                let set: Vec<_> = control
                    .positions
                    .iter()
                    .enumerate()
                    .filter(|(i, _)| mask >> i & 1 == 1)
                    .map(|(_, p)| p.id.as_str())
                    .collect();
                format!("@{}={}", control.id, set.join(","))
            });
            format!("{a}=touches:{b}{}{}", ohms_suffix(ohms), when.unwrap_or_default())
        }
        Change::Swapped(one, other) => format!("{}=swapped:{}", name(one), name(other)),
        Change::AtTimes(e) => format!("{}=at-times", name(e)),
        Change::Inverted(plunger) => {
            format!("{}=inverted", circuit.part(circuit.plungers[plunger.index()].part).id)
        }
        Change::OtherKind(e) => format!("{}=other-kind", name(e)),
        Change::ShortedTurns(e, share) => format!("{}=turns:{}%", name(e), share * 100.0),
        Change::NoDelay(e) => format!("{}=no-delay", name(e)),
        Change::Rating(e, amps) => format!("{}={amps}A", name(e)),
        Change::Ails(e, ailment) => {
            let word = AILMENTS.iter().find(|(_, a)| *a == ailment).map_or("", |(word, _)| word);
            format!("{}={word}", name(e))
        }
        Change::Apart(part) => format!("{}=apart", circuit.part(part).id),
        Change::Pressed(plunger, pressed) => {
            let part = circuit.part(circuit.plungers[plunger.index()].part);
            format!("{}={}", part.id, if pressed { "pressed" } else { "released" })
        }
    }
}

fn ohms_suffix(ohms: f64) -> String {
    if ohms == SHORT_OHMS { String::new() } else { format!(":{ohms}ohm") }
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
