//! What is read with the power on: volts, the test lamp, a lamp in place of a coil, AC volts.

use super::context::Context;
use super::safety::solid_with;
use super::survey::{Candidates, Point, measure};
use crate::circuit::{Condition, ElementKind, Instrument, NodeId};
use crate::diagnosis::evidence::{SetUp, TestAction, lamp_plug};
use crate::interlock::Track;
use std::collections::BTreeSet;

impl Candidates<'_> {
    /// Volts to the battery's negative post: as complained of, where each circuit ought to be
    /// complete, and at the charging circuit with the engine running. With the engine standing a
    /// test lamp too, its clip on that post: it draws through a joint that takes no current
    /// otherwise.
    pub(crate) fn volts(&self) -> Vec<Context> {
        let Some(black) = self.negative() else {
            return Vec::new();
        };
        let everywhere: BTreeSet<_> = self.plugged().iter().map(|p| p.node).collect();
        let at = |nodes| self.to_negative(Instrument::Voltmeter, nodes, black);
        let standing =
            [at(&everywhere), self.to_negative(Instrument::TestLamp, &everywhere, black)];
        let standing = standing.concat();
        let mut all = vec![self.context(&self.standing, vec![], standing.clone())];
        let mut shaken: BTreeSet<Condition> = BTreeSet::new();
        for track in &self.tracks {
            let Some(fed) = self.fed(track) else { continue };
            if fed != self.standing && !all.iter().any(|c| c.condition == fed) {
                all.push(self.context(&fed, vec![], standing.clone()));
            }
            shaken.insert(fed);
        }
        if self.complaint.at_times {
            for condition in shaken {
                for place in 0..self.circuit.document().places.len() {
                    let set_up = vec![SetUp::Shaken(place)];
                    all.push(self.context(&condition, set_up, at(&everywhere)));
                }
            }
        }
        if self.complaint.ran
            && let Some(running) = self.running()
        {
            let mut charging: BTreeSet<NodeId> = self
                .tracks
                .iter()
                .filter(|t| self.fed(t).is_none())
                .flat_map(Track::nodes)
                .collect();
            charging.extend(self.source_positive());
            all.push(self.context(&running, vec![], at(&charging)));
        }
        all
    }

    /// An instrument from each point on these nodes to the battery's negative post.
    fn to_negative(
        &self,
        instrument: Instrument,
        nodes: &BTreeSet<NodeId>,
        black: &Point,
    ) -> Vec<TestAction> {
        let plugged = self.plugged().into_iter();
        let on = plugged.filter(|p| nodes.contains(&p.node) && p.node != black.node);
        on.map(|red| measure(instrument, red, black)).collect()
    }

    /// Volts along a feed with the plug off its solenoid or clutch and a lamp drawing in its place:
    /// drops under load, while nothing moves.
    pub(crate) fn lamps_in_place(&self) -> Vec<Context> {
        let Some(black) = self.negative() else {
            return Vec::new();
        };
        let mut all = Vec::new();
        for track in &self.tracks {
            let (Some(fed), Some(plug)) = (self.fed(track), lamp_plug(self.circuit, track)) else {
                continue;
            };
            let along = track.feed_paths().iter().flat_map(|p| p.nodes.iter().copied()).collect();
            let actions = self.to_negative(Instrument::Voltmeter, &along, black);
            all.push(self.context(&fed, vec![SetUp::LampInPlace(plug)], actions));
        }
        all
    }

    /// Alternating volts between a stator's leads with the engine running, as it is plugged in and
    /// with one plug off that bares them.
    pub(crate) fn alternating(&self) -> Vec<Context> {
        let Some(running) = self.running().filter(|_| self.complaint.ran) else {
            return Vec::new();
        };
        let circuit = self.circuit;
        let windings =
            circuit.elements().filter(|(_, e)| matches!(e.kind, ElementKind::Winding { .. }));
        let mut all = Vec::new();
        for (_, winding) in windings {
            let [one, other] = [winding.a, winding.b].map(|n| solid_with(circuit, n));
            let bared: BTreeSet<Option<usize>> =
                self.points.iter().filter(|p| one.contains(&p.node)).map(|p| p.unplugged).collect();
            for plug in bared {
                let set_up: Vec<_> = plug.map(SetUp::Unplugged).into_iter().collect();
                let on = |nodes: &BTreeSet<NodeId>| -> Vec<&Point> {
                    let own = self.points.iter().filter(|p| p.unplugged == plug);
                    own.filter(|p| nodes.contains(&p.node)).collect()
                };
                let (reds, blacks) = (on(&one), on(&other));
                // Pin by pin: what lies side by side in one plug.
                let pairs = reds.into_iter().zip(blacks);
                let actions = pairs.map(|(a, b)| measure(Instrument::AcVoltmeter, a, b)).collect();
                all.push(self.context(&running, set_up, actions));
            }
        }
        all
    }
}
