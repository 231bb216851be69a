//! The fewest steps that expose every fault which can be exposed, in the order that takes the least.

use super::exposure::{ExposedFault, Exposure, exposure};
use super::order::{Before, Stands, order};
use super::routes::{Routes, let_go};
use super::smallest::{Cover, smallest_cover};
use super::step::{Act, Step, set, turned};
use crate::circuit::{Change, Circuit, Condition, Fault, FaultMode, fault_notation};
use crate::diagnosis::Unit;
use crate::interlock::{DutyProof, Judge, phrase};
use crate::machine::lower;
use std::collections::BTreeSet;

/// A step in its place.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct PlannedStep {
    pub step: Step,
    /// The engine is stopped before it.
    pub stops_first: bool,
    /// Where the engine is started before it, if it has to be.
    pub starts_at: Option<Condition>,
    /// How the controls stand on the way there, control by control, the engine running.
    pub way: Vec<Condition>,
    /// The faults that show there, by index.
    pub exposes: Vec<usize>,
    /// The units that a fault of would show there, whether it breaks a duty or not.
    pub concerns: BTreeSet<Unit>,
}

/// What to try before a machine goes back.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct ReleasePlan {
    pub steps: Vec<PlannedStep>,
    pub cover: Cover,
    /// Steps that may be tried at all, of which these were chosen.
    pub candidates: usize,
    /// Every fault that breaks a duty, at its sizes.
    pub faults: Vec<ExposedFault>,
    /// Duties that the machine as it is does not do.
    pub broken: Vec<DutyProof>,
    /// How often the engine is started, and blades turn.
    pub starts: usize,
    pub blades: usize,
}

impl PlannedStep {
    /// What is done before it is tried, a sentence each.
    ///
    /// # Arguments
    /// `stands` is how the controls stand after the step before.
    pub fn first(&self, circuit: &Circuit, stands: &Condition) -> Vec<String> {
        let mut lines = Vec::new();
        let mut say = |before: &str, what: String| {
            if !what.is_empty() {
                lines.push(format!("{before}{what}."));
            }
        };
        if self.stops_first {
            say("", "Stop the engine".to_owned());
        }
        let Some(start) = &self.starts_at else {
            if self.step.act == Act::Crank {
                say("", set(circuit, stands, &self.step.from));
                return lines;
            }
            self.along(circuit, stands, say);
            return lines;
        };
        say("", set(circuit, stands, start));
        say("", "Start the engine".to_owned());
        // The key has sprung back by itself.
        self.along(circuit, &let_go(circuit, start), say);
        lines
    }

    /// The way there with the engine running, control by control.
    fn along(&self, circuit: &Circuit, from: &Condition, mut say: impl FnMut(&str, String)) {
        let mut here = from;
        let mut running = "With the engine running: ";
        for next in &self.way {
            let moved = turned(circuit, here, next);
            let moved = if running.is_empty() { moved } else { lower(&moved) };
            if !moved.is_empty() {
                say(running, moved);
                running = "";
            }
            here = next;
        }
    }
}

impl ReleasePlan {
    /// Plans for a machine. Takes as long as its fault sheet: seconds.
    ///
    /// # Arguments
    /// `found` is what it has besides what its document says that it came with.
    pub fn of(circuit: &Circuit, found: &[Change]) -> Self {
        let Exposure { steps, faults, broken } = exposure(circuit, found);
        let rows: Vec<_> =
            faults.iter().filter(|f| f.is_to_be_shown()).map(|f| f.shown_by.clone()).collect();
        let weights: Vec<_> = steps.iter().map(|s| s.trouble(circuit)).collect();
        let cover = smallest_cover(&rows, &weights);
        let mut judge = Judge::new(circuit, found);
        let routes = Routes::of(circuit, &mut judge);
        let chosen: Vec<&Step> = cover.columns.iter().map(|c| &steps[*c]).collect();
        let order = order(circuit, &routes, &chosen);
        let mut stands = Stands::parked(circuit);
        let mut planned = Vec::with_capacity(chosen.len());
        let kept = |fault: &&ExposedFault| fault.is_to_be_shown();
        for place in order {
            let (step, column) = (chosen[place], cover.columns[place]);
            let before = Before::of(&routes, &stands, step);
            stands = Stands::after(&routes, step);
            let shows = |f: &ExposedFault| f.shown_by.contains(&column);
            let exposes = faults.iter().filter(kept).enumerate().filter(|(_, f)| shows(f));
            planned.push(PlannedStep {
                step: step.clone(),
                stops_first: before.stops,
                starts_at: before.starts_at,
                way: before.way,
                exposes: exposes.map(|(i, _)| i).collect(),
                concerns: faults.iter().filter(|f| shows(f)).map(|f| f.unit).collect(),
            });
        }
        let started = |p: &PlannedStep| p.starts_at.is_some() || p.step.starts();
        Self {
            starts: planned.iter().filter(|p| started(p)).count(),
            blades: planned.iter().filter(|p| p.step.blades).count(),
            steps: planned,
            cover,
            candidates: steps.len(),
            faults: faults.into_iter().filter(ExposedFault::is_to_be_shown).collect(),
            broken,
        }
    }

