//! Cuts and fixes: what blocks a way, what would break it, and the fewest control moves that
//! complete it.

use super::Track;
use crate::circuit::{
    Circuit, Condition, ElementId, ElementKind, NodeId, Relays, Setting, Solver, every_condition,
};
use std::collections::VecDeque;

/// The condition nearest to this one, by controls moved, in which a sound machine completes the
/// track; the same condition if it does already. `None` if none does.
///
/// Looks at every condition that can occur: O(conditions) solves.
pub fn nearest_complete(circuit: &Circuit, track: &Track, from: &Condition) -> Option<Condition> {
    nearest(circuit, from, |solver| track.complete(&|element| solver.conducts(0, element)))
}

/// The same for any two ends: whether anything that only carries current leads from one to the
/// other.
pub fn fewest_moves(
    circuit: &Circuit,
    ends: (NodeId, NodeId),
    from: &Condition,
) -> Option<Condition> {
    nearest(circuit, from, |solver| {
        blocked_by(circuit, ends, &|e| solver.conducts(0, e)).is_some_and(|b| b.is_empty())
    })
}

fn nearest(
    circuit: &Circuit,
    from: &Condition,
    whole: impl Fn(&Solver<'_>) -> bool,
) -> Option<Condition> {
    let mut solver: Solver<'_> = Solver::new(circuit);
    let moved =
        |c: &Condition| c.positions.iter().zip(&from.positions).filter(|(a, b)| a != b).count();
    let mut conditions: Vec<_> = every_condition(circuit)
        .into_iter()
        .map(|c| Condition { engine: from.engine, ..c })
        .collect();
    conditions.sort_by_key(moved);
    conditions.into_iter().find(|condition| {
        solver.solve(&[&Setting::new(circuit, condition)], &[Relays::default()]);
        whole(&solver)
    })
}

/// What has to happen, or could, between two ends.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Fix {
    /// A way is complete; breaking these contacts, the fewest that do it, would open it. None of
    /// them if solid metal leads through.
    Complete { breaks: Vec<ElementId> },
    /// Every way is open; making these, the fewest that do it, would complete one.
    Blocked { makes: Vec<ElementId> },
    /// Nothing that only carries current leads through.
    NoWay,
}

impl Fix {
    /// Looks at two ends, where `conducts` says which elements carry current.
    pub fn between(
        circuit: &Circuit,
        ends: (NodeId, NodeId),
        conducts: &impl Fn(ElementId) -> bool,
    ) -> Self {
        match blocked_by(circuit, ends, conducts) {
            None => Self::NoWay,
            Some(makes) if !makes.is_empty() => Self::Blocked { makes },
            Some(_) => Self::Complete { breaks: least_cut(circuit, ends, conducts) },
        }
    }
}

/// The way with the fewest elements on it that do not conduct, and those elements. `None` if no
/// way leads through at all. Breadth first, with free steps through what conducts.
pub fn blocked_by(
    circuit: &Circuit,
    (from, to): (NodeId, NodeId),
    conducts: &impl Fn(ElementId) -> bool,
) -> Option<Vec<ElementId>> {
    let mut steps = vec![u32::MAX; circuit.node_count()];
    let mut came: Vec<Option<(NodeId, ElementId)>> = vec![None; circuit.node_count()];
    steps[from.index()] = 0;
    let mut next = VecDeque::from([from]);
    while let Some(node) = next.pop_front() {
        for (id, other, forward) in ways_on(circuit, node) {
            let open = u32::from(!conducts(id) && !is_diode(circuit, id));
            let there = steps[node.index()] + open;
            if forward && there < steps[other.index()] {
                steps[other.index()] = there;
                came[other.index()] = Some((node, id));
                if open == 0 { next.push_front(other) } else { next.push_back(other) }
            }
        }
    }
    if steps[to.index()] == u32::MAX {
        return None;
    }
    let mut open = Vec::new();
    let mut node = to;
    while let Some((before, id)) = came[node.index()] {
        if !conducts(id) && !is_diode(circuit, id) {
            open.push(id);
        }
        node = before;
    }
    open.reverse();
    Some(open)
}

fn is_diode(circuit: &Circuit, id: ElementId) -> bool {
    matches!(circuit.element(id).kind, ElementKind::Diode { .. })
}

/// Elements at a node that only carry current, the node behind each, and whether current may go
/// that way.
fn ways_on(
    circuit: &Circuit,
    node: NodeId,
) -> impl Iterator<Item = (ElementId, NodeId, bool)> + '_ {
    let around = circuit.around(node).iter().copied();
    around
        .filter(|(id, ..)| circuit.element(*id).conducts())
        .map(|(id, other, forward)| (id, other, forward || !is_diode(circuit, id)))
}

/// The fewest made contacts that part two ends, by augmenting paths: a contact carries one, all
/// else any number.
fn least_cut(
    circuit: &Circuit,
    (from, to): (NodeId, NodeId),
    conducts: &impl Fn(ElementId) -> bool,
) -> Vec<ElementId> {
    let contact = |id: ElementId| matches!(circuit.element(id).kind, ElementKind::Contact(_));
    // Flow through a contact from its `a` to its `b`: -1, 0 or 1.
    let mut flow = vec![0i8; circuit.elements.len()];
    let most = circuit.contacts.len() + 1;
    for _ in 0..most {
        let mut came: Vec<Option<(NodeId, ElementId, bool)>> = vec![None; circuit.node_count()];
        let mut seen = vec![false; circuit.node_count()];
        seen[from.index()] = true;
        let mut next = VecDeque::from([from]);
        while let Some(node) = next.pop_front() {
            for (id, other, passes) in ways_on(circuit, node) {
                let forward = circuit.element(id).a == node;
                let room = !contact(id) || flow[id.index()] != if forward { 1 } else { -1 };
                let carries = conducts(id) || is_diode(circuit, id);
                if carries && passes && room && !seen[other.index()] {
                    seen[other.index()] = true;
                    came[other.index()] = Some((node, id, forward));
                    next.push_back(other);
                }
            }
        }
        if !seen[to.index()] {
            let crosses = |id: &ElementId| {
                let e = circuit.element(*id);
                contact(*id) && conducts(*id) && seen[e.a.index()] != seen[e.b.index()]
            };
            return circuit.elements().map(|(id, _)| id).filter(crosses).collect();
        }
        let mut node = to;
        let mut solid = true;
        while let Some((before, id, forward)) = came[node.index()] {
            if contact(id) {
                flow[id.index()] += if forward { 1 } else { -1 };
                solid = false;
            }
            node = before;
        }
        if solid {
            return Vec::new();
        }
    }
    Vec::new()
}
