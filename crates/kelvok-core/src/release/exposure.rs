//! What every fault would show at every step that may be tried.

use super::routes::Routes;
use super::step::{Act, Saw, Step};
use crate::circuit::{
    Change, Circuit, Condition, Engine, Fault, OutcomeDictionary, Relays, every_condition,
};
use crate::diagnosis::{Suspects, Unit};
use crate::errand::{carried, pieces};
use crate::interlock::{DutyProof, Judge, TriedDuties, changed, prove_duties, spoken_of};
use crate::machine::Shall;
use rayon::prelude::*;

/// A fault at one of its sizes.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct ExposedFault {
    pub unit: Unit,
    pub fault: Fault,
    /// In ohms, volts or a share; zero if it has none.
    pub size: f64,
    /// The duties that are done without it and not with it.
    pub breaks: Vec<usize>,
    /// The steps at which a person sees otherwise, by index.
    pub shown_by: Vec<usize>,
}

/// Every step that may be tried on a machine, and what every fault would show there.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Exposure {
    pub steps: Vec<Step>,
    pub faults: Vec<ExposedFault>,
    /// Duties that the machine as it is does not do, and where.
    pub broken: Vec<DutyProof>,
}

/// Answers that a dictionary may hold at once.
const ROOM: usize = 8 << 20;

/// Works out what every single fault that lasts would show.
///
/// # Arguments
/// `found` is what the machine has besides what its document says that it came with.
pub fn exposure(circuit: &Circuit, found: &[Change]) -> Exposure {
    let suspects = Suspects::of(circuit);
    let lasting = suspects.list.iter().flat_map(|s| s.faults.iter().map(|f| (s.unit, *f)));
    let lasting: Vec<_> = lasting.filter(|(_, f)| f.mode.lasts()).collect();
    let sized: Vec<(Unit, Fault, f64)> = lasting
        .iter()
        .flat_map(|(unit, f)| f.magnitudes().iter().map(move |size| (*unit, *f, *size)))
        .collect();
    let with = |(_, fault, size): &(Unit, Fault, f64)| {
        found.iter().copied().chain([fault.at(*size)]).collect::<Vec<_>>()
    };
    let sets: Vec<Vec<Change>> = sized.iter().map(with).collect();
    let base = Base::of(circuit, found);
    let mut shown = Vec::with_capacity(sets.len());
    let at_once = (ROOM / base.asked.len().max(1)).max(1);
    for some in sets.chunks(at_once) {
        shown.extend(base.shown(some));
    }
    let faults = sized.into_iter().zip(shown).map(|((unit, fault, size), (breaks, shown_by))| {
        ExposedFault { unit, fault, size, breaks, shown_by }
    });
    Exposure { faults: faults.collect(), steps: base.steps, broken: base.broken }
}

impl Exposure {
    /// The steps at which a machine with these changes shows otherwise, each asked by itself. Steps as they
    /// are in `steps`; the way by which a virtual mechanic tries them.
    pub fn seen_with(circuit: &Circuit, steps: &[Step], changes: &[Change]) -> Vec<Saw> {
        let mut judge = Judge::new(circuit, changes);
        let mut tried = TriedDuties::on(&mut judge);
        steps.iter().map(|step| seen(circuit, &mut tried, step)).collect()
    }
}

fn seen(circuit: &Circuit, tried: &mut TriedDuties<'_, '_>, step: &Step) -> Saw {
    let duty = &circuit.document().duties[step.duties[0]];
    match tried.seen(duty, &step.from).map_or(step.expected, Saw::of) {
        // Who looks for the engine does not look for blades that should have stood still before, too.
        Saw::BladesStop if !step.blades => Saw::RunsOn,
        saw => saw,
    }
}

