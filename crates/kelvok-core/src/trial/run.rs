//! Every case of a machine by every strategy.

use super::case::Faults;
use super::machine::TrialMachine;
use super::mechanic::Outcome;
use super::surroundings::Surroundings;
use super::universe::Universe;
use crate::diagnosis::Strategy;
use crate::random::Random;
use std::sync::atomic::{AtomicUsize, Ordering};

/// What to try.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Options {
    pub runs: usize,
    pub seed: u64,
    pub faults: Faults,
    pub surroundings: Surroundings,
    pub strategies: Vec<Strategy>,
}

/// Every case of a machine by every strategy; `done` is told of each case. Cases come in order,
/// strategies within each.
pub fn try_machine(
    bench: &TrialMachine,
    machine: &str,
    options: &Options,
    done: &(dyn Fn() + Sync),
) -> Vec<Vec<Outcome>> {
    let universe = Universe::of(bench.circuit());
    let case = |case: usize| {
        let outcomes = try_case(bench, &universe, machine, options, case as u64);
        done();
        outcomes
    };
    spread(options.runs, &case).into_iter().filter(|o| !o.is_empty()).collect()
}

/// Cases by all cores, in order, on threads of our own: what a case asks of a model is spread over the pool's.
pub(super) fn spread<T: Send>(runs: usize, case: &(dyn Fn(usize) -> T + Sync)) -> Vec<T> {
    let next = AtomicUsize::new(0);
    let work = || {
        let mut own = Vec::new();
        loop {
            let n = next.fetch_add(1, Ordering::Relaxed);
            if n >= runs {
                return own;
            }
            own.push((n, case(n)));
        }
    };
    let threads = std::thread::available_parallelism().map_or(1, usize::from);
    let mut all: Vec<_> = std::thread::scope(|scope| {
        let workers: Vec<_> = (0..threads).map(|_| scope.spawn(work)).collect();
        workers.into_iter().flat_map(|w| w.join().unwrap_or_default()).collect()
    });
    all.sort_by_key(|(n, _)| *n);
    all.into_iter().map(|(_, own)| own).collect()
}

fn try_case(
    bench: &TrialMachine,
    universe: &Universe,
    machine: &str,
    options: &Options,
    case: u64,
) -> Vec<Outcome> {
    let mut random = Random::for_case(options.seed, machine, case);
    // What is so of the whole run.
    let mut run = Random::for_case(options.seed, machine, u64::MAX);
    let luck = (&mut random, &mut run);
    let Some(case) = bench.case(options.faults, options.surroundings, luck) else {
        return Vec::new();
    };
    // The same machine, the same luck, for every strategy.
    let by = |strategy: &Strategy| case.clone().find(bench, universe, *strategy);
    options.strategies.iter().map(by).collect()
}
