//! How a test of the battery by itself fits a hypothesis: one that says what its volts and its inner
//! ohms are, or one that leaves it sound.

use super::likelihood::{Fit, SLIP};
use super::slips;
use super::unknowns::Unknowns;
use crate::battery::BatteryTest;
use crate::battery::published::{COLD_CELSIUS, COLD_OHM_AMPS, WARM_CELSIUS, WARM_OHM_AMPS};
use crate::circuit::{Change, Circuit};
use crate::diagnosis::faults::Scenario;
use crate::diagnosis::predict::nominal_volts;

/// Volts at rest, read by itself: the meter, and what stands on the plates.
const REST_VOLTS: f64 = 0.05;
/// The same within hours of a charge.
const FRESH_VOLTS: f64 = 0.25;
const FRESH_HOURS: f64 = 4.0;
/// A minute after a load.
const RECOVERED_VOLTS: f64 = 0.12;
/// What polarization adds to the first drop, and in how many seconds.
const SLOWER_SHARE: f64 = 0.5;
const SLOWER_SECONDS: f64 = 8.0;
/// Inner ohms lie between two sizes that are solved for; loads are known to a share.
const DROP_SHARE: f64 = 0.3;

/// `None` where the test says nothing of what is wrong.
pub(crate) fn fit_battery(
    circuit: &Circuit,
    scenario: &Scenario,
    test: &BatteryTest,
    unknowns: &mut Unknowns,
) -> Option<Fit> {
    let nominal = scenario.emf.unwrap_or_else(|| nominal_volts(circuit));
    let mut volts = |read: f64, dropped: f64, spread: f64| {
        let slip = slips::volts_at_the_posts(read, nominal);
        let honest = unknowns.volts(read + dropped, 1.0, 0.0, spread, SLIP * slip);
        Fit { honest, slip }
    };
    match *test {
        BatteryTest::Rest { volts: read, hours, surface_off, .. } => {
            let fresh = hours < FRESH_HOURS && !surface_off;
            Some(volts(read, 0.0, if fresh { FRESH_VOLTS } else { REST_VOLTS }))
        }
        BatteryTest::Recovered { volts: read, .. } => Some(volts(read, 0.0, RECOVERED_VOLTS)),
        BatteryTest::Loaded { volts: read, amps, seconds, celsius, .. } => {
            let slower = 1.0 + SLOWER_SHARE * (1.0 - (-seconds / SLOWER_SECONDS).exp());
            let by_cold = (COLD_OHM_AMPS / WARM_OHM_AMPS).ln() / (WARM_CELSIUS - COLD_CELSIUS);
            let colder = celsius.map_or(0.0, |t| WARM_CELSIUS - t);
            let dropped = amps * inner_ohms(circuit, scenario)? * slower * (by_cold * colder).exp();
            Some(volts(read, dropped, REST_VOLTS.hypot(DROP_SHARE * dropped)))
        }
        _ => None,
    }
}

/// The battery's inner ohms under a scenario.
fn inner_ohms(circuit: &Circuit, scenario: &Scenario) -> Option<f64> {
    let battery = circuit.battery()?;
    let element = circuit.element(battery);
    let changed = scenario.changes.iter().find_map(|c| match *c {
        Change::Ohms(e, ohms) if e == battery => Some(ohms),
        Change::Drained(e, volts) if e == battery => Some(element.drained_ohms(volts)),
        _ => None,
    });
    Some(changed.unwrap_or(element.ohms))
}
