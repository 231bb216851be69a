//! A condition with what is set up in it.

use crate::circuit::{Circuit, Condition, Engine};
use crate::diagnosis::evidence::SetUp;
use crate::machine::JUMPER_OHMS;
use std::sync::Arc;

/// A condition and what is set up in it.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub(crate) struct Situation {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
}

impl Situation {
    /// Shaking is left out: it changes what shows, not what each fault would show. So is a jumper's
    /// fuse, and which end of it was named first.
    pub fn new(condition: &Condition, set_up: &[SetUp]) -> Self {
        let kept = set_up.iter().copied().filter(|s| !matches!(s, SetUp::Shaken(_)));
        let kept = kept.map(|s| match s {
            SetUp::Jumper { ends: (a, b), .. } => {
                SetUp::Jumper { ends: (a.min(b), a.max(b)), fuse: None }
            }
            other => other,
        });
        let mut set_up: Vec<_> = kept.collect();
        set_up.sort_unstable();
        set_up.dedup();
        Self { condition: condition.clone(), set_up }
    }

    /// The circuit with the jumpers for wires of its own; `None` where there are none.
    pub fn wired(&self, circuit: &Circuit) -> Option<Arc<Circuit>> {
        let jumpers = self.set_up.iter().filter_map(|s| match s {
            SetUp::Jumper { ends, .. } => Some((*ends, JUMPER_OHMS)),
            _ => None,
        });
        let jumpers: Vec<_> = jumpers.collect();
        (!jumpers.is_empty()).then(|| Arc::new(circuit.with_wires(&jumpers)))
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
