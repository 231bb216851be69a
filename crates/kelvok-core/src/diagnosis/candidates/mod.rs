//! Everything that could be done next: points x instruments x conditions x set-ups, things tried on
//! the machine, and looks.

mod kill;
mod ohms;
mod tries;
mod volts;

pub(super) use kill::sweep_set_ups;

use super::safety::{Hazards, key_controls, power_off, solid_with};
use super::{Doing, Evidence, Observation, SetUp, Suspects};
use crate::circuit::{
    Circuit, Condition, ElementKind, Engine, Instrument, NodeId, every_condition,
};
use crate::interlock::{Ladder, Track, nearest_complete};
use std::collections::HashMap;

/// Things that can be done in one condition and set-up.
#[derive(Clone, Debug)]
pub(super) struct Context {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub doings: Vec<Doing>,
    /// Part of the sweep of a kill wire.
    pub sweep: bool,
}

/// A test point that lies on a node.
#[derive(Clone, Copy, Debug)]
struct Point {
    index: usize,
    node: NodeId,
    /// The connector, by part index, that must be unplugged to reach it.
    unplugged: Option<usize>,
}

/// What the log says of where to look.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub(super) struct Complaint {
    /// The condition that is complained of.
    pub condition: Condition,
    /// The engine is known to run, at least for a while.
    pub ran: bool,
    /// The engine is known to crank.
    pub cranked: bool,
    /// It comes and goes.
    pub at_times: bool,
}

impl Complaint {
    /// What a log complains of; `condition` where it says nothing.
    pub fn of(log: &[Evidence], condition: &Condition) -> Self {
        let condition = condition.clone();
        // What was repaired is expected to run.
        let repaired = |e: &Evidence| matches!(e.observation, Observation::Repaired(_));
        let running = |e: &Evidence| e.condition.engine >= Engine::Running;
        let ran = log.iter().any(|e| running(e) || repaired(e));
        let cranked = ran || log.iter().any(|e| e.condition.engine == Engine::Cranking);
        Self { condition, ran, cranked, at_times: log.iter().any(|e| e.at_times) }
    }
}

/// All there is to do about a complaint.
pub(super) fn contexts(
    circuit: &Circuit,
    suspects: &Suspects,
    hazards: &Hazards,
    complaint: &Complaint,
) -> Vec<Context> {
    let all = Candidates::of(circuit, hazards, complaint);
    let mut contexts = all.volts();
    contexts.extend(all.lamps_in_place());
    contexts.extend(all.alternating());
    contexts.extend(all.ohms());
    contexts.extend(all.diodes());
    contexts.extend(all.shorts());
    let bared = all.unplugged();
    contexts.extend(all.with_modules_off(&bared));
    contexts.extend(bared);
    contexts.extend(all.sweeps());
    contexts.extend(all.tries());
    contexts.push(all.looks(suspects));
    for context in &mut contexts {
        let (condition, set_up) = (&context.condition, &context.set_up);
        context.doings.retain(|doing| match doing {
            Doing::Measure { instrument, red, black } => {
                let node = |i: &usize| all.points.iter().find(|p| p.index == *i).map(|p| p.node);
                let (Some(red), Some(black)) = (node(red), node(black)) else {
                    return false;
                };
                hazards.allows(set_up, condition, (*instrument, [red, black]))
            }
            _ => true,
        });
    }
    // One context a condition and set-up.
    let mut merged: Vec<Context> = Vec::with_capacity(contexts.len());
    let mut at = HashMap::new();
    for context in contexts.into_iter().filter(|c| !c.doings.is_empty()) {
        let next = merged.len();
        let key = (context.condition.clone(), context.set_up.clone());
        let place = *at.entry(key).or_insert(next);
        if place == next {
            merged.push(context);
            continue;
        }
        let own = &mut merged[place];
        own.sweep |= context.sweep;
        let new = context.doings.into_iter().filter(|d| !own.doings.contains(d));
        let new: Vec<_> = new.collect();
        own.doings.extend(new);
    }
    merged
}

struct Candidates<'a> {
    circuit: &'a Circuit,
    hazards: &'a Hazards,
    complaint: &'a Complaint,
    points: Vec<Point>,
    tracks: Vec<Track>,
    ladders: Vec<Ladder>,
    /// As complained of, engine standing.
    standing: Condition,
    /// The same with the key off.
    dead: Condition,
}

