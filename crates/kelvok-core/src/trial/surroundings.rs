//! Where a trial takes place, and what that makes of a machine.

use crate::circuit::Circuit;
use crate::random::Random;

/// Where a trial takes place.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Surroundings {
    /// One fault or two, drawn from the list of faults at any size of its bins, a mechanic who does what
    /// is asked.
    #[default]
    Bench,
    /// All that a bench leaves out.
    Yard,
}

/// How far a coil's volts to pull in and to let go are from the document's: standard deviation of the
/// logarithm.
const COILS_SPREAD: f64 = 0.08;

/// The machine with coils that pull in and let go where they like.
pub(super) fn own_coils(circuit: &Circuit, random: &mut Random) -> Circuit {
    let mut own = circuit.clone();
    for coil in &mut own.coils {
        let by = random.normal(0.0, COILS_SPREAD).exp();
        coil.pulls_in *= by;
        coil.drops_out *= by;
    }
    own
}
