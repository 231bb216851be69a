//! Statements that cannot both hold.

use crate::diagnosis::evidence::{Evidence, Observation};
use crate::diagnosis::faults::falls_to;

/// Pairs of entries, by sequence, that cannot both hold: one thing noticed in one condition, and
/// the same otherwise, nothing having been repaired between and neither coming and going. A battery
/// that dies as it is tried contradicts nothing.
pub fn contradictions(log: &[Evidence]) -> Vec<(u64, u64)> {
    let mut pairs = Vec::new();
    for (i, one) in log.iter().enumerate() {
        let Observation::Sensed(before) = one.observation else { continue };
        for other in &log[i + 1..] {
            if other.renews() {
                break;
            }
            let Observation::Sensed(after) = other.observation else { continue };
            let alike = one.condition == other.condition && one.set_up == other.set_up;
            let at_times = one.at_times || other.at_times;
            let differ = before.sense() == after.sense() && before != after;
            if alike && !at_times && differ && !falls_to(before, after) {
                pairs.push((one.sequence, other.sequence));
            }
        }
    }
    pairs
}
