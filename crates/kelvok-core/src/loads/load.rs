//! What a machine feeds, and where its ohms, volts and amperes are read.

use crate::circuit::{
    Change, Circuit, Condition, Element, ElementId, ElementKind, Engine, Instrument, NodeId,
    OperatingPoint, Reading, Relays, operating_point, read, wires_between,
};
use crate::interlock::Judge;
use crate::machine::PartKind;
use serde::Serialize;
use std::collections::BTreeSet;

/// How its ohms change.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum LoadKind {
    /// Copper: as much as it is warm.
    Coil,
    /// Much, within seconds.
    GlowPlug,
    /// Cold it has a tenth of what it has when it burns: its ohms say no more than that it is whole.
    Lamp,
}

/// Where probes are put.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[allow(missing_docs)]
pub struct Probes {
    /// The plug that is off, by part.
    pub unplugged: Option<usize>,
    pub red: NodeId,
    pub black: NodeId,
}

/// Something that a machine feeds.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Load {
    pub element: ElementId,
    pub part: usize,
    pub kind: LoadKind,
    /// At 20 °C, and a share by which a good one may be off.
    pub ohms: f64,
    pub tolerance: f64,
    /// How the controls stand while it is on, if ordinary use has it on.
    pub on: Option<On>,
    /// Where its ohms are read, the key off; none where nothing reaches it alone.
    pub ohms_at: Option<Probes>,
    /// Where its ohms to the frame are read; none where it is grounded by its body.
    pub insulation_at: Option<Probes>,
}

/// How a load is on.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct On {
    pub condition: Condition,
    /// Across a good one, in V, and through it, in A.
    pub volts: f64,
    pub amps: f64,
    /// Where its volts are read.
    pub volts_at: Option<(NodeId, NodeId)>,
    /// Wires that carry what it draws and nothing else.
    pub clamp_at: Option<(NodeId, NodeId)>,
}

/// Loads of more ohms are inputs of a module.
const MOST_OHMS: f64 = 400.0;
/// A reading is one of the load where it moves with the load's ohms by this share.
const MOVES: f64 = 0.95;
/// Volts that are read across it are at most so many times its own.
const ACROSS: f64 = 1.03;
/// A wire that carries so much of what it draws, and no more than this.
const SHARE: (f64, f64) = (0.95, 1.08);
/// Plugs and wires between a load and where a probe reaches it.
const FAR: usize = 3;
/// Fewer amperes a clamp does not tell from none.
const CLAMPED: f64 = 0.5;
/// Less is not on.
const ON_SHARE: f64 = 0.5;
/// By so much its ohms are changed to see whether a reading moves.
const CHANGED: f64 = 1.25;

/// Everything that a machine feeds and that an ohmmeter, voltmeter or clamp judges, in the document's order.
pub fn loads(circuit: &Circuit) -> Vec<Load> {
    let own = |(element, e): (ElementId, &Element)| {
        let part = e.part?;
        let kind = kind_of(circuit, part)?;
        let fed = matches!(e.kind, ElementKind::Load | ElementKind::Coil(_));
        (fed && e.ohms > 0.0 && e.ohms < MOST_OHMS).then(|| Load {
            element,
            part,
            kind,
            ohms: e.ohms,
            tolerance: e.tolerance,
            on: on(circuit, element),
            ohms_at: (kind != LoadKind::Lamp).then(|| ohms_at(circuit, element)).flatten(),
            insulation_at: insulation_at(circuit, element),
        })
    };
    circuit.elements().filter_map(own).filter(|l| l.on.is_some() || l.ohms_at.is_some()).collect()
}

fn kind_of(circuit: &Circuit, part: usize) -> Option<LoadKind> {
    use PartKind::*;
    match circuit.part(part).kind {
        Clutch | Solenoid | Relay | FuelSolenoid => Some(LoadKind::Coil),
        GlowPlug => Some(LoadKind::GlowPlug),
        Lamp => Some(LoadKind::Lamp),
        _ => None,
    }
}

