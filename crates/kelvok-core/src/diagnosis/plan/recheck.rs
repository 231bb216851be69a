//! After a repair: what to try on the machine before it is called cured, for where one fault was
//! there may be two.

use super::next_test::Why;
use super::planning::{Planning, Rated};
use crate::circuit::Condition;
use crate::diagnosis::candidates::{Context, Scale, power_off};
use crate::diagnosis::evidence::{Evidence, Observation, TestAction, Unit};
use std::collections::HashSet;

/// What is worked and watched takes about this many minutes.
const TRY_MINUTES: f64 = 0.3;

/// At this chance that nothing more is wrong, trying tells more than measuring.
const LIKELY_CURED: f64 = 0.5;

impl Planning<'_> {
    /// What is left to try since the last repair, once it is likelier than not that nothing more is
    /// wrong: what was complained of, then ordinary use, then the fewest conditions that show what
    /// every other single fault would show.
    pub fn recheck(&self) -> Vec<Rated> {
        let cured = self.belief.of_unit(&self.model.suspects, Unit::Nothing) > LIKELY_CURED;
        let Some(repair) = self.log.iter().rposition(Evidence::repairs).filter(|_| cured) else {
            return Vec::new();
        };
        let mut order = self.complained(&self.log[..repair]);
        let rest = self.catalog.recheck.get_or_init(|| self.recheck_order());
        for p in rest {
            if !order.contains(p) {
                order.push(*p);
            }
        }
        let left = order.into_iter().filter(|p| self.times_done(&self.catalog.prospects[*p]) == 0);
        let rated = |prospect| Rated {
            prospect,
            minutes: TRY_MINUTES,
            risk: 0.0,
            bits: 0.0,
            why: Why::Recheck,
        };
        left.map(rated).collect()
    }

    /// The tries that came out wrong before the repair, by index into the catalog, as they were first
    /// noticed.
    fn complained(&self, before: &[Evidence]) -> Vec<usize> {
        let circuit = &self.model.circuit;
        let mut order = Vec::new();
        for entry in before {
            let Observation::Sensed(sensed) = entry.observation else { continue };
            let same = self.catalog.prospects.iter().position(|prospect| {
                let Context { condition, set_up, .. } = &self.catalog.contexts[prospect.context];
                set_up.is_empty() && prospect.action.is(circuit, (condition, set_up), entry)
            });
            let Some(p) = same.filter(|p| !order.contains(p)) else { continue };
            let dictionary = &self.catalog.dictionaries[self.catalog.prospects[p].context];
            let sound = self.model.suspects.sound_in(self.belief.wiring());
            if dictionary.shown()[sound].sensed(sensed.sense()) != sensed {
                order.push(p);
            }
        }
        order
    }

    /// Tries, by index into the catalog, in the order they are worth making: a greedy cover of the
    /// scenarios that show at all. With the key off there is nothing to try.
    fn recheck_order(&self) -> Vec<usize> {
        let ordinary = self.model.circuit.normal_use();
        let context = |p: usize| &self.catalog.contexts[self.catalog.prospects[p].context];
        let off = |c: &Condition| *c == power_off(&self.model.circuit, c);
        let mut left: Vec<(usize, HashSet<usize>)> = Vec::new();
        for (p, prospect) in self.catalog.prospects.iter().enumerate() {
            if let (TestAction::Try(_), Scale::Spots { .. }) = (prospect.action, &*prospect.scale)
                && context(p).set_up.is_empty()
                && !off(&context(p).condition)
            {
                left.push((p, prospect.scale.exposed(&self.model.suspects).collect()));
            }
        }
        let place = |p: usize| ordinary.iter().position(|c| *c == context(p).condition);
        left.sort_by_key(|(p, _)| (place(*p).unwrap_or(usize::MAX), *p));
        let mut order = Vec::new();
        while let Some(next) = {
            let used = left.iter().position(|(p, shows)| place(*p).is_some() && !shows.is_empty());
            let most = (0..left.len()).rev().max_by_key(|i| left[*i].1.len());
            used.or(most.filter(|i| !left[*i].1.is_empty()))
        } {
            let (p, shows) = left.remove(next);
            order.push(p);
            for (_, others) in &mut left {
                others.retain(|scenario| !shows.contains(scenario));
            }
        }
        order
    }
}
