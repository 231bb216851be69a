//! A condition with what is set up in it.

use crate::circuit::{Condition, Engine};
use crate::diagnosis::evidence::SetUp;

/// A condition and what is set up in it.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub(crate) struct Situation {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
}

impl Situation {
    /// Shaking is left out: it changes what shows, not what each fault would show.
    pub fn new(condition: &Condition, set_up: &[SetUp]) -> Self {
        let kept = set_up.iter().copied().filter(|s| !matches!(s, SetUp::Shaken(_)));
        let mut set_up: Vec<_> = kept.collect();
        set_up.sort_unstable();
        set_up.dedup();
        Self { condition: condition.clone(), set_up }
    }

    /// Whether the engine runs in it.
    pub fn runs(&self) -> bool {
        self.condition.engine >= Engine::Running
    }

    /// Whether nothing drives a current in it, whatever is wrong.
    pub fn is_dead(&self) -> bool {
        self.condition.engine == Engine::Stopped && self.set_up.contains(&SetUp::BatteryOff)
    }
}
