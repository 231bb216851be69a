//! What may be wrong: suspects, their sizes, and the unit that cures each.

use super::history::History;
use super::priors::NOTHING_WRONG;
use super::scenario::Scenario;
use crate::circuit::{Change, Circuit, ElementId, ElementKind, Fault, FaultMode, single_faults};
use crate::diagnosis::evidence::{Inspected, Unit};
use std::sync::Arc;

/// A set of faults, each as bad as it may be; an empty set is a sound machine.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Suspect {
    pub faults: Vec<Fault>,
    pub unit: Unit,
    pub prior: f64,
    /// The elements the faults sit in.
    pub elements: Vec<ElementId>,
    /// Places, by index, where shaking would bring out a fault that comes and goes.
    pub(crate) places: Vec<usize>,
    /// Wires, by index, that the faults sit in.
    pub(crate) wires: Vec<usize>,
}

impl Suspect {
    /// The sound machine's.
    fn nothing() -> Self {
        Self {
            faults: Vec::new(),
            unit: Unit::Nothing,
            prior: NOTHING_WRONG,
            elements: Vec::new(),
            places: Vec::new(),
            wires: Vec::new(),
        }
    }

    /// Whether who looks at this looks at the fault.
    pub(crate) fn sits_in(&self, inspected: Inspected, fault: &Fault) -> bool {
        match inspected {
            Inspected::Plug(part) => self.unit == Unit::Part(part),
            Inspected::Fuse(element) | Inspected::Lug(element) => self.elements.contains(&element),
            Inspected::Linkage(plunger) => fault.plunger() == Some(plunger),
            Inspected::Wire(wire) => self.wires.contains(&wire),
        }
    }
}

/// A suspect at one of its magnitudes.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Hypothesis {
    pub suspect: usize,
    /// What it changes in the circuit, by index into the suspects' scenarios.
    pub scenario: usize,
    /// How the machine is wired then, by index into the circuit's wirings.
    pub wiring: usize,
    /// The chance that it shows in any one observation; one for what lasts.
    pub shows: f64,
    /// Its share of all prior weight; they add up to one.
    pub prior: f64,
}

/// Every suspect of a machine.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Suspects {
    pub list: Vec<Suspect>,
    pub hypotheses: Vec<Hypothesis>,
    pub scenarios: Arc<[Scenario]>,
}

/// Chances of showing that stand for faults that come and go, equally likely.
const SHOWS: [f64; 2] = [0.08, 0.4];

impl Suspects {
    /// All single faults of the machine, and the sound machine.
    pub fn of(circuit: &Circuit) -> Self {
        Self::in_shop(circuit, &History::default())
    }

    /// The same, with the weights that the shop's closed jobs give them.
    pub fn in_shop(circuit: &Circuit, history: &History) -> Self {
        let faults = single_faults(circuit);
        let weights = history.weights(circuit, &faults);
        let total = NOTHING_WRONG + weights.iter().sum::<f64>();
        let mut building = Building::default();
        building.list.push(Suspect::nothing());
        building.list.extend(faults.iter().zip(&weights).map(|(f, w)| suspect(circuit, f, *w)));
        for (number, wiring) in circuit.wirings.iter().enumerate() {
            let sound = building.scenarios.len();
            building.scenarios.push(Scenario::wired(&wiring.changes, sound));
            building.hypotheses.push(Hypothesis {
                suspect: 0,
                scenario: sound,
                wiring: number,
                shows: 1.0,
                prior: wiring.weight * NOTHING_WRONG / total,
            });
            for (i, (fault, weight)) in faults.iter().zip(&weights).enumerate() {
                // A wire that is not there cannot break.
                let gone = |e| wiring.changes.contains(&Change::Open(e));
                if !fault.element().is_some_and(gone) {
                    let share = wiring.weight * weight / total;
                    building.add(circuit, (fault, i + 1), (number, sound), share);
                }
            }
        }
        building.done()
    }

    /// The scenario of the sound machine that is wired as a hypothesis has it.
    pub(crate) fn sound_of(&self, hypothesis: usize) -> usize {
        self.scenarios[self.hypotheses[hypothesis].scenario].sound
    }

    /// The scenario of the sound machine in a wiring, by index into the circuit's.
    pub(crate) fn sound_in(&self, wiring: usize) -> usize {
        let own = self.hypotheses.iter().find(|h| h.suspect == 0 && h.wiring == wiring);
        own.map_or(0, |h| h.scenario)
    }

    /// The unit that cures a hypothesis.
    pub(crate) fn unit_of(&self, hypothesis: usize) -> Unit {
        self.list[self.hypotheses[hypothesis].suspect].unit
    }

    /// Only these hypotheses, each as a suspect of its own, and the sound machine.
    pub(crate) fn reduced(&self, hypotheses: &[usize]) -> Self {
        let mut few =
            Building { scenarios: vec![self.scenarios[0].clone()], ..Building::default() };
        let priors = hypotheses.iter().map(|h| self.list[self.hypotheses[*h].suspect].prior);
        let total: f64 = priors.sum::<f64>() + self.list[0].prior;
        for h in std::iter::once(&0).chain(hypotheses) {
            let own = &self.hypotheses[*h];
            let suspect = few.list.len();
            few.list.push(self.list[own.suspect].clone());
            if suspect > 0 {
                few.scenarios.push(self.scenarios[own.scenario].alone());
            }
            let prior = few.list[suspect].prior / total;
            let (scenario, wiring) = (suspect, own.wiring);
            few.hypotheses.push(Hypothesis { suspect, scenario, wiring, shows: own.shows, prior });
        }
        few.done()
    }
}

