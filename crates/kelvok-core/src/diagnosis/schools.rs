//! Schools of practice: what each would do next, as a plan of its own.
//!
//! All share suspects, likelihoods, costs and the rule for stopping; a school is only the order in
//! which tests are made. Where its own tests have nothing left to tell, it goes on by best split.

use super::planner::{Planning, Rated};
use super::{Doing, Observation, Sense};
use crate::circuit::{Engine, Instrument, NodeId};
use crate::interlock::Track;
use crate::machine::PartKind;
use serde::{Deserialize, Serialize};

/// Where to start, and how to go on.
#[derive(
    Clone, Copy, Debug, Default, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum School {
    /// The most information a minute, whatever it is.
    #[default]
    BestSplit,
    /// Volts, point by point, from the battery to the load.
    BatteryForward,
    /// Volts, point by point, from the load back to the battery.
    LoadBack,
    /// The likeliest of what is quickly looked at, first.
    QuickAndLikely,
    /// The kill wire swept from one point.
    KillSweep,
    /// What else works and what does not, before a meter is picked up.
    ComplaintLogic,
}

impl School {
    pub const ALL: [Self; 6] = [
        Self::BestSplit,
        Self::BatteryForward,
        Self::LoadBack,
        Self::QuickAndLikely,
        Self::KillSweep,
        Self::ComplaintLogic,
    ];

    /// Its name in the command line and the API.
    pub fn name(self) -> &'static str {
        match self {
            Self::BestSplit => "best-split",
            Self::BatteryForward => "battery-forward",
            Self::LoadBack => "load-back",
            Self::QuickAndLikely => "quick-and-likely",
            Self::KillSweep => "kill-sweep",
            Self::ComplaintLogic => "complaint-logic",
        }
    }
}

impl Planning<'_> {
    /// Tests in the order in which a school would make them.
    pub fn order(&self, school: School) -> Vec<Rated> {
        let mut rated = self.rate();
        rated.sort_by(|a, b| b.rank(a));
        let doing = |r: &Rated| self.catalog.prospects[r.prospect].doing;
        let context =
            |r: &Rated| &self.catalog.contexts[self.catalog.prospects[r.prospect].context];
        match school {
            School::BestSplit => {}
            School::BatteryForward => self.along(&mut rated, false),
            School::LoadBack => self.along(&mut rated, true),
            // What a glance settles goes first, by its chance of being it.
            School::QuickAndLikely => rated.sort_by_key(|r| !matches!(doing(r), Doing::Look(_))),
            School::KillSweep => rated.sort_by_key(|r| !context(r).sweep),
            School::ComplaintLogic => rated.sort_by_key(|r| !matches!(doing(r), Doing::Try(_))),
        }
        rated
    }

    /// Volts along the track of the load that does not work go first, in their order on it.
    fn along(&self, rated: &mut [Rated], backwards: bool) {
        let Some(track) = self.track_complained_of() else { return };
        let along: Vec<NodeId> = track.along();
        let standing =
            crate::circuit::Condition { engine: Engine::Stopped, ..self.usual().clone() };
        let place = |r: &Rated| -> usize {
            let prospect = &self.catalog.prospects[r.prospect];
            let context = &self.catalog.contexts[prospect.context];
            let Doing::Measure { instrument: Instrument::Voltmeter, red, .. } = prospect.doing
            else {
                return usize::MAX;
            };
            if context.condition != standing || !context.set_up.is_empty() {
                return usize::MAX;
            }
            let node = super::catalog::node(self.circuit, red);
            let at = along.iter().position(|n| Some(*n) == node);
            match (at, backwards) {
                (Some(at), false) => at,
                (Some(at), true) => along.len() - at,
                (None, _) => usize::MAX,
            }
        };
        rated.sort_by_key(place);
    }

    /// The track whose load is complained of: the starter's, unless the last thing noticed in this
    /// condition is about something else.
    fn track_complained_of(&self) -> Option<Track> {
        let circuit = self.circuit;
        let sensed = self.log.iter().rev().find_map(|e| match e.observation {
            Observation::Sensed(sensed) if e.condition == *self.usual() => Some(sensed.sense()),
            _ => None,
        });
        let feeds = |part: usize| match sensed {
            Some(Sense::Blades) => circuit.part(part).kind == PartKind::Clutch,
            Some(Sense::Engine) => {
                matches!(circuit.part(part).kind, PartKind::IgnitionCoil | PartKind::FuelSolenoid)
            }
            Some(Sense::Lamp(lamp)) => super::lamp_part(circuit, lamp) == Some(part),
            _ => matches!(circuit.part(part).kind, PartKind::Solenoid | PartKind::Starter),
        };
        let all = circuit.document().circuits.iter();
        let mut tracks = all.filter_map(|c| Track::lay_out(circuit, &c.id).ok());
        let first = tracks.next()?;
        let load = |track: &Track| circuit.element(track.load).part;
        let wanted = |track: &Track| load(track).is_some_and(feeds);
        if wanted(&first) { Some(first) } else { tracks.find(wanted).or(Some(first)) }
    }
}
