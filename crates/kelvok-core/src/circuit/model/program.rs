//! Star-mesh elimination, worked out once as a flat list of operations.
//!
//! Eliminating a node replaces the star of conductances around it by a mesh between its
//! neighbors: `g_ij += g_ki g_kj / G_k`. Sums and products of non-negative numbers only, so no
//! digit is lost to subtraction and a node that nothing reaches keeps a conductance of exactly
//! zero: what floats is known, not guessed.
//!
//! The order is minimum degree (the node with the fewest neighbors first), which on a wiring
//! harness, nearly a tree, leaves next to no fill. Among equals a node goes first whose neighbors
//! went late or not at all: a long run of wire folds up from many places at once, so that the
//! divisions, one a node, do not wait for each other. One solve costs O(nodes + fill) and
//! allocates nothing.
//!
//! Nodes that no contact touches go before all others. What their elimination leaves behind
//! depends on wires and loads alone, so it is kept and used again for as long as those stay the
//! same: moving a control or a relay costs only the rest.

use super::ids::NodeId;
use super::lane::Lane;
use std::collections::{BTreeSet, HashMap};
use std::ops::Range;

/// An elimination order for one topology: nodes, edges and where each conductance goes.
#[derive(Clone, Debug)]
pub struct Program {
    nodes: usize,
    /// Number of edge slots, fill included; the slots of the nodes' own conductances to the
    /// reference follow, then one slot that swallows an element from a node to itself.
    edges: usize,
    /// For every element its slot.
    slots: Vec<u32>,
    order: Vec<u16>,
    /// Where each eliminated node's neighbors begin in the two lists below.
    starts: Vec<u32>,
    neighbors: Vec<u16>,
    neighbor_slots: Vec<u32>,
    /// Slots of the mesh, in the order elimination visits them.
    mesh: Vec<u32>,
    /// How many nodes, first in the order, nothing that moves touches; and their part of `mesh`.
    still: usize,
    still_mesh: usize,
    /// Elements that move: contacts, diodes, fuses that may blow.
    pub(crate) moving: Vec<usize>,
}

/// A still node with more neighbors than this waits: eliminated early, it would tie contacts
/// together that the order would otherwise have kept apart.
const STILL_DEGREE: usize = 2;

/// The numbers one solve works on; kept by a solver and used again.
#[derive(Clone, Debug)]
pub(crate) struct Workspace<L> {
    /// Conductance by slot.
    conductance: Vec<L>,
    /// Injected current by node, in amperes.
    pub injection: Vec<L>,
    /// Share of a node's current that goes to each neighbor.
    share: Vec<L>,
    /// One over each eliminated node's total conductance; zero if it has none.
    inverse: Vec<L>,
    /// Node volts.
    pub volts: Vec<L>,
    /// Conductances and injections with the still nodes eliminated and nothing that moves in.
    still_conductance: Vec<L>,
    still_injection: Vec<L>,
}