impl Load {
    /// What it draws at these volts, in A.
    pub fn draws(&self, volts: f64) -> f64 {
        volts / self.ohms
    }

    /// Whether ohms read there are its own. Engine and key are off.
    pub fn is_read_by(&self, circuit: &Circuit, probes: Probes) -> bool {
        moves(circuit, self.element, probes).is_some()
    }

    /// What a reading of ohms to the frame is.
    pub fn is_insulation(&self, probes: Probes) -> bool {
        self.insulation_at.is_some_and(|own| {
            own.unplugged == probes.unplugged
                && pair(own.red, own.black) == pair(probes.red, probes.black)
        })
    }

    /// Whether volts read there are those across it while it is on.
    pub fn is_across(
        &self,
        circuit: &Circuit,
        condition: &Condition,
        ends: (NodeId, NodeId),
    ) -> bool {
        self.on.as_ref().is_some_and(|on| {
            let at = on_at(circuit, self.element, condition);
            at.is_some_and(|point| {
                let own = across(circuit, &point, self.element);
                let shown = between(&point, ends).abs();
                own > ON_SHARE * on.volts && shown > own / ACROSS && shown < own * ACROSS
            })
        })
    }

    /// The share of what it draws that a clamp there shows; none where it is not on, or much else runs there.
    pub fn clamped(
        &self,
        circuit: &Circuit,
        condition: &Condition,
        ends: (NodeId, NodeId),
    ) -> Option<f64> {
        let on = self.on.as_ref()?;
        let point = on_at(circuit, self.element, condition)?;
        let own = point.amps[self.element.index()].abs();
        let there = in_wires(circuit, &point, ends).abs() / own.max(1e-9);
        (own > ON_SHARE * on.amps && there > SHARE.0 && there < SHARE.1).then_some(there)
    }
}

fn pair(a: NodeId, b: NodeId) -> (NodeId, NodeId) {
    if a.index() <= b.index() { (a, b) } else { (b, a) }
}

fn across(circuit: &Circuit, point: &OperatingPoint, element: ElementId) -> f64 {
    let e = circuit.element(element);
    between(point, (e.a, e.b)).abs()
}

fn between(point: &OperatingPoint, (a, b): (NodeId, NodeId)) -> f64 {
    let at = |node: NodeId| point.volts[node.index()].unwrap_or(0.0);
    at(a) - at(b)
}

fn in_wires(circuit: &Circuit, point: &OperatingPoint, ends: (NodeId, NodeId)) -> f64 {
    wires_between(circuit, ends)
        .map(|(id, forth)| if forth { point.amps[id.index()] } else { -point.amps[id.index()] })
        .sum()
}

/// A condition in which it is on, solved.
fn on_at(circuit: &Circuit, element: ElementId, condition: &Condition) -> Option<OperatingPoint> {
    let from = match condition.engine >= Engine::Running {
        true => Judge::new(circuit, &[]).running_relays(),
        false => Relays::default(),
    };
    let point = operating_point(circuit, condition, from, &[], &[]);
    (point.chatter.is_empty() && point.amps[element.index()].abs() > 0.01).then_some(point)
}

/// How it is on in ordinary use: with the engine standing and not cranking if that can be, and few controls
/// moved.
fn on(circuit: &Circuit, element: ElementId) -> Option<On> {
    let rest = Condition::at_rest(circuit);
    let moved =
        |c: &Condition| c.positions.iter().zip(&rest.positions).filter(|(a, b)| a != b).count();
    let used = circuit.normal_use();
    let standing = used.iter().map(|c| Condition { engine: Engine::Stopped, ..c.clone() });
    let mut all: Vec<Condition> = standing.chain(used.iter().cloned()).collect();
    all.retain(|c| c.engine != Engine::Cranking);
    all.sort_by_key(|c| (c.engine >= Engine::Running, held(circuit, c), moved(c)));
    let (condition, point) = all.into_iter().find_map(|condition| {
        let point = on_at(circuit, element, &condition)?;
        let draws = across(circuit, &point, element) > 6.0;
        draws.then_some((condition, point))
    })?;
    let (volts, amps) = (across(circuit, &point, element), point.amps[element.index()].abs());
    let near = near(circuit, element, None);
    let volts_at = best_pair(&near, |ends| {
        let shown = between(&point, ends).abs();
        (shown > volts / ACROSS && shown < volts * ACROSS).then_some((shown / volts - 1.0).abs())
    });
    let clamp_at = (amps >= CLAMPED).then(|| clamp(circuit, element, &point, amps)).flatten();
    Some(On { condition, volts, amps, volts_at, clamp_at })
}

