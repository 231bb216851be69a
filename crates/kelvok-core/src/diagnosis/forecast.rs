//! How long it is likely to take from here to a verdict, by each school; and whether to replace
//! now or to test on.

use super::book::Book;
use super::catalog::probe;
use super::likelihood::looks_bad;
use super::page::Situation;
use super::planner::plan_by;
use super::predict::Predicted;
use super::{Belief, Doing, Evidence, NextTest, Observation, School, Source, Suspects, Unit};
use crate::circuit::{Circuit, Condition, LampState, Reading};
use crate::errand::{carried, pieces};
use std::collections::HashSet;
use std::panic::resume_unwind;
use std::thread::ScopedJoinHandle;

/// What a way of going on would cost on average, over what is believed.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Forecast {
    pub school: School,
    pub minutes: f64,
    pub tests: f64,
    /// The share of what is believed that was followed to its end.
    pub followed: f64,
}

/// Units followed to a verdict, the likeliest.
const FOLLOWED: usize = 6;
/// Tests after which one is given up on.
const MOST_TESTS: usize = 20;

/// What every school would cost, the quickest first: each on a thread of its own.
pub fn forecasts(
    (circuit, suspects, book): (&Circuit, &Suspects, &Book),
    belief: &Belief,
    log: &[Evidence],
    condition: &Condition,
) -> Vec<Forecast> {
    let stretch = pieces(School::ALL.len() * FOLLOWED.min(likeliest(suspects, belief).len()));
    let carried = carried();
    let of = |school: School| {
        carried.within(|| {
            let at = (circuit, suspects, book);
            follow(school, at, belief, log, condition, || stretch.one_done())
        })
    };
    let mut all: Vec<Forecast> = std::thread::scope(|scope| {
        let each: Vec<_> = School::ALL.map(|school| scope.spawn(move || of(school))).into();
        let done = |thread: ScopedJoinHandle<'_, Forecast>| {
            thread.join().unwrap_or_else(|unwound| resume_unwind(unwound))
        };
        each.into_iter().map(done).collect()
    });
    all.sort_by(|a, b| a.minutes.total_cmp(&b.minutes));
    all
}

/// Follows the likeliest explanations to a verdict by a school, every test answered as the
/// explanation has it.
pub fn forecast(
    school: School,
    (circuit, suspects, book): (&Circuit, &Suspects, &Book),
    belief: &Belief,
    log: &[Evidence],
    condition: &Condition,
) -> Forecast {
    follow(school, (circuit, suspects, book), belief, log, condition, || ())
}

fn follow(
    school: School,
    (circuit, suspects, book): (&Circuit, &Suspects, &Book),
    belief: &Belief,
    log: &[Evidence],
    condition: &Condition,
    followed: impl Fn(),
) -> Forecast {
    let mut sum = Forecast { school, minutes: 0.0, tests: 0.0, followed: 0.0 };
    for (suspect, column, weight) in likeliest(suspects, belief) {
        let mut log = log.to_vec();
        for _ in 0..MOST_TESTS {
            let belief = Belief::judge(circuit, suspects, book, &log);
            let plan = plan_by(school, (circuit, suspects, book), &belief, &log, condition);
            let named = plan.conclusion.as_ref().is_some_and(|c| c.confirmed);
            let Some(test) = plan.tests.first().filter(|_| !named) else { break };
            sum.minutes += weight * test.minutes;
            sum.tests += weight;
            let Some(observation) = truthful((circuit, suspects, book), (suspect, column), test)
            else {
                break;
            };
            log.push(Evidence {
                sequence: log.last().map_or(0, |e| e.sequence) + 1,
                condition: test.condition.clone(),
                set_up: test.set_up.clone(),
                observation,
                repeats: 1,
                source: Source::Tested,
                at_times: false,
                times_an_hour: None,
            });
        }
        sum.followed += weight;
        followed();
    }
    let whole = sum.followed.max(f64::MIN_POSITIVE);
    Forecast { minutes: sum.minutes / whole, tests: sum.tests / whole, ..sum }
}

