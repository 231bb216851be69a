//! What is noticed without an instrument, from one moment to the next.

use super::lamp_state::LampState;
use super::operating_point::OperatingPoint;
use super::outcome::{CoilState, Crank, Outcome};
use super::spark::Spark;
use crate::circuit::model::Circuit;
use serde::Serialize;

/// The least and the greatest of what is shown while things move; `None` before the first.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct MinMax(Option<(f64, f64)>);

impl MinMax {
    /// Takes one more value.
    pub fn take(&mut self, value: f64) {
        self.0 = Some(self.0.map_or((value, value), |(min, max)| (min.min(value), max.max(value))));
    }

    /// The least and the greatest so far; `None` before the first.
    pub fn shown(self) -> Option<(f64, f64)> {
        self.0
    }
}

/// What eyes and ears tell from one moment to the next, without an instrument.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
#[allow(missing_docs)]
pub struct Senses {
    /// Solenoids and relays that pulled in or let go, by coil.
    pub clicks: Vec<String>,
    pub clutch_snaps: bool,
    pub cranks: Option<Crank>,
    /// Lamps that went dimmer.
    pub lights_dim: bool,
    /// A spark tester's flash, module by module; only with the engine turning.
    pub sparks: Vec<bool>,
}

impl Senses {
    /// What is noticed on going from one operating point to another.
    pub fn between(circuit: &Circuit, before: &OperatingPoint, after: &OperatingPoint) -> Self {
        let (was, is): (&Outcome, &Outcome) = (&before.outcome, &after.outcome);
        let clicks = was.coils.iter().zip(&is.coils).enumerate().filter_map(|(c, (was, is))| {
            let clicks = was != is || *is == CoilState::Chatter;
            clicks.then(|| circuit.element(circuit.coils[c].element).id.clone())
        });
        let dimmer = |(was, is): (&LampState, &LampState)| *was == LampState::Bright && was != is;
        Self {
            clicks: clicks.collect(),
            clutch_snaps: was.clutch != is.clutch,
            cranks: (is.crank != Crank::No).then_some(is.crank),
            lights_dim: was.lamps.iter().zip(&is.lamps).any(dimmer),
            sparks: is.spark.iter().map(|s| *s == Spark::On).collect(),
        }
    }
}
