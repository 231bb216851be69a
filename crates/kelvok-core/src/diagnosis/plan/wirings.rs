//! Which of the ways in which it may be wired a machine has: what tells them apart.

use super::information::Cells;
use super::next_test::NextTest;
use super::planning::{Planning, Rated};
use super::stakes::{Stake, Stakes};

/// A wiring that holds less than this is no longer asked about.
const OPEN: f64 = 0.02;
/// A test that tells less than this of how it is wired, in bits, is not worth the walk.
const WORTH_BITS: f64 = 0.05;

impl Planning<'_> {
    /// The test that tells most a minute of how the machine is wired, whatever it tells of what is wrong;
    /// `None` where that is known, or nothing at hand tells it.
    pub fn tells_wirings_apart(&self) -> Option<NextTest> {
        let open = self.belief.wirings.iter().filter(|share| **share > OPEN).count();
        if open < 2 {
            return None;
        }
        let wiring = |s: &Stake| {
            let first = self.belief.states[s.state].first;
            self.model.suspects.hypotheses[first].wiring
        };
        let states = self.stakes.states.iter().map(|s| Stake {
            label: wiring(s),
            weight: self.belief.weights[s.state],
            ..*s
        });
        let stakes = Stakes { states: states.collect(), labels: self.belief.wirings.len() };
        let mut room = Cells::new(stakes.labels);
        let mut tells: Vec<Rated> = self.rate_by(&stakes);
        tells.sort_by(|a, b| b.rank(a));
        tells.into_iter().find_map(|rated| {
            let prospect = &self.catalog.prospects[rated.prospect];
            let sharp = self.information(&mut room, &stakes, prospect).unwrap_or(rated.bits);
            (sharp.min(rated.bits) >= WORTH_BITS).then(|| self.spell_out(rated))
        })
    }
}