impl Program {
    /// Orders the elimination for elements between these pairs of nodes.
    ///
    /// # Arguments
    /// `nodes` counts the reference, node 0, which is never eliminated. `moves` says of each
    /// element whether its conductance may change from one solve to the next.
    pub fn build(nodes: usize, elements: &[(NodeId, NodeId)], moves: &[bool]) -> Self {
        let mut slot_of: HashMap<(usize, usize), u32> = HashMap::new();
        let mut near: Vec<BTreeSet<usize>> = vec![BTreeSet::new(); nodes];
        let mut slot = |a: usize, b: usize| {
            let next = slot_of.len() as u32;
            *slot_of.entry((a.min(b), a.max(b))).or_insert(next)
        };
        for (a, b) in elements {
            let (a, b) = (a.index(), b.index());
            if a != b && a != 0 && b != 0 {
                slot(a, b);
                near[a].insert(b);
                near[b].insert(a);
            }
        }
        let mut touched = vec![false; nodes];
        for ((a, b), _) in elements.iter().zip(moves).filter(|(_, moves)| **moves) {
            touched[a.index()] = true;
            touched[b.index()] = true;
        }
        let mut left: BTreeSet<usize> = (1..nodes).collect();
        // One more than the depth of the deepest neighbor already eliminated.
        let mut depth = vec![0u32; nodes];
        let mut program = Self {
            nodes,
            edges: 0,
            slots: Vec::new(),
            order: Vec::new(),
            starts: vec![0],
            neighbors: Vec::new(),
            neighbor_slots: Vec::new(),
            mesh: Vec::new(),
            still: 0,
            still_mesh: 0,
            moving: (0..moves.len()).filter(|e| moves[*e]).collect(),
        };
        let mut moved = false;
        while let Some(node) = left.iter().copied().min_by_key(|n| {
            let late = touched[*n] || near[*n].len() > STILL_DEGREE;
            (late, near[*n].len(), depth[*n], *n)
        }) {
            left.remove(&node);
            let around: Vec<usize> = near[node].iter().copied().collect();
            for (i, a) in around.iter().enumerate() {
                near[*a].remove(&node);
                depth[*a] = depth[*a].max(depth[node] + 1);
                program.neighbors.push(*a as u16);
                program.neighbor_slots.push(slot(node, *a));
                for b in &around[i + 1..] {
                    near[*a].insert(*b);
                    near[*b].insert(*a);
                    program.mesh.push(slot(*a, *b));
                }
            }
            program.order.push(node as u16);
            program.starts.push(program.neighbors.len() as u32);
            moved |= touched[node] || around.len() > STILL_DEGREE;
            if !moved {
                program.still = program.order.len();
                program.still_mesh = program.mesh.len();
            }
        }
        program.edges = slot_of.len();
        let edges = program.edges as u32;
        program.slots = elements
            .iter()
            .map(|(a, b)| match (a.index(), b.index()) {
                (a, b) if a == b => edges + nodes as u32,
                (0, n) | (n, 0) => edges + n as u32,
                (a, b) => slot_of[&(a.min(b), a.max(b))],
            })
            .collect();
        program
    }

    /// Nodes in the order they are eliminated.
    pub fn order(&self) -> &[u16] {
        &self.order
    }

    pub(crate) fn workspace<L: Lane>(&self) -> Workspace<L> {
        Workspace {
            conductance: vec![L::ZERO; self.edges + self.nodes + 1],
            injection: vec![L::ZERO; self.nodes],
            share: vec![L::ZERO; self.neighbors.len()],
            inverse: vec![L::ZERO; self.order.len()],
            volts: vec![L::ZERO; self.nodes],
            still_conductance: vec![L::ZERO; self.edges + self.nodes + 1],
            still_injection: vec![L::ZERO; self.nodes],
        }
    }

    /// Clears the workspace and adds the conductance of every element that does not move.
    pub(crate) fn stamp_still<L: Lane>(&self, work: &mut Workspace<L>, elements: &[L]) {
        work.conductance.fill(L::ZERO);
        work.injection.fill(L::ZERO);
        for (slot, g) in self.slots.iter().zip(elements) {
            let slot = &mut work.conductance[*slot as usize];
            *slot = slot.add(*g);
        }
    }

    /// Eliminates the still nodes and keeps what that leaves.
    pub(crate) fn solve_still<L: Lane>(&self, work: &mut Workspace<L>) {
        self.eliminate(work, 0..self.still, &self.mesh[..self.still_mesh]);
        work.still_conductance.copy_from_slice(&work.conductance);
        work.still_injection.copy_from_slice(&work.injection);
    }

    /// Takes up what the still nodes left, and adds the conductance of every element that moves.
    #[inline(always)]
    pub(crate) fn stamp_moving<L: Lane>(&self, work: &mut Workspace<L>, elements: &[L]) {
        work.conductance.copy_from_slice(&work.still_conductance);
        work.injection.copy_from_slice(&work.still_injection);
        for element in &self.moving {
            let slot = &mut work.conductance[self.slots[*element] as usize];
            *slot = slot.add(elements[*element]);
        }
    }

