//! A solved operating point, whichever way it was solved.

use super::relays::Relays;
use crate::circuit::model::{Circuit, ElementId, ElementKind, NodeId};

/// What can be read off a solved operating point.
pub trait Solved {
    /// The circuit that was solved.
    fn circuit(&self) -> &Circuit;

    /// Node volts above the reference; of a floating piece, above one of its own nodes.
    fn volts(&self, node: NodeId) -> f64;

    /// An element's conductance as solved, in siemens.
    fn siemens(&self, element: ElementId) -> f64;

    /// A source's volts, or a diode's threshold.
    fn emf(&self, element: ElementId) -> f64;

    /// The relays as they stand; of chatter, at the last state solved.
    fn relays(&self) -> Relays;

    /// The states a chattering circuit goes round; empty when it settles.
    fn chatter(&self) -> &[u64];

    /// Fuses that this operating point has blown.
    fn blown(&self) -> Vec<ElementId>;

    /// For every node a number that nodes of one connected piece share; 0 is the reference's.
    fn pieces(&self) -> Vec<u16>;

    /// What the circuit shows between two nodes of one piece with its sources off, in ohms; relays
    /// and diodes as they stand.
    fn resistance(&self, a: NodeId, b: NodeId) -> f64;

    /// Volts from one node to another.
    fn between(&self, a: NodeId, b: NodeId) -> f64 {
        self.volts(a) - self.volts(b)
    }

    /// Whether an element conducts at all.
    fn conducts(&self, element: ElementId) -> bool {
        self.siemens(element) > 0.0
    }

    /// Current through an element from `a` to `b`, in amperes.
    fn amps(&self, element: ElementId) -> f64 {
        let e = self.circuit().element(element);
        let (g, across) = (self.siemens(element), self.between(e.a, e.b));
        match e.kind {
            ElementKind::Source { .. } | ElementKind::Winding { .. } => {
                g * (across + self.emf(element))
            }
            ElementKind::Diode { .. } if g > 0.0 => g * (across - self.emf(element)),
            _ => g * across,
        }
    }
}
