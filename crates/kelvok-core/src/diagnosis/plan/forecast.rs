//! How long it is likely to take from here to a verdict, by each strategy.

use super::next_test::NextTest;
use super::planning::Planning;
use super::strategy::Strategy;
use crate::circuit::{Condition, LampState, Reading};
use crate::diagnosis::belief::{Belief, looks_bad};
use crate::diagnosis::candidates::{Catalogs, Complaint};
use crate::diagnosis::evidence::{Evidence, Observation, Source, TestAction, Unit};
use crate::diagnosis::faults::Suspects;
use crate::diagnosis::predict::{FaultModel, Predicted};
use crate::errand::{carried, pieces};
use std::collections::HashSet;
use std::panic::resume_unwind;
use std::thread::ScopedJoinHandle;

/// What a way of going on would cost on average, over what is believed.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Forecast {
    pub strategy: Strategy,
    pub minutes: f64,
    pub tests: f64,
    /// The share of what is believed that was followed to its end.
    pub followed: f64,
}

/// Units followed to a verdict, the likeliest.
const FOLLOWED: usize = 6;
/// Tests after which one is given up on.
const MOST_TESTS: usize = 20;

/// A job from here on.
#[derive(Clone, Copy)]
pub(crate) struct Ahead<'a> {
    pub model: &'a FaultModel,
    pub catalogs: &'a Catalogs,
    pub belief: &'a Belief,
    pub log: &'a [Evidence],
    /// The one complained of.
    pub condition: &'a Condition,
}

impl Ahead<'_> {
    /// What every strategy would cost, the quickest first: each on a thread of its own.
    pub fn forecasts(&self) -> Vec<Forecast> {
        let ways = likeliest(&self.model.suspects, self.belief).len();
        let stretch = pieces(Strategy::ALL.len() * FOLLOWED.min(ways));
        let carried = carried();
        let of = |strategy| carried.within(|| self.follow(strategy, || stretch.one_done()));
        let mut all: Vec<Forecast> = std::thread::scope(|scope| {
            let each: Vec<_> = Strategy::ALL.iter().map(|s| scope.spawn(move || of(*s))).collect();
            let done = |thread: ScopedJoinHandle<'_, Forecast>| {
                thread.join().unwrap_or_else(|unwound| resume_unwind(unwound))
            };
            each.into_iter().map(done).collect()
        });
        all.sort_by(|a, b| a.minutes.total_cmp(&b.minutes));
        all
    }

    /// Follows the likeliest explanations to a verdict by a strategy, every test answered as the
    /// explanation has it.
    pub fn forecast(&self, strategy: Strategy) -> Forecast {
        self.follow(strategy, || ())
    }

    fn follow(&self, strategy: Strategy, followed: impl Fn()) -> Forecast {
        let Self { model, catalogs, condition, .. } = *self;
        let mut sum = Forecast { strategy, minutes: 0.0, tests: 0.0, followed: 0.0 };
        for (suspect, scenario, weight) in likeliest(&model.suspects, self.belief) {
            let mut log = self.log.to_vec();
            for _ in 0..MOST_TESTS {
                let belief = Belief::judge(model, &log);
                let catalog = catalogs.about(model, &Complaint::of(&log, condition));
                let planning = Planning::of(model, &catalog, &belief, &log, condition);
                let plan = planning.plan(strategy);
                let named = plan.conclusion.as_ref().is_some_and(|c| c.confirmed);
                let Some(test) = plan.tests.first().filter(|_| !named) else { break };
                sum.minutes += weight * test.minutes;
                sum.tests += weight;
                let Some(observation) = truthful(model, (suspect, scenario), test) else { break };
                log.push(Evidence {
                    sequence: log.last().map_or(0, |e| e.sequence) + 1,
                    condition: test.condition.clone(),
                    set_up: test.set_up.clone(),
                    observation,
                    repeats: 1,
                    source: Source::Tested,
                    at_times: false,
                    times_an_hour: None,
                    celsius: None,
                    idle: false,
                });
            }
            sum.followed += weight;
            followed();
        }
        let whole = sum.followed.max(f64::MIN_POSITIVE);
        Forecast { minutes: sum.minutes / whole, tests: sum.tests / whole, ..sum }
    }
}

/// The likeliest way of each of the likeliest units to fail: suspect, scenario, weight of the unit.
fn likeliest(suspects: &Suspects, belief: &Belief) -> Vec<(usize, usize, f64)> {
    let mut order: Vec<usize> = (0..belief.weights.len()).collect();
    order.sort_by(|a, b| belief.weights[*b].total_cmp(&belief.weights[*a]));
    let mut seen: HashSet<Unit> = HashSet::new();
    let mut all = Vec::new();
    for state in order {
        let scenario = belief.scenario_now(suspects, state);
        let Some(h) = belief.wrong(state).next() else { continue };
        let suspect = suspects.hypotheses[h].suspect;
        let unit = suspects.list[suspect].unit;
        if scenario < suspects.scenarios.len() && seen.insert(unit) {
            all.push((suspect, scenario, belief.of_unit(suspects, unit)));
        }
        if all.len() == FOLLOWED {
            break;
        }
    }
    all
}

/// What a test finds where a suspect is what is wrong.
fn truthful(
    model: &FaultModel,
    (suspect, scenario): (usize, usize),
    test: &NextTest,
) -> Option<Observation> {
    let dictionary = || model.dictionary_at(&test.condition, &test.set_up);
    Some(match test.action {
        TestAction::Look(looked) => {
            let suspect = &model.suspects.list[suspect];
            Observation::Inspected(looked, looks_bad(suspect, looked) > 0.5)
        }
        TestAction::Try(sense) => Observation::Sensed(dictionary().shown()[scenario].sensed(sense)),
        TestAction::Measure { instrument, .. } => {
            let probe = test.action.probe(&model.circuit)?;
            let reading = match dictionary().sight(probe)[scenario] {
                Predicted::Volts { mean, .. } => Reading::Volts(mean),
                Predicted::Ohms { ohms, .. } => Reading::Ohms(ohms),
                Predicted::Buzz(on) => Reading::Buzz(on),
                Predicted::Lamp { volts, .. } => Reading::Lamp(LampState::at(volts)),
                Predicted::Lit(on) => Reading::Lit(on),
                Predicted::AcVolts(volts) => Reading::AcVolts(volts),
                Predicted::Drop(volts) => Reading::Drop(volts),
                Predicted::Amps { mean, .. } => Reading::Amps(mean),
                Predicted::Refused => return None,
            };
            Observation::Read { instrument, red: probe.red, black: probe.black, reading }
        }
    })
}
