//! How ordinary starting leaves the relays.

use crate::circuit::{Circuit, Relays};
use crate::diagnosis::faults::Scenario;
use crate::errand::carried;
use crate::interlock::Judge;
use rayon::prelude::*;

/// The relays as ordinary starting leaves them with each scenario's changes.
pub(crate) fn running_relays(circuit: &Circuit, scenarios: &[Scenario]) -> Vec<Relays> {
    if circuit.coils.is_empty() {
        return vec![Relays::default(); scenarios.len()];
    }
    let carried = carried();
    let of = |c: &Scenario| carried.within(|| Judge::new(circuit, &c.changes).running_relays());
    scenarios.par_iter().map(of).collect()
}
