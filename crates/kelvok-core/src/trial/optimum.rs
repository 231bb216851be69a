//! How near the plan comes to the best there is, on sets small enough to know the best.
//!
//! A few faults that one complaint fits and that tests tell apart; meter, hands and eyes without
//! error. The fewest tests on average are then found by working through every subset (dynamic
//! programming over at most 2^12 of them); beside it stands how many the planner makes.

use super::machine::{TrialMachine, usual_conditions};
use super::world::{complaint, node, noticed, plainly, relays};
use crate::circuit::{Change, Circuit, Condition, Reading, read};
use crate::diagnosis::{
    Evidence, Model, NextTest, Observation, Parting, Sense, Source, TestAction,
};
use crate::random::Random;
use rayon::prelude::*;
use std::collections::{BTreeSet, HashMap};

/// Faults in a set; working through every subset is no longer quick beyond this.
const MOST_FAULTS: usize = 12;
const FEWEST_FAULTS: usize = 4;
/// Faults that are looked at for a set.
const LOOKED_AT: usize = 300;
/// The planner is given up after so many tests.
const MOST_TESTS: usize = 40;

/// A reduced set, and the tests made on it, on average over its faults by their priors.
#[derive(Clone, Copy, Debug)]
pub struct Reduced {
    /// Faults that tests tell apart.
    pub faults: usize,
    /// By the best of all plans.
    pub optimum: f64,
    /// By the planner, until nothing else is left.
    pub planned: f64,
}

/// Draws sets of faults and holds the planner to the optimum on each.
pub fn against_optimum(
    bench: &TrialMachine,
    machine: &str,
    sets: usize,
    seed: u64,
) -> Vec<Reduced> {
    let one = |set: usize| {
        let mut random = Random::for_case(seed, machine, set as u64);
        Set::draw(bench, &mut random).map(|set| set.reduced())
    };
    (0..sets).into_par_iter().filter_map(one).collect()
}

struct Set {
    model: Model,
    log: Vec<Evidence>,
    condition: Condition,
    partings: Vec<Parting>,
}

impl Set {
    /// A fault, its complaint, and others that would be complained of alike.
    fn draw(bench: &TrialMachine, random: &mut Random) -> Option<Self> {
        let circuit = bench.model.circuit();
        let own = |h: usize| bench.model.suspects().hypotheses[h].suspect;
        let lasting = |h: &usize| bench.model.suspects().hypotheses[*h].shows >= 1.0 && own(*h) > 0;
        let all: Vec<usize> =
            (0..bench.model.suspects().hypotheses.len()).filter(lasting).collect();
        let weights: Vec<f64> =
            all.iter().map(|h| bench.model.suspects().hypotheses[*h].prior).collect();
        let changes = |h: usize| {
            let scenario =
                &bench.model.suspects().scenarios[bench.model.suspects().hypotheses[h].scenario];
            scenario.changes.as_slice()
        };
        let (first, condition, sense) = (0..LOOKED_AT).find_map(|_| {
            let h = all[random.weighted(&weights)];
            let (condition, sense) = complained_of(circuit, changes(h))?;
            Some((h, condition, sense))
        })?;
        let shows = |h: usize| plainly(&noticed(circuit, changes(h), &condition), sense);
        let shown = shows(first);
        let mut alike = vec![first];
        for _ in 0..LOOKED_AT {
            let h = all[random.weighted(&weights)];
            let new = alike.iter().all(|other| own(*other) != own(h));
            if new && alike.len() < 2 * MOST_FAULTS && shows(h) == shown {
                alike.push(h);
            }
        }
        let log = vec![Evidence {
            sequence: 1,
            condition: condition.clone(),
            set_up: vec![],
            observation: Observation::Sensed(shown),
            repeats: 1,
            source: Source::Tested,
            at_times: false,
            times_an_hour: None,
            celsius: None,
            idle: false,
        }];
        let set = |hypotheses: &[usize]| {
            let few = bench.model.suspects().reduced(hypotheses);
            let model = Model::with_suspects(circuit.clone(), few);
            let all = model.partings(&model.judge(&log), &log, &condition);
            (model, all)
        };
        // Of those that no test tells apart, the first.
        let (_, partings) = set(&alike);
        let mut kept: Vec<usize> = Vec::new();
        for own in 1..=alike.len() {
            let apart =
                |other: &usize| partings.iter().any(|p| p.classes[own] != p.classes[*other]);
            if kept.len() < MOST_FAULTS && kept.iter().all(apart) {
                kept.push(own);
            }
        }
        let kept: Vec<usize> = kept.into_iter().map(|own| alike[own - 1]).collect();
        if kept.len() < FEWEST_FAULTS {
            return None;
        }
        let (model, partings) = set(&kept);
        Some(Self { model, log, condition, partings })
    }

    fn reduced(&self) -> Reduced {
        let faults = self.model.suspects().list.len() - 1;
        let priors: Vec<f64> = self.model.suspects().list[1..].iter().map(|s| s.prior).collect();
        let total: f64 = priors.iter().sum();
        let weights: Vec<f64> = priors.iter().map(|p| p / total).collect();
        let ways: BTreeSet<_> = self.partings.iter().map(|p| p.classes[1..].to_vec()).collect();
        let optimum = fewest_tests(&weights, &ways.into_iter().collect::<Vec<_>>());
        let planned = (0..faults).map(|f| weights[f] * self.planned(f + 1) as f64).sum();
        Reduced { faults, optimum, planned }
    }

