//! What the machine does at an operating point, as data.

use crate::circuit::model::{Ailment, Circuit, Element, ElementId, ElementKind, NodeId};
use crate::circuit::solve::{Setting, Solved};
use crate::machine::{
    BATTERY_VOLTS, CDI_DOUBTFUL_UP_TO_OHMS, CDI_KILLED_UP_TO_OHMS, COIL_SPARK_SHARES,
    DOUBTFUL_UP_TO_OHMS, Fires, Ignition, KILLED_UP_TO_OHMS,
};
use serde::Serialize;
use std::cmp::Reverse;
use std::collections::BinaryHeap;

/// Whether a module or an ignition coil gives a spark.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Spark {
    On,
    Weak,
    Killed,
}

/// Every module and every ignition coil, in document order.
pub(crate) fn sparks(circuit: &Circuit, solved: &dyn Solved, setting: &Setting) -> Vec<Spark> {
    let mut search = None;
    let mut of = |id: ElementId| {
        if setting.ails(id, Ailment::Dead) {
            return Spark::Killed;
        }
        let e = circuit.element(id);
        if e.kind != ElementKind::KillPort {
            return by_volts(solved, id, e);
        }
        let part = e.part.map(|p| circuit.part(p));
        let limits = match part.and_then(|p| p.ignition).unwrap_or_default() {
            Ignition::Inductive => (KILLED_UP_TO_OHMS, DOUBTFUL_UP_TO_OHMS),
            Ignition::CapacitorDischarge => (CDI_KILLED_UP_TO_OHMS, CDI_DOUBTFUL_UP_TO_OHMS),
        };
        let search = search.get_or_insert_with(|| Ways::new(circuit, solved, setting));
        by_lead(search.least_ohms(e.a, e.b, limits.1), limits, part.and_then(|p| p.fires))
    };
    circuit.telltales.ignition.iter().map(|id| of(*id)).collect()
}

/// By node, whether what is changed there could make another way from a kill lead to ground, or take
/// one away.
pub(crate) fn spark_ways(circuit: &Circuit, solved: &dyn Solved, setting: &Setting) -> Vec<bool> {
    let mut ways = Ways::new(circuit, solved, setting);
    let mut on = vec![false; circuit.node_count()];
    for id in &circuit.telltales.ignition {
        let e = circuit.element(*id);
        if e.kind == ElementKind::KillPort {
            ways.least_ohms(e.a, e.b, CDI_DOUBTFUL_UP_TO_OHMS.max(DOUBTFUL_UP_TO_OHMS));
            for (on, ohms) in on.iter_mut().zip(&ways.ohms) {
                *on |= ohms.is_finite();
            }
        }
    }
    on
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
fn by_volts(solved: &dyn Solved, id: ElementId, e: &Element) -> Spark {
    let volts = match solved.conducts(id) {
        true => (solved.amps(id) * e.ohms).abs(),
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
    solved: &'a dyn Solved,
    setting: &'a Setting,
    ohms: Vec<f64>,
}

impl<'a> Ways<'a> {
    fn new(circuit: &'a Circuit, solved: &'a dyn Solved, setting: &'a Setting) -> Self {
        Self { circuit, solved, setting, ohms: vec![f64::INFINITY; circuit.node_count()] }
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
                if let Some(step) = step(self.circuit, self.solved, self.setting, *id, *forward) {
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
    solved: &dyn Solved,
    setting: &Setting,
    id: ElementId,
    forward: bool,
) -> Option<f64> {
    let ohms = || Some(1.0 / setting.siemens(id)).filter(|ohms| ohms.is_finite());
    match circuit.element(id).kind {
        ElementKind::KillPort => None,
        // One with volts behind it is no way for a pulse, nor is one inside a module.
        ElementKind::Diode { volts } => {
            ohms().filter(|_| forward && volts > 0.0 && !circuit.inside_module(id))
        }
        _ => Some(1.0 / solved.siemens(id)).filter(|ohms| ohms.is_finite()),
    }
}