    /// How many different faults, whatever their size, some step of the plan shows.
    pub fn exposed(&self) -> usize {
        distinct(self.faults.iter().filter(|f| !f.shown_by.is_empty()))
    }

    /// How many different faults, whatever their size, a step of the plan shows.
    pub fn exposed_by(&self, step: &PlannedStep) -> usize {
        distinct(step.exposes.iter().map(|f| &self.faults[*f]))
    }

    /// Faults that no step can show, each once: they take a reading.
    pub fn unexposed(&self, circuit: &Circuit) -> Vec<Unexposed> {
        let mut all: Vec<(Fault, Unexposed)> = Vec::new();
        for own in self.faults.iter().filter(|f| f.shown_by.is_empty()) {
            let known = all.iter_mut().find(|(f, u)| *f == own.fault && u.unit == own.unit);
            match known {
                Some((_, same)) => {
                    let more = own.breaks.iter().filter(|d| !same.breaks.contains(d));
                    let more: Vec<_> = more.copied().collect();
                    same.breaks.extend(more);
                }
                None => {
                    let fault = fault_notation(circuit, own.fault.at(own.size));
                    let (mode, breaks) = (own.fault.mode, own.breaks.clone());
                    all.push((own.fault, Unexposed { unit: own.unit, mode, fault, breaks }));
                }
            }
        }
        all.into_iter().map(|(_, unexposed)| unexposed).collect()
    }
}

/// A fault that breaks a duty and that no step may show.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Unexposed {
    pub unit: Unit,
    pub mode: FaultMode,
    /// In the fault notation, at one of its sizes.
    pub fault: String,
    /// Duties, by index.
    pub breaks: Vec<usize>,
}

impl Unexposed {
    /// How it is looked for with the meter, in words.
    pub fn test(&self, circuit: &Circuit) -> String {
        let named = |address: &str| match address.split_once('.') {
            Some((part, terminal)) => {
                let own = circuit.document().parts.iter().find(|p| p.id == part);
                format!("{} {terminal}", own.map_or(part, |p| p.name.as_str()))
            }
            None => address.to_owned(),
        };
        let (subject, mode) = self.fault.split_once('=').unwrap_or((&self.fault, ""));
        if let Some(other) = mode.strip_prefix("touches:") {
            let (other, at) = other.split_once('@').unwrap_or((other, ""));
            let other = other.split_once(':').map_or(other, |(other, _)| other);
            let at = at.split_once('=').and_then(|(control, position)| {
                let control = circuit.controls.iter().find(|c| c.id == control)?;
                let at = control.positions.iter().position(|p| p.id == position)?;
                Some(format!(", {}", phrase(control, &[at])))
            });
            let (from, to, at) = (named(subject), named(other), at.unwrap_or_default());
            return format!("Plug off, {from} to {to}{at}: no beep, and over 1 Mohm.");
        }
        let contact = subject.split_once('.').and_then(|(part, id)| {
            let part = circuit.document().parts.iter().find(|p| p.id == part)?;
            Some((part, part.contacts.iter().find(|c| c.id == id)?))
        });
        match (contact, mode) {
            (Some((part, contact)), "made" | "open") => {
                let [from, to] = &contact.between;
                let says = if mode == "made" {
                    "no beep where it must be open"
                } else {
                    "a beep where it must be closed"
                };
                format!("Plug off, {} {from} to {to}: {says}.", part.name)
            }
            _ => "Check it with the meter or on the switch bench.".to_owned(),
        }
    }
}

fn distinct<'a>(faults: impl Iterator<Item = &'a ExposedFault>) -> usize {
    let mut last: Option<(Unit, Fault)> = None;
    faults.filter(|f| last.replace((f.unit, f.fault)) != Some((f.unit, f.fault))).count()
}

impl ExposedFault {
    /// Whether it breaks a duty.
    fn is_to_be_shown(&self) -> bool {
        !self.breaks.is_empty()
    }
}

impl Step {
    /// Whether the engine runs after it and did not before.
    fn starts(&self) -> bool {
        self.act == Act::Crank && self.expected == super::step::Saw::Starts
    }
}
