//! What a reading says of how a machine charges.

use super::log::Evidence;
use super::observation::{Observation, Source};
use super::set_up::SetUp;
use crate::charging::{ChargeKind, ChargeReading, ChargingSystem, Load};
use crate::circuit::{Circuit, Engine, Instrument, NodeId, Reading};

/// What an entry says of how it charges, where it does.
pub(crate) fn charge_reading(
    circuit: &Circuit,
    system: &ChargingSystem,
    entry: &Evidence,
) -> Option<ChargeReading> {
    let Observation::Read { instrument, red, black, reading } = entry.observation else {
        return None;
    };
    if entry.source != Source::Tested {
        return None;
    }
    let runs = entry.condition.engine >= Engine::Running;
    let ends = (red, black);
    let at = |kind: ChargeKind| way(system, kind, ends);
    let drawn = || system.drawn(circuit, &entry.condition);
    let load = || drawn().map(|drawn| Load { idle: entry.idle, drawn });
    let stator_off = match (entry.set_up.as_slice(), system.site(ChargeKind::Winding)) {
        ([SetUp::Unplugged(plug)], Some(site)) => site.unplugged == Some(*plug),
        _ => false,
    };
    let built = entry.set_up.is_empty();
    match (instrument, reading) {
        (Instrument::Voltmeter, Reading::Volts(volts)) if built => {
            if let Some(way) = at(ChargeKind::Rest) {
                return match runs {
                    true => load().map(|load| ChargeReading::Posts(way * volts, load)),
                    false => system
                        .rests(circuit, &entry.condition)
                        .then_some(ChargeReading::Rest(way * volts)),
                };
            }
            if !runs {
                return None;
            }
            if let Some(way) = at(ChargeKind::Feed) {
                return Some(ChargeReading::Feed(way * volts, load()?));
            }
            Some(ChargeReading::Ground(at(ChargeKind::Ground)? * volts, load()?))
        }
        (Instrument::Clamp, Reading::Amps(amps)) if built && runs => {
            Some(ChargeReading::Amps(at(ChargeKind::Amps)? * amps, load()?))
        }
        (Instrument::AcVoltmeter, Reading::AcVolts(volts)) if runs => {
            if built && !entry.idle && at(ChargeKind::Ripple).is_some() {
                return Some(ChargeReading::Ripple(volts));
            }
            (stator_off && at(ChargeKind::Stator).is_some())
                .then_some(ChargeReading::Stator(volts, entry.idle))
        }
        (Instrument::Ohmmeter, Reading::Ohms(ohms)) if stator_off => {
            if at(ChargeKind::Winding).is_some() {
                return Some(ChargeReading::Winding(ohms));
            }
            let winding = circuit.element(system.winding?);
            let black = system.site(ChargeKind::Frame)?.black;
            let pins = [winding.a, winding.b];
            let other = if red == black { entry_other(ends, red) } else { red };
            let framed = (red == black || ends.1 == black) && pins.contains(&other);
            framed.then_some(ChargeReading::Frame(ohms))
        }
        _ => None,
    }
}

fn entry_other(ends: (NodeId, NodeId), one: NodeId) -> NodeId {
    if ends.0 == one { ends.1 } else { ends.0 }
}

/// Whether probes are where something is read: forth, or leads swapped.
fn way(system: &ChargingSystem, kind: ChargeKind, ends: (NodeId, NodeId)) -> Option<f64> {
    let site = system.site(kind)?;
    if (site.red, site.black) == ends {
        Some(1.0)
    } else if (site.black, site.red) == ends {
        Some(-1.0)
    } else {
        None
    }
}
