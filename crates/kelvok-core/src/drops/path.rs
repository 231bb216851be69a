//! The way of a load's current from one battery post to the other, and the points on it that a probe
//! reaches.

use crate::battery::cranked_in;
use crate::circuit::{
    Circuit, Condition, ElementId, ElementKind, Engine, NodeId, OperatingPoint, Relays,
    operating_point,
};
use crate::interlock::{Path, Track, beside_while_it_runs, nearest_complete};
use crate::machine::{NamedCircuit, PartKind};

/// Under so many amperes there is nothing to be lost.
const LEAST_AMPS: f64 = 0.05;

/// What a stretch of a sound machine loses.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Lost {
    /// Volts, and how far they may be off by its parts' tolerances.
    pub volts: f64,
    #[allow(missing_docs)]
    pub unsure: f64,
    /// The amperes that run there: more than the load's where others share the way.
    pub amps: f64,
    /// It is the load's own current, or nearly.
    pub own: bool,
    /// It is meant to take volts: the load, or a ballast in line with it.
    pub uses: bool,
}

/// Up to this many times the load's current it is the load's own.
const OWN: f64 = 1.3;

/// A loaded circuit as a walk from point to point.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct LoadPath {
    /// The circuit's id and name in the document.
    pub id: String,
    pub name: String,
    /// How the controls stand while it carries current; the engine stands, or runs.
    pub condition: Condition,
    /// The load is the starter.
    pub cranks: bool,
    pub load: ElementId,
    /// What a sound machine draws there, in amperes.
    pub amps: f64,
    /// The points along it, in order, as nodes.
    pub points: Vec<NodeId>,
    /// What lies between each point and the next.
    pub stretches: Vec<Vec<ElementId>>,
    /// What each stretch of a sound machine loses.
    pub lost: Vec<Lost>,
    /// The stretch that the load is in.
    pub at_load: usize,
}

/// Every circuit of a machine that carries a current worth measuring, as its document names them.
///
/// # Arguments
/// `safe` is whether a probe may be put to a node while the machine is on.
pub fn load_paths(circuit: &Circuit, safe: &dyn Fn(NodeId) -> bool) -> Vec<LoadPath> {
    let named = circuit.document().circuits.iter();
    named.filter_map(|named| LoadPath::of(circuit, named, safe)).collect()
}

impl LoadPath {
    fn of(circuit: &Circuit, named: &NamedCircuit, safe: &dyn Fn(NodeId) -> bool) -> Option<Self> {
        let track = Track::lay_out(circuit, &named.id).ok()?;
        let load = circuit.element(track.load);
        let cranks = is_a(circuit, track.load, PartKind::Starter);
        let conditions = match load.kind {
            _ if cranks => cranked_in(circuit).into_iter().collect(),
            ElementKind::Source { .. } => beside_while_it_runs(circuit),
            _ => {
                let rest = Condition { engine: Engine::Stopped, ..Condition::at_rest(circuit) };
                nearest_complete(circuit, &track, &rest).into_iter().collect::<Vec<_>>()
            }
        };
        let (condition, point) = conditions.into_iter().find_map(|condition| {
            let point = operating_point(circuit, &condition, Relays::default(), &[], &[]);
            let settles = point.chatter.is_empty();
            let draws = point.amps[track.load.index()].abs() > LEAST_AMPS;
            (settles && draws).then_some((condition, point))
        })?;
        Self::along(circuit, named, &track, (condition, &point), safe)
    }