/// The likeliest way of each of the likeliest units to fail: suspect, column, weight of the unit.
fn likeliest(suspects: &Suspects, belief: &Belief) -> Vec<(usize, usize, f64)> {
    let mut order: Vec<usize> = (0..belief.weights.len()).collect();
    order.sort_by(|a, b| belief.weights[*b].total_cmp(&belief.weights[*a]));
    let mut seen: HashSet<Unit> = HashSet::new();
    let mut all = Vec::new();
    for state in order {
        let column = belief.column_now(suspects, state);
        let Some(h) = belief.present(state).next() else { continue };
        let suspect = suspects.hypotheses[h].suspect;
        let unit = suspects.list[suspect].unit;
        if column < suspects.columns.len() && seen.insert(unit) {
            all.push((suspect, column, belief.of_unit(suspects, unit)));
        }
        if all.len() == FOLLOWED {
            break;
        }
    }
    all
}

/// What a test finds where a suspect is what is wrong.
fn truthful(
    (circuit, suspects, book): (&Circuit, &Suspects, &Book),
    (suspect, column): (usize, usize),
    test: &NextTest,
) -> Option<Observation> {
    let situation = Situation::new(&test.condition, &test.set_up);
    let page = || book.page(circuit, suspects, &situation);
    Some(match test.doing {
        Doing::Look(looked) => {
            Observation::Inspected(looked, looks_bad(&suspects.list[suspect], looked) > 0.5)
        }
        Doing::Try(sense) => {
            let page = page();
            let shown = page.shown(circuit, &suspects.columns);
            Observation::Sensed(shown[column].sensed(sense))
        }
        Doing::Measure { instrument, .. } => {
            let probe = probe(circuit, test.doing)?;
            let page = page();
            let reading = match page.sight(circuit, &suspects.columns, probe)[column] {
                Predicted::Volts { mean, .. } => Reading::Volts(mean),
                Predicted::Ohms { ohms, .. } => Reading::Ohms(ohms),
                Predicted::Buzz(on) => Reading::Buzz(on),
                Predicted::Lamp { volts, .. } => Reading::Lamp(LampState::at(volts)),
                Predicted::Lit(on) => Reading::Lit(on),
                Predicted::AcVolts(volts) => Reading::AcVolts(volts),
                Predicted::Drop(volts) => Reading::Drop(volts),
                Predicted::Refused => return None,
            };
            Observation::Read { instrument, red: probe.red, black: probe.black, reading }
        }
    })
}

/// Replacing a unit now against testing on, in money. What both come to in the end, fitting the
/// part that is bad, is left out.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Choice {
    /// The chance that it is this unit.
    pub chance: f64,
    /// What fitting it costs: part and time.
    pub fitting: f64,
    /// What testing on costs: time to a verdict.
    pub testing: f64,
    /// What is lost on average by replacing now: the fitting where it was not this, and then the
    /// testing after all.
    pub replace_now: f64,
    /// What is lost by testing first: the testing.
    pub test_first: f64,
}

/// Fitting a part is followed by trying the machine, in minutes.
const RECHECK_MINUTES: f64 = 2.0;

impl Choice {
    /// The arithmetic.
    ///
    /// # Arguments
    /// `price` of the part; `fit` and `test` in minutes, to fit it and to reach a verdict by
    /// testing; `rate` is what an hour of the shop costs, in the money of the price.
    pub fn of(chance: f64, price: f64, fit: f64, test: f64, rate: f64) -> Self {
        let fitting = price + (fit + RECHECK_MINUTES) / 60.0 * rate;
        let testing = test / 60.0 * rate;
        let replace_now = (1.0 - chance) * (fitting + testing);
        Self { chance, fitting, testing, replace_now, test_first: testing }
    }

    /// Whether replacing now costs less.
    pub fn favors_replacing(&self) -> bool {
        self.replace_now < self.test_first
    }
}
