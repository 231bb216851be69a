//! The fault dictionary: what sets of changes, each by itself, do to the machine in every condition.
//!
//! Most faults are dormant in most conditions: nothing flows where they are. There the machine does
//! what the sound one does, which is solved once a condition. Of the rest most follow from that by
//! compensation; what settles another way is solved in full.

use crate::circuit::model::{Change, Circuit, Condition, Program};
use crate::circuit::observe::{Outcome, spark_ways};
use crate::circuit::solve::{Compensation, Relays, Setting, Solved, Solver};
use crate::errand::carried;
use crate::machine::Engine;
use rayon::prelude::*;
use std::collections::HashMap;
use std::sync::Arc;

/// What each of some sets of changes makes of a machine in each of some conditions. Of an engine that
/// stands no spark is told.
#[derive(Debug)]
pub struct OutcomeDictionary {
    rows: HashMap<Condition, Row>,
}

/// One condition.
#[derive(Debug)]
struct Row {
    /// By set of changes, by index into the outcomes.
    by_set: Vec<u32>,
    /// What is noticed, and the relays then: each different answer once.
    outcomes: Vec<(Outcome, Relays)>,
}

impl OutcomeDictionary {
    /// Works out every set in every condition, on every core there is. O(conditions x sets), nearly
    /// all of them looked up and not solved; four bytes each.
    ///
    /// # Arguments
    /// `from` are the relays from which a condition settles under a set of changes, by its index.
    pub fn of(
        circuit: &Circuit,
        conditions: &[Condition],
        sets: &[Vec<Change>],
        from: impl Fn(&Condition, usize) -> Relays + Sync,
    ) -> Self {
        let carried = carried();
        // What joins nodes has an elimination order of its own, in whatever condition.
        let orders: Vec<_> = sets.iter().map(|changes| circuit.program_for(changes)).collect();
        let row = |condition: &Condition| {
            let from = |set: usize| from(condition, set);
            let row = carried.within(|| Row::of(circuit, condition, (sets, &orders), from));
            (condition.clone(), row)
        };
        Self { rows: conditions.par_iter().map(row).collect() }
    }

    /// What a set of changes, by its index, does in a condition, and the relays then; `None` where
    /// either was not asked for.
    pub fn outcome(&self, condition: &Condition, set: usize) -> Option<&(Outcome, Relays)> {
        let row = self.rows.get(condition)?;
        row.outcomes.get(*row.by_set.get(set)? as usize)
    }

    /// How many answers it holds.
    pub fn len(&self) -> usize {
        self.rows.values().map(|row| row.by_set.len()).sum()
    }

    /// Whether nothing was asked of it.
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }
}

impl Row {
    fn of(
        circuit: &Circuit,
        condition: &Condition,
        (sets, orders): (&[Vec<Change>], &[Option<Arc<Program>>]),
        from: impl Fn(usize) -> Relays,
    ) -> Self {
        let base = Setting::new(circuit, condition);
        let mut compensation = Compensation::new(circuit, base.clone());
        let mut solver: Solver<'_> = Solver::new(circuit);
        let mut scratch = base.clone();
        let mut row = Self { by_set: Vec::with_capacity(sets.len()), outcomes: Vec::new() };
        let mut places = HashMap::new();
        // By relays: the sound machine, and where changes are felt by a spark.
        let mut sound: HashMap<Relays, (u32, Vec<bool>)> = HashMap::new();
        for (s, changes) in sets.iter().enumerate() {
            let relays = from(s);
            let (own, sparks) = &*sound.entry(relays).or_insert_with(|| {
                solver.solve(&[&base], &[relays]);
                let lane = solver.lane(0);
                let outcome = noticed(circuit, &lane, &base);
                let sparks = match condition.engine {
                    Engine::Stopped => vec![false; circuit.node_count()],
                    _ => spark_ways(circuit, &lane, &base),
                };
                (row.place(&mut places, outcome, solver.relays(0)), sparks)
            });
            let own = *own;
            let unfelt = |change: &Change| {
                change.does_nothing(condition.engine)
                    || change
                        .only_between(circuit)
                        .is_some_and(|(a, b)| !sparks[a.index()] && !sparks[b.index()])
            };
            let ails = changes.iter().any(|c| matches!(c, Change::Ails(..)));
            let settled = compensation.settled(relays);
            let dormant = settled.is_some_and(|settled| {
                let dormant =
                    |c: &Change| c.does_nothing(condition.engine) || settled.is_dormant(*c);
                changes.len() < 2 && changes.iter().all(dormant)
            });
            if dormant && !ails && changes.iter().all(unfelt) {
                row.by_set.push(own);
                continue;
            }
            scratch.copy_from(&base);
            for change in changes {
                scratch.apply(circuit, *change);
            }
            let (outcome, after) = if compensation.solve(&scratch, relays)
                && let Some(solved) = compensation.solved()
            {
                (noticed(circuit, &solved, &scratch), solved.relays())
            } else {
                let joins = || changes.iter().map(|c| c.joins(circuit).len()).sum();
                let order = orders[s].clone();
                let mut own: Option<Solver<'_>> =
                    order.map(|order| Solver::on(circuit, order, joins()));
                let solver = own.as_mut().unwrap_or(&mut solver);
                solver.solve(&[&scratch], &[relays]);
                (noticed(circuit, &solver.lane(0), &scratch), solver.relays(0))
            };
            let same =
                row.outcomes[own as usize].0 == outcome && row.outcomes[own as usize].1 == after;
            let place = if same { own } else { row.place(&mut places, outcome, after) };
            row.by_set.push(place);
        }
        row
    }

    /// Where an answer stands among the different ones.
    fn place(
        &mut self,
        places: &mut HashMap<(Outcome, Relays), u32>,
        outcome: Outcome,
        relays: Relays,
    ) -> u32 {
        *places.entry((outcome, relays)).or_insert_with_key(|answer| {
            self.outcomes.push(answer.clone());
            (self.outcomes.len() - 1) as u32
        })
    }
}

/// What is noticed; of an engine that stands, where no spark is of interest, none is looked for.
fn noticed(circuit: &Circuit, solved: &dyn Solved, setting: &Setting) -> Outcome {
    match setting.condition().engine {
        Engine::Stopped => Outcome::at_a_standstill(circuit, solved, setting),
        _ => Outcome::of(circuit, solved, setting),
    }
}
