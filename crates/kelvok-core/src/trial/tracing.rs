//! The virtual mechanic with a buzzer: traces a harness that may not be as drawn, and slips.

use crate::circuit::{
    Circuit, Condition, Instrument, Leads, NodeId, Reading, Relays, Setting, Solver,
};
use crate::machine::{BUZZER_OHMS, MachineDocument, Provenance};
use crate::random::Random;
use crate::trace::{Harness, LinkState, Trace, TraceFinding, TraceStep};
use rayon::prelude::*;
use std::collections::BTreeSet;

/// Of a hundred buzzes two go wrong.
const SLIP: f64 = 0.02;
/// Nobody goes on for longer.
const MOST_BUZZES: usize = 2_000;

/// How the true machine differs from what is drawn of it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Miswired {
    /// It does not.
    Not,
    /// Two pins of a plug are the other way round.
    Swapped,
    /// A wire ends in another cavity of its plug.
    Elsewhere,
    /// Somebody joined two wires that are drawn apart.
    Bypassed,
    /// A wire is not there.
    Missing,
}

impl Miswired {
    /// Every way to be wrong.
    pub const ERRORS: [Self; 4] = [Self::Swapped, Self::Elsewhere, Self::Bypassed, Self::Missing];
}

/// How one harness was traced.
#[derive(Clone, Debug, Default, PartialEq)]
#[allow(missing_docs)]
pub struct TraceOutcome {
    pub buzzes: usize,
    /// The fewest with which someone who knew the wiring could have shown it: those of every net in a row.
    pub fewest: usize,
    pub minutes: f64,
    /// Links called traced, and of these the ones that are not there.
    pub traced: usize,
    pub wrong: usize,
    /// Links that are there and were not called traced.
    pub left: usize,
    /// Something was found that is not so.
    pub false_findings: usize,
    /// The error of the drawing was named; true where there was none.
    pub named: bool,
    /// The error that was drawn.
    pub error: Option<Miswired>,
    /// Plugs and fuses pulled.
    pub pulled: usize,
}

/// The machine as it is, beside the one that is drawn.
struct Truth {
    circuit: Circuit,
    random: Random,
}

/// Traces a machine whose true wiring is `truth`'s, known as `drawn`.
pub fn trace_machine(drawn: &Circuit, truth: Circuit, seed: u64, case: u64) -> TraceOutcome {
    let random = Random::for_case(seed, &drawn.document().identity.model, case);
    let mut world = Truth { circuit: truth, random };
    let mut trace = Trace::new(Harness::new(drawn));
    let mut outcome = TraceOutcome::default();
    let mut off = BTreeSet::new();
    while outcome.buzzes < MOST_BUZZES
        && let Some(step) = trace.next(None)
    {
        outcome.buzzes += 1;
        outcome.minutes += step.minutes;
        off.extend(step.off.iter().copied());
        let reading = world.reads(&trace, &step);
        let entry = step.entry(&trace, reading);
        if trace.found(entry).is_err() {
            break;
        }
    }
    outcome.pulled = off.len();
    world.judge(&trace, &mut outcome);
    outcome
}

/// Ohms between two terminals of a machine at rest with these plugs and fuses off, the battery off besides;
/// none where nothing leads from one to the other.
pub fn ohms_between(circuit: &Circuit, red: &str, black: &str, off: &[String]) -> Option<f64> {
    let node = |at: &str| circuit.terminal(at).ok();
    let (red, black): (NodeId, NodeId) = (node(red)?, node(black)?);
    let off = off.iter().filter_map(|p| circuit.part_named(p)).collect();
    let changes = Harness::new(circuit).taken_off(&off);
    let setting = Setting::new(circuit, &Condition::at_rest(circuit)).with(circuit, &changes);
    let mut solver: Solver<'_> = Solver::for_changes(circuit, &changes);
    solver.solve(&[&setting], &[Relays::default()]);
    let lane = solver.lane(0);
    Leads::new(&lane).resistance(red, black)
}

