//! A machine ready to be tried, and the cases drawn for it.

use super::case::{Case, Faults};
use super::surroundings::Surroundings;
use super::world::{Trouble, World, complaint, noticed, sensed};
use super::yard::{BatteryDay, go_with};
use crate::circuit::{Change, Circuit, Condition, Engine, FaultMode, one_move_away};
use crate::diagnosis::{Evidence, Model, Observation, Sense, Source, Suspect, Unit, site_of};
use crate::interlock::Noticed;
use crate::machine::{PartKind, SiteKind};
use crate::random::Random;
use std::collections::HashMap;
use std::sync::Arc;

/// A machine ready to be tried: its suspects and what each would show.
#[allow(missing_docs)]
pub struct TrialMachine {
    pub model: Model,
    circuit: Arc<Circuit>,
    /// Scenarios by unit.
    by_unit: HashMap<Unit, Vec<usize>>,
    sound: HashMap<Condition, Noticed>,
}

/// Draws of a fault until one is found that anyone would complain of.
const MOST_DRAWS: usize = 400;
/// How far the world's chances of failing are from the table's: standard deviation of the
/// logarithm, kind by kind.
const OTHER_PRIORS: f64 = 0.6;
/// In the yard the second of two faults has to do with the first at this chance.
const GO_TOGETHER: f64 = 0.4;

impl TrialMachine {
    /// A machine to be tried.
    pub fn of(circuit: Circuit) -> Self {
        Self::wired(&Model::new(circuit), 0)
    }

    /// One that is wired in one of the ways that its model knows of, and does not know which.
    pub fn wired(model: &Model, wiring: usize) -> Self {
        Self::standing(model, model.circuit().wired_as(wiring))
    }

    /// One that really is this circuit, which has the parts of its model's and the same metal at each
    /// terminal.
    pub(super) fn standing(model: &Model, own: Circuit) -> Self {
        let (model, own) = (model.clone(), Arc::new(own));
        let (circuit, suspects) = (&own, model.suspects());
        let mut by_unit: HashMap<Unit, Vec<usize>> = HashMap::new();
        // What a fault is on top of how the machine is wired.
        for hypothesis in suspects.hypotheses.iter().filter(|h| h.wiring == 0) {
            let unit = suspects.list[hypothesis.suspect].unit;
            by_unit.entry(unit).or_default().push(hypothesis.scenario);
        }
        let mut sound = HashMap::new();
        for condition in usual_conditions(circuit) {
            let noticed = noticed(circuit, &[], &condition);
            sound.insert(condition, noticed);
        }
        Self { by_unit, sound, circuit: own, model }
    }

    /// The machine as it is.
    pub(super) fn circuit(&self) -> &Circuit {
        &self.circuit
    }

    pub(super) fn scenarios_of(&self, unit: Unit) -> &[usize] {
        self.by_unit.get(&unit).map_or(&[], Vec::as_slice)
    }

    /// The same troubles as those of another machine, of the same elements.
    pub(super) fn troubles(&self, of: &[Trouble], other: &Self) -> Vec<Trouble> {
        let fault = |s: &Suspect| s.faults.first().map(|f| (f.mode, f.at(0.0)));
        let own = &self.model.suspects().list;
        let same = |trouble: &Trouble| {
            let as_there = fault(&other.model.suspects().list[trouble.suspect]);
            let suspect = own.iter().position(|s| fault(s) == as_there);
            Trouble { suspect: suspect.unwrap_or(trouble.suspect), ..trouble.clone() }
        };
        of.iter().map(same).collect()
    }

    /// The scenario nearest in size to a trouble of the world.
    pub(super) fn scenario_of(&self, trouble: &Trouble) -> usize {
        let own = self.model.suspects().hypotheses.iter();
        let own = own.filter(|h| h.suspect == trouble.suspect && h.wiring == 0);
        let size = |change: &Change| match *change {
            Change::Ohms(_, x)
            | Change::Emf(_, x)
            | Change::Drained(_, x)
            | Change::ShortedTurns(_, x) => x.abs().ln(),
            Change::Join { ohms, .. } => ohms.ln(),
            _ => 0.0,
        };
        let off = |scenario: usize| {
            let change = self.model.suspects().scenarios[scenario].changes.first();
            change.map_or(0.0, |c| (size(c) - size(&trouble.change)).abs())
        };
        let nearest = own.map(|h| h.scenario).min_by(|a, b| off(*a).total_cmp(&off(*b)));
        nearest.unwrap_or(0)
    }

