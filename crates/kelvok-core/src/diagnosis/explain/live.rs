//! Measurements that were made where the circuit was live.

use super::believed::believed;
use crate::diagnosis::belief::Belief;
use crate::diagnosis::evidence::{Evidence, Observation, Probe};
use crate::diagnosis::predict::{FaultModel, Predicted};

/// Entries, by sequence, for which a current was put into a circuit that was live, by most of what
/// is believed: they say nothing, and may have harmed the meter.
pub(crate) fn on_live(model: &FaultModel, belief: &Belief, log: &[Evidence]) -> Vec<u64> {
    let scenarios = believed(&model.suspects, belief);
    let whole: f64 = scenarios.iter().map(|(_, w)| w).sum();
    let live = log.iter().filter(|entry| {
        let Observation::Read { instrument, red, black, .. } = entry.observation else {
            return false;
        };
        if !instrument.feeds() {
            return false;
        }
        let sight = model.dictionary_of(entry).sight(Probe { instrument, red, black });
        let refused = scenarios.iter().filter(|(c, _)| sight[*c] == Predicted::Refused);
        refused.map(|(_, w)| w).sum::<f64>() > 0.5 * whole
    });
    live.map(|entry| entry.sequence).collect()
}
