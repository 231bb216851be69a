//! What was read along a track, and where the supply is lost between two readings.

use super::proof::Proof;
use crate::circuit::{Circuit, Condition, ElementId, NodeId, Reading};
use crate::diagnosis::evidence::{Evidence, Observation};
use crate::interlock::{Stands, Track};

/// Above this many volts to the battery's negative post a point is said to have supply.
const REACHES_VOLTS: f64 = 1.0;
/// Between two points no more than this many volts apart nothing is broken, though some may be lost.
const BREAK_VOLTS: f64 = 1.0;

/// The last volts read at a point in a condition, nothing set up.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Found {
    pub node: NodeId,
    pub volts: f64,
    /// The entry's sequence.
    pub sequence: u64,
    /// It is what a circuit sound up to the point shows.
    pub sound: bool,
    /// `Supply`, `Ground` where none is what belongs there, else `Dead`.
    pub stands: Stands,
}

/// Where a track loses its supply: between two readings, the second not what belongs there.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Lost {
    pub before: Found,
    pub after: Found,
    /// Volts lost from one to the other.
    pub volts: f64,
    /// What lies between them, in the track's order.
    pub between: Vec<ElementId>,
}

/// The last volts read at a node in this condition, nothing set up; `None` if there are none.
///
/// # Arguments
/// `proofs` are of the same log, `negative` is the node black was on.
pub fn found(
    (log, proofs): (&[Evidence], &[Proof]),
    condition: &Condition,
    node: NodeId,
    negative: NodeId,
) -> Option<Found> {
    log.iter().rev().find_map(|e| match e.observation {
        Observation::Read { red, black, reading: Reading::Volts(volts), .. }
            if red == node
                && black == negative
                && e.condition == *condition
                && e.set_up.is_empty() =>
        {
            let proof = proofs.iter().find(|p| p.sequence == e.sequence);
            let sound = proof.is_some_and(|p| p.sound);
            let stands = match (volts > REACHES_VOLTS, sound) {
                (true, _) => Stands::Supply,
                (false, true) => Stands::Ground,
                (false, false) => Stands::Dead,
            };
            Some(Found { node, volts, sequence: e.sequence, sound, stands })
        }
        _ => None,
    })
}

/// Where the supply is lost along a track, by the readings on it; `None` where they enclose no
/// break, or only what drops across the load.
///
/// # Arguments
/// `found` are the readings in the track's order.
pub fn lost(circuit: &Circuit, track: &Track, found: &[Found]) -> Option<Lost> {
    let along = track.in_order(circuit);
    found.windows(2).find_map(|pair| {
        let (before, after) = (pair[0], pair[1]);
        let volts = before.volts - after.volts;
        let start = along.iter().position(|(_, from, _)| *from == before.node).unwrap_or(0);
        let end = along.iter().rposition(|(_, _, to)| *to == after.node)?;
        let between: Vec<_> = along.get(start..=end)?.iter().map(|(e, ..)| *e).collect();
        let breaks = volts > BREAK_VOLTS && !after.sound && !between.contains(&track.load);
        breaks.then_some(Lost { before, after, volts, between })
    })
}
