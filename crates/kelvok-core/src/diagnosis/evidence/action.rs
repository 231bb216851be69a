//! Test actions: what can be done next, whatever it is.

use super::log::Evidence;
use super::observation::{Inspected, Observation, Sense};
use super::probe::Probe;
use super::set_up::SetUp;
use crate::circuit::{Circuit, Condition, Instrument};

/// One thing to do, in a condition and set-up.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[allow(missing_docs)]
pub enum TestAction {
    /// Test points, by index into the document's.
    Measure {
        instrument: Instrument,
        red: usize,
        black: usize,
    },
    Try(Sense),
    Look(Inspected),
}

impl TestAction {
    /// Whether an entry of the log is this very thing, done in this condition and set-up.
    pub(crate) fn is(
        self,
        circuit: &Circuit,
        (condition, set_up): (&Condition, &[SetUp]),
        entry: &Evidence,
    ) -> bool {
        let node = |i: usize| circuit.test_point(i);
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

impl TestAction {
    /// The probe that a measurement is; none of what is tried or looked at, or of a point that the
    /// machine does not have.
    pub(crate) fn probe(self, circuit: &Circuit) -> Option<Probe> {
        let Self::Measure { instrument, red, black } = self else {
            return None;
        };
        let [red, black] = [red, black].map(|point| circuit.test_point(point));
        Some(Probe { instrument, red: red?, black: black? })
    }

    /// Whether it reads a resistance, which wants the power off.
    pub fn is_ohms(self) -> bool {
        matches!(self, Self::Measure { instrument, .. } if instrument.feeds())
    }
}