/// A key that has to be held over.
fn held(circuit: &Circuit, condition: &Condition) -> bool {
    circuit
        .controls
        .iter()
        .zip(&condition.positions)
        .any(|(control, at)| control.positions[usize::from(*at)].returns_to.is_some())
}

/// Wires that carry its current alone, nearest to it.
fn clamp(
    circuit: &Circuit,
    element: ElementId,
    point: &OperatingPoint,
    amps: f64,
) -> Option<(NodeId, NodeId)> {
    let e = circuit.element(element);
    let mut found: Vec<(usize, NodeId, NodeId)> = Vec::new();
    for (far, node) in reached(circuit, e.a).into_iter().chain(reached(circuit, e.b)) {
        for (id, other, _) in circuit.around(node) {
            if circuit.element(*id).wire.is_none() {
                continue;
            }
            let there = in_wires(circuit, point, (node, *other));
            let share = there.abs() / amps.max(1e-9);
            if share > SHARE.0 && share < SHARE.1 {
                let ends = if there > 0.0 { (node, *other) } else { (*other, node) };
                found.push((far, ends.0, ends.1));
            }
        }
    }
    found.sort_by_key(|(far, red, black)| (*far, red.index(), black.index()));
    found.first().map(|(_, red, black)| (*red, *black))
}

/// Nodes that wires, plugs and lugs join to one, each with how many of them lie between.
fn reached(circuit: &Circuit, from: NodeId) -> Vec<(usize, NodeId)> {
    let mut all = vec![(0, from)];
    let mut at = 0;
    while at < all.len() {
        let (far, node) = all[at];
        at += 1;
        if far == FAR {
            continue;
        }
        for (id, other, _) in circuit.around(node) {
            use ElementKind::*;
            let joins = matches!(circuit.element(*id).kind, Wire | Joint | Ground);
            if joins && !all.iter().any(|(_, n)| n == other) {
                all.push((far + 1, *other));
            }
        }
    }
    all
}

/// Where a probe reaches either end of a load.
struct Near {
    a: Vec<(usize, NodeId)>,
    b: Vec<(usize, NodeId)>,
}

/// # Arguments
/// `unplugged` is the plug that is off: points in it are reached then, besides those that always are.
fn near(circuit: &Circuit, element: ElementId, unplugged: Option<usize>) -> Near {
    let off = unplugged.map(|part| circuit.part(part).id.as_str());
    let points = circuit.document().test_points.iter().enumerate();
    let open: BTreeSet<usize> = points
        .filter(|(_, p)| p.unplugged.is_none() || p.unplugged.as_deref() == off)
        .filter_map(|(i, _)| circuit.test_point(i).map(NodeId::index))
        .collect();
    let at = |node: NodeId| {
        let all = reached(circuit, node).into_iter();
        all.filter(|(_, n)| open.contains(&n.index())).collect::<Vec<_>>()
    };
    let e = circuit.element(element);
    Near { a: at(e.a), b: at(e.b) }
}

/// The pair of points that is good for something by the least, nearest first.
fn best_pair(
    near: &Near,
    off: impl Fn((NodeId, NodeId)) -> Option<f64>,
) -> Option<(NodeId, NodeId)> {
    let mut best: Option<(usize, f64, NodeId, NodeId)> = None;
    for (i, a) in &near.a {
        for (k, b) in near.b.iter().filter(|(_, b)| b != a) {
            let Some(off) = off((*a, *b)) else { continue };
            let own = (i + k, off, *a, *b);
            let better = best.is_none_or(|b| (own.0, own.1) < (b.0, b.1));
            best = if better { Some(own) } else { best };
        }
    }
    best.map(|(_, _, a, b)| (a, b))
}

