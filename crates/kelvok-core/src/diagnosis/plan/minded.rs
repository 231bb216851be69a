//! What to mind at something done to the machine, whoever thought of it.

use crate::circuit::{Condition, Engine};
use crate::diagnosis::belief::Belief;
use crate::diagnosis::candidates::{Caution, Hazards, cautions, may_turn};
use crate::diagnosis::evidence::{SetUp, TestAction};
use crate::diagnosis::faults::Suspects;
use crate::diagnosis::predict::{FaultDictionary, FaultModel, Situation};
use std::collections::BTreeSet;

/// What is dangerous under a suspect above this is minded, though planning no longer counts it.
const LIVE: f64 = 1e-5;

/// The scenarios that count for safety, by index: of a pair, whatever either of its two would do.
/// The sound machine is always among them.
pub(crate) fn live(suspects: &Suspects, belief: &Belief) -> Vec<usize> {
    let states = (0..belief.weights.len()).filter(|s| belief.weights[*s] > LIVE);
    let scenarios: BTreeSet<_> = states
        .flat_map(|s| belief.present(s).map(|h| suspects.hypotheses[h].scenario).chain([0]))
        .collect();
    scenarios.into_iter().collect()
}

/// Whether the starter would turn under any of these scenarios.
pub(crate) fn cranks(dictionary: &FaultDictionary, live: &[usize]) -> bool {
    let shown = dictionary.shown();
    live.iter().any(|c| may_turn(shown[*c].crank))
}

/// What to mind at an action in a condition with a set-up.
///
/// # Arguments
/// `dictionary` is that condition's and set-up's, `live` the scenarios that count.
pub(crate) fn minded(
    model: &FaultModel,
    hazards: &Hazards,
    (dictionary, live): (&FaultDictionary, &[usize]),
    at: (&Condition, &[SetUp]),
    action: TestAction,
) -> Vec<Caution> {
    let (condition, _) = at;
    let acts = !matches!(action, TestAction::Look(_));
    let held = hazards.key_may_crank(&model.circuit, at);
    // Whoever has the engine running has cranked it.
    let stands = condition.engine < Engine::Running;
    let turns = stands && acts && cranks(dictionary, live) || acts && held;
    let should = acts && may_turn(dictionary.shown()[0].crank);
    cautions(&model.circuit, hazards, at, action, (turns, should))
}

/// The same of a machine as it is believed to be.
pub(crate) fn minded_at(
    model: &FaultModel,
    belief: &Belief,
    (condition, set_up): (&Condition, &[SetUp]),
    action: TestAction,
) -> Vec<Caution> {
    let dictionary = model.dictionary(&Situation::new(condition, set_up));
    let live = live(&model.suspects, belief);
    let hazards = Hazards::of(&model.circuit);
    minded(model, &hazards, (&dictionary, &live), (condition, set_up), action)
}
