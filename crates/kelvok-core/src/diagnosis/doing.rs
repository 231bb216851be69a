//! What can be done next, whatever it is.

use super::{Evidence, Inspected, Observation, Sensed, SetUp};
use crate::circuit::{Circuit, Condition, Instrument};

/// What is noticed when something is tried on the machine.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Sense {
    /// What the starter does.
    Starter,
    /// Whether the engine fires up, or goes on running.
    Engine,
    /// Whether the clutch snaps in, or the blades turn.
    Blades,
    /// How a lamp or glow plug burns, by its place among the machine's.
    Lamp(usize),
}

/// One thing to do, in a condition and set-up.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Doing {
    /// Test points, by index into the document's.
    Measure {
        instrument: Instrument,
        red: usize,
        black: usize,
    },
    Try(Sense),
    Look(Inspected),
}

impl Doing {
    /// Whether an entry of the log is this very thing, done in this condition and set-up.
    pub(super) fn is(
        self,
        circuit: &Circuit,
        (condition, set_up): (&Condition, &[SetUp]),
        entry: &Evidence,
    ) -> bool {
        let node = |i: usize| super::catalog::node(circuit, i);
        let same = match (self, entry.observation) {
            (
                Self::Measure { instrument, red, black },
                Observation::Read { instrument: with, red: at, black: other, .. },
            ) => {
                instrument.measures_as(with) && node(red) == Some(at) && node(black) == Some(other)
            }
            (Self::Try(sense), Observation::Sensed(sensed)) => sense == sensed.sense(),
            // A look tells the same whatever the controls.
            (Self::Look(looked), Observation::Inspected(at, _)) => return looked == at,
            _ => false,
        };
        same && entry.is_done() && entry.condition == *condition && entry.set_up == set_up
    }
}

impl Sensed {
    /// What was attended to.
    pub fn sense(self) -> Sense {
        match self {
            Self::Starter(_) => Sense::Starter,
            Self::Engine(_) => Sense::Engine,
            Self::Blades(_) => Sense::Blades,
            Self::Lamp(lamp, _) => Sense::Lamp(lamp),
        }
    }
}
