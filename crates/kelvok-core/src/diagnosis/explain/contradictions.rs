//! Statements that cannot both hold.

use crate::diagnosis::evidence::{Evidence, Observation};

/// Pairs of entries, by sequence, that cannot both hold: one thing noticed in one condition, and
/// the same otherwise, nothing having been repaired between and neither coming and going.
pub fn contradictions(log: &[Evidence]) -> Vec<(u64, u64)> {
    let mut pairs = Vec::new();
    for (i, one) in log.iter().enumerate() {
        let Observation::Sensed(before) = one.observation else { continue };
        for other in &log[i + 1..] {
            if matches!(other.observation, Observation::Repaired(_)) {
                break;
            }
            let Observation::Sensed(after) = other.observation else { continue };
            let alike = one.condition == other.condition && one.set_up == other.set_up;
            let at_times = one.at_times || other.at_times;
            if alike && !at_times && before.sense() == after.sense() && before != after {
                pairs.push((one.sequence, other.sequence));
            }
        }
    }
    pairs
}
