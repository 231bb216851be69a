//! What the log says of how a machine charges: volts at the posts, amperes, what the stator gives, wherever in
//! the job they were read.

use crate::charging::{ChargeReading, ChargingSystem};
use crate::circuit::{Circuit, ElementId};
use crate::diagnosis::evidence::{BatteryEvent, Evidence, Observation, Unit, charge_reading};

/// What was read of the charging system, in order, each by its entry.
#[derive(Clone, Debug, Default)]
pub struct ChargingRead {
    /// Since something of it was last put right.
    pub now: Vec<(u64, ChargeReading)>,
    /// Before that.
    pub before: Vec<(u64, ChargeReading)>,
}

impl ChargingRead {
    pub(crate) fn of(circuit: &Circuit, system: &ChargingSystem, log: &[Evidence]) -> Self {
        let mut read = Self::default();
        for entry in log {
            if mends(circuit, system, entry) {
                read.before.append(&mut read.now);
            }
            if entry.observation.battery_event() == Some(BatteryEvent::Charged) {
                read.now.push((entry.sequence, ChargeReading::Charged));
            }
            let own = charge_reading(circuit, system, entry);
            read.now.extend(own.map(|own| (entry.sequence, own)));
        }
        read
    }

    /// The readings that count.
    pub fn readings(&self) -> Vec<ChargeReading> {
        self.now.iter().map(|(_, reading)| *reading).collect()
    }
}

/// Whether what was put right is of the charging system, or its battery another.
fn mends(circuit: &Circuit, system: &ChargingSystem, entry: &Evidence) -> bool {
    let part_of = |id: ElementId| circuit.element(id).part;
    let own = |unit: Unit| {
        let ways = system.leads.iter().chain(&system.feed).chain(&system.back).copied();
        let battery = circuit.battery();
        let mut all = ways.chain(system.winding).chain([system.source]).chain(battery);
        match unit {
            Unit::Part(part) => all.any(|id| part_of(id) == Some(part)),
            Unit::Wire(wire) => all.any(|id| circuit.element(id).wire == Some(wire)),
            Unit::Linkage(_) | Unit::Nothing => false,
        }
    };
    match entry.observation {
        Observation::Repaired(unit) => own(unit),
        _ => entry.repairs(),
    }
}