    /// Tests that the planner makes until only this one is left.
    fn planned(&self, truth: usize) -> usize {
        let circuit = self.model.circuit();
        let mut log = self.log.clone();
        let changes = &self.model.suspects().scenarios[truth].changes;
        let mut left: Vec<usize> = (1..self.model.suspects().list.len()).collect();
        for tests in 0..MOST_TESTS {
            if left.len() == 1 {
                return tests;
            }
            let belief = self.model.judge(&log);
            let plan = self.model.plan(&belief, &log, &self.condition);
            let sure = |t: &&NextTest| !matches!(t.action, TestAction::Look(_));
            let Some(next) = plan.tests.iter().find(sure).filter(|_| plan.conclusion.is_none())
            else {
                return tests;
            };
            let this = |p: &&Parting| {
                (p.action, &p.condition, &p.set_up) == (next.action, &next.condition, &next.set_up)
            };
            if let Some(Parting { classes, .. }) = self.partings.iter().find(this) {
                left.retain(|other| classes[*other] == classes[truth]);
            }
            log.push(Evidence {
                sequence: log.len() as u64 + 1,
                condition: next.condition.clone(),
                set_up: next.set_up.clone(),
                observation: truthful(circuit, changes, next),
                ..self.log[0].clone()
            });
        }
        MOST_TESTS
    }
}

/// The first condition of ordinary use in which these changes are complained of, and for what.
fn complained_of(circuit: &Circuit, changes: &[Change]) -> Option<(Condition, Sense)> {
    usual_conditions(circuit).into_iter().find_map(|condition| {
        let found = noticed(circuit, changes, &condition);
        let sound = noticed(circuit, &[], &condition);
        let sense = complaint(circuit, &condition, (&found, &sound))?;
        Some((condition, sense))
    })
}

/// What a test shows, without error.
fn truthful(circuit: &Circuit, changes: &[Change], test: &NextTest) -> Observation {
    match test.action {
        TestAction::Try(sense) => {
            Observation::Sensed(plainly(&noticed(circuit, changes, &test.condition), sense))
        }
        TestAction::Look(looked) => Observation::Inspected(looked, false),
        TestAction::Measure { instrument, red, black } => {
            let (red, black) = (node(circuit, red), node(circuit, black));
            let mut all = changes.to_vec();
            all.extend(test.set_up.iter().flat_map(|s| s.changes(circuit)));
            let relays = relays(circuit, &all, &test.condition);
            let shown = read(circuit, &test.condition, relays, &all, instrument, (red, black));
            let reading = shown.unwrap_or(Reading::Ohms(None));
            Observation::Read { instrument, red, black, reading }
        }
    }
}

/// The least expected number of tests that tells all apart, where each test parts them like this
/// and all can be told apart.
fn fewest_tests(weights: &[f64], partings: &[Vec<u8>]) -> f64 {
    let mut known = HashMap::new();
    fewest(weights, partings, (1 << weights.len()) - 1, &mut known)
}

/// The same for a subset, times its weight.
fn fewest(
    weights: &[f64],
    partings: &[Vec<u8>],
    subset: u32,
    known: &mut HashMap<u32, f64>,
) -> f64 {
    if subset.count_ones() <= 1 {
        return 0.0;
    }
    if let Some(found) = known.get(&subset) {
        return *found;
    }
    let members = || (0..weights.len()).filter(move |i| subset >> i & 1 == 1);
    let weight: f64 = members().map(|i| weights[i]).sum();
    let mut least = f64::INFINITY;
    for parting in partings {
        let mut classes: HashMap<u8, u32> = HashMap::new();
        for i in members() {
            *classes.entry(parting[i]).or_default() |= 1 << i;
        }
        if classes.len() > 1 {
            let after = classes.values().map(|part| fewest(weights, partings, *part, known));
            least = least.min(weight + after.sum::<f64>());
        }
    }
    known.insert(subset, least);
    least
}

#[cfg(test)]
mod tests {
    use super::fewest_tests;

    #[test]
    fn halves_of_halves_take_two_tests() {
        let halves = [vec![0, 0, 1, 1], vec![0, 1, 0, 1]];
        assert!((fewest_tests(&[0.25; 4], &halves) - 2.0).abs() < 1e-12);
    }

    #[test]
    fn the_likely_one_is_asked_for_first() {
        let one_by_one = [vec![1, 0, 0], vec![0, 1, 0], vec![0, 0, 1]];
        let tests = fewest_tests(&[0.6, 0.3, 0.1], &one_by_one);
        assert!((tests - 1.4).abs() < 1e-12, "{tests}");
    }

    #[test]
    fn where_a_greedy_split_is_not_best_the_best_is_found() {
        // Halving first (3 : 3) leaves three one by one on either side; by thirds it takes two.
        let tests = [vec![0, 0, 0, 1, 1, 1], vec![0, 0, 1, 1, 2, 2], vec![0, 1, 0, 1, 0, 1]];
        assert!((fewest_tests(&[1.0 / 6.0; 6], &tests) - 2.0).abs() < 1e-12);
    }
}
