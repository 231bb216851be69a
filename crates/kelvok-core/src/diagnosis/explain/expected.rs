//! What a point should read, given what was noticed and the battery as last read.

use crate::circuit::{Condition, ElementId, Instrument, NodeId};
use crate::diagnosis::belief::Belief;
use crate::diagnosis::evidence::{Evidence, Probe, SetUp};
use crate::diagnosis::predict::{FaultModel, Predicted};
use crate::interlock::Track;
use std::collections::BTreeSet;

/// Volts at a point.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Expected {
    /// If the circuit is sound up to the point: what the suspects beyond it predict.
    pub if_sound_to_here: Option<f64>,
    /// What a healthy machine would read in this condition.
    pub healthy: f64,
}

/// What a voltmeter to `black` should read at each of `points`, in volts.
///
/// "If sound to here" is the median, by weight, of what is predicted by the suspects that what was
/// *noticed* leaves and that do not sit between the supply and the point.
///
/// # Arguments
/// `whole` is what the whole log leaves: of it the battery is taken, and how the machine is wired.
pub(crate) fn expected(
    model: &FaultModel,
    (log, whole): (&[Evidence], &Belief),
    (condition, set_up): (&Condition, &[SetUp]),
    track: &Track,
    (points, black): (&[NodeId], NodeId),
) -> Vec<Expected> {
    let noticed: Vec<Evidence> =
        log.iter().filter(|e| e.is_behavior() && e.condition == *condition).cloned().collect();
    let belief = Belief::judge(model, &noticed);
    let dictionary = model.dictionary_at(condition, set_up);
    let suspects = &model.suspects;
    let supply = whole.supply_volts;
    let sound = suspects.sound_in(whole.wiring());
    let wired = |state: usize| {
        let wiring = suspects.hypotheses[belief.states[state].first].wiring;
        whole.wirings[wiring] / belief.wirings[wiring].max(f64::MIN_POSITIVE)
    };
    let beyond = |suspect: usize, before: &BTreeSet<ElementId>| {
        !suspects.list[suspect].elements.iter().any(|e| before.contains(e))
    };
    points
        .iter()
        .map(|red| {
            let before = track.before(*red);
            let probe = Probe { instrument: Instrument::Voltmeter, red: *red, black };
            let sight = dictionary.sight(probe);
            let volts = |scenario: usize| match sight[scenario] {
                Predicted::Volts { mean, .. } => {
                    mean * supply / dictionary.emf(&suspects.scenarios[scenario])
                }
                _ => 0.0,
            };
            let counts = |(state, weight): (usize, &f64)| {
                let scenario = belief.scenario_now(suspects, state);
                let own = suspects.scenarios.get(scenario)?;
                // The battery is judged as last read, not as suspected.
                let weight = weight * wired(state);
                let counts = (weight > 1e-6 || scenario == sound) && own.emf.is_none();
                let mut present = belief.present(state);
                let clear = present.all(|h| beyond(suspects.hypotheses[h].suspect, &before));
                (counts && clear).then(|| (volts(scenario), weight))
            };
            let mut told: Vec<_> = belief.weights.iter().enumerate().filter_map(counts).collect();
            Expected { if_sound_to_here: median(&mut told), healthy: volts(sound) }
        })
        .collect()
}

/// The value at which half of the weight is reached.
fn median(values: &mut [(f64, f64)]) -> Option<f64> {
    values.sort_by(|a, b| a.0.total_cmp(&b.0));
    let half = values.iter().map(|(_, w)| w).sum::<f64>() / 2.0;
    let mut sum = 0.0;
    values
        .iter()
        .find(|(_, w)| {
            sum += w;
            sum >= half
        })
        .map(|(v, _)| *v)
}