/// The machine without any fault.
struct Base<'c> {
    circuit: &'c Circuit,
    steps: Vec<Step>,
    broken: Vec<DutyProof>,
    /// Every duty that is done, with the conditions it speaks of.
    kept: Vec<(usize, Vec<Condition>)>,
    /// Every condition, with the engine standing and running.
    asked: Vec<Condition>,
}

impl<'c> Base<'c> {
    fn of(circuit: &'c Circuit, found: &[Change]) -> Self {
        let mut judge = Judge::new(circuit, found);
        let broken: Vec<_> =
            prove_duties(&mut judge).into_iter().filter(|p| !p.broken.is_empty()).collect();
        let duties = circuit.document().duties.iter().enumerate();
        let kept = duties.filter(|(i, _)| broken.iter().all(|b| b.duty != *i));
        let kept: Vec<_> = kept.map(|(i, duty)| (i, spoken_of(circuit, duty))).collect();
        let routes = Routes::of(circuit, &mut judge);
        let mut tried = TriedDuties::on(&mut judge);
        let mut steps: Vec<Step> = Vec::new();
        for (index, conditions) in &kept {
            let duty = &circuit.document().duties[*index];
            for from in conditions {
                let Some(seen) = tried.seen(duty, from) else { continue };
                if seen.does(duty.shall) != Some(true) {
                    continue;
                }
                let act = match duty.shall {
                    Shall::NotCrank | Shall::Start => Act::Crank,
                    Shall::NotRestartBlades => Act::MoveAndBack,
                    _ => Act::Move,
                };
                let step = Step {
                    act,
                    from: from.clone(),
                    to: changed(circuit, duty, from).filter(|_| act != Act::Crank),
                    within: duty.within,
                    expected: Saw::of(seen),
                    blades: act != Act::Crank && tried.turning(from).blades,
                    duties: vec![*index],
                };
                if !step.is_safe(circuit) || !routes.reaches(&step) {
                    continue;
                }
                match steps.iter_mut().find(|s| s.is_same_to_do(&step)) {
                    Some(same) => same.duties.push(*index),
                    None => steps.push(step),
                }
            }
        }
        let asked = every_condition(circuit).into_iter().flat_map(|c| {
            [Engine::Stopped, Engine::Running].map(|engine| Condition { engine, ..c.clone() })
        });
        Self { circuit, steps, broken, kept, asked: asked.collect() }
    }

    /// The duties that each of these sets breaks, and the steps that show it.
    fn shown(&self, sets: &[Vec<Change>]) -> Vec<(Vec<usize>, Vec<usize>)> {
        let circuit = self.circuit;
        let (parts, carried) = (pieces(sets.len()), carried());
        let running =
            |set: &Vec<Change>| carried.within(|| Judge::new(circuit, set).running_relays());
        let running: Vec<_> = sets.par_iter().map(running).collect();
        let from = |condition: &Condition, set: usize| match condition.engine {
            Engine::Stopped => Relays::default(),
            _ => running[set],
        };
        let dictionary = OutcomeDictionary::of(circuit, &self.asked, sets, from);
        let of_set = |(s, set): (usize, &Vec<Change>)| {
            carried.within(|| {
                let mut judge = Judge::new(circuit, set).knowing(&dictionary, s);
                let mut tried = TriedDuties::on(&mut judge);
                let breaks = self.kept.iter().filter(|(index, conditions)| {
                    let duty = &circuit.document().duties[*index];
                    let mut seen = conditions.iter().map(|c| tried.seen(duty, c));
                    seen.any(|s| s.and_then(|s| s.does(duty.shall)) == Some(false))
                });
                let breaks = breaks.map(|(index, _)| *index).collect();
                let steps = self.steps.iter().enumerate();
                let shows = steps.filter(|(_, s)| seen(circuit, &mut tried, s) != s.expected);
                let shows = shows.map(|(i, _)| i).collect();
                parts.one_done();
                (breaks, shows)
            })
        };
        sets.par_iter().enumerate().map(of_set).collect()
    }
}
