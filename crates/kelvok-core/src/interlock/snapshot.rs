//! The whole machine in one condition, wire by wire, and what differs between two conditions.

use super::{Asked, Judge, Reason, reasons};
use crate::circuit::{
    Circuit, CoilState, Condition, ElementId, ElementKind, NodeId, Outcome, Solver,
};
use serde::Serialize;

/// How a piece of metal stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Stands {
    /// The battery's positive post reaches it through what only carries current.
    Supply,
    /// The frame, or the battery's negative post, reaches it so.
    Ground,
    /// Volts stand on it only through a load: behind a lamp, between two coils.
    Between,
    /// Nothing reaches it.
    Dead,
}

/// One wire in a condition.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct WireStands {
    /// Index into the document's wires.
    pub wire: usize,
    pub stands: Stands,
    /// Volts to the reference at its `from` end; `None` where it floats.
    pub volts: Option<f64>,
    /// Amperes from its `from` end to its `to` end.
    pub amps: f64,
}

/// A machine in one condition.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Snapshot {
    pub condition: Condition,
    pub wires: Vec<WireStands>,
    /// By contact, whether it is made.
    pub made: Vec<bool>,
    pub outcome: Outcome,
    /// Whether the starter turns the engine with the key as it is, and whether an engine runs, and
    /// drives the blades.
    pub cranks: bool,
    pub runs: bool,
    pub blades: bool,
    /// Why it does not crank.
    pub no_crank: Vec<Reason>,
    /// Why a running engine stops.
    pub stops: Vec<Reason>,
    /// Why a running engine does not drive the blades.
    pub no_blades: Vec<Reason>,
}

/// What differs between two conditions.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Difference {
    /// Indices into the document's wires.
    pub wires: Vec<usize>,
    /// Indices into the circuit's contacts.
    pub contacts: Vec<usize>,
    /// Indices into the circuit's coils.
    pub coils: Vec<usize>,
}

/// Volts and amperes by which a wire must differ to count as changed: what a hand meter shows.
const SEEN_VOLTS: f64 = 0.05;
const SEEN_AMPS: f64 = 0.05;
/// Under this many volts to the reference nothing holds a wire up.
const HELD_UP_VOLTS: f64 = 0.5;

impl Snapshot {
    /// Looks at the machine that the judge judges. While the engine runs, relays stand as ordinary
    /// starting leaves them; else they start from rest.
    pub fn of(judge: &mut Judge<'_>, condition: &Condition) -> Self {
        let circuit = judge.circuit();
        let setting = judge.setting(condition);
        let mut solver: Solver<'_> = Solver::for_changes(circuit, judge.changes());
        solver.solve(&[&setting], &[judge.relays_in(condition)]);
        let pieces = solver.pieces(0);
        let stands = standing(circuit, &solver);
        let wires = circuit.elements().filter_map(|(id, e)| {
            let volts = (pieces[e.a.index()] == 0).then(|| solver.volts(0, e.a));
            Some(WireStands {
                wire: e.wire?,
                stands: stands[e.a.index()],
                volts,
                amps: solver.amps(0, id),
            })
        });
        let behavior = judge.behavior(condition);
        Self {
            condition: condition.clone(),
            wires: wires.collect(),
            made: circuit.contacts.iter().map(|c| solver.conducts(0, c.element)).collect(),
            outcome: Outcome::of(circuit, &solver.lane(0), &setting),
            cranks: behavior.cranks,
            runs: behavior.runs,
            blades: behavior.blades,
            no_crank: reasons(judge, condition, Asked::Cranks),
            stops: reasons(judge, condition, Asked::Runs),
            no_blades: reasons(judge, condition, Asked::Blades),
        }
    }

    /// What differs in another snapshot of the same machine.
    pub fn difference(&self, other: &Self) -> Difference {
        let wires = self.wires.iter().zip(&other.wires);
        let coil = |(a, b): (&CoilState, &CoilState)| a != b;
        Difference {
            wires: wires.filter(|(a, b)| a.differs(b)).map(|(a, _)| a.wire).collect(),
            contacts: indices(self.made.iter().zip(&other.made).map(|(a, b)| a != b)),
            coils: indices(self.outcome.coils.iter().zip(&other.outcome.coils).map(coil)),
        }
    }
}

impl WireStands {
    fn differs(&self, other: &Self) -> bool {
        let volts = match (self.volts, other.volts) {
            (Some(a), Some(b)) => (a - b).abs() >= SEEN_VOLTS,
            (a, b) => a.is_some() != b.is_some(),
        };
        self.stands != other.stands || volts || (self.amps - other.amps).abs() >= SEEN_AMPS
    }
}

fn indices(differs: impl Iterator<Item = bool>) -> Vec<usize> {
    differs.enumerate().filter(|(_, differs)| *differs).map(|(i, _)| i).collect()
}

/// How every node stands, at an operating point that the solver holds.
pub fn standing(circuit: &Circuit, solver: &Solver<'_>) -> Vec<Stands> {
    let pieces = solver.pieces(0);
    let sources =
        || circuit.elements().filter(|(_, e)| matches!(e.kind, ElementKind::Source { .. }));
    let negative = sources().map(|(_, e)| e.a).chain([NodeId::REFERENCE]).collect();
    let ground = reached(circuit, solver, negative);
    let supply = reached(circuit, solver, sources().map(|(_, e)| e.b).collect());
    (0..circuit.node_count())
        .map(|n| match (supply[n], ground[n]) {
            (true, false) => Stands::Supply,
            (false, true) => Stands::Ground,
            // A dead short: what the volts say.
            (true, true) if solver.volts(0, NodeId(n as u16)) > HELD_UP_VOLTS => Stands::Supply,
            (true, true) => Stands::Ground,
            (false, false) => {
                let volts = solver.volts(0, NodeId(n as u16)).abs();
                if pieces[n] == 0 && volts > HELD_UP_VOLTS { Stands::Between } else { Stands::Dead }
            }
        })
        .collect()
}

/// The nodes that are reached from some through what only carries current, and does.
fn reached(circuit: &Circuit, solver: &Solver<'_>, from: Vec<NodeId>) -> Vec<bool> {
    let mut reached = vec![false; circuit.node_count()];
    let mut next = from;
    while let Some(node) = next.pop() {
        if std::mem::replace(&mut reached[node.index()], true) {
            continue;
        }
        let carries = |id: ElementId| circuit.element(id).conducts() && solver.conducts(0, id);
        let around = circuit.around(node).iter().filter(|(id, ..)| carries(*id));
        next.extend(around.map(|(_, other, _)| *other));
    }
    reached
}
