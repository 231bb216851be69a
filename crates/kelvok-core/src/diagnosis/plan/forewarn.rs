//! What a jumper, a plug or a wire off would do, said before it is done.

use super::minded::{Live, minded};
use crate::circuit::{Circuit, Condition, ElementId, Engine, NodeId, Relays};
use crate::diagnosis::belief::Belief;
use crate::diagnosis::candidates::{Caution, Danger, Hazards};
use crate::diagnosis::evidence::{Evidence, Sense, SetUp, TestAction};
use crate::diagnosis::faults::Scenario;
use crate::diagnosis::predict::{FaultModel, Predictor, Situation, nominal_volts};
use crate::interlock::FaultSheet;

/// A jumper that carries this many amperes lies across the battery, or nearly.
const SHORT_AMPS: f64 = 40.0;
/// Volts that nobody wants on a kill wire.
const KILL_WIRE_VOLTS: f64 = 1.0;

/// What a change of the mechanic's own would do with the controls as they stand.
#[derive(Clone, Debug)]
pub struct Forewarned {
    /// What a jumper would carry, in amperes, on a good machine and at most under a suspect.
    pub amps: Option<[f64; 2]>,
    /// What to mind.
    pub cautions: Vec<Caution>,
    /// Why it should not be done, or not with the controls so.
    pub dangers: Vec<Danger>,
}

/// What one more change would do.
///
/// # Arguments
/// `off` is what is off or jumped already, `more` what is to be.
pub(crate) fn forewarn(
    model: &FaultModel,
    (belief, log): (&Belief, &[Evidence]),
    condition: &Condition,
    (off, more): (&[SetUp], SetUp),
) -> Forewarned {
    let set_up: Vec<_> = off.iter().copied().chain([more]).collect();
    let situation = Situation::new(condition, &set_up);
    let live = Live::of(model, belief, log);
    let wired = situation.wired(&model.circuit);
    let circuit = wired.as_deref().unwrap_or(&model.circuit);
    let hazards = Hazards::of(&model.circuit);
    let with = model.dictionary(&situation);
    let mut cautions =
        minded(&live, &hazards, &with, (condition, &set_up), TestAction::Try(Sense::Starter));
    // What it should do by itself is another question.
    cautions.retain(|c| *c != Caution::MightMove);
    let mut dangers = Vec::new();
    let cranks = live.may_crank(&with, (condition, &set_up));
    let stands = condition.engine < Engine::Running;
    if breaks_a_duty(&model.circuit, &set_up) {
        dangers.push(Danger::BypassesInterlock);
    }
    if hazards.unkillable(&set_up) && (cranks || !stands) {
        dangers.push(Danger::CannotBeStopped);
    }
    let mut amps = None;
    if let SetUp::Jumper { ends, fuse } = more {
        // Whatever weighs next to nothing is not worked out: whoever asks waits.
        let [good, most] =
            amps_through(model, circuit, &situation, (ends, &heaviest(model, belief)));
        if good > SHORT_AMPS {
            dangers.push(Danger::ShortsBattery);
        } else if fuse.is_some_and(|fuse| good > f64::from(fuse)) {
            dangers.push(Danger::BlowsJumperFuse);
        }
        amps = Some([good, most]);
        if feeds_kill_wire(circuit, &hazards, &situation, nominal_volts(circuit)) {
            dangers.push(Danger::BatteryOnKillWire);
        }
    }
    dangers.sort_unstable();
    Forewarned { amps, cautions, dangers }
}

/// Whether a good machine no longer does, in whatever condition, one of the duties that it is built for.
fn breaks_a_duty(circuit: &Circuit, set_up: &[SetUp]) -> bool {
    let changes = set_up.iter().flat_map(|s| s.changes(circuit)).collect();
    FaultSheet::of_changes(circuit, &[changes]).iter().any(|effects| !effects.breaks.is_empty())
}

/// Scenarios that are worked out for what a jumper could carry.
const MOST_SCENARIOS: usize = 200;

/// The scenarios that weigh most.
fn heaviest(model: &FaultModel, belief: &Belief) -> Vec<usize> {
    let mut states: Vec<usize> = (0..belief.weights.len()).collect();
    states.sort_by(|a, b| belief.weights[*b].total_cmp(&belief.weights[*a]));
    let of = |state| belief.present(state).map(|h| model.suspects.hypotheses[h].scenario);
    states.into_iter().flat_map(of).take(MOST_SCENARIOS).collect()
}

/// What a jumper would carry, on a good machine and at most under these scenarios.
fn amps_through(
    model: &FaultModel,
    circuit: &Circuit,
    situation: &Situation,
    (ends, scenarios): ((NodeId, NodeId), &[usize]),
) -> [f64; 2] {
    let supply = nominal_volts(circuit);
    let mut predictor = Predictor::new(circuit, &situation.condition, &situation.set_up, supply);
    let between = |e: &usize| {
        let e = &circuit.elements[*e];
        (e.a, e.b) == ends || (e.b, e.a) == ends
    };
    let own = (model.circuit.elements.len()..circuit.elements.len()).find(between);
    let mut amps = |scenario: usize| {
        let relays = match situation.runs() {
            true => model.running()[scenario],
            false => Relays::default(),
        };
        predictor.suppose(&model.suspects.scenarios[scenario].elsewhere(), relays);
        own.map_or(0.0, |e| predictor.solved().amps(ElementId(e as u16)).abs())
    };
    let good = amps(0);
    [good, scenarios.iter().map(|scenario| amps(*scenario)).fold(good, f64::max)]
}

/// Whether a good machine's kill wire would be fed from the battery.
fn feeds_kill_wire(
    circuit: &Circuit,
    hazards: &Hazards,
    situation: &Situation,
    supply: f64,
) -> bool {
    let mut predictor = Predictor::new(circuit, &situation.condition, &situation.set_up, supply);
    predictor.suppose(&Scenario::default(), Relays::default());
    let solved = predictor.solved();
    hazards.kill_nodes.iter().any(|n| solved.between(*n, NodeId::REFERENCE).abs() > KILL_WIRE_VOLTS)
}
