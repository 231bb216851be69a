//! What a point should read, given what was heard and the battery as last read.

use super::predict::{Predicted, Predictor, Probe};
use super::{Belief, Evidence, Observation, SetUp, Suspects};
use crate::circuit::{Circuit, Condition, Instrument, NodeId};
use crate::interlock::Track;

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
/// *heard* leaves and that do not sit between the supply and the point.
///
/// # Arguments
/// `supply` is the battery's volts at rest as the whole log has it.
pub fn expected(
    circuit: &Circuit,
    suspects: &Suspects,
    (log, supply): (&[Evidence], f64),
    (condition, set_up): (&Condition, &[SetUp]),
    track: &Track,
    (points, black): (&[NodeId], NodeId),
) -> Vec<Expected> {
    let heard: Vec<Evidence> = log
        .iter()
        .filter(|e| matches!(e.observation, Observation::Heard(_)))
        .filter(|e| e.condition == *condition)
        .cloned()
        .collect();
    let belief = Belief::judge(circuit, suspects, &heard);
    let mut predictor = Predictor::new(circuit, condition, set_up, supply);
    let probes: Vec<_> = points
        .iter()
        .map(|red| Probe { instrument: Instrument::Voltmeter, red: *red, black })
        .collect();
    let before: Vec<_> = points.iter().map(|p| track.before(*p)).collect();
    let mut told: Vec<Vec<(f64, f64)>> = vec![Vec::new(); points.len()];
    let mut healthy = vec![0.0; points.len()];
    for (h, weight) in suspects.hypotheses.iter().zip(&belief.hypotheses) {
        let suspect = &suspects.list[h.suspect];
        let sound = suspect.faults.is_empty();
        // The battery is judged as last read, not as suspected.
        if (*weight < 1e-6 && !sound) || h.emf.is_some() {
            continue;
        }
        predictor.suppose(h);
        for (i, predicted) in predictor.read(&probes).into_iter().enumerate() {
            let Predicted::Volts { mean, .. } = predicted else {
                continue;
            };
            if sound {
                healthy[i] = mean;
            }
            if !suspect.elements.iter().any(|e| before[i].contains(e)) {
                told[i].push((mean, *weight));
            }
        }
    }
    told.into_iter()
        .zip(healthy)
        .map(|(mut told, healthy)| Expected { if_sound_to_here: median(&mut told), healthy })
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
