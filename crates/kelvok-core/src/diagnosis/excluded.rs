//! Switches that cannot be what is complained of, and why: by what the machine does and does not
//! do, before a probe is touched.

use super::book::Book;
use super::likelihood::fit_sensed;
use super::page::{Page, Situation};
use super::{Evidence, Observation, Sensed, Suspects, Unit};
use crate::circuit::Circuit;
use crate::machine::PartKind;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// A switch, or its linkage, that what was said and tried rules out.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Excluded {
    pub unit: Unit,
    pub because: Because,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Because {
    /// In that entry's condition it is not read: whatever were wrong with it, the machine would do
    /// there what a sound one does.
    NotRead { sequence: u64 },
    /// Were it bad, that entry would have been this instead.
    WouldShow { sequence: u64, sensed: Sensed },
}

/// What was noticed fits a fault worse than this: it contradicts it.
const CONTRADICTS: f64 = 0.06;

/// One thing that was noticed, and what every suspect would make of it.
struct Said {
    sequence: u64,
    sensed: Sensed,
    at_times: bool,
    page: Arc<Page>,
}

/// The switches that what was said and tried rules out, each with the plainest reason; in the order
/// of the suspects. Every way in which one may fail is contradicted by something.
pub fn excluded(
    circuit: &Circuit,
    suspects: &Suspects,
    book: &Book,
    log: &[Evidence],
) -> Vec<Excluded> {
    let said: Vec<Said> = log
        .iter()
        .filter_map(|entry| match entry.observation {
            Observation::Sensed(sensed) => Some(Said {
                sequence: entry.sequence,
                sensed,
                at_times: entry.at_times,
                page: book.page(
                    circuit,
                    suspects,
                    &Situation::new(&entry.condition, &entry.set_up),
                ),
            }),
            _ => None,
        })
        .collect();
    // What a repair cured is no longer told by what was noticed before it.
    let repaired = log.iter().any(|e| matches!(e.observation, Observation::Repaired(_)));
    if said.is_empty() || repaired {
        return Vec::new();
    }
    let mut by_unit: BTreeMap<Unit, Vec<usize>> = BTreeMap::new();
    for (h, hypothesis) in suspects.hypotheses.iter().enumerate() {
        let unit = suspects.list[hypothesis.suspect].unit;
        if is_switch(circuit, unit) {
            by_unit.entry(unit).or_default().push(h);
        }
    }
    let case = (circuit, suspects);
    by_unit
        .into_iter()
        .filter_map(|(unit, ways)| Some(Excluded { unit, because: because(case, &said, &ways)? }))
        .collect()
}

/// Why none of these hypotheses can be it; `None` if one can.
fn because(
    (circuit, suspects): (&Circuit, &Suspects),
    said: &[Said],
    ways: &[usize],
) -> Option<Because> {
    let would = |said: &Said, column: usize| said.page.shown(circuit, &suspects.columns)[column];
    // By entry how many ways it contradicts: as a sound machine would do, and otherwise.
    let mut not_read: BTreeMap<u64, usize> = BTreeMap::new();
    let mut otherwise: BTreeMap<(u64, usize), BTreeSet<usize>> = BTreeMap::new();
    for way in ways {
        let hypothesis = &suspects.hypotheses[*way];
        let mut contradicted = false;
        for (i, said) in said.iter().enumerate() {
            let (own, sound) = (would(said, hypothesis.column), would(said, 0));
            let misses = |shown| fit_sensed(said.sensed, shown).honest < CONTRADICTS;
            // One that comes and goes may be hiding, and does not then contradict it.
            let hides = hypothesis.shows < 1.0 && !said.at_times && !misses(&sound);
            if !misses(&own) || hides {
                continue;
            }
            contradicted = true;
            if misses(&sound)
                && own.sensed(said.sensed.sense()) == sound.sensed(said.sensed.sense())
            {
                *not_read.entry(said.sequence).or_default() += 1;
            } else {
                otherwise.entry((said.sequence, i)).or_default().insert(hypothesis.column);
            }
        }
        if !contradicted {
            return None;
        }
    }
    let read = not_read.into_iter().max_by_key(|(sequence, n)| (*n, std::cmp::Reverse(*sequence)));
    let other = otherwise.into_iter().max_by_key(|(_, columns)| columns.len());
    match (read, other) {
        (Some((sequence, ways)), other)
            if other.as_ref().is_none_or(|(_, columns)| columns.len() <= ways) =>
        {
            Some(Because::NotRead { sequence })
        }
        (_, Some(((sequence, i), columns))) => {
            let said = &said[i];
            let column = *columns.first()?;
            let sensed = would(said, column).sensed(said.sensed.sense());
            Some(Because::WouldShow { sequence, sensed })
        }
        _ => None,
    }
}

/// Whether a unit is a switch or the linkage of one.
fn is_switch(circuit: &Circuit, unit: Unit) -> bool {
    match unit {
        Unit::Part(part) => matches!(
            circuit.part(part).kind,
            PartKind::InterlockSwitch | PartKind::HandSwitch | PartKind::KeySwitch
        ),
        Unit::Linkage(_) => true,
        _ => false,
    }
}
