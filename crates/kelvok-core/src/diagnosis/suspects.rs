//! What may be wrong: suspects, their sizes, and the unit that cures each.

use super::Inspected;
use super::priors::{History, NOTHING_WRONG};
use crate::circuit::{
    Change, Circuit, ElementId, ElementKind, Fault, FaultMode, PlungerId, Program, Solver,
    single_faults,
};
use std::sync::{Arc, OnceLock};

/// What is repaired or replaced: a verdict is a set of these.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Unit {
    /// A part, by index into the document's parts.
    Part(usize),
    /// A wire, by index into the document's wires.
    Wire(usize),
    /// The linkage that works a plunger, apart from its switch.
    Linkage(PlungerId),
    /// Nothing is wrong with the circuit now.
    Nothing,
}

/// A set of faults, each as bad as it may be; an empty set is a sound machine.
#[derive(Clone, Debug)]
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
    /// Whether who looks at this looks at the fault.
    pub(super) fn sits_in(&self, inspected: Inspected, fault: &Fault) -> bool {
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
pub struct Hypothesis {
    pub suspect: usize,
    /// What it changes in the circuit, by index into the suspects' columns.
    pub column: usize,
    /// The chance that it shows in any one observation; one for what lasts.
    pub shows: f64,
    /// Its share of all prior weight; they add up to one.
    pub prior: f64,
}

/// A set of changes that hypotheses come to: what is solved for. The first is the sound machine's.
#[derive(Clone, Debug, Default)]
pub struct Column {
    pub changes: Vec<Change>,
    /// The battery's volts at rest, where the changes are about those.
    pub emf: Option<f64>,
    /// The columns of the next smaller and the next greater size of the same fault.
    pub(super) sizes: Option<(usize, usize)>,
    /// Where the changes join nodes: the elimination order with those, once asked for.
    program: OnceLock<Option<Arc<Program>>>,
}

impl Column {
    fn of(changes: Vec<Change>) -> Self {
        Self { changes, ..Self::default() }
    }

    /// Both at once.
    pub(super) fn both(one: &Self, other: &Self) -> Self {
        let changes = [one.changes.as_slice(), other.changes.as_slice()].concat();
        Self { emf: one.emf.or(other.emf), ..Self::of(changes) }
    }

    /// A solver with room for what the changes join; `None` where they join nothing.
    pub(super) fn solver<'c>(&self, circuit: &'c Circuit) -> Option<Solver<'c>> {
        let program = self.program.get_or_init(|| circuit.program_for(&self.changes)).clone()?;
        let joins = self.changes.iter().map(|c| c.joins(circuit).len()).sum();
        Some(Solver::on(circuit, program, joins))
    }
}

/// Every suspect of a machine.
#[derive(Clone, Debug)]
pub struct Suspects {
    pub list: Vec<Suspect>,
    pub hypotheses: Vec<Hypothesis>,
    pub columns: Vec<Column>,
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
        let mut suspects =
            Self { list: Vec::new(), hypotheses: Vec::new(), columns: vec![Column::default()] };
        suspects.list.push(Suspect {
            faults: Vec::new(),
            unit: Unit::Nothing,
            prior: NOTHING_WRONG,
            elements: Vec::new(),
            places: Vec::new(),
            wires: Vec::new(),
        });
        let nothing = NOTHING_WRONG / total;
        suspects.hypotheses.push(Hypothesis { suspect: 0, column: 0, shows: 1.0, prior: nothing });
        for (fault, prior) in faults.into_iter().zip(weights) {
            suspects.add(circuit, fault, prior, prior / total);
        }
        suspects
    }

    /// Only these hypotheses, each as a suspect of its own, and the sound machine.
    pub(crate) fn reduced(&self, hypotheses: &[usize]) -> Self {
        let mut few =
            Self { list: vec![], hypotheses: vec![], columns: vec![self.columns[0].clone()] };
        let priors = hypotheses.iter().map(|h| self.list[self.hypotheses[*h].suspect].prior);
        let total: f64 = priors.sum::<f64>() + self.list[0].prior;
        for h in std::iter::once(&0).chain(hypotheses) {
            let own = &self.hypotheses[*h];
            let suspect = few.list.len();
            few.list.push(self.list[own.suspect].clone());
            if suspect > 0 {
                few.columns.push(Column { sizes: None, ..self.columns[own.column].clone() });
            }
            let prior = few.list[suspect].prior / total;
            few.hypotheses.push(Hypothesis { suspect, column: suspect, shows: own.shows, prior });
        }
        few
    }

    fn add(&mut self, circuit: &Circuit, fault: Fault, prior: f64, share: f64) {
        let suspect = self.list.len();
        let columns = self.columns_of(circuit, &fault);
        let shows: &[f64] = if fault.mode.lasts() { &[1.0] } else { &SHOWS };
        let each = share / (columns.len() * shows.len()) as f64;
        for column in columns {
            let own = shows.iter().map(|s| Hypothesis { suspect, column, shows: *s, prior: each });
            self.hypotheses.extend(own);
        }
        let seat = fault.seat(circuit);
        self.list.push(Suspect {
            unit: unit(circuit, &fault),
            faults: vec![fault],
            prior,
            places: places(circuit, &seat.elements),
            elements: seat.elements,
            wires: seat.wires,
        });
    }

    /// The columns of a fault's sizes, made or found.
    fn columns_of(&mut self, circuit: &Circuit, fault: &Fault) -> Vec<usize> {
        if let Change::AtTimes(element) = fault.at(0.0) {
            // While it shows it is what the lasting one is.
            let open = [Change::Open(element)];
            if let Some(found) = self.columns.iter().position(|c| c.changes == open) {
                return vec![found];
            }
            self.columns.push(Column::of(open.to_vec()));
            return vec![self.columns.len() - 1];
        }
        let first = self.columns.len();
        let last = first + fault.magnitudes().len() - 1;
        for (i, magnitude) in fault.magnitudes().iter().enumerate() {
            let change = fault.at(*magnitude);
            let battery = |e| matches!(circuit.element(e).kind, ElementKind::Source { .. });
            let emf = match change {
                Change::Emf(e, volts) if battery(e) => Some(volts),
                _ => None,
            };
            let here = first + i;
            let sizes =
                (last > first).then(|| (here.saturating_sub(1).max(first), (here + 1).min(last)));
            let column = Column::of(vec![change]);
            self.columns.push(Column { emf, sizes, ..column });
        }
        (first..=last).collect()
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