fn ohms(circuit: &Circuit, probes: Probes, changes: &[Change]) -> Option<f64> {
    let mut all: Vec<Change> = probes.unplugged.map(Change::Apart).into_iter().collect();
    all.extend_from_slice(changes);
    let rest = Condition::at_rest(circuit);
    let ends = (probes.red, probes.black);
    let shown = read(circuit, &rest, Relays::default(), &all, Instrument::Ohmmeter, ends);
    match shown.ok()? {
        Reading::Ohms(ohms) => ohms,
        _ => None,
    }
}

/// How far ohms read there are off a load's own, where they are its own.
fn moves(circuit: &Circuit, element: ElementId, probes: Probes) -> Option<f64> {
    let own = circuit.element(element).ohms;
    let shown = ohms(circuit, probes, &[])?;
    let off = (shown / own - 1.0).abs();
    if off > (0.1_f64 / own).max(0.05) {
        return None;
    }
    let more = ohms(circuit, probes, &[Change::Ohms(element, own * CHANGED)])?;
    ((more / shown).ln() / CHANGED.ln() > MOVES).then_some(off)
}

fn ohms_at(circuit: &Circuit, element: ElementId) -> Option<Probes> {
    let plugs = std::iter::once(None).chain(plugs_near(circuit, element).into_iter().map(Some));
    let mut found = plugs.filter_map(|unplugged| {
        let near = near(circuit, element, unplugged);
        let ends = best_pair(&near, |(red, black)| {
            moves(circuit, element, Probes { unplugged, red, black })
        })?;
        Some(Probes { unplugged, red: ends.0, black: ends.1 })
    });
    found.next()
}

/// Plugs on the way to a load.
fn plugs_near(circuit: &Circuit, element: ElementId) -> Vec<usize> {
    let e = circuit.element(element);
    let nodes = reached(circuit, e.a).into_iter().chain(reached(circuit, e.b));
    let mut plugs: Vec<(usize, usize)> = Vec::new();
    for (far, node) in nodes {
        for (id, _, _) in circuit.around(node) {
            let own = circuit.element(*id);
            let plug = own.part.filter(|_| own.kind == ElementKind::Joint);
            let plug = plug.filter(|part| circuit.part(*part).kind == PartKind::Connector);
            if let Some(plug) = plug.filter(|p| !plugs.iter().any(|(_, own)| own == p)) {
                plugs.push((far, plug));
            }
        }
    }
    plugs.sort_unstable();
    plugs.into_iter().map(|(_, plug)| plug).collect()
}

/// From its pin to the frame with its plug off, where nothing but the winding's insulation lies between.
fn insulation_at(circuit: &Circuit, element: ElementId) -> Option<Probes> {
    let frame = circuit.usual_black()?;
    let black = circuit.test_point(frame)?;
    let rest = Condition::at_rest(circuit);
    plugs_near(circuit, element).into_iter().find_map(|plug| {
        let near = near(circuit, element, Some(plug));
        let reach = near.a.iter().chain(&near.b).map(|(_, node)| *node);
        let mut own = reach.filter(|node| *node != black);
        own.find_map(|red| {
            let changes = [Change::Apart(plug)];
            let at = (red, black);
            let shown = read(circuit, &rest, Relays::default(), &changes, Instrument::Ohmmeter, at);
            let open = matches!(shown, Ok(Reading::Ohms(None)));
            let e = circuit.element(element);
            // Only where a short of its own winding to the frame would show.
            let grounded = [
                changes[0],
                Change::Join { ends: (e.a, NodeId::REFERENCE), ohms: 1.0, when: None },
            ];
            let shorted =
                read(circuit, &rest, Relays::default(), &grounded, Instrument::Ohmmeter, at);
            let shows = matches!(shorted, Ok(Reading::Ohms(Some(_))));
            (open && shows).then_some(Probes { unplugged: Some(plug), red, black })
        })
    })
}
