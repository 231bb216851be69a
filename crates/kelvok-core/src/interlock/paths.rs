//! Every simple path between two nodes.

use crate::circuit::{Circuit, Condition, ElementId, ElementKind, NodeId};

/// A way from one node to another that visits no node twice.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Path {
    pub nodes: Vec<NodeId>,
    /// One fewer than the nodes.
    pub elements: Vec<ElementId>,
}

impl Path {
    /// The contacts on it, in order: what makes or breaks it.
    pub fn contacts(&self, circuit: &Circuit) -> Vec<ElementId> {
        let is_contact =
            |e: &ElementId| matches!(circuit.element(*e).kind, ElementKind::Contact(_));
        self.elements.iter().copied().filter(is_contact).collect()
    }

    /// The contacts that block it in a condition, coils released and every part sound.
    pub fn blocked_by(&self, circuit: &Circuit, condition: &Condition) -> Vec<ElementId> {
        let open = |e: &ElementId| !conducts(circuit, *e, condition);
        self.elements.iter().copied().filter(open).collect()
    }
}

/// Whether a sound element carries current in a condition, coils released.
fn conducts(circuit: &Circuit, element: ElementId, condition: &Condition) -> bool {
    match circuit.element(element).kind {
        ElementKind::Contact(c) => circuit.made(&circuit.contacts[c], condition),
        _ => true,
    }
}

/// All simple paths from `from` to `to` through elements that only carry current, never through a
/// module nor through `avoid`; contacts count whether made or not.
///
/// # Arguments
/// `most` bounds the count. Exponential in the number of parallel branches, linear in the rest:
/// a branch that cannot reach `to` is never entered.
pub fn paths(
    circuit: &Circuit,
    from: NodeId,
    to: NodeId,
    avoid: &[NodeId],
    most: usize,
) -> Vec<Path> {
    let mut near: Vec<Vec<(ElementId, NodeId)>> = vec![Vec::new(); circuit.node_count()];
    let carries = |id: ElementId| circuit.element(id).conducts() && !circuit.inside_module(id);
    for (id, e) in circuit.elements().filter(|(id, e)| carries(*id) && e.a != e.b) {
        near[e.a.index()].push((id, e.b));
        if !matches!(e.kind, ElementKind::Diode { .. }) {
            near[e.b.index()].push((id, e.a));
        }
    }
    let mut visited = vec![false; near.len()];
    for node in avoid {
        visited[node.index()] = true;
    }
    let mut search =
        Search { near, visited, to, most, nodes: vec![], elements: vec![], found: vec![] };
    search.from(from);
    search.found
}

struct Search {
    near: Vec<Vec<(ElementId, NodeId)>>,
    visited: Vec<bool>,
    to: NodeId,
    most: usize,
    nodes: Vec<NodeId>,
    elements: Vec<ElementId>,
    found: Vec<Path>,
}

impl Search {
    fn from(&mut self, node: NodeId) {
        self.nodes.push(node);
        if node == self.to {
            self.found.push(Path { nodes: self.nodes.clone(), elements: self.elements.clone() });
        } else {
            self.visited[node.index()] = true;
            for (element, next) in self.near[node.index()].clone() {
                if self.found.len() < self.most && self.leads_on(next) {
                    self.elements.push(element);
                    self.from(next);
                    self.elements.pop();
                }
            }
            self.visited[node.index()] = false;
        }
        self.nodes.pop();
    }

    /// Whether `to` can still be reached from `node` through nodes not yet visited.
    fn leads_on(&self, node: NodeId) -> bool {
        let mut seen = self.visited.clone();
        let mut stack = vec![node];
        while let Some(n) = stack.pop() {
            if seen[n.index()] {
                continue;
            }
            if n == self.to {
                return true;
            }
            seen[n.index()] = true;
            stack.extend(self.near[n.index()].iter().map(|(_, next)| *next));
        }
        false
    }
}