impl Truth {
    fn harness(&self) -> Harness<'_> {
        Harness::new(&self.circuit)
    }

    /// What the meter shows, slips and all.
    fn reads(&mut self, trace: &Trace<'_>, step: &TraceStep) -> Reading {
        let harness = trace.harness();
        let name = |end: usize| harness.ends()[end].terminals[0].clone();
        let (mut red, mut black) = (name(step.red), name(step.black));
        let parts = step.off.iter().map(|p| harness.circuit().part(*p).id.clone());
        let mut off: Vec<String> = parts.collect();
        let mut touches = true;
        if self.random.happens(SLIP) {
            match self.random.index(5) {
                0 | 1 => touches = false,
                2 => red = self.neighbor(&red),
                3 => black = self.neighbor(&black),
                _ if !off.is_empty() => {
                    off.remove(self.random.index(off.len()));
                }
                _ => touches = false,
            }
        }
        let ohms = if touches { ohms_between(&self.circuit, &red, &black, &off) } else { None };
        match step.instrument {
            Instrument::Ohmmeter => {
                Reading::Ohms(ohms.map(|o| o * self.random.normal(1.0, 0.02) + 0.05))
            }
            _ => Reading::Buzz(ohms.is_some_and(|o| o < BUZZER_OHMS)),
        }
    }

    /// A cavity of the same plug.
    fn neighbor(&mut self, of: &str) -> String {
        let part = of.split('.').next().unwrap_or(of);
        let own = self.circuit.document().parts.iter().find(|p| p.id == part);
        let others = own.map_or_else(Vec::new, |p| {
            let cavities = p.mates.keys().chain(&p.terminals);
            cavities.map(|c| format!("{part}.{c}")).filter(|c| c != of).collect()
        });
        if others.is_empty() {
            of.to_owned()
        } else {
            others[self.random.index(others.len())].clone()
        }
    }

    /// How the ends of what is drawn really hang together.
    fn labels(&self, drawn: &Harness<'_>) -> Vec<usize> {
        let own = self.harness();
        let mut nets: Vec<usize> = (0..own.ends().len()).collect();
        for link in own.links() {
            let (from, to) = (nets[link.ends.0], nets[link.ends.1]);
            nets.iter_mut().filter(|n| **n == from).for_each(|n| *n = to);
        }
        let at =
            |end: &crate::trace::End| own.end(&end.terminals[0]).map_or(usize::MAX, |e| nets[e]);
        drawn.ends().iter().map(at).collect()
    }

    fn judge(&self, trace: &Trace<'_>, outcome: &mut TraceOutcome) {
        let harness = trace.harness();
        let labels = self.labels(harness);
        let nets: BTreeSet<usize> = labels.iter().copied().collect();
        outcome.fewest = labels.len() - nets.len() + negatives(harness, &labels);
        let standing = trace.standing();
        for (link, state) in harness.links().iter().zip(&standing.links) {
            let there = labels[link.ends.0] == labels[link.ends.1];
            let traced = *state == LinkState::Traced;
            outcome.traced += usize::from(traced);
            outcome.wrong += usize::from(traced && !there);
            outcome.left += usize::from(!traced && there);
        }
        let joined = |a: usize, b: usize| labels[a] == labels[b];
        for finding in &standing.findings {
            let so = match finding {
                TraceFinding::Swapped(..) | TraceFinding::Wired(..) => true,
                TraceFinding::Joined(a, b) => joined(*a, *b),
                TraceFinding::NotThere(link) => {
                    let (a, b) = harness.links()[*link].ends;
                    !joined(a, b)
                }
            };
            outcome.false_findings += usize::from(!so);
        }
        // What is written afterwards joins the ends as they are.
        // A wire that was found nowhere is said to be, and stays in the document.
        let mut document = trace.written(&standing);
        for finding in &standing.findings {
            if let TraceFinding::NotThere(link) = finding
                && let Some(wire) = harness.links()[*link].wire
            {
                let id = &harness.circuit().document().wires[wire].id;
                document.wires.retain(|w| w.id != *id);
            }
        }
        outcome.named = self.is_written(&document, harness, &labels);
    }

    fn is_written(
        &self,
        document: &MachineDocument,
        drawn: &Harness<'_>,
        labels: &[usize],
    ) -> bool {
        let Some(circuit) = compiled(document) else { return false };
        let written = Self { circuit, random: self.random.clone() };
        let own = written.labels(drawn);
        let pairs = (0..labels.len()).flat_map(|a| (a + 1..labels.len()).map(move |b| (a, b)));
        pairs.into_iter().all(|(a, b)| (own[a] == own[b]) == (labels[a] == labels[b]))
    }
}

/// What has to be shown silent besides, at least, so that none of the ways that a document leaves open is
/// left: a way that parts nothing of what is joined shows only where it would join more.
fn negatives(drawn: &Harness<'_>, labels: &[usize]) -> usize {
    let document = drawn.circuit().document();
    let mut told: Vec<BTreeSet<(usize, usize)>> = Vec::new();
    for alternative in &document.alternatives {
        for choice in &alternative.choices {
            let other = document.settled(&alternative.id, Some(&choice.id), Provenance::Usual);
            let Some(circuit) = other.ok().and_then(|d| compiled(&d)) else { continue };
            let own = Truth { circuit, random: Random::new(0) }.labels(drawn);
            let pairs: Vec<_> = (0..labels.len())
                .flat_map(|a| (a + 1..labels.len()).map(move |b| (a, b)))
                .filter(|(a, b)| (own[*a] == own[*b]) != (labels[*a] == labels[*b]))
                .collect();
            let parts = pairs.iter().any(|(a, b)| labels[*a] == labels[*b]);
            let nets: BTreeSet<_> =
                pairs.into_iter().map(|(a, b)| (labels[a], labels[b])).collect();
            // One buzz may tell of several: those that share no pair of nets need one each.
            if !parts && !nets.is_empty() && told.iter().all(|t| t.is_disjoint(&nets)) {
                told.push(nets);
            }
        }
    }
    told.len()
}

