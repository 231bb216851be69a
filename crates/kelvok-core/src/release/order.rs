//! The order that takes the least: the fewest controls moved, the engine started the fewest times.

use super::routes::{Routes, moves};
use super::step::{Act, Saw, Step};
use crate::circuit::{Circuit, Condition};

/// How a machine stands between two steps.
#[derive(Clone, Debug)]
pub(super) struct Stands {
    pub condition: Condition,
    pub runs: bool,
}

/// What has to be done before a step.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Before {
    pub stops: bool,
    /// Where the engine is started, if it has to be.
    pub starts_at: Option<Condition>,
    /// How the controls stand on the way, control by control; none where they may be put so in any order.
    pub way: Vec<Condition>,
    cost: usize,
}

/// What it takes beside one control moved.
const START: usize = 8;
const STOP: usize = 1;
/// Steps whose order is found by looking at every subset.
const MOST_EXACT: usize = 12;

impl Stands {
    pub fn parked(circuit: &Circuit) -> Self {
        Self { condition: Condition::at_rest(circuit), runs: false }
    }

    /// After a step that went as it should.
    pub fn after(routes: &Routes<'_>, step: &Step) -> Self {
        let to = step.to.as_ref().unwrap_or(&step.from);
        let (condition, runs) = match (step.act, step.expected) {
            (Act::Crank, saw) => (routes.let_go(&step.from), saw == Saw::Starts),
            (Act::MoveAndBack, saw) => (step.from.clone(), saw != Saw::EngineStops),
            (Act::Move, saw) => (to.clone(), saw != Saw::EngineStops),
        };
        Self { condition, runs }
    }
}

impl Before {
    /// What has to be done before a step, the machine standing so.
    pub fn of(routes: &Routes<'_>, stands: &Stands, step: &Step) -> Self {
        let apart = |from: &Condition, to: &Condition| moves(&from.positions, &to.positions);
        if step.act == Act::Crank {
            let cost = apart(&stands.condition, &step.from) + if stands.runs { STOP } else { 0 };
            return Self { stops: stands.runs, cost, ..Self::default() };
        }
        let on = stands.runs.then(|| routes.between(&stands.condition, &step.from)).flatten();
        let anew = || {
            let (at, started) = routes.start()?;
            let way = routes.between(started, &step.from)?;
            let stop = if stands.runs { STOP } else { 0 };
            let cost = apart(&stands.condition, at) + START + stop + way.len();
            Some(Self { stops: stands.runs, starts_at: Some(at.clone()), way, cost })
        };
        let on = on.map(|way| Self { cost: way.len(), way, ..Self::default() });
        let either = on.into_iter().chain(anew()).min_by_key(|b| b.cost);
        either.unwrap_or_else(|| Self { cost: usize::MAX / 1000, ..Self::default() })
    }
}

/// The order of some steps, by their places.
pub(super) fn order(circuit: &Circuit, routes: &Routes<'_>, steps: &[&Step]) -> Vec<usize> {
    let count = steps.len();
    let first: Vec<_> =
        steps.iter().map(|s| Before::of(routes, &Stands::parked(circuit), s).cost).collect();
    let between: Vec<Vec<usize>> = steps
        .iter()
        .map(|before| {
            let stands = Stands::after(routes, before);
            steps.iter().map(|after| Before::of(routes, &stands, after).cost).collect()
        })
        .collect();
    if count <= MOST_EXACT {
        return exact(&first, &between);
    }
    let cost = |order: &[usize]| {
        first[order[0]] + order.windows(2).map(|w| between[w[0]][w[1]]).sum::<usize>()
    };
    let mut best: Vec<usize> = (0..count).collect();
    // Each moved to wherever it takes the least, until none takes less.
    loop {
        let before = cost(&best);
        for step in 0..count {
            let mut without = best.clone();
            without.retain(|s| *s != step);
            let put = |at: usize| {
                let mut order = without.clone();
                order.insert(at, step);
                order
            };
            best = (0..count).map(put).chain([best]).min_by_key(|o| cost(o)).unwrap_or_default();
        }
        if cost(&best) == before {
            return best;
        }
    }
}

/// Held and Karp (1962): over every subset, the least that ends in each of its steps.
fn exact(first: &[usize], between: &[Vec<usize>]) -> Vec<usize> {
    let count = first.len();
    let none = (usize::MAX / 2, 0);
    let mut least = vec![vec![none; count]; 1 << count];
    for (step, cost) in first.iter().enumerate() {
        least[1 << step][step] = (*cost, step);
    }
    for done in 1..1_usize << count {
        for last in (0..count).filter(|s| done & (1 << s) != 0) {
            let so_far = least[done][last].0;
            for next in (0..count).filter(|s| done & (1 << s) == 0) {
                let cost = so_far.saturating_add(between[last][next]);
                let slot = &mut least[done | (1 << next)][next];
                if cost < slot.0 {
                    *slot = (cost, last);
                }
            }
        }
    }
    let mut order = Vec::with_capacity(count);
    let mut done = (1_usize << count) - 1;
    let Some(mut last) = (0..count).min_by_key(|s| least[done][*s].0) else { return order };
    while done != 0 {
        order.push(last);
        let before = least[done][last].1;
        done &= !(1 << last);
        last = before;
    }
    order.reverse();
    order
}