    /// Adds a conductance between a node and the reference, in one lane.
    pub(crate) fn stamp_ground<L: Lane>(
        &self,
        work: &mut Workspace<L>,
        node: usize,
        lane: usize,
        siemens: f64,
    ) {
        let slot = &mut work.conductance[self.edges + node];
        slot.set(lane, slot.get(lane) + siemens);
    }

    /// Eliminates the nodes that are left and substitutes back: conductances and injections to
    /// volts.
    #[inline(always)]
    pub(crate) fn solve_moving<L: Lane>(&self, work: &mut Workspace<L>) {
        self.eliminate(work, self.still..self.order.len(), &self.mesh[self.still_mesh..]);
        let Workspace { injection, share, inverse, volts, .. } = work;
        self.substitute(injection, share, inverse, volts);
    }

    #[inline(always)]
    fn eliminate<L: Lane>(&self, work: &mut Workspace<L>, positions: Range<usize>, mesh: &[u32]) {
        let mut mesh = mesh;
        for position in positions {
            let first = self.starts[position] as usize;
            // Nearly every node of a harness has one to three neighbors: those loops unroll.
            match self.starts[position + 1] as usize - first {
                0 => self.alone(work, position),
                1 => self.star::<L, 1>(work, position, first, &mut mesh),
                2 => self.star::<L, 2>(work, position, first, &mut mesh),
                3 => self.star::<L, 3>(work, position, first, &mut mesh),
                degree => self.any_star(work, position, first, degree, &mut mesh),
            }
        }
    }

    /// Eliminates a node that only the reference is left beside.
    #[inline(always)]
    fn alone<L: Lane>(&self, work: &mut Workspace<L>, position: usize) {
        let node = usize::from(self.order[position]);
        work.inverse[position] = work.conductance[self.edges + node].invert();
    }

    #[inline(always)]
    fn star<L: Lane, const DEGREE: usize>(
        &self,
        work: &mut Workspace<L>,
        position: usize,
        first: usize,
        mesh: &mut &[u32],
    ) {
        let node = usize::from(self.order[position]);
        let neighbors = &self.neighbors[first..first + DEGREE];
        let slots = &self.neighbor_slots[first..first + DEGREE];
        let ground = work.conductance[self.edges + node];
        let current = work.injection[node];
        let g: [L; DEGREE] = std::array::from_fn(|i| work.conductance[slots[i] as usize]);
        let inv = g.iter().fold(ground, |sum, g| sum.add(*g)).invert();
        work.inverse[position] = inv;
        let f = g.map(|g| g.mul(inv));
        work.share[first..first + DEGREE].copy_from_slice(&f);
        for (neighbor, f) in neighbors.iter().zip(&f) {
            let neighbor = usize::from(*neighbor);
            work.injection[neighbor] = f.mul_add(current, work.injection[neighbor]);
            let own = &mut work.conductance[self.edges + neighbor];
            *own = f.mul_add(ground, *own);
        }
        let (own, rest) = mesh.split_at(DEGREE * (DEGREE - 1) / 2);
        *mesh = rest;
        let mut own = own.iter();
        for (i, f) in f.iter().enumerate() {
            for (g, target) in g[i + 1..].iter().zip(&mut own) {
                let target = &mut work.conductance[*target as usize];
                *target = f.mul_add(*g, *target);
            }
        }
    }

    #[inline(always)]
    fn any_star<L: Lane>(
        &self,
        work: &mut Workspace<L>,
        position: usize,
        first: usize,
        degree: usize,
        mesh: &mut &[u32],
    ) {
        let Workspace { conductance, injection, share, inverse, .. } = work;
        let node = usize::from(self.order[position]);
        let neighbors = &self.neighbors[first..first + degree];
        let slots = &self.neighbor_slots[first..first + degree];
        let ground = conductance[self.edges + node];
        let inv = slots.iter().fold(ground, |sum, s| sum.add(conductance[*s as usize])).invert();
        inverse[position] = inv;
        let current = injection[node];
        let (own, rest) = mesh.split_at(degree * (degree - 1) / 2);
        *mesh = rest;
        let mut own = own.iter();
        for i in 0..degree {
            let f = conductance[slots[i] as usize].mul(inv);
            share[first + i] = f;
            let neighbor = usize::from(neighbors[i]);
            injection[neighbor] = f.mul_add(current, injection[neighbor]);
            let to_ground = &mut conductance[self.edges + neighbor];
            *to_ground = f.mul_add(ground, *to_ground);
            for (slot, target) in slots[i + 1..].iter().zip(&mut own) {
                let g = conductance[*slot as usize];
                let target = &mut conductance[*target as usize];
                *target = f.mul_add(g, *target);
            }
        }
    }

