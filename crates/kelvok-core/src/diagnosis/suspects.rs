//! What may be wrong: suspects, their sizes, and the unit that cures each.

use super::priors::{NOTHING_WRONG, prior};
use crate::circuit::{
    Change, Circuit, ElementId, ElementKind, Fault, FaultMode, PlungerId, single_faults,
};
use crate::interlock::{LayOutError, Track};
use std::collections::BTreeSet;

/// The ways to fail that suspects are drawn from: those that show in the feed of a circuit and
/// join nothing that was apart.
const MODES: [FaultMode; 10] = [
    FaultMode::Open,
    FaultMode::StuckMade,
    FaultMode::HighResistance,
    FaultMode::FuseBlown,
    FaultMode::ConnectorApart,
    FaultMode::LinkageShort,
    FaultMode::LinkageHolds,
    FaultMode::BatteryFlat,
    FaultMode::BatteryWeak,
    FaultMode::ShortToGround,
];

/// What is repaired or replaced: a verdict is a set of these.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Unit {
    /// A part, by index into the document's parts.
    Part(usize),
    /// A wire, by index into the document's wires.
    Wire(usize),
    /// The linkage that works a plunger, apart from its switch.
    Linkage(PlungerId),
    /// Nothing is wrong with the circuit now.
    Nothing,
}

/// A set of faults, each as bad as it may be; an empty set is a sound machine.
#[derive(Clone, Debug)]
pub struct Suspect {
    pub faults: Vec<Fault>,
    pub unit: Unit,
    pub prior: f64,
    /// The elements the faults sit in.
    pub elements: Vec<ElementId>,
}

/// A suspect at one of its magnitudes.
#[derive(Clone, Debug)]
pub struct Hypothesis {
    pub suspect: usize,
    pub changes: Vec<Change>,
    /// Its share of all prior weight; they add up to one.
    pub prior: f64,
    /// The battery's volts at rest, where the suspect is about those.
    pub emf: Option<f64>,
}

/// Every suspect of some part of the machine.
#[derive(Clone, Debug)]
pub struct Suspects {
    pub list: Vec<Suspect>,
    pub hypotheses: Vec<Hypothesis>,
    /// The elements that the suspects were drawn from.
    pub scope: BTreeSet<ElementId>,
    /// The circuits they were drawn from, laid out.
    pub tracks: Vec<Track>,
}

impl Suspects {
    /// All single faults of the machine's named circuits, batteries included.
    ///
    /// # Errors
    /// A circuit is unknown or cannot be laid out.
    pub fn of_circuits(circuit: &Circuit, names: &[&str]) -> Result<Self, LayOutError> {
        let mut scope = BTreeSet::new();
        let tracks: Result<Vec<_>, _> =
            names.iter().map(|name| Track::lay_out(circuit, name)).collect();
        let tracks = tracks?;
        for track in &tracks {
            scope.extend(track.elements());
        }
        let sources =
            circuit.elements().filter(|(_, e)| matches!(e.kind, ElementKind::Source { .. }));
        scope.extend(sources.map(|(id, _)| id));
        Ok(Self::within(circuit, scope, tracks))
    }

    /// All single faults that sit in these elements, and the sound machine.
    fn within(circuit: &Circuit, scope: BTreeSet<ElementId>, tracks: Vec<Track>) -> Self {
        let mut list = vec![Suspect {
            faults: Vec::new(),
            unit: Unit::Nothing,
            prior: NOTHING_WRONG,
            elements: Vec::new(),
        }];
        for fault in single_faults(circuit).into_iter().filter(|f| MODES.contains(&f.mode)) {
            let elements = seat(circuit, &fault);
            if elements.iter().any(|e| scope.contains(e)) {
                let unit = unit(circuit, &fault, &elements);
                let prior = prior(circuit, &fault);
                list.push(Suspect { faults: vec![fault], unit, prior, elements });
            }
        }
        let total: f64 = list.iter().map(|s| s.prior).sum();
        let hypotheses =
            list.iter().enumerate().flat_map(|(i, s)| sizes(i, s, s.prior / total)).collect();
        Self { list, hypotheses, scope, tracks }
    }
}

/// Every combination of the suspect's faults' magnitudes.
fn sizes(index: usize, suspect: &Suspect, prior: f64) -> Vec<Hypothesis> {
    let mut sets: Vec<Vec<Change>> = vec![Vec::new()];
    for fault in &suspect.faults {
        sets = sets
            .iter()
            .flat_map(|set| {
                fault.magnitudes().iter().map(|m| {
                    let mut set = set.clone();
                    set.push(fault.at(*m));
                    set
                })
            })
            .collect();
    }
    let share = prior / sets.len() as f64;
    sets.into_iter()
        .map(|changes| Hypothesis {
            suspect: index,
            emf: changes.iter().find_map(|c| match c {
                Change::Emf(_, volts) => Some(*volts),
                _ => None,
            }),
            changes,
            prior: share,
        })
        .collect()
}

/// The elements a fault sits in.
fn seat(circuit: &Circuit, fault: &Fault) -> Vec<ElementId> {
    if let Some(element) = fault.element() {
        return vec![element];
    }
    if let Some(part) = fault.connector() {
        return circuit.joints(part).collect();
    }
    if let Some(plunger) = fault.plunger() {
        return circuit.contacts_of(plunger).collect();
    }
    match fault.at(0.0) {
        Change::ShortToGround(node, _) => circuit
            .elements()
            .filter(|(_, e)| e.kind == ElementKind::Wire && e.a == node)
            .map(|(id, _)| id)
            .take(1)
            .collect(),
        _ => Vec::new(),
    }
}

fn unit(circuit: &Circuit, fault: &Fault, elements: &[ElementId]) -> Unit {
    if let Some(plunger) = fault.plunger() {
        return Unit::Linkage(plunger);
    }
    if let Some(part) = fault.connector() {
        return Unit::Part(part);
    }
    let element = elements.first().map(|e| circuit.element(*e));
    match element.map(|e| (e.part, e.wire)) {
        Some((Some(part), _)) => Unit::Part(part),
        Some((None, Some(wire))) => Unit::Wire(wire),
        _ => Unit::Nothing,
    }
}
