//! Statements that cannot both hold.

use crate::diagnosis::evidence::{Evidence, Observation};
use crate::diagnosis::faults::falls_to;

/// Pairs of entries, by sequence, that cannot both hold: one thing noticed in one condition, and
/// the same otherwise, nothing having been repaired between and neither coming and going. A battery
/// that dies as it is tried contradicts nothing.
pub fn contradictions(log: &[Evidence]) -> Vec<(u64, u64)> {
    let mut pairs = Vec::new();
    for (i, one) in log.iter().enumerate() {
        for other in &log[i + 1..] {
            if other.renews() {
                break;
            }
            if !cannot_both_hold(one.observation, other.observation) {
                continue;
            }
            let alike = one.condition == other.condition && one.set_up == other.set_up;
            let at_times = one.at_times || other.at_times;
            if alike && !at_times {
                pairs.push((one.sequence, other.sequence));
            }
        }
    }
    pairs
}

fn cannot_both_hold(one: Observation, other: Observation) -> bool {
    match (one, other) {
        (Observation::Sensed(before), Observation::Sensed(after)) => {
            before.sense() == after.sense() && before != after && !falls_to(before, after)
        }
        (Observation::CloseUp(before), Observation::CloseUp(after)) => {
            before.is_of_the_same(after) && before != after
        }
        _ => false,
    }
}
