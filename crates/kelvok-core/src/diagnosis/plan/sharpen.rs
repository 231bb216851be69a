//! What the best tests tell, once all that the readings taught is counted.
//!
//! A catalog knows what every fault would make a meter show on a machine as documented. By and by
//! each explanation has learned how flat this battery is and how great its own fault: two that
//! would read far apart on paper may by now expect the same, and another reading between them
//! would tell nothing. Working that out for every prospect at every step would take too long; so
//! only those that look best are looked at again, until the best have been.

use super::information::Cells;
use super::planning::{Planning, Rated, WORTH_BITS};
use super::stakes::{Stake, Stakes};
use super::strategy::Strategy;
use crate::circuit::Instrument;
use crate::diagnosis::belief::LEADS_OHMS;
use crate::diagnosis::candidates::{Prospect, Spot};
use crate::diagnosis::evidence::SetUp;
use crate::diagnosis::predict::Predicted;
use std::cmp::Ordering;
use std::collections::BinaryHeap;

impl Planning<'_> {
    /// The first tests of a strategy, none of which tells less than is worth the walk.
    pub fn sharpened(&self, strategy: Strategy, most: usize) -> Vec<Rated> {
        let mut room = Cells::new(self.stakes.labels);
        let mut sharpen =
            |rated: Rated| Rated { bits: self.bits(&mut room, rated).min(rated.bits), ..rated };
        let worth = |rated: &Rated| rated.bits >= WORTH_BITS;
        let ordered = self.order(strategy);
        if strategy != Strategy::BestSplit {
            return ordered.into_iter().map(sharpen).filter(worth).take(most).collect();
        }
        let mut heap: BinaryHeap<Next> =
            ordered.into_iter().map(|rated| Next { rated, sharp: false }).collect();
        let mut best = Vec::new();
        while let Some(Next { rated, sharp }) = heap.pop() {
            if sharp {
                best.push(rated);
                if best.len() == most {
                    break;
                }
                continue;
            }
            let rated = sharpen(rated);
            if worth(&rated) {
                heap.push(Next { rated, sharp: true });
            }
        }
        best
    }

    /// What a prospect tells, by what each state has learned.
    fn bits(&self, room: &mut Cells, rated: Rated) -> f64 {
        let prospect = &self.catalog.prospects[rated.prospect];
        let set_up = &self.catalog.contexts[prospect.context].set_up;
        // While a place is shaken other chances hold.
        if set_up.iter().any(|s| matches!(s, SetUp::Shaken(_))) {
            return rated.bits;
        }
        self.information(room, &self.stakes, prospect).unwrap_or(rated.bits)
    }

    /// What a measurement tells about such stakes; `None` of what is no measurement, and of what
    /// shows one thing or another whatever was learned.
    pub fn information(
        &self,
        room: &mut Cells,
        stakes: &Stakes,
        prospect: &Prospect,
    ) -> Option<f64> {
        let probe = prospect.action.probe(&self.model.circuit)?;
        if !matches!(probe.instrument, Instrument::Voltmeter | Instrument::Ohmmeter) {
            return None;
        }
        let dictionary = &self.catalog.dictionaries[prospect.context];
        let scenarios = &self.model.suspects.scenarios;
        let sight = dictionary.sight(probe);
        let spot = |stake: &Stake, scenario: usize| {
            let unknowns = &self.belief.unknowns[stake.state];
            match sight[scenario] {
                Predicted::Volts { mean, swing, slope } => {
                    let share = mean / dictionary.emf(&scenarios[scenario]);
                    let (mean, spread) = unknowns.expected_volts(share, slope);
                    Spot::volts(mean, spread.hypot(swing))
                }
                Predicted::Ohms { ohms: Some(ohms), slope } => {
                    let (more, spread) = unknowns.expected_size(slope);
                    Spot::ln_ohms((ohms + LEADS_OHMS).ln() + more, spread)
                }
                other => Spot::of(other),
            }
        };
        Some(room.information_by(stakes, |stake, put| {
            stake.put(spot(stake, stake.scenario), spot(stake, stake.sound), put);
        }))
    }
}

/// A test that is looked at next: the most information a minute first.
struct Next {
    rated: Rated,
    sharp: bool,
}

impl Ord for Next {
    fn cmp(&self, other: &Self) -> Ordering {
        self.rated.rank(&other.rated)
    }
}

impl PartialOrd for Next {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl PartialEq for Next {
    fn eq(&self, other: &Self) -> bool {
        self.cmp(other).is_eq()
    }
}

impl Eq for Next {}