    #[inline(always)]
    fn substitute<L: Lane>(&self, injection: &[L], share: &[L], inverse: &[L], volts: &mut [L]) {
        for position in (0..self.order.len()).rev() {
            let node = usize::from(self.order[position]);
            let range = self.starts[position] as usize..self.starts[position + 1] as usize;
            let own = injection[node].mul(inverse[position]);
            volts[node] = self.neighbors[range.clone()]
                .iter()
                .zip(&share[range])
                .fold(own, |sum, (n, f)| f.mul_add(volts[usize::from(*n)], sum));
        }
    }

    /// The resistance that an ohmmeter between two nodes of one piece sees, in ohms.
    pub(crate) fn resistance<L: Lane>(
        &self,
        work: &Workspace<L>,
        a: NodeId,
        b: NodeId,
        lane: usize,
    ) -> f64 {
        let volts = self.driven(work, (a, b), lane, false);
        volts[a.index()] - volts[b.index()]
    }

    /// Node volts with the sources off and one ampere in at one node, out at another of the same
    /// piece.
    pub(crate) fn response(&self, work: &Workspace<f64>, ends: (NodeId, NodeId)) -> Vec<f64> {
        self.driven(work, ends, 0, true)
    }

    /// The same in one lane; `everywhere` or only as far as the two nodes' own volts ask for.
    fn driven<L: Lane>(
        &self,
        work: &Workspace<L>,
        (a, b): (NodeId, NodeId),
        lane: usize,
        everywhere: bool,
    ) -> Vec<f64> {
        // Only what is eliminated after the two nodes, and joined to them, ever carries any of it.
        let mut injection = vec![0.0; self.nodes];
        let mut touched = vec![false; self.nodes];
        for (node, amps) in [(a, 1.0), (b, -1.0)] {
            injection[node.index()] += amps;
            touched[node.index()] = true;
        }
        let range = |p: usize| self.starts[p] as usize..self.starts[p + 1] as usize;
        for (position, node) in self.order.iter().enumerate() {
            if !touched[usize::from(*node)] {
                continue;
            }
            let current = injection[usize::from(*node)];
            for i in range(position) {
                let share = work.share[i].get(lane);
                if share != 0.0 {
                    let next = usize::from(self.neighbors[i]);
                    touched[next] = true;
                    injection[next] += share * current;
                }
            }
        }
        let mut volts = vec![0.0; self.nodes];
        for (position, node) in self.order.iter().enumerate().rev() {
            let node = usize::from(*node);
            if everywhere || touched[node] {
                volts[node] = range(position)
                    .fold(injection[node] * work.inverse[position].get(lane), |sum, i| {
                        sum + work.share[i].get(lane) * volts[usize::from(self.neighbors[i])]
                    });
            }
        }
        volts
    }

    /// For every node a number that nodes of one connected piece share; 0 is the reference's.
    pub(crate) fn pieces<L: Lane>(&self, work: &Workspace<L>, lane: usize) -> Vec<u16> {
        let mut piece = vec![0; self.nodes];
        for (position, node) in self.order.iter().enumerate().rev() {
            let range = self.starts[position] as usize..self.starts[position + 1] as usize;
            let grounded = work.conductance[self.edges + usize::from(*node)].get(lane) > 0.0;
            piece[usize::from(*node)] = if grounded {
                0
            } else {
                range
                    .into_iter()
                    .find(|i| work.share[*i].get(lane) > 0.0)
                    .map_or(*node, |i| piece[usize::from(self.neighbors[i])])
            };
        }
        piece
    }
}
