//! Switches that cannot be what is complained of, and why: by what the machine does and does not
//! do, before a probe is touched.

use crate::circuit::Circuit;
use crate::diagnosis::belief::{Belief, fit_sensed};
use crate::diagnosis::evidence::{Evidence, Observation, Sensed, Unit};
use crate::diagnosis::faults::{Hypothesis, Suspects};
use crate::diagnosis::predict::{FaultDictionary, FaultModel};
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// A switch, or its linkage, that what was said and tried rules out.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Excluded {
    pub unit: Unit,
    /// The fewest reasons that rule out every way in which it may fail, the one that rules out
    /// most first.
    pub because: Vec<Because>,
}

/// Why a switch cannot be it, by one entry.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Because {
    /// In that entry's condition it is not read: whatever were wrong with it, the machine would do
    /// there what a sound one does.
    NotRead { sequence: u64 },
    /// Were it bad, that entry would have been this instead.
    WouldShow { sequence: u64, sensed: Sensed },
}

/// What was noticed fits a fault worse than this: it contradicts it.
const CONTRADICTS: f64 = 0.06;

/// However the machine may be wired above this chance, it must be ruled out.
const COUNTS: f64 = 0.01;

/// One thing that was noticed, and what every suspect would make of it.
struct Said {
    sequence: u64,
    sensed: Sensed,
    at_times: bool,
    dictionary: Arc<FaultDictionary>,
}

/// The switches that what was said and tried rules out, each with the reasons; in the order of the
/// suspects. Every way in which one may fail is contradicted by something.
pub(crate) fn excluded(model: &FaultModel, belief: &Belief, log: &[Evidence]) -> Vec<Excluded> {
    let suspects = &model.suspects;
    let said = |entry: &Evidence| match entry.observation {
        Observation::Sensed(sensed) => Some(Said {
            sequence: entry.sequence,
            sensed,
            at_times: entry.at_times,
            dictionary: model.dictionary_of(entry),
        }),
        _ => None,
    };
    // What a dying battery did is no longer told of what is tried on a good one.
    let battery = |e: &Evidence| e.observation.battery_event().is_some();
    let since = log.iter().rposition(battery).map_or(0, |at| at + 1);
    let said: Vec<Said> = log[since..].iter().filter_map(said).collect();
    // What a repair cured is no longer told by what was noticed before it.
    let repaired = log.iter().any(|e| matches!(e.observation, Observation::Repaired(_)));
    if said.is_empty() || repaired {
        return Vec::new();
    }
    let mut by_unit: BTreeMap<Unit, Vec<usize>> = BTreeMap::new();
    let possible = |h: &Hypothesis| belief.wirings[h.wiring] > COUNTS;
    for (h, hypothesis) in suspects.hypotheses.iter().enumerate().filter(|(_, h)| possible(h)) {
        let unit = suspects.list[hypothesis.suspect].unit;
        if is_switch(&model.circuit, unit) {
            by_unit.entry(unit).or_default().push(h);
        }
    }
    by_unit
        .into_iter()
        .filter_map(|(unit, ways)| {
            Some(Excluded { unit, because: because(suspects, &said, &ways)? })
        })
        .collect()
}

/// Why none of these hypotheses can be it; `None` if one can.
fn because(suspects: &Suspects, said: &[Said], ways: &[usize]) -> Option<Vec<Because>> {
    let would = |said: &Said, scenario: usize| said.dictionary.shown()[scenario];
    // By reason the ways that it rules out; two things that would be shown are two reasons.
    let mut ruled_out: Vec<(Because, BTreeSet<usize>)> = Vec::new();
    for way in ways {
        let hypothesis = &suspects.hypotheses[*way];
        let mut contradicted = false;
        for said in said {
            let (own, sound) =
                (would(said, hypothesis.scenario), would(said, suspects.sound_of(*way)));
            let misses = |shown| fit_sensed(said.sensed, shown).honest < CONTRADICTS;
            // One that comes and goes may be hiding, and does not then contradict it.
            let hides = hypothesis.shows < 1.0 && !said.at_times && !misses(&sound);
            if !misses(&own) || hides {
                continue;
            }
            contradicted = true;
            let (sequence, sense) = (said.sequence, said.sensed.sense());
            let sensed = own.sensed(sense);
            let reason = match misses(&sound) && sensed == sound.sensed(sense) {
                true => Because::NotRead { sequence },
                false => Because::WouldShow { sequence, sensed },
            };
            match ruled_out.iter_mut().find(|(r, _)| *r == reason) {
                Some((_, ways)) => {
                    ways.insert(*way);
                }
                None => ruled_out.push((reason, BTreeSet::from([*way]))),
            }
        }
        if !contradicted {
            return None;
        }
    }
    let mut left: BTreeSet<usize> = ways.iter().copied().collect();
    let mut reasons = Vec::new();
    while !left.is_empty() {
        let covers = |(_, ways): &(Because, BTreeSet<usize>)| ways.intersection(&left).count();
        let best =
            (0..ruled_out.len()).max_by_key(|i| (covers(&ruled_out[*i]), std::cmp::Reverse(*i)))?;
        let (reason, ways) = &ruled_out[best];
        left.retain(|w| !ways.contains(w));
        reasons.push(*reason);
    }
    Some(reasons)
}

/// Whether a unit is a switch or the linkage of one.
fn is_switch(circuit: &Circuit, unit: Unit) -> bool {
    match unit {
        Unit::Part(part) => circuit.part(part).kind.is_switch(),
        Unit::Linkage(_) => true,
        _ => false,
    }
}
