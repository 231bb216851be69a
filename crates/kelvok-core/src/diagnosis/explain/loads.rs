//! What the log says of a load: its ohms, volts and amperes, wherever in the job they were read.

use crate::circuit::{Circuit, Condition, Engine, Instrument, Reading};
use crate::diagnosis::evidence::{Evidence, Observation, SetUp, Source, Unit};
use crate::loads::{Load, LoadReading, Probes, copper};

/// What was read of a load, in order, each by its entry.
#[derive(Clone, Debug, Default)]
pub struct LoadRead {
    /// Since it was last repaired.
    pub now: Vec<(u64, LoadReading)>,
    /// Before that.
    pub before: Vec<(u64, LoadReading)>,
}

impl LoadRead {
    pub(crate) fn of(circuit: &Circuit, load: &Load, log: &[Evidence]) -> Self {
        let mut read = Self::default();
        for entry in log {
            if entry.observation == Observation::Repaired(Unit::Part(load.part)) {
                read.before = std::mem::take(&mut read.now);
            }
            let own = reading(circuit, load, entry);
            read.now.extend(own.map(|own| (entry.sequence, own)));
        }
        read
    }

    /// The readings that count.
    pub fn readings(&self) -> Vec<LoadReading> {
        self.now.iter().map(|(_, reading)| *reading).collect()
    }
}

/// What an entry says of the load, where it does.
fn reading(circuit: &Circuit, load: &Load, entry: &Evidence) -> Option<LoadReading> {
    let Observation::Read { instrument, red, black, reading } = entry.observation else {
        return None;
    };
    if entry.source != Source::Tested {
        return None;
    }
    match (instrument, reading) {
        (Instrument::Ohmmeter, Reading::Ohms(ohms)) => {
            let unplugged = match entry.set_up[..] {
                [] => None,
                [SetUp::Unplugged(plug)] => Some(plug),
                _ => return None,
            };
            let probes = Probes { unplugged, red, black };
            if load.is_insulation(probes) {
                return Some(LoadReading::Insulation(ohms));
            }
            let rest = Condition::at_rest(circuit);
            let off = entry.condition.positions == rest.positions
                && entry.condition.engine == Engine::Stopped;
            if !off && unplugged.is_none() || !load.is_read_by(circuit, probes) {
                return None;
            }
            let celsius = entry.celsius;
            let ohms = ohms.map(|ohms| celsius.map_or(ohms, |c| ohms * copper(c)));
            Some(LoadReading::Ohms { ohms, celsius })
        }
        (Instrument::Voltmeter, Reading::Volts(volts)) if entry.set_up.is_empty() => load
            .is_across(circuit, &entry.condition, (red, black))
            .then_some(LoadReading::Volts(volts)),
        (Instrument::Clamp, Reading::Amps(amps)) if entry.set_up.is_empty() => {
            let share = load.clamped(circuit, &entry.condition, (red, black))?;
            Some(LoadReading::Amps(amps / share))
        }
        _ => None,
    }
}
