//! Which fuse stands between the battery and a wire.

use super::carried::Solved;
use crate::circuit::{Circuit, ElementId, ElementKind, NodeId};
use crate::machine::PartKind;
use std::collections::BTreeSet;

/// What would part a wire from the battery, were it shorted to the frame.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Guard {
    /// Fuses in a row, by part: the smallest blows first.
    Fuses(BTreeSet<usize>),
    /// Nothing would.
    None,
}

/// How a wire hangs on the battery in one condition or more.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Fed {
    pub guard: Guard,
    /// Ohms from the battery to its farther end.
    pub ohms: f64,
}

/// By wire of the document, every way in which it hangs on the battery.
#[derive(Clone, Debug)]
pub(super) struct Feeds {
    pub of_wire: Vec<Vec<Fed>>,
}

impl Feeds {
    pub fn none(circuit: &Circuit) -> Self {
        Self { of_wire: vec![Vec::new(); circuit.document().wires.len()] }
    }

    /// Adds what one condition shows.
    pub fn take(&mut self, circuit: &Circuit, solved: &Solved<'_, '_>) {
        let Some((_, plus)) = circuit.posts() else { return };
        let all = Reached::from(circuit, plus, solved, None);
        let fuses: Vec<_> = circuit.fuses().filter(|f| all.has(circuit, *f)).collect();
        let without: Vec<_> = fuses
            .iter()
            .filter_map(|fuse| {
                let part = circuit.element(*fuse).part?;
                Some((part, Reached::from(circuit, plus, solved, Some(*fuse))))
            })
            .collect();
        for (id, e) in circuit.elements() {
            let Some(wire) = e.wire.filter(|_| all.has(circuit, id)) else { continue };
            let guards = without.iter().filter(|(_, left)| !left.has(circuit, id));
            let guards: BTreeSet<_> = guards.map(|(part, _)| *part).collect();
            let guard = if guards.is_empty() { Guard::None } else { Guard::Fuses(guards) };
            let ohms = all.ohms[e.a.index()].max(all.ohms[e.b.index()]);
            let own = &mut self.of_wire[wire];
            match own.iter_mut().find(|fed| fed.guard == guard) {
                Some(fed) => fed.ohms = fed.ohms.max(ohms),
                None => own.push(Fed { guard, ohms }),
            }
        }
    }
}

/// The nodes that hang on the battery's + post without a load between, and the ohms to each.
struct Reached {
    ohms: Vec<f64>,
}

impl Reached {
    fn from(
        circuit: &Circuit,
        plus: NodeId,
        solved: &Solved<'_, '_>,
        without: Option<ElementId>,
    ) -> Self {
        let mut ohms = vec![f64::INFINITY; circuit.node_count()];
        ohms[plus.index()] = 0.0;
        let mut open = vec![plus];
        // Few nodes: the nearest is looked for by hand.
        while let Some(next) =
            (0..open.len()).min_by(|a, b| ohms[open[*a].index()].total_cmp(&ohms[open[*b].index()]))
        {
            let node = open.swap_remove(next);
            for (id, other, is_b) in circuit.around(node) {
                let e = circuit.element(*id);
                let forward = !matches!(e.kind, ElementKind::Diode { .. }) || *is_b;
                // Behind a ballast a short draws what that lets through.
                let ballast = e.part.is_some_and(|p| circuit.part(p).kind == PartKind::Resistance);
                let passes = e.conducts() && forward && !ballast && solved.solver.conducts(0, *id);
                let far = ohms[node.index()] + e.ohms;
                if passes && Some(*id) != without && far < ohms[other.index()] {
                    ohms[other.index()] = far;
                    open.push(*other);
                }
            }
        }
        Self { ohms }
    }

    fn has(&self, circuit: &Circuit, id: ElementId) -> bool {
        let e = circuit.element(id);
        self.ohms[e.a.index()].is_finite() || self.ohms[e.b.index()].is_finite()
    }
}
