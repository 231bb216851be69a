//! The evidence log: every kind of observation, each bound to a condition and a set-up.

use super::battery_event::BatteryEvent;
use super::observation::{Heard, Observation, Sensed, Source};
use super::set_up::SetUp;
use crate::circuit::Condition;

/// One entry of the log.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Evidence {
    /// Its place in the job's log.
    pub sequence: u64,
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub observation: Observation,
    /// How often it was seen, at least once.
    pub repeats: u32,
    pub source: Source,
    /// What was noticed comes and goes in this condition: "about twice an hour".
    pub at_times: bool,
    /// How often that is, times an hour of running, where it was said.
    pub times_an_hour: Option<f64>,
    /// How warm the coil was whose ohms these are, in °C, where that was said. The reading is what it has at
    /// 20 °C.
    pub celsius: Option<f64>,
    /// The engine idles; else it is at full speed, where it runs.
    pub idle: bool,
}

impl Evidence {
    /// What was heard of the starter, if that is what this is.
    pub fn heard(&self) -> Option<Heard> {
        match self.observation {
            Observation::Sensed(Sensed::Starter(heard)) => Some(heard),
            _ => None,
        }
    }

    /// Whether the machine was there to be worked, measured or looked at: not so of what is told.
    pub fn is_done(&self) -> bool {
        let words = matches!(self.observation, Observation::WorkedOn(..) | Observation::Noted)
            || self.observation.battery_event().is_some();
        self.source == Source::Tested && !words
    }

    /// Whether something was put right: a repair, another battery, or a charge of its own.
    pub fn repairs(&self) -> bool {
        use BatteryEvent::{Charged, Swapped};
        let event = self.observation.battery_event();
        matches!(self.observation, Observation::Repaired(_))
            || matches!(event, Some(Charged | Swapped))
    }

    /// Whether the machine is another after it than before: something was repaired, or its battery is
    /// not what it was.
    pub fn renews(&self) -> bool {
        matches!(self.observation, Observation::Repaired(_))
            || self.observation.battery_event().is_some()
    }

    /// Whether it says how the machine behaves as it stands in the yard, nothing off and nothing jumped.
    pub fn is_behavior_as_built(&self) -> bool {
        self.is_behavior() && self.set_up.is_empty()
    }

    /// Whether it says how the machine behaves, rather than what a part or a point shows.
    pub fn is_behavior(&self) -> bool {
        matches!(self.observation, Observation::Sensed(_))
    }
}
