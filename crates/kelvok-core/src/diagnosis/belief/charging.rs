//! How a reading that only a charging system's own model says something of fits a hypothesis: volts at idle,
//! amperes, ripple, ohms from a stator's winding to the engine.

use super::likelihood::Fit;
use crate::charging::{
    ChargeBelief, ChargeReading, ChargeState, ChargingSystem, charge_state, slipped,
};
use crate::circuit::{Circuit, Engine, Instrument};
use crate::diagnosis::evidence::{Evidence, Observation, SetUp, charge_reading};
use crate::diagnosis::faults::Scenario;
use crate::diagnosis::predict::FaultModel;
use std::sync::Arc;

/// How a reading fits each state of the charging system.
pub(super) enum Charged {
    By {
        system: Arc<ChargingSystem>,
        fits: Vec<(ChargeState, Fit)>,
    },
    /// At idle, and of something else: how fast it turns then nobody knows.
    Nothing,
}

impl Charged {
    /// `None` of what the circuit says by itself.
    pub fn of(model: &FaultModel, entry: &Evidence) -> Option<Self> {
        let Observation::Read { instrument, .. } = entry.observation else { return None };
        let runs = entry.condition.engine >= Engine::Running;
        let may_be = match instrument {
            Instrument::Clamp | Instrument::AcVoltmeter => runs,
            Instrument::Ohmmeter => matches!(entry.set_up[..], [SetUp::Unplugged(_)]),
            _ => entry.idle,
        };
        if !may_be {
            return None;
        }
        let own = model.charging().and_then(|system| {
            let reading = charge_reading(&model.circuit, &system, entry)?;
            use ChargeReading::{Amps, Frame, Ripple};
            let own = entry.idle || matches!(reading, Amps(..) | Frame(_) | Ripple(_));
            own.then_some((system, reading))
        });
        let Some((system, reading)) = own else {
            return entry.idle.then_some(Self::Nothing);
        };
        let slip = slipped(&reading);
        let fits = ChargeBelief::unread(&system).likelihoods(&reading).into_iter();
        let fits = fits.map(|(state, honest)| (state, Fit { honest, slip }));
        Some(Self::By { fits: fits.collect(), system })
    }

    pub fn fit(&self, circuit: &Circuit, scenario: &Scenario) -> Fit {
        let Self::By { system, fits } = self else { return Fit { honest: 1.0, slip: 1.0 } };
        let own = charge_state(circuit, system, &scenario.changes);
        let found = fits.iter().find(|(state, _)| *state == own);
        found.map_or(Fit { honest: 1.0, slip: 1.0 }, |(_, fit)| *fit)
    }
}
