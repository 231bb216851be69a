//! The machine surveyed for tests: its points, tracks and kill ladders.

use super::context::{Complaint, Context};
use super::safety::{Hazards, key_controls, power_off, solid_with};
use crate::circuit::{Circuit, Condition, Engine, Instrument, NodeId};
use crate::diagnosis::evidence::{SetUp, TestAction};
use crate::interlock::{Ladder, Track, nearest_complete};

/// A test point that lies on a node.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Point {
    pub index: usize,
    pub node: NodeId,
    /// The connector, by part index, that must be unplugged to reach it.
    pub unplugged: Option<usize>,
}

pub(crate) struct Candidates<'a> {
    pub circuit: &'a Circuit,
    pub hazards: &'a Hazards,
    pub complaint: &'a Complaint,
    pub points: Vec<Point>,
    pub tracks: Vec<Track>,
    pub ladders: Vec<Ladder>,
    /// As complained of, engine standing.
    pub standing: Condition,
    /// The same with the key off.
    pub dead: Condition,
}

impl<'a> Candidates<'a> {
    pub fn of(circuit: &'a Circuit, hazards: &'a Hazards, complaint: &'a Complaint) -> Self {
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

    /// The instrument of a measurement and the nodes its probes touch.
    pub fn probes(&self, action: TestAction) -> Option<(Instrument, [NodeId; 2])> {
        let TestAction::Measure { instrument, red, black } = action else { return None };
        let node = |index| self.points.iter().find(|p| p.index == index).map(|p| p.node);
        Some((instrument, [node(red)?, node(black)?]))
    }

    pub fn plugged(&self) -> Vec<&Point> {
        self.points.iter().filter(|p| p.unplugged.is_none()).collect()
    }

    /// Where black is for volts.
    pub fn negative(&self) -> Option<&Point> {
        let usual = self.circuit.usual_black()?;
        self.points.iter().find(|p| p.index == usual)
    }

    pub fn context(
        &self,
        condition: &Condition,
        set_up: Vec<SetUp>,
        actions: Vec<TestAction>,
    ) -> Context {
        Context { condition: condition.clone(), set_up, actions, sweep: false }
    }

    pub fn source_positive(&self) -> Option<NodeId> {
        self.circuit.posts().map(|(_, positive)| positive)
    }

    /// The condition nearest to the complaint in which a sound machine feeds the track's load from
    /// its battery, engine standing.
    pub fn fed(&self, track: &Track) -> Option<Condition> {
        let positive = self.source_positive()?;
        let from_battery = solid_with(self.circuit, positive).contains(&track.from);
        from_battery.then(|| nearest_complete(self.circuit, track, &self.standing)).flatten()
    }

    /// The first condition of ordinary use with the engine running.
    pub fn running(&self) -> Option<Condition> {
        self.circuit.normal_use().into_iter().find(|c| c.engine >= Engine::Running)
    }

    /// The machine as it stands, engine off, with the key in each position it stays in.
    pub fn key_turned(&self) -> Vec<Condition> {
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
    pub fn reachable(&self, set_up: &[SetUp]) -> Vec<&Point> {
        let off = |c: usize| set_up.contains(&SetUp::Unplugged(c));
        self.points.iter().filter(|p| p.unplugged.is_none_or(off)).collect()
    }
}

pub(crate) fn unplugged(connectors: &[usize]) -> Vec<SetUp> {
    connectors.iter().map(|c| SetUp::Unplugged(*c)).collect()
}

pub(crate) fn measure(instrument: Instrument, red: &Point, black: &Point) -> TestAction {
    TestAction::Measure { instrument, red: red.index, black: black.index }
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
