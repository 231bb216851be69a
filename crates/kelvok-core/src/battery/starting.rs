//! What a battery does with this machine's own starter, by the circuit.

use super::physics::Plate;
use super::test::{BatteryTestError, Chemistry};
use crate::circuit::{
    Change, Circuit, Condition, Crank, ElementId, Engine, Relays, every_condition, operating_point,
};
use crate::interlock::Judge;
use crate::machine;

/// A machine with its controls put so that it cranks.
pub(crate) struct Starting<'c> {
    circuit: &'c Circuit,
    battery: ElementId,
    condition: Condition,
}

/// Degrees where nobody read them.
const ROOM_CELSIUS: f64 = 20.0;
/// Under so many volts it is a 6 V battery.
const SIX_VOLT_BELOW: f64 = 9.0;

/// Volts that a machine's battery is called by: 6 or 12.
///
/// # Errors
/// It has none.
pub fn battery_volts(circuit: &Circuit) -> Result<f64, BatteryTestError> {
    let battery = circuit.battery().ok_or(BatteryTestError::NoBattery)?;
    let full = circuit.element(battery).kind.emf().unwrap_or(machine::BATTERY_VOLTS);
    Ok(if full < SIX_VOLT_BELOW { 6.0 } else { 12.0 })
}

/// How the controls stand when a sound machine is cranked; none where nothing electric cranks it.
pub fn cranked_in(circuit: &Circuit) -> Option<Condition> {
    Starting::of(circuit).map(|s| s.condition)
}

/// The battery that a machine ought to have; none where it has none.
pub(crate) fn plate(circuit: &Circuit, starting: Option<&Starting<'_>>) -> Option<Plate> {
    let battery = circuit.element(circuit.battery()?);
    Some(Plate {
        nominal: battery_volts(circuit).ok()?,
        ohms: battery.ohms,
        outside_ohms: starting.and_then(Starting::outside_ohms),
        cold_amps: None,
        amp_hours: None,
        chemistry: Chemistry::Flooded,
        celsius: ROOM_CELSIUS,
        celsius_known: false,
    })
}

impl<'c> Starting<'c> {
    /// None where nothing electric cranks the machine, as far as its drawing says.
    pub fn of(circuit: &'c Circuit) -> Option<Self> {
        let battery = circuit.battery()?;
        if circuit.document().drive.recoil {
            return None;
        }
        let mut judge = Judge::as_built(circuit, &[]);
        let standing = |c: Condition| Condition { engine: Engine::Stopped, ..c };
        let usual = circuit.normal_use().into_iter().map(standing).find(|c| judge.cranks(c));
        let condition =
            usual.or_else(|| every_condition(circuit).into_iter().find(|c| judge.cranks(c)))?;
        Some(Self { circuit, battery, condition: standing(condition) })
    }

    /// Ohms of the starter and its way, battery left out.
    fn outside_ohms(&self) -> Option<f64> {
        let point = operating_point(self.circuit, &self.condition, Relays::default(), &[], &[]);
        let element = self.circuit.element(self.battery);
        let amps = point.amps[self.battery.index()].abs();
        let volts = element.kind.emf()? - amps * element.ohms;
        (amps > 1.0).then(|| volts / amps)
    }

    /// What the starter does on a battery of these volts at rest and inner ohms.
    pub fn does(&self, emf: f64, ohms: f64) -> Crank {
        let changes = [Change::Emf(self.battery, emf), Change::Ohms(self.battery, ohms)];
        operating_point(self.circuit, &self.condition, Relays::default(), &changes, &[])
            .outcome
            .crank
    }

    /// Volts at the posts under which the starter is no longer held in, on a battery of these volts at
    /// rest; none where no inner ohms make it let go.
    pub fn lets_go_at(&self, emf: f64, outside: f64) -> Option<f64> {
        let holds = |ohms: f64| matches!(self.does(emf, ohms), Crank::Yes | Crank::Slow);
        let (mut low, mut high) = (outside * 0.02, outside * 20.0);
        if !holds(low) || holds(high) {
            return None;
        }
        for _ in 0..16 {
            let middle = (low * high).sqrt();
            if holds(middle) { low = middle } else { high = middle }
        }
        Some(emf * outside / (outside + low))
    }
}