pub(super) fn compiled(document: &MachineDocument) -> Option<Circuit> {
    let text = serde_json::to_string(document).ok()?;
    let machine = crate::machine::Machine::read(&text).ok()?;
    Some(Circuit::compile(&machine))
}

/// A document with an error as people make them, by chance; none where the machine has no room for one.
pub fn miswire(
    document: &MachineDocument,
    how: Miswired,
    seed: u64,
    case: u64,
) -> Option<MachineDocument> {
    let changes = miswiring(document, how, seed, case)?;
    Some(document.corrected(&changes, "", Provenance::Drawing))
}

/// The same in the fault notation.
pub(super) fn miswiring(
    document: &MachineDocument,
    how: Miswired,
    seed: u64,
    case: u64,
) -> Option<Vec<String>> {
    let mut random = Random::for_case(seed ^ 0x5eed, &document.identity.model, case);
    let circuit = compiled(document)?;
    let harness = Harness::new(&circuit);
    let wires: Vec<_> = harness.links().iter().filter(|l| l.wire.is_some()).collect();
    let at = |end: usize| harness.ends()[end].terminals[0].clone();
    let nets = Truth { circuit: circuit.clone(), random: random.clone() }.labels(&harness);
    for _ in 0..200 {
        let link = wires[random.index(wires.len().max(1))];
        let (one, other) = if random.happens(0.5) { link.ends } else { (link.ends.1, link.ends.0) };
        let wire = &document.wires[link.wire?].id;
        let changes = match how {
            Miswired::Not => Vec::new(),
            Miswired::Missing => vec![format!("{wire}=open")],
            Miswired::Swapped | Miswired::Elsewhere => {
                let mates: Vec<usize> = harness.plug_mates(one).collect();
                if mates.is_empty() {
                    continue;
                }
                let mate = mates[random.index(mates.len())];
                if nets[mate] == nets[one] {
                    continue;
                }
                match how {
                    Miswired::Swapped => vec![format!("{}=swapped:{}", at(one), at(mate))],
                    _ => {
                        vec![format!("{wire}=open"), format!("{}=touches:{}", at(other), at(mate))]
                    }
                }
            }
            Miswired::Bypassed => {
                let end = random.index(nets.len());
                if nets[end] == nets[one] {
                    continue;
                }
                vec![format!("{}=touches:{}", at(one), at(end))]
            }
        };
        return Some(changes);
    }
    None
}

/// What is known of a harness before it is traced.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Known {
    /// Its drawing, which is right.
    Drawn,
    /// Its drawing, with one error in it.
    WrongDrawing,
    /// The machine's looks: its usual wiring, and what these leave open.
    Described,
}

/// Traces a machine so many times, slips drawn anew. `document` is the machine as it is; of a described one
/// what is usual, and it is really wired in one of the ways that it leaves open.
pub fn try_tracing(
    document: &MachineDocument,
    known: Known,
    runs: usize,
    seed: u64,
) -> Vec<TraceOutcome> {
    let one = |case: usize| {
        let case = case as u64;
        let mut truth = document.clone();
        match known {
            Known::Drawn => {}
            Known::WrongDrawing => {
                let how = Miswired::ERRORS[case as usize % Miswired::ERRORS.len()];
                truth = miswire(document, how, seed, case)?;
            }
            Known::Described => truth = wired_by_chance(document, seed, case),
        }
        let outcome = trace_machine(&compiled(document)?, compiled(&truth)?, seed, case);
        let error = (known == Known::WrongDrawing)
            .then(|| Miswired::ERRORS[case as usize % Miswired::ERRORS.len()]);
        Some(TraceOutcome { error, ..outcome })
    };
    (0..runs).into_par_iter().filter_map(one).collect()
}

/// A machine wired in one of the ways that its document leaves open.
fn wired_by_chance(document: &MachineDocument, seed: u64, case: u64) -> MachineDocument {
    let mut random = Random::for_case(seed ^ 0xa1fa, &document.identity.model, case);
    let mut truth = document.clone();
    for alternative in &document.alternatives {
        let mut chance = random.share();
        let chosen = alternative.choices.iter().find(|choice| {
            chance -= choice.weight;
            chance < 0.0
        });
        let choice = chosen.map(|c| c.id.as_str());
        if let Ok(settled) = truth.settled(&alternative.id, choice, Provenance::Usual) {
            truth = settled;
        }
    }
    truth
}