    /// One case: a machine, its trouble and what is told of it. `None` where no fault drawn makes
    /// anyone complain.
    pub(super) fn case(
        &self,
        faults: Faults,
        surroundings: Surroundings,
        (random, run): (&mut Random, &mut Random),
    ) -> Option<Case> {
        let yard = surroundings == Surroundings::Yard;
        let mut world = World::new(self.circuit.clone(), surroundings, random);
        // A yard has its own ways to fail, the same all year.
        let weights = self.other_priors(faults, if yard { run } else { random });
        for _ in 0..MOST_DRAWS {
            world.troubles.clear();
            let first = self.draw(&weights, surroundings, random);
            let second = (faults == Faults::Double).then(|| {
                let beside = (yard && random.happens(GO_TOGETHER))
                    .then(|| self.beside(&weights, first.suspect))
                    .filter(|beside| beside.iter().any(|w| *w > 0.0));
                self.draw(beside.as_deref().unwrap_or(&weights), surroundings, random)
            });
            let unit = |t: &Trouble| self.model.suspects().list[t.suspect].unit;
            if let Some(second) = second {
                // Each must be worth a complaint of its own, so that curing one leaves one.
                let alone = |t: &Trouble| self.complaints(&world, &[t.change]).is_empty();
                if unit(&first) == unit(&second) || alone(&first) || alone(&second) {
                    continue;
                }
                world.troubles.push(second);
            }
            world.troubles.push(first);
            let changes: Vec<_> = world.troubles.iter().map(|t| t.change).collect();
            let found = self.complaints(&world, &changes);
            if let Some((condition, sense, shown)) = found.first().cloned() {
                let told = self.told(&world, faults, (&condition, sense, &shown), random);
                // A flat battery that is charged is another case.
                let emf = world.battery_volts().filter(|_| yard && !self.is_battery(&world));
                let battery_day = emf.and_then(|emf| BatteryDay::draw(emf, random));
                let random = random.clone();
                return Some(Case {
                    world,
                    told,
                    complaint: condition,
                    faults,
                    random,
                    surroundings,
                    slips: Vec::new(),
                    battery_day,
                });
            }
        }
        None
    }

    fn draw(&self, weights: &[f64], surroundings: Surroundings, random: &mut Random) -> Trouble {
        let suspect = random.weighted(weights);
        World::draw(&self.model.suspects().list[suspect].faults[0], suspect, surroundings, random)
    }

    /// Weights of what a fault has to do with.
    fn beside(&self, weights: &[f64], first: usize) -> Vec<f64> {
        let near = go_with(self.model.circuit(), &self.model.suspects().list, first);
        weights.iter().zip(near).map(|(w, near)| if near { *w } else { 0.0 }).collect()
    }

    /// Whether the battery is what is wrong.
    fn is_battery(&self, world: &World) -> bool {
        let circuit = self.model.circuit();
        world.troubles.iter().any(|t| match self.model.suspects().list[t.suspect].unit {
            Unit::Part(part) => circuit.part(part).kind == PartKind::Battery,
            _ => false,
        })
    }

    /// Weights of suspects as this yard has them: the table's, shifted kind by kind.
    fn other_priors(&self, faults: Faults, random: &mut Random) -> Vec<f64> {
        let mut shifts: HashMap<(SiteKind, FaultMode), f64> = HashMap::new();
        let weights = self.model.suspects().list.iter().map(|suspect| {
            let Some(fault) = suspect.faults.first() else { return 0.0 };
            if fault.mode.lasts() == (faults == Faults::Intermittent) {
                return 0.0;
            }
            let kind = (site_of(self.model.circuit(), fault), fault.mode);
            let shift =
                *shifts.entry(kind).or_insert_with(|| random.normal(0.0, OTHER_PRIORS).exp());
            suspect.prior * shift
        });
        weights.collect()
    }

    /// The conditions of ordinary use in which something is noticed that a sound machine would not
    /// show; failing that, those one move away.
    fn complaints(&self, world: &World, changes: &[Change]) -> Vec<(Condition, Sense, Noticed)> {
        let look = |condition: &Condition| {
            let found = world.with(changes, condition);
            // Nobody complains of what this very machine has always done.
            let sound = world.with(&[], condition);
            let sense = complaint(self.model.circuit(), condition, (&found, &sound))?;
            Some((condition.clone(), sense, found))
        };
        let all = usual_conditions(self.model.circuit());
        let usual = self.model.circuit().normal_use().len();
        // What will not start cannot be complained of for how it runs.
        let first = all[..usual].iter().find_map(look);
        match first {
            Some(first) => vec![first],
            None => all[usual..].iter().filter_map(look).take(1).collect(),
        }
    }

    /// What the customer tells: the complaint, and often something that works.
    fn told(
        &self,
        world: &World,
        faults: Faults,
        (condition, sense, shown): (&Condition, Sense, &Noticed),
        random: &mut Random,
    ) -> Vec<Evidence> {
        let statement = |condition: &Condition,
                         sense: Sense,
                         noticed: &Noticed,
                         at_times,
                         random: &mut Random| Evidence {
            sequence: 0,
            condition: condition.clone(),
            set_up: vec![],
            observation: Observation::Sensed(sensed(noticed, sense, random)),
            repeats: 1,
            source: Source::Told,
            at_times,
            times_an_hour: None,
            celsius: None,
            idle: false,
        };
        let at_times = faults == Faults::Intermittent;
        let mut told = vec![statement(condition, sense, shown, at_times, random)];
        world.let_slip(&mut told[0], random);
        let usual = self.model.circuit().normal_use();
        let before = usual.iter().position(|c| c == condition).unwrap_or(usual.len());
        for works in &usual[..before] {
            let sense = match works.engine {
                Engine::Stopped => Sense::Starter,
                _ => Sense::Engine,
            };
            if random.happens(0.5)
                && let Some(noticed) = self.sound.get(works)
            {
                told.push(statement(works, sense, noticed, false, random));
            }
        }
        for (i, entry) in told.iter_mut().enumerate() {
            entry.sequence = i as u64 + 1;
        }
        told
    }
}

/// Ordinary use, in order, and then everything one move away from it.
pub(super) fn usual_conditions(circuit: &Circuit) -> Vec<Condition> {
    let mut all = circuit.normal_use();
    for condition in circuit.normal_use() {
        for moved in one_move_away(circuit, &condition) {
            if !all.contains(&moved) {
                all.push(moved);
            }
        }
    }
    all
}
