//! A loaded circuit's drops by all that the log says of them: volts read along it while it carries its
//! current, wherever in the job they were read.

use crate::circuit::{
    Circuit, Instrument, NodeId, Reading, Relays, operating_point, wires_between,
};
use crate::diagnosis::evidence::{Evidence, Observation, Source, Unit};
use crate::drops::{DropReading, LoadPath};

/// A wire that carries less of the load's current than this says little of it.
const LEAST_SHARE: f64 = 0.3;

/// What was read along a path, in order, each by its entry.
#[derive(Clone, Debug, Default)]
pub struct DropsRead {
    /// Since something on the path was last repaired.
    pub now: Vec<(u64, DropReading)>,
    /// Before that.
    pub before: Vec<(u64, DropReading)>,
}

impl DropsRead {
    pub(crate) fn of(circuit: &Circuit, path: &LoadPath, log: &[Evidence]) -> Self {
        let repaired = |e: &Evidence| match e.observation {
            Observation::Repaired(unit) => {
                path.elements().any(|id| Unit::of_element(circuit.element(id)) == Some(unit))
            }
            _ => false,
        };
        let mut read = Self::default();
        for entry in log {
            if repaired(entry) {
                read.before = std::mem::take(&mut read.now);
            }
            let own = reading(circuit, path, entry);
            read.now.extend(own.map(|own| (entry.sequence, own)));
        }
        read
    }
}

/// What an entry says of the path, where it does.
fn reading(circuit: &Circuit, path: &LoadPath, entry: &Evidence) -> Option<DropReading> {
    let Observation::Read { instrument, red, black, reading } = entry.observation else {
        return None;
    };
    let as_it_stands = entry.set_up.is_empty() && entry.source == Source::Tested;
    if !as_it_stands || !path.is_loaded_in(&entry.condition) {
        return None;
    }
    match (instrument, reading) {
        (Instrument::Voltmeter, Reading::Volts(volts)) => {
            let (red, black) = (path.place(red)?, path.place(black)?);
            Some(DropReading::Volts { red, black, volts })
        }
        (Instrument::Clamp, Reading::Amps(amps)) => {
            let share = share_of_load(circuit, path, (red, black))?;
            Some(DropReading::Clamp { amps, share })
        }
        _ => None,
    }
}

/// The share of the load's current that a clamp there is around; none where it is next to nothing.
fn share_of_load(circuit: &Circuit, path: &LoadPath, ends: (NodeId, NodeId)) -> Option<f64> {
    let sound = operating_point(circuit, &path.condition, Relays::default(), &[], &[]);
    let there: f64 = wires_between(circuit, ends)
        .map(|(id, forth)| if forth { sound.amps[id.index()] } else { -sound.amps[id.index()] })
        .sum();
    let share = there / path.amps;
    (share.abs() >= LEAST_SHARE).then_some(share)
}
