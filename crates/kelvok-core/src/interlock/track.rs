//! A named circuit laid out as one rail from supply to load and back, forks where it has branches.
//!
//! The graph of all simple paths is folded together: elements in line become one stretch, and
//! stretches between the same two nodes become a fork. Where that does not end in one stretch (a
//! bridge: the graph is not series-parallel) every whole path becomes a branch of one fork.

use super::paths::{Path, paths};
use crate::circuit::{Circuit, ElementId, NodeId};
use std::collections::BTreeSet;

/// One piece of rail, in the direction from supply to return.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Piece {
    Element {
        element: ElementId,
        from: NodeId,
        to: NodeId,
    },
    /// Stretches side by side between the same two nodes.
    Fork(Vec<Vec<Piece>>),
}

/// A laid-out circuit.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Track {
    pub from: NodeId,
    pub feed: Vec<Piece>,
    pub load: ElementId,
    pub back: Vec<Piece>,
    pub to: NodeId,
    /// Every simple path of the feed; what stands before a point on it is what feeds the point.
    feed_paths: Vec<Path>,
    back_paths: Vec<Path>,
}

/// Why a circuit cannot be laid out.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[allow(missing_docs)]
pub enum LayOutError {
    #[error("this machine has no circuit \"{0}\"")]
    Unknown(String),
    #[error("no way leads through the {0} circuit")]
    NoWay(String),
    #[error("the {0} circuit feeds nothing: it is a kill circuit")]
    NoLoad(String),
}

/// A fork of more whole paths than this is cut off.
const MOST_PATHS: usize = 64;

impl Track {
    /// Lays out one of the machine's named circuits.
    ///
    /// # Errors
    /// The circuit is unknown, or no path leads through it in any condition.
    pub fn lay_out(circuit: &Circuit, name: &str) -> Result<Self, LayOutError> {
        let named = circuit
            .document()
            .circuits
            .iter()
            .find(|c| c.id == name)
            .ok_or_else(|| LayOutError::Unknown(name.to_owned()))?;
        let no_way = || LayOutError::NoWay(named.name.clone());
        let end = |address: &str| circuit.terminal(address).map_err(|_| no_way());
        let (from, to) = (end(&named.from)?, end(&named.to)?);
        let load = named.load.as_ref().ok_or_else(|| LayOutError::NoLoad(named.name.clone()))?;
        let load = circuit.element_named(load).map_err(|_| no_way())?;
        let element = circuit.element(load);
        // The feed may reach either side of the load; the written order goes first.
        for (near, far) in [(element.a, element.b), (element.b, element.a)] {
            let way = |from, to, avoid: &[NodeId]| {
                solid_first(circuit, paths(circuit, from, to, avoid, MOST_PATHS))
            };
            let feed_paths = way(from, near, &[far, to]);
            let back_paths = way(far, to, &[near, from]);
            if !feed_paths.is_empty() && !back_paths.is_empty() {
                let feed = fold(circuit, &feed_paths, from, near);
                let back = fold(circuit, &back_paths, far, to);
                return Ok(Self { from, feed, load, back, to, feed_paths, back_paths });
            }
        }
        Err(no_way())
    }

    /// Whether it is complete, where `conducts` says which elements carry current.
    pub fn complete(&self, conducts: &impl Fn(ElementId) -> bool) -> bool {
        fn whole(pieces: &[Piece], conducts: &impl Fn(ElementId) -> bool) -> bool {
            pieces.iter().all(|piece| match piece {
                Piece::Element { element, .. } => conducts(*element),
                Piece::Fork(branches) => branches.iter().any(|b| whole(b, conducts)),
            })
        }
        whole(&self.feed, conducts) && whole(&self.back, conducts)
    }

    /// The nodes at which the feed reaches the load and the return leaves it.
    pub fn load_ends(&self, circuit: &Circuit) -> (NodeId, NodeId) {
        let load = circuit.element(self.load);
        let fed = |node: NodeId| self.feed_paths.iter().any(|p| p.nodes.last() == Some(&node));
        if fed(load.a) { (load.a, load.b) } else { (load.b, load.a) }
    }

    /// Every element with the nodes at its two ends, as the track passes them, branch after branch,
    /// load included.
    pub fn in_order(&self, circuit: &Circuit) -> Vec<(ElementId, NodeId, NodeId)> {
        fn add(pieces: &[Piece], all: &mut Vec<(ElementId, NodeId, NodeId)>) {
            for piece in pieces {
                match piece {
                    Piece::Element { element, from, to } => all.push((*element, *from, *to)),
                    Piece::Fork(branches) => branches.iter().for_each(|b| add(b, all)),
                }
            }
        }
        let mut all = Vec::new();
        add(&self.feed, &mut all);
        let (near, far) = self.load_ends(circuit);
        all.push((self.load, near, far));
        add(&self.back, &mut all);
        all
    }

    /// Every element of it, load included.
    pub fn elements(&self) -> BTreeSet<ElementId> {
        let all = self.feed_paths.iter().chain(&self.back_paths);
        all.flat_map(|p| p.elements.iter().copied()).chain([self.load]).collect()
    }

    /// Every node of it.
    pub fn nodes(&self) -> BTreeSet<NodeId> {
        let all = self.feed_paths.iter().chain(&self.back_paths);
        all.flat_map(|p| p.nodes.iter().copied()).collect()
    }

    /// Every node in the order in which the track passes them, branch after branch.
    pub fn along(&self) -> Vec<NodeId> {
        let mut along = Vec::new();
        for path in self.feed_paths.iter().chain(&self.back_paths) {
            let mut place = along.len();
            for node in &path.nodes {
                // A later branch's own nodes go in behind the node they leave from.
                match along.iter().position(|n| n == node) {
                    Some(at) => place = at + 1,
                    None => {
                        along.insert(place, *node);
                        place += 1;
                    }
                }
            }
        }
        along
    }