impl<'a> Candidates<'a> {
    fn of(circuit: &'a Circuit, hazards: &'a Hazards, complaint: &'a Complaint) -> Self {
        let named = &circuit.document().circuits;
        let tracks = named.iter().filter_map(|c| Track::lay_out(circuit, &c.id).ok());
        let ladders = named.iter().filter(|c| c.load.is_none());
        let ladders = ladders.filter_map(|c| Ladder::lay_out(circuit, &c.id).ok());
        let standing = Condition { engine: Engine::Stopped, ..complaint.condition.clone() };
        Self {
            circuit,
            hazards,
            complaint,
            points: points(circuit),
            tracks: tracks.collect(),
            ladders: ladders.collect(),
            dead: power_off(circuit, &standing),
            standing,
        }
    }

    fn plugged(&self) -> Vec<&Point> {
        self.points.iter().filter(|p| p.unplugged.is_none()).collect()
    }

    /// The test point on the battery's negative post, or failing that on the reference.
    fn negative(&self) -> Option<&Point> {
        let source = self.circuit.elements().find_map(|(_, e)| match e.kind {
            ElementKind::Source { .. } => Some(e.a),
            _ => None,
        });
        let at =
            |node: NodeId| self.points.iter().find(|p| p.node == node && p.unplugged.is_none());
        source.and_then(at).or_else(|| at(NodeId::REFERENCE))
    }

    fn context(&self, condition: &Condition, set_up: Vec<SetUp>, doings: Vec<Doing>) -> Context {
        Context { condition: condition.clone(), set_up, doings, sweep: false }
    }

    fn source_positive(&self) -> Option<NodeId> {
        self.circuit.elements().find_map(|(_, e)| match e.kind {
            ElementKind::Source { .. } => Some(e.b),
            _ => None,
        })
    }

    /// The condition nearest to the complaint in which a sound machine feeds the track's load from
    /// its battery, engine standing.
    fn fed(&self, track: &Track) -> Option<Condition> {
        let positive = self.source_positive()?;
        let from_battery = solid_with(self.circuit, positive).contains(&track.from);
        from_battery.then(|| nearest_complete(self.circuit, track, &self.standing)).flatten()
    }

    /// The first condition of ordinary use with the engine running.
    fn running(&self) -> Option<Condition> {
        self.circuit.normal_use().into_iter().find(|c| c.engine >= Engine::Running)
    }

    /// The machine as it stands, engine off, with the key in each position it stays in.
    fn key_turned(&self) -> Vec<Condition> {
        let circuit = self.circuit;
        let mut all = Vec::new();
        for key in key_controls(circuit) {
            for (position, known) in circuit.controls[key].positions.iter().enumerate() {
                let mut condition = self.dead.clone();
                condition.positions[key] = position as u8;
                let stays = known.returns_to.is_none() && condition != self.dead;
                if stays && circuit.can_occur(&condition) {
                    all.push(condition);
                }
            }
        }
        all
    }

    /// The points that can be reached with these connectors off.
    fn reachable(&self, set_up: &[SetUp]) -> Vec<&Point> {
        let off = |c: usize| set_up.contains(&SetUp::Unplugged(c));
        self.points.iter().filter(|p| p.unplugged.is_none_or(off)).collect()
    }
}

fn unplugged(connectors: &[usize]) -> Vec<SetUp> {
    connectors.iter().map(|c| SetUp::Unplugged(*c)).collect()
}

fn measure(instrument: Instrument, red: &Point, black: &Point) -> Doing {
    Doing::Measure { instrument, red: red.index, black: black.index }
}

fn points(circuit: &Circuit) -> Vec<Point> {
    let all = circuit.document().test_points.iter().enumerate();
    all.filter_map(|(index, point)| {
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

/// Conditions with the engine standing, in order of how many controls differ from this one.
pub(super) fn by_moves(circuit: &Circuit, from: &Condition) -> Vec<Condition> {
    let mut all = every_condition(circuit);
    let moved =
        |c: &Condition| c.positions.iter().zip(&from.positions).filter(|(a, b)| a != b).count();
    all.sort_by_key(moved);
    all
}
