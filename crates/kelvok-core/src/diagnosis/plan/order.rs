//! Tests in the order in which a strategy would make them.

use super::planning::{Planning, Rated};
use super::strategy::Strategy;
use crate::circuit::{Engine, Instrument, NodeId};
use crate::diagnosis::evidence::{Observation, Sense, TestAction, lamp_part};
use crate::interlock::Track;
use crate::machine::Shows;

impl Planning<'_> {
    /// Tests in the order in which a strategy would make them.
    pub fn order(&self, strategy: Strategy) -> Vec<Rated> {
        let mut rated = self.rate();
        rated.sort_by(|a, b| b.rank(a));
        let action = |r: &Rated| self.catalog.prospects[r.prospect].action;
        let context =
            |r: &Rated| &self.catalog.contexts[self.catalog.prospects[r.prospect].context];
        match strategy {
            Strategy::BestSplit => {}
            Strategy::BatteryForward => {
                self.along(&mut rated, false);
            }
            Strategy::LoadBack => {
                self.along(&mut rated, true);
            }
            Strategy::HalfSplit => {
                // A point that tells nothing any more is not among them.
                let points = self.along(&mut rated, false);
                rated[..points].rotate_left(points / 2);
            }
            // What a glance settles goes first, by its chance of being it.
            Strategy::QuickAndLikely => {
                rated.sort_by_key(|r| !matches!(action(r), TestAction::Look(_)))
            }
            Strategy::KillSweep => rated.sort_by_key(|r| !context(r).sweep),
            Strategy::ComplaintLogic => {
                rated.sort_by_key(|r| !matches!(action(r), TestAction::Try(_)))
            }
        }
        rated
    }

    /// Volts along the track of the load that does not work go first, in their order on it; how many
    /// they are.
    fn along(&self, rated: &mut [Rated], backwards: bool) -> usize {
        let Some(track) = self.track_complained_of() else { return 0 };
        let along: Vec<NodeId> = track.along();
        let standing =
            crate::circuit::Condition { engine: Engine::Stopped, ..self.usual().clone() };
        let place = |r: &Rated| -> usize {
            let prospect = &self.catalog.prospects[r.prospect];
            let context = &self.catalog.contexts[prospect.context];
            let TestAction::Measure { instrument: Instrument::Voltmeter, red, .. } =
                prospect.action
            else {
                return usize::MAX;
            };
            if context.condition != standing || !context.set_up.is_empty() {
                return usize::MAX;
            }
            let node = self.model.circuit.test_point(red);
            let at = along.iter().position(|n| Some(*n) == node);
            match (at, backwards) {
                (Some(at), false) => at,
                (Some(at), true) => along.len() - at,
                (None, _) => usize::MAX,
            }
        };
        rated.sort_by_key(place);
        rated.iter().take_while(|r| place(r) < usize::MAX).count()
    }

    /// The track whose load is complained of: the starter's, unless the last thing noticed in this
    /// condition is about something else.
    fn track_complained_of(&self) -> Option<Track> {
        let circuit = &*self.model.circuit;
        let sensed = self.log.iter().rev().find_map(|e| match e.observation {
            Observation::Sensed(sensed) if e.condition == *self.usual() => Some(sensed.sense()),
            _ => None,
        });
        let shows = |part: usize, what: Shows| circuit.part(part).kind.shows() == Some(what);
        let feeds = |part: usize| match sensed {
            Some(Sense::Blades) => shows(part, Shows::Blades),
            Some(Sense::Engine) => shows(part, Shows::Engine),
            Some(Sense::Lamp(lamp)) => lamp_part(circuit, lamp) == Some(part),
            _ => shows(part, Shows::Starter),
        };
        let all = circuit.document().circuits.iter();
        let mut tracks = all.filter_map(|c| Track::lay_out(circuit, &c.id).ok());
        let first = tracks.next()?;
        let load = |track: &Track| circuit.element(track.load).part;
        let wanted = |track: &Track| load(track).is_some_and(feeds);
        if wanted(&first) { Some(first) } else { tracks.find(wanted).or(Some(first)) }
    }
}
