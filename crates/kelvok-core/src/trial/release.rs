//! Machines with nothing, one or two things wrong put through their release plan by a mechanic who sees what there is to
//! see: is one let go that does not do its duties?

use super::surroundings::Surroundings;
use super::world::World;
use crate::circuit::{Change, Circuit, Fault, fault_notation, single_faults};
use crate::interlock::{Judge, prove_duties};
use crate::random::Random;
use crate::release::{Exposure, ReleasePlan, Step};
use rayon::prelude::*;
use std::collections::BTreeSet;
use std::sync::Arc;

/// How a machine came through.
#[derive(Clone, Debug)]
pub struct ReleaseTried {
    /// What was wrong, in the fault notation.
    pub faults: Vec<String>,
    /// It does not do a duty that the sound machine does.
    pub broken: bool,
    /// It does every duty as it came, every step went as it should, and nothing that takes a reading was wrong.
    pub released: bool,
}

/// A machine in four is sound, two have one fault that lasts, one has two; sizes as they come. Parts have
/// tolerances and the battery volts of their own; nobody slips.
pub fn try_releases(circuit: &Arc<Circuit>, runs: usize, seed: u64) -> Vec<ReleaseTried> {
    let plan = ReleasePlan::of(circuit, &[]);
    let steps: Vec<Step> = plan.steps.iter().map(|p| p.step.clone()).collect();
    let readings = plan.unexposed(circuit);
    let readings: BTreeSet<&str> = readings.iter().map(|u| place(&u.fault)).collect();
    let model = circuit.document().identity.model.as_str();
    let faults: Vec<Fault> =
        single_faults(circuit).into_iter().filter(|f| f.mode.lasts()).collect();
    let case = |case: usize| {
        let mut random = Random::for_case(seed, model, case as u64);
        let values = World::new(Arc::clone(circuit), Surroundings::Bench, &mut random).values();
        let wrong = (0..[0, 1, 1, 2][case % 4]).map(|_| {
            let fault = faults[random.index(faults.len())];
            World::draw(&fault, 0, Surroundings::Yard, &mut random).change
        });
        let wrong: Vec<Change> = wrong.collect();
        let faults: Vec<String> = wrong.iter().map(|c| fault_notation(circuit, *c)).collect();
        let changes: Vec<Change> = values.into_iter().chain(wrong).collect();
        let proofs = prove_duties(&mut Judge::new(circuit, &changes));
        let broken = proofs.iter().any(|p| !p.broken.is_empty());
        let seen = Exposure::seen_with(circuit, &steps, &changes);
        let good = seen.iter().zip(&steps).all(|(saw, step)| *saw == step.expected);
        let read = faults.iter().any(|f| readings.contains(place(f)));
        let released = good && !read && plan.broken.is_empty();
        ReleaseTried { faults, broken, released }
    };
    (0..runs).into_par_iter().map(case).collect()
}

/// A fault without its size.
fn place(notation: &str) -> &str {
    notation.rsplit_once(':').map_or(notation, |(place, size)| {
        if size.starts_with(|c: char| c.is_ascii_digit()) { place } else { notation }
    })
}
