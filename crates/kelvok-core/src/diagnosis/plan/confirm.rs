//! The test that confirms: once one unit holds nearly all the weight, what would point to it apart
//! from what already does, soonest.

use super::information::Cells;
use super::next_test::Why;
use super::planning::{Planning, Rated};
use super::stakes::{Stake, Stakes, stake};
use crate::diagnosis::belief::POINTS_TO;
use crate::diagnosis::candidates::Prospect;
use crate::diagnosis::evidence::{Evidence, Observation, SetUp, TestAction, Unit};

/// States that count on either side, the heaviest.
const MOST_OWN: usize = 30;
const MOST_OTHERS: usize = 60;
/// A test that would confirm less often than this is not made for it.
const WORTH_CHANCE: f64 = 0.4;
const MOST: usize = 3;

impl Planning<'_> {
    /// The tests that would confirm these units, the soonest first.
    pub fn confirming(&self, units: &[Unit]) -> Vec<Rated> {
        let stakes = self.for_and_against(units);
        if stakes.labels < 2 {
            return Vec::new();
        }
        let pointing = self.belief.pointing(&self.model.suspects, units);
        let pointing: Vec<_> = self.log.iter().filter(|e| pointing.contains(&e.sequence)).collect();
        let mut room = Cells::new(stakes.labels);
        // Roughly at first; those that look best once more, by what each state has learned.
        let mut rough: Vec<(f64, usize)> = Vec::new();
        for (p, prospect) in self.catalog.prospects.iter().enumerate() {
            if !self.is_new(prospect, &pointing) {
                continue;
            }
            room.information(&prospect.scale, &stakes);
            let chance = room.points_to_first(POINTS_TO);
            if chance >= WORTH_CHANCE && !self.forbidden(prospect) {
                let risk = self.catalog.risks[prospect.context];
                rough.push((chance / (self.minutes(prospect) + risk), p));
            }
        }
        rough.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.cmp(&b.1)));
        let confirms = |p: usize| {
            let prospect = &self.catalog.prospects[p];
            let bits = self.information(&mut room, &stakes, prospect);
            let bits = bits.unwrap_or_else(|| room.information(&prospect.scale, &stakes));
            let minutes = self.minutes(prospect);
            let confirms = room.points_to_first(POINTS_TO) >= WORTH_CHANCE;
            confirms.then_some(Rated {
                prospect: p,
                minutes,
                risk: self.catalog.risks[prospect.context],
                bits,
                why: Why::Confirms,
            })
        };
        rough.into_iter().map(|(_, p)| p).filter_map(confirms).take(MOST).collect()
    }

    /// The heaviest states that are of these units, and the heaviest that are not.
    fn for_and_against(&self, units: &[Unit]) -> Stakes {
        let (belief, suspects) = (self.belief, &self.model.suspects);
        let mut order: Vec<usize> = (0..belief.weights.len()).collect();
        order.sort_by(|a, b| belief.weights[*b].total_cmp(&belief.weights[*a]));
        let mut room = [MOST_OWN, MOST_OTHERS];
        let mut states = Vec::new();
        for state in order {
            let of = |h: &usize| units.contains(&suspects.unit_of(*h));
            let own = belief.wrong(state).find(of);
            let hypothesis = own.or_else(|| belief.wrong(state).next()).unwrap_or(0);
            let label = usize::from(own.is_none());
            if room[label] == 0 {
                continue;
            }
            room[label] -= 1;
            states.push(Stake { label, ..stake(suspects, belief, state, hypothesis) });
        }
        let labels = room.iter().zip([MOST_OWN, MOST_OTHERS]).filter(|(left, all)| *left < all);
        Stakes { labels: labels.count(), states }
    }

    /// Whether it would be of another kind, or in another set-up, than what points there already.
    fn is_new(&self, prospect: &Prospect, pointing: &[&Evidence]) -> bool {
        let set_up = &self.catalog.contexts[prospect.context].set_up;
        let shaken = set_up.iter().any(|s| matches!(s, SetUp::Shaken(_)));
        let same = |e: &&Evidence| match (prospect.action, e.observation) {
            (
                TestAction::Measure { instrument, .. },
                Observation::Read { instrument: with, .. },
            ) => instrument.measures_as(with) && *set_up == e.set_up,
            (TestAction::Look(looked), Observation::Inspected(at, _)) => looked == at,
            _ => false,
        };
        let tried = matches!(prospect.action, TestAction::Try(_));
        !tried && !shaken && !pointing.iter().any(same) && self.times_done(prospect) == 0
    }
}
