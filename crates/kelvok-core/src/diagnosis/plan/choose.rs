//! The next test.

use super::groups::groups;
use super::next_test::{Conclusion, NextTest, Plan, Why};
use super::planning::{NAMED_AT, Planning, Rated};
use super::strategy::Strategy;
use crate::circuit::Condition;
use crate::diagnosis::candidates::{Context, Prospect};
use crate::diagnosis::evidence::{Evidence, Observation, Sense, SetUp, TestAction};

/// Tests shown beside the best.
const MOST_TESTS: usize = 5;
/// Looks that make a walk-round.
const MOST_LOOKS: usize = 9;

/// How a test parts the suspects.
#[derive(Clone, Debug)]
pub(crate) struct Parting {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub action: TestAction,
    /// A number by scenario, the same for those that answer alike.
    pub classes: Vec<u8>,
}

impl Planning<'_> {
    /// What a strategy does next, and what stands.
    pub fn plan(&self, strategy: Strategy) -> Plan {
        let (belief, suspects) = (self.belief, &self.model.suspects);
        let groups = groups(suspects, belief, self.catalog);
        let conclusion = groups.first().and_then(|group| {
            let probability = group.iter().map(|u| belief.of_unit(suspects, *u)).sum::<f64>();
            let probability = probability.min(1.0);
            (probability >= NAMED_AT).then(|| Conclusion {
                confirmed: belief.confirmed(suspects, group),
                units: group.clone(),
                probability,
            })
        });
        let recheck = self.recheck();
        if !recheck.is_empty() {
            let tests = recheck.into_iter().take(MOST_TESTS).map(|r| self.spell_out(r)).collect();
            return Plan { reproduce: None, tests, groups, conclusion: None };
        }
        let best_split = strategy == Strategy::BestSplit;
        let unsure = conclusion.as_ref().filter(|c| best_split && !c.confirmed);
        let mut best = unsure.map_or_else(Vec::new, |c| self.confirming(&c.units));
        let further = self.sharpened(strategy, MOST_TESTS);
        let new = |r: &Rated| best.iter().all(|other| other.prospect != r.prospect);
        let further: Vec<_> = further.into_iter().filter(new).collect();
        best.extend(further);
        best.truncate(MOST_TESTS);
        let tests = best.into_iter().map(|r| self.spell_out(r)).collect();
        Plan { reproduce: self.reproduce(), tests, groups, conclusion }
    }

    /// To see for oneself what is complained of: what was told is tried as it was told, and where nothing
    /// was, the key is turned. After a repair it is tried once more.
    fn reproduce(&self) -> Option<NextTest> {
        let here = |e: &&Evidence| e.is_behavior_as_built() && e.condition == *self.usual();
        let repair = self.log.iter().rposition(Evidence::repairs);
        let since = &self.log[repair.map_or(0, |at| at + 1)..];
        if since.iter().filter(here).any(Evidence::is_done) {
            return None;
        }
        let told = self.log.iter().rev().find(here);
        // Who reads volts while it does what was told sees it do so.
        let seen = |told: &Evidence| {
            let read = |e: &Evidence| matches!(e.observation, Observation::Read { .. });
            let here = self.log.iter().filter(|e| e.condition == told.condition);
            here.filter(|e| e.set_up.is_empty()).any(|e| read(e) && e.is_done())
        };
        if repair.is_none() && told.is_some_and(seen) {
            return None;
        }
        let sense = match told.map(|e| (e.at_times, e.observation)) {
            None => Sense::Starter,
            Some((false, Observation::Sensed(sensed))) => sensed.sense(),
            Some(_) => return None,
        };
        let tried = |p: &&Prospect| {
            let Context { condition, set_up, .. } = &self.catalog.contexts[p.context];
            p.action == TestAction::Try(sense) && condition == self.usual() && set_up.is_empty()
        };
        let prospect = self.catalog.prospects.iter().position(|p| tried(&p))?;
        let minutes = self.minutes(&self.catalog.prospects[prospect]);
        let why = if repair.is_some() { Why::Recheck } else { Why::Reproduce };
        Some(self.spell_out(Rated { prospect, minutes, risk: 0.0, bits: 0.0, why }))
    }

    /// The walk-round: everything worth a look now, no meter in the hand; what tells most a minute
    /// first.
    pub fn walk_round(&self) -> Vec<NextTest> {
        let action = |r: &Rated| self.catalog.prospects[r.prospect].action;
        let looks = |r: &Rated| matches!(action(r), TestAction::Look(_));
        let ordered = self.order(Strategy::BestSplit).into_iter().filter(looks);
        ordered.take(MOST_LOOKS).map(|rated| self.spell_out(rated)).collect()
    }

    /// Every test that may be made now, in a strategy's order.
    pub fn every_test(&self, strategy: Strategy) -> Vec<NextTest> {
        self.order(strategy).into_iter().map(|rated| self.spell_out(rated)).collect()
    }

    /// How each of the tests that may be made now, and that have one sure answer, parts the
    /// suspects.
    pub fn partings(&self) -> Vec<Parting> {
        let parting = |prospect: &Prospect| {
            let Context { condition, set_up, .. } = self.catalog.contexts[prospect.context].clone();
            let classes = prospect.scale.classes()?;
            Some(Parting { condition, set_up, action: prospect.action, classes })
        };
        let safe = self.catalog.prospects.iter().filter(|p| !self.forbidden(p));
        safe.filter_map(parting).collect()
    }
}