/// Suspects of which more are added.
#[derive(Default)]
struct Building {
    list: Vec<Suspect>,
    hypotheses: Vec<Hypothesis>,
    scenarios: Vec<Scenario>,
}

impl Building {
    fn done(self) -> Suspects {
        let Self { list, hypotheses, scenarios } = self;
        Suspects { list, hypotheses, scenarios: scenarios.into() }
    }

    /// Adds a fault's hypotheses in a wiring, whose sound machine has the scenario `sound`.
    fn add(
        &mut self,
        circuit: &Circuit,
        (fault, suspect): (&Fault, usize),
        (wiring, sound): (usize, usize),
        share: f64,
    ) {
        let scenarios = self.scenarios_of(circuit, (fault, wiring), sound);
        let shows: &[f64] = if fault.mode.lasts() { &[1.0] } else { &SHOWS };
        let prior = share / (scenarios.len() * shows.len()) as f64;
        for scenario in scenarios {
            let own = |shows: &f64| Hypothesis { suspect, scenario, wiring, shows: *shows, prior };
            self.hypotheses.extend(shows.iter().map(own));
        }
    }

    /// The scenarios of a fault's sizes, made or found.
    fn scenarios_of(
        &mut self,
        circuit: &Circuit,
        (fault, wiring): (&Fault, usize),
        sound: usize,
    ) -> Vec<usize> {
        let wired = self.scenarios[sound].clone();
        if let Change::AtTimes(element) = fault.at(0.0) {
            // While it shows it is what the lasting one is.
            let open = wired.with(Change::Open(element));
            let own = self.scenarios[sound..].iter().position(|c| c.changes == open.changes);
            if let Some(found) = own {
                return vec![sound + found];
            }
            self.scenarios.push(open);
            return vec![self.scenarios.len() - 1];
        }
        let first = self.scenarios.len();
        let magnitudes = magnitudes(fault, wiring);
        let last = first + magnitudes.len() - 1;
        for (i, magnitude) in magnitudes.into_iter().enumerate() {
            let change = fault.at(magnitude);
            let battery = |e| matches!(circuit.element(e).kind, ElementKind::Source { .. });
            let emf = match change {
                Change::Emf(e, volts) | Change::Drained(e, volts) if battery(e) => Some(volts),
                _ => None,
            };
            let here = first + i;
            let sizes =
                (last > first).then(|| (here.saturating_sub(1).max(first), (here + 1).min(last)));
            self.scenarios.push(wired.sized(change, emf, sizes));
        }
        (first..=last).collect()
    }
}

/// Where a machine is wired otherwise than drawn, one in so many sizes of a fault stands for all.
const COARSE: usize = 2;
/// A fault of fewer sizes has them all.
const MANY_SIZES: usize = 6;

/// The sizes that a fault is listed in, where the machine is wired so.
pub(crate) fn magnitudes(fault: &Fault, wiring: usize) -> Vec<f64> {
    let all = fault.magnitudes();
    let step = if wiring == 0 || all.len() < MANY_SIZES { 1 } else { COARSE };
    all.iter().skip(step / 2).step_by(step).copied().collect()
}

/// A fault as a suspect.
fn suspect(circuit: &Circuit, fault: &Fault, prior: f64) -> Suspect {
    let seat = fault.seat(circuit);
    Suspect {
        unit: unit(circuit, fault),
        faults: vec![*fault],
        prior,
        places: places(circuit, &seat.elements),
        elements: seat.elements,
        wires: seat.wires,
    }
}

/// The unit that cures a fault.
fn unit(circuit: &Circuit, fault: &Fault) -> Unit {
    let seat = fault.seat(circuit);
    match (fault.plunger(), seat.part, seat.wires.first()) {
        // A switch of the wrong kind is changed, not its linkage.
        (Some(plunger), ..) if fault.mode != FaultMode::WrongSwitch => Unit::Linkage(plunger),
        (_, Some(part), _) => Unit::Part(replaced_with(circuit, part)),
        (_, None, Some(wire)) => Unit::Wire(*wire),
        _ => Unit::Nothing,
    }
}

/// The part that is bought and fitted when this one is bad: itself, or the box it is one of.
fn replaced_with(circuit: &Circuit, part: usize) -> usize {
    let Some(unit) = circuit.part(part).unit.as_ref() else {
        return part;
    };
    let own = |p: &crate::machine::Part| p.id == *unit || p.unit.as_ref() == Some(unit);
    circuit.document().parts.iter().position(own).unwrap_or(part)
}

/// The places of elements: a part's own, a wire's two ends.
fn places(circuit: &Circuit, elements: &[ElementId]) -> Vec<usize> {
    let document = circuit.document();
    let place = |part: &str| {
        let part = document.parts.iter().find(|p| p.id == part)?;
        document.places.iter().position(|p| Some(&p.id) == part.place.as_ref())
    };
    let mut all = Vec::new();
    for element in elements {
        let e = circuit.element(*element);
        match (e.part, e.wire) {
            (Some(part), _) => all.extend(place(&circuit.part(part).id)),
            (None, Some(wire)) => {
                let wire = &document.wires[wire];
                let ends = [&wire.from, &wire.to];
                all.extend(ends.iter().filter_map(|t| place(t.split('.').next()?)));
            }
            _ => {}
        }
    }
    all.sort_unstable();
    all.dedup();
    all
}
