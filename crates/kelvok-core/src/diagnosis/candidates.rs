//! Every test that could be made: reachable points x instrument x condition x set-up.

use super::predict::Probe;
use super::{SetUp, Suspects};
use crate::circuit::{Circuit, Condition, ElementKind, Instrument, NodeId, PlungerId};
use crate::interlock::Track;
use crate::machine::{Expression, PartKind};
use std::collections::BTreeSet;

/// Probes that are put to the machine in one condition and set-up.
pub(super) struct Context {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub probes: Vec<PlacedProbe>,
}

/// A probe with the test points (by index) that its leads go to.
#[derive(Clone, Copy, Debug)]
pub(super) struct PlacedProbe {
    pub probe: Probe,
    pub red: usize,
    pub black: usize,
}

/// A test point that lies on a node.
struct Point {
    index: usize,
    node: NodeId,
    /// The connector, by part index, that must be unplugged to reach it.
    unplugged: Option<usize>,
}

/// All candidates on the suspects' tracks, for a complaint in a condition.
pub(super) fn candidates(
    circuit: &Circuit,
    suspects: &Suspects,
    condition: &Condition,
) -> Vec<Context> {
    let points = points(circuit);
    let plugged: Vec<&Point> = points.iter().filter(|p| p.unplugged.is_none()).collect();
    let dead = power_off(circuit, condition);
    let mut contexts = Vec::new();

    // Volts to the battery's negative post at every point of the tracks, as complained of.
    let nodes: BTreeSet<_> = suspects.tracks.iter().flat_map(Track::nodes).collect();
    let end = suspects.tracks.first().map(|t| t.to);
    if let Some(black) = plugged.iter().find(|p| Some(p.node) == end) {
        let on_track = plugged.iter().filter(|p| nodes.contains(&p.node) && p.node != black.node);
        contexts.push(Context {
            condition: condition.clone(),
            set_up: Vec::new(),
            probes: on_track.map(|red| placed(Instrument::Voltmeter, red, black)).collect(),
        });
    }

    // Ohms from each point to the next, key off, everything plugged in.
    let mut in_order = BTreeSet::new();
    for track in &suspects.tracks {
        for path in track.feed_paths() {
            let on_path: Vec<_> =
                path.nodes.iter().filter_map(|n| plugged.iter().find(|p| p.node == *n)).collect();
            in_order.extend(on_path.windows(2).map(|pair| (pair[0].index, pair[1].index)));
        }
        in_order.extend(across(circuit, &[track.load], &plugged));
    }
    contexts.push(Context {
        condition: dead.clone(),
        set_up: Vec::new(),
        probes: ohms_between(&points, in_order),
    });

    let connectors: BTreeSet<_> = points.iter().filter_map(|p| p.unplugged).collect();
    for connector in connectors {
        let reachable: Vec<_> =
            points.iter().filter(|p| p.unplugged.is_none_or(|c| c == connector)).collect();
        let own: Vec<_> =
            points.iter().filter(|p| p.unplugged == Some(connector)).map(|p| p.node).collect();
        // Elements in scope with at least one end bared by unplugging.
        let bared: Vec<_> = suspects
            .scope
            .iter()
            .copied()
            .filter(|id| {
                let e = circuit.element(*id);
                let used = matches!(
                    e.kind,
                    ElementKind::Contact(_) | ElementKind::Coil(_) | ElementKind::Load
                );
                used && (own.contains(&e.a) || own.contains(&e.b))
            })
            .collect();
        let pairs: BTreeSet<_> = across(circuit, &bared, &reachable).collect();
        if pairs.is_empty() {
            continue;
        }
        let part = circuit.element(bared[0]).part;
        // A key switch is tried in the position complained of; nothing else needs the key.
        let by_key = part.is_some_and(|p| circuit.part(p).kind == PartKind::KeySwitch);
        let condition = if by_key { condition } else { &dead };
        let plunger = circuit.plungers.iter().position(|p| Some(p.part) == part);
        let mut set_ups = vec![vec![SetUp::Unplugged(connector)]];
        if let Some(plunger) = plunger {
            let by_hand = SetUp::PressedByHand(PlungerId(plunger as u16));
            set_ups.push(vec![SetUp::Unplugged(connector), by_hand]);
        }
        for set_up in set_ups {
            contexts.push(Context {
                condition: condition.clone(),
                set_up,
                probes: ohms_between(&points, pairs.clone()),
            });
        }
    }
    contexts
}

fn points(circuit: &Circuit) -> Vec<Point> {
    circuit
        .document()
        .test_points
        .iter()
        .enumerate()
        .filter_map(|(index, point)| {
            Some(Point {
                index,
                node: circuit.terminal(&point.terminal).ok()?,
                unplugged: match &point.unplugged {
                    Some(id) => Some(circuit.part_named(id)?),
                    None => None,
                },
            })
        })
        .collect()
}

fn placed(instrument: Instrument, red: &Point, black: &Point) -> PlacedProbe {
    let probe = Probe { instrument, red: red.node, black: black.node };
    PlacedProbe { probe, red: red.index, black: black.index }
}

/// Pairs of points, by index, at the two ends of each of these elements.
fn across<'a>(
    circuit: &'a Circuit,
    elements: &'a [crate::circuit::ElementId],
    points: &'a [&Point],
) -> impl Iterator<Item = (usize, usize)> + 'a {
    elements.iter().filter_map(move |id| {
        let e = circuit.element(*id);
        // Where two points share a node, the one that unplugging bares is meant.
        let at = |node| {
            let all = points.iter().filter(|p| p.node == node);
            all.max_by_key(|p| p.unplugged.is_some()).map(|p| p.index)
        };
        Some((at(e.a)?, at(e.b)?))
    })
}

fn ohms_between(
    points: &[Point],
    pairs: impl IntoIterator<Item = (usize, usize)>,
) -> Vec<PlacedProbe> {
    let point = |index| points.iter().find(|p| p.index == index);
    pairs
        .into_iter()
        .filter_map(|(a, b)| Some(placed(Instrument::Ohmmeter, point(a)?, point(b)?)))
        .collect()
}

/// The same condition with the key switch at rest.
pub(super) fn power_off(circuit: &Circuit, condition: &Condition) -> Condition {
    let rest = Condition::at_rest(circuit);
    let mut dead = condition.clone();
    for part in circuit.document().parts.iter().filter(|p| p.kind == PartKind::KeySwitch) {
        for text in part.contacts.iter().filter_map(|c| c.made_when.as_deref()) {
            let Ok(expression) = Expression::parse(text) else {
                continue;
            };
            for term in expression.terms() {
                if let Some(i) = circuit.controls.iter().position(|c| c.id == term.control) {
                    dead.positions[i] = rest.positions[i];
                }
            }
        }
    }
    dead
}
