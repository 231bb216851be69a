//! What to mind at something done to the machine, whoever thought of it.

use crate::circuit::{Condition, Engine};
use crate::diagnosis::belief::{Belief, may_do_by_two};
use crate::diagnosis::candidates::{Caution, Hazards, cautions, may_turn};
use crate::diagnosis::evidence::{Evidence, SetUp, TestAction};
use crate::diagnosis::predict::{FaultDictionary, FaultModel, Shown, Situation};
use std::collections::{BTreeSet, HashMap};
use std::sync::{Mutex, PoisonError};

/// What is dangerous under a suspect above this is minded, though planning no longer counts it.
const LIVE: f64 = 1e-5;

/// What counts for safety of a machine as it is believed to be.
#[derive(Debug)]
pub(crate) struct Live<'a> {
    model: &'a FaultModel,
    evidence: (&'a Belief, &'a [Evidence]),
    /// The scenarios, by index: of a pair, whatever either of its two would do. The sound machine as
    /// drawn, and as it may be wired, is always among them.
    pub scenarios: Vec<usize>,
    /// The sound machines among them.
    sound: Vec<usize>,
    /// Where it may crank by two faults of which the log has ruled one out, as it stands alone.
    by_two: Mutex<HashMap<Situation, bool>>,
}

impl<'a> Live<'a> {
    pub fn of(model: &'a FaultModel, belief: &'a Belief, log: &'a [Evidence]) -> Self {
        let suspects = &model.suspects;
        let states = (0..belief.weights.len()).filter(|s| belief.weights[*s] > LIVE);
        let states: Vec<usize> = states.collect();
        let sound = states.iter().map(|s| suspects.sound_of(belief.states[*s].first));
        let sound: BTreeSet<_> = sound.chain([0]).collect();
        let present = states.iter().flat_map(|s| belief.present(*s));
        let scenarios = present.map(|h| suspects.hypotheses[h].scenario);
        let scenarios: BTreeSet<_> = scenarios.chain(sound.iter().copied()).collect();
        Self {
            model,
            evidence: (belief, log),
            scenarios: scenarios.into_iter().collect(),
            sound: sound.into_iter().collect(),
            by_two: Mutex::default(),
        }
    }

    /// Whether the starter may turn in a condition with a set-up whose dictionary this is.
    pub fn may_crank(&self, dictionary: &FaultDictionary, at: (&Condition, &[SetUp])) -> bool {
        let shown = dictionary.shown();
        if self.scenarios.iter().any(|c| may_turn(shown[*c].crank)) {
            return true;
        }
        let situation = Situation::new(at.0, at.1);
        if situation.is_dead() || !shown.iter().any(|s| may_turn(s.crank)) {
            return false;
        }
        let mut known = self.by_two.lock().unwrap_or_else(PoisonError::into_inner);
        *known.entry(situation).or_insert_with_key(|situation| {
            let turns = |shown: &Shown| may_turn(shown.crank);
            may_do_by_two(self.model, self.evidence, situation, (LIVE, turns))
        })
    }
}

/// What to mind at an action in a condition with a set-up.
///
/// # Arguments
/// `dictionary` is that condition's and set-up's.
pub(crate) fn minded(
    live: &Live<'_>,
    hazards: &Hazards,
    dictionary: &FaultDictionary,
    at: (&Condition, &[SetUp]),
    action: TestAction,
) -> Vec<Caution> {
    let (condition, _) = at;
    let circuit = &live.model.circuit;
    let acts = !matches!(action, TestAction::Look(_));
    let held = hazards.key_may_crank(circuit, at);
    // Whoever has the engine running has cranked it.
    let stands = condition.engine < Engine::Running;
    let turns = acts && (held || stands && live.may_crank(dictionary, at));
    let shown = dictionary.shown();
    let should = acts && live.sound.iter().any(|sound| may_turn(shown[*sound].crank));
    cautions(circuit, hazards, at, action, (turns, should))
}

/// The same of a machine as it is believed to be.
pub(crate) fn minded_at(
    model: &FaultModel,
    (belief, log): (&Belief, &[Evidence]),
    (condition, set_up): (&Condition, &[SetUp]),
    action: TestAction,
) -> Vec<Caution> {
    let dictionary = model.dictionary(&Situation::new(condition, set_up));
    let live = Live::of(model, belief, log);
    let hazards = Hazards::of(&model.circuit);
    minded(&live, &hazards, &dictionary, (condition, set_up), action)
}
