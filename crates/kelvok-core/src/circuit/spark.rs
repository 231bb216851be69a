//! Whether there is a spark: kill leads judged by ohms, battery coils by volts.

use super::{Ailment, Circuit, Element, ElementId, ElementKind, NodeId, Setting, Solver, Spark};
use crate::machine::{
    BATTERY_VOLTS, CDI_DOUBTFUL_UP_TO_OHMS, CDI_KILLED_UP_TO_OHMS, COIL_SPARK_SHARES,
    DOUBTFUL_UP_TO_OHMS, Fires, Ignition, KILLED_UP_TO_OHMS, PartKind,
};
use std::cmp::Reverse;
use std::collections::BinaryHeap;

/// Every module and every ignition coil, in document order.
pub(super) fn sparks(circuit: &Circuit, solver: &Solver<'_, f64>, setting: &Setting) -> Vec<Spark> {
    let mut search = None;
    circuit
        .elements()
        .filter_map(|(id, e)| {
            let part = circuit.part(e.part?);
            let spark = match (e.kind, part.kind) {
                (ElementKind::KillPort, _) => {
                    let limits = match part.ignition.unwrap_or_default() {
                        Ignition::Inductive => (KILLED_UP_TO_OHMS, DOUBTFUL_UP_TO_OHMS),
                        Ignition::CapacitorDischarge => {
                            (CDI_KILLED_UP_TO_OHMS, CDI_DOUBTFUL_UP_TO_OHMS)
                        }
                    };
                    let search = search.get_or_insert_with(|| Ways::new(circuit, solver, setting));
                    by_lead(search.least_ohms(e.a, e.b, limits.1), limits, part.fires)
                }
                (ElementKind::Load, PartKind::IgnitionCoil) => by_volts(solver, id, e),
                _ => return None,
            };
            Some(if setting.ails(id, Ailment::Dead) { Spark::Killed } else { spark })
        })
        .collect()
}

/// By the ohms of the best way from the kill lead to the module's own body, modules themselves
/// taken out.
fn by_lead(ohms: f64, (killed, doubtful): (f64, f64), fires: Option<Fires>) -> Spark {
    match (fires.unwrap_or_default(), ohms) {
        (Fires::Open, ohms) if ohms <= killed => Spark::Killed,
        (Fires::Grounded, ohms) if ohms <= killed => Spark::On,
        (_, ohms) if ohms <= doubtful => Spark::Weak,
        (Fires::Open, _) => Spark::On,
        (Fires::Grounded, _) => Spark::Killed,
    }
}

/// By the primary's volts with the points closed, as a share of 12 V.
fn by_volts(solver: &Solver<'_, f64>, id: ElementId, e: &Element) -> Spark {
    let volts = match solver.conducts(0, id) {
        true => (solver.amps(0, id) * e.ohms).abs(),
        false => 0.0,
    };
    let nominal = BATTERY_VOLTS;
    match volts / nominal {
        share if share >= COIL_SPARK_SHARES[0] => Spark::On,
        share if share >= COIL_SPARK_SHARES[1] => Spark::Weak,
        _ => Spark::Killed,
    }
}

/// The ways through a solved circuit, for least ohms in series. A diode counts in its own
/// direction only, as the magneto's pulse finds it.
struct Ways<'a> {
    circuit: &'a Circuit,
    solver: &'a Solver<'a, f64>,
    setting: &'a Setting,
    ohms: Vec<f64>,
}

impl<'a> Ways<'a> {
    fn new(circuit: &'a Circuit, solver: &'a Solver<'a, f64>, setting: &'a Setting) -> Self {
        Self { circuit, solver, setting, ohms: vec![f64::INFINITY; circuit.node_count()] }
    }

    /// Least ohms from one node to another, infinite where nothing leads within `limit`.
    /// Dijkstra's algorithm, O(elements log elements) in what lies nearer than `limit`.
    fn least_ohms(&mut self, from: NodeId, to: NodeId, limit: f64) -> f64 {
        self.ohms.fill(f64::INFINITY);
        self.ohms[from.index()] = 0.0;
        // Positive floats sort as their bits do.
        let mut next = BinaryHeap::from([(Reverse(0u64), from)]);
        while let Some((Reverse(bits), node)) = next.pop() {
            let so_far = f64::from_bits(bits);
            if node == to {
                return so_far;
            }
            if so_far > self.ohms[node.index()] {
                continue;
            }
            let mut reach = |other: NodeId, step: f64| {
                let ohms = so_far + step;
                if ohms < self.ohms[other.index()] && ohms <= limit {
                    self.ohms[other.index()] = ohms;
                    next.push((Reverse(ohms.to_bits()), other));
                }
            };
            for (id, other, forward) in self.circuit.around(node) {
                if let Some(step) = step(self.circuit, self.solver, self.setting, *id, *forward) {
                    reach(*other, step);
                }
            }
            for (a, b, siemens) in self.setting.added().filter(|(.., g)| *g > 0.0) {
                if a == node {
                    reach(b, 1.0 / siemens);
                } else if b == node {
                    reach(a, 1.0 / siemens);
                }
            }
        }
        f64::INFINITY
    }
}

/// Ohms of a step through an element, if it lets a pulse pass that way.
fn step(
    circuit: &Circuit,
    solver: &Solver<'_, f64>,
    setting: &Setting,
    id: ElementId,
    forward: bool,
) -> Option<f64> {
    let ohms = || Some(1.0 / setting.siemens(id)).filter(|ohms| ohms.is_finite());
    match circuit.element(id).kind {
        ElementKind::KillPort => None,
        // One with volts behind it is no way for a pulse, nor is one inside a module.
        ElementKind::Diode { volts } => {
            let module = |p| circuit.part(p).kind == PartKind::IgnitionModule;
            let inside = circuit.element(id).part.is_some_and(module);
            ohms().filter(|_| forward && volts > 0.0 && !inside)
        }
        _ => Some(1.0 / solver.siemens(0, id)).filter(|ohms| ohms.is_finite()),
    }
}
