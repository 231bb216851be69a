//! Where tests are made, and what the log says of where to look.

use crate::circuit::{Circuit, Condition, Engine, Relays, operating_point};
use crate::diagnosis::evidence::{Evidence, Observation, Sensed, SetUp, Source, TestAction};
use crate::interlock::{Track, nearest_complete};
use std::collections::BTreeSet;

/// Things that can be done in one condition and set-up.
#[derive(Clone, Debug)]
pub(crate) struct Context {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub actions: Vec<TestAction>,
    /// Part of the sweep of a kill wire.
    pub sweep: bool,
}

/// What the log says of where to look.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub(crate) struct Complaint {
    /// The condition that is complained of.
    pub condition: Condition,
    /// The engine is known to run, at least for a while.
    pub ran: bool,
    /// The engine is known to crank.
    pub cranked: bool,
    /// It comes and goes.
    pub at_times: bool,
    /// Where else something was noticed before the last repair: it is tried there again.
    pub before: Vec<Condition>,
}

impl Complaint {
    /// What a log complains of; `condition` where it says nothing.
    pub fn of(log: &[Evidence], condition: &Condition) -> Self {
        let condition = condition.clone();
        // What was repaired is expected to run.
        let repaired = |e: &Evidence| matches!(e.observation, Observation::Repaired(_));
        let running = |e: &Evidence| e.condition.engine >= Engine::Running;
        let ran = log.iter().any(|e| running(e) || repaired(e));
        let cranked = ran || log.iter().any(|e| e.condition.engine == Engine::Cranking);
        let until = log.iter().rposition(Evidence::repairs).unwrap_or(0);
        let noticed =
            log[..until].iter().filter(|e| e.is_behavior_as_built() && e.condition != condition);
        let before: BTreeSet<_> = noticed.map(|e| e.condition.clone()).collect();
        let at_times = log.iter().any(|e| e.at_times);
        Self { condition, ran, cranked, at_times, before: before.into_iter().collect() }
    }
}

/// Whether it is what the customer says still works: the lights. Nobody complains of that.
pub(crate) fn still_works(circuit: &Circuit, entry: &Evidence) -> bool {
    match (entry.source, entry.observation) {
        (Source::Told, Observation::Sensed(Sensed::Lamp(lamp, burns))) => {
            let sound = operating_point(circuit, &entry.condition, Relays::default(), &[], &[]);
            sound.outcome.lamps.get(lamp) == Some(&burns)
        }
        _ => false,
    }
}

/// The condition that is complained of: the last in which something was noticed; until then the
/// nearest to `asked` in which a sound machine would crank, on a machine with a start circuit.
pub(crate) fn complained_of(
    circuit: &Circuit,
    start: Option<&Track>,
    log: &[Evidence],
    asked: &Condition,
) -> Condition {
    let noticed = log
        .iter()
        .rev()
        .find(|e| e.is_behavior_as_built() && !still_works(circuit, e))
        .map(|e| e.condition.clone());
    let nearest = || nearest_complete(circuit, start?, asked);
    noticed.or_else(nearest).unwrap_or_else(|| asked.clone())
}