    fn along(
        circuit: &Circuit,
        named: &NamedCircuit,
        track: &Track,
        (condition, point): (Condition, &OperatingPoint),
        safe: &dyn Fn(NodeId) -> bool,
    ) -> Option<Self> {
        let feed = carrying(track.feed_paths(), point)?;
        let back = carrying(track.back_paths(), point)?;
        let nodes: Vec<NodeId> = feed.nodes.iter().chain(&back.nodes).copied().collect();
        let load = [track.load];
        let elements: Vec<_> = feed.elements.iter().chain(&load).chain(&back.elements).collect();
        let (first, last) = (feed.nodes.len() - 1, feed.nodes.len());
        let reached = |at: &usize| {
            let ends = *at == 0 || *at + 1 == nodes.len();
            ends || safe(nodes[*at]) && has_point(circuit, nodes[*at])
        };
        let mut stops: Vec<usize> = (0..nodes.len()).filter(reached).collect();
        // Two terminals of one piece of metal are one point.
        stops.dedup_by_key(|at| nodes[*at]);
        let at_load = stops.windows(2).position(|w| w[0] <= first && w[1] >= last)?;
        let volts = |node: NodeId| point.volts[node.index()].unwrap_or(0.0);
        let load_amps = point.amps[track.load.index()].abs();
        let mut stretches = Vec::new();
        let mut lost = Vec::new();
        for pair in stops.windows(2) {
            let own: Vec<ElementId> = elements[pair[0]..pair[1]].iter().map(|e| **e).collect();
            let drop = (volts(nodes[pair[0]]) - volts(nodes[pair[1]])).abs();
            let unsure = own.iter().map(|id| {
                let e = circuit.element(*id);
                let share = (volts(e.a) - volts(e.b)) * e.tolerance;
                share * share
            });
            let unsure = unsure.sum::<f64>().sqrt();
            let amps = own.iter().map(|e| point.amps[e.index()].abs()).fold(0.0, f64::max);
            let own_amps = amps <= OWN * load_amps;
            let ballast = |e: &ElementId| is_a(circuit, *e, PartKind::Resistance);
            let uses = own.iter().any(ballast) || own.contains(&track.load);
            lost.push(Lost { volts: drop, unsure, amps, own: own_amps, uses });
            stretches.push(own);
        }
        Some(Self {
            id: named.id.clone(),
            name: named.name.clone(),
            condition,
            cranks: is_a(circuit, track.load, PartKind::Starter),
            load: track.load,
            amps: load_amps,
            points: stops.iter().map(|at| nodes[*at]).collect(),
            stretches,
            lost,
            at_load,
        })
    }

    /// Where a node is among the points.
    pub fn place(&self, node: NodeId) -> Option<usize> {
        self.points.iter().position(|p| *p == node)
    }

    /// The ways that only carry current, by their first and last points: to the load and back, cut where
    /// something in line takes volts of its own.
    pub fn ways(&self) -> Vec<(usize, usize)> {
        let mut ways = Vec::new();
        let mut first = 0;
        for (k, _) in self.lost.iter().enumerate().filter(|(_, l)| l.uses) {
            ways.extend((first < k).then_some((first, k)));
            first = k + 1;
        }
        let last = self.points.len() - 1;
        ways.extend((first < last).then_some((first, last)));
        ways
    }

    /// Every element of it.
    pub fn elements(&self) -> impl Iterator<Item = ElementId> + '_ {
        self.stretches.iter().flatten().copied()
    }

    /// Whether volts read in a condition are volts of this walk: the controls stand so, and the engine
    /// does as it does here. A starter that only clicks is read with the engine standing.
    pub fn is_loaded_in(&self, condition: &Condition) -> bool {
        let same = condition.positions == self.condition.positions;
        let cranking = self.cranks && condition.engine == Engine::Cranking;
        same && (condition.engine == self.condition.engine || cranking)
    }
}

/// The way that carries most of the current.
pub(crate) fn carrying<'p>(paths: &'p [Path], point: &OperatingPoint) -> Option<&'p Path> {
    let least = |path: &&Path| {
        let amps = path.elements.iter().map(|e| point.amps[e.index()].abs());
        amps.fold(f64::INFINITY, f64::min)
    };
    paths.iter().max_by(|a, b| least(a).total_cmp(&least(b)))
}

/// Whether an element is a part of this kind.
fn is_a(circuit: &Circuit, element: ElementId, kind: PartKind) -> bool {
    circuit.element(element).part.is_some_and(|part| circuit.part(part).kind == kind)
}

/// Whether a probe reaches it with everything plugged in.
fn has_point(circuit: &Circuit, node: NodeId) -> bool {
    let points = circuit.document().test_points.iter().enumerate();
    points.filter(|(_, p)| p.unplugged.is_none()).any(|(i, _)| circuit.test_point(i) == Some(node))
}