    /// The elements that stand between the supply and a node of the track.
    ///
    /// Of a node on the way back, the feed and the load stand before it too.
    pub fn before(&self, node: NodeId) -> BTreeSet<ElementId> {
        let up_to = |paths: &[Path]| -> BTreeSet<ElementId> {
            let mut before = BTreeSet::new();
            for path in paths {
                if let Some(at) = path.nodes.iter().position(|n| *n == node) {
                    before.extend(&path.elements[..at]);
                }
            }
            before
        };
        let on_feed = self.feed_paths.iter().any(|p| p.nodes.contains(&node));
        if on_feed {
            return up_to(&self.feed_paths);
        }
        let mut before: BTreeSet<_> =
            self.feed_paths.iter().flat_map(|p| p.elements.iter().copied()).collect();
        before.insert(self.load);
        before.extend(up_to(&self.back_paths));
        before
    }

    /// The paths of the return, one by one.
    pub fn back_paths(&self) -> &[Path] {
        &self.back_paths
    }

    /// The paths of the feed, for who wants them one by one.
    pub fn feed_paths(&self) -> &[Path] {
        &self.feed_paths
    }
}

/// Where solid metal joins the ends, ways through contacts beside it decide nothing: drops them.
fn solid_first(circuit: &Circuit, mut paths: Vec<Path>) -> Vec<Path> {
    if paths.iter().any(|p| p.contacts(circuit).is_empty()) {
        paths.retain(|p| p.contacts(circuit).is_empty());
    }
    paths
}

/// One stretch of rail between two nodes.
struct Stretch {
    from: NodeId,
    to: NodeId,
    pieces: Vec<Piece>,
}

impl Stretch {
    fn reversed(self) -> Self {
        fn turn(pieces: Vec<Piece>) -> Vec<Piece> {
            let turned = pieces.into_iter().rev().map(|piece| match piece {
                Piece::Element { element, from, to } => {
                    Piece::Element { element, from: to, to: from }
                }
                Piece::Fork(branches) => Piece::Fork(branches.into_iter().map(turn).collect()),
            });
            turned.collect()
        }
        Self { from: self.to, to: self.from, pieces: turn(self.pieces) }
    }

    /// The same, leaving from this node.
    fn leaving(self, node: NodeId) -> Self {
        if self.from == node { self } else { self.reversed() }
    }
}

fn fold(circuit: &Circuit, paths: &[Path], from: NodeId, to: NodeId) -> Vec<Piece> {
    let elements: BTreeSet<_> = paths.iter().flat_map(|p| p.elements.iter().copied()).collect();
    let mut stretches: Vec<Stretch> = elements
        .into_iter()
        .map(|element| {
            let e = circuit.element(element);
            let pieces = vec![Piece::Element { element, from: e.a, to: e.b }];
            Stretch { from: e.a, to: e.b, pieces }
        })
        .collect();
    while join_side_by_side(&mut stretches) || join_in_line(&mut stretches, from, to) {}
    match (stretches.pop(), stretches.is_empty()) {
        (Some(last), true) => last.leaving(from).pieces,
        (None, _) => Vec::new(),
        _ => vec![Piece::Fork(paths.iter().map(whole_path).collect())],
    }
}

fn whole_path(path: &Path) -> Vec<Piece> {
    let steps = path.elements.iter().enumerate();
    steps
        .map(|(i, element)| Piece::Element {
            element: *element,
            from: path.nodes[i],
            to: path.nodes[i + 1],
        })
        .collect()
}

/// Folds the first two stretches between the same nodes into a fork.
fn join_side_by_side(stretches: &mut Vec<Stretch>) -> bool {
    for i in 0..stretches.len() {
        let (a, b) = (stretches[i].from, stretches[i].to);
        let same = |s: &Stretch| (s.from, s.to) == (a, b) || (s.to, s.from) == (a, b);
        let Some(j) = (i + 1..stretches.len()).find(|j| same(&stretches[*j])) else {
            continue;
        };
        let other = stretches.remove(j).leaving(a);
        let first = std::mem::take(&mut stretches[i].pieces);
        let mut branches = Vec::new();
        for pieces in [first, other.pieces] {
            match <[Piece; 1]>::try_from(pieces) {
                Ok([Piece::Fork(inner)]) => branches.extend(inner),
                Ok([piece]) => branches.push(vec![piece]),
                Err(pieces) => branches.push(pieces),
            }
        }
        stretches[i].pieces = vec![Piece::Fork(branches)];
        return true;
    }
    false
}

/// Folds the two stretches that meet at a node of no other into one.
fn join_in_line(stretches: &mut Vec<Stretch>, from: NodeId, to: NodeId) -> bool {
    let nodes: BTreeSet<_> = stretches.iter().flat_map(|s| [s.from, s.to]).collect();
    for node in nodes {
        let touching: Vec<_> = (0..stretches.len())
            .filter(|i| stretches[*i].from == node || stretches[*i].to == node)
            .collect();
        let &[i, j] = touching.as_slice() else {
            continue;
        };
        if node == from || node == to {
            continue;
        }
        let second = stretches.remove(j).leaving(node);
        let first = stretches.remove(i).leaving(node).reversed();
        let mut pieces = first.pieces;
        pieces.extend(second.pieces);
        stretches.push(Stretch { from: first.from, to: second.to, pieces });
        return true;
    }
    false
}
