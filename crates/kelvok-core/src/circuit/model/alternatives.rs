//! The ways in which a machine may be wired: as drawn, and as its document's alternatives have it.
//!
//! A wire that only an alternative has is an element of the circuit like any other, which conducts
//! nothing until that alternative's changes give it its ohms: nodes, elements and the order of
//! elimination are the same for every wiring, and one wiring differs from another as a fault does.

use super::change::Change;
use super::circuit::Circuit;
use super::compile::Compiler;
use super::element::{ALWAYS, Element, ElementKind};
use super::notation::{NotationError, parse_change};
use super::wiring::Wiring;
use crate::machine::{MachineDocument, wire_put};
use std::sync::Arc;

/// Combinations of choices below this share are left out, ...
const LEAST_WEIGHT: f64 = 0.03;
/// ... and of more than this the unlikeliest.
const MOST_WIRINGS: usize = 6;

impl Compiler<'_> {
    /// Puts in the wires that only alternatives have.
    pub(super) fn possible_wires(&mut self) {
        let document = self.document;
        for change in changes(document) {
            let Some(wire) = wire_put(change) else { continue };
            let (Some(a), Some(b)) = (self.known(&wire.from), self.known(&wire.to)) else {
                continue;
            };
            let there = |e: &Element| {
                e.kind == ElementKind::Possible && [(a, b), (b, a)].contains(&(e.a, e.b))
            };
            if a == b || self.elements.iter().any(there) {
                continue;
            }
            self.push(Element {
                id: format!("{}~{}", wire.from, wire.to),
                a,
                b,
                ohms: wire.its_ohms(),
                tolerance: 0.2,
                kind: ElementKind::Possible,
                part: None,
                wire: None,
                live: ALWAYS,
            });
        }
    }
}

fn changes(document: &MachineDocument) -> impl Iterator<Item = &str> {
    let choices = document.alternatives.iter().flat_map(|a| &a.choices);
    choices.flat_map(|c| &c.changes).map(String::as_str)
}

impl Circuit {
    /// The machine as one of its wirings has it, and known to be so.
    pub fn wired_as(&self, wiring: usize) -> Self {
        let mut circuit = self.clone();
        let own = Wiring { weight: 1.0, ..self.wirings[wiring].clone() };
        circuit.as_found.extend(own.changes.iter().copied());
        circuit.wirings = vec![Wiring { changes: Vec::new(), ..own }];
        circuit.program = Arc::new(circuit.program_with(&[]));
        circuit
    }

    /// What a change of an alternative is here.
    ///
    /// # Errors
    /// As of any change; or it puts a wire where it cannot be.
    pub fn wiring_change(&self, text: &str) -> Result<Change, NotationError> {
        let Some(wire) = wire_put(text) else { return parse_change(self, text) };
        let ends = (self.terminal(&wire.from)?, self.terminal(&wire.to)?);
        let own = self.elements().find(|(_, e)| {
            e.kind == ElementKind::Possible && [(e.a, e.b), (e.b, e.a)].contains(&ends)
        });
        let wrong = || NotationError::Mode {
            subject: wire.from.clone(),
            mode: format!("touches:{}", wire.to),
        };
        own.map(|(id, _)| Change::Ohms(id, wire.its_ohms())).ok_or_else(wrong)
    }

    /// Every wiring worth a thought, as drawn first. A choice with a change that does not read is left
    /// out; `check` reports it.
    pub(super) fn combine_alternatives(&self) -> Vec<Wiring> {
        let mut all = vec![Wiring { chosen: Vec::new(), weight: 1.0, changes: Vec::new() }];
        for alternative in &self.document().alternatives {
            let choices: Vec<_> = alternative
                .choices
                .iter()
                .map(|choice| {
                    let changes = choice.changes.iter().map(|c| self.wiring_change(c));
                    (choice.weight, changes.collect::<Result<Vec<_>, _>>().unwrap_or_default())
                })
                .collect();
            let drawn = 1.0 - choices.iter().map(|(weight, _)| weight).sum::<f64>();
            let mut next = Vec::new();
            for wiring in &all {
                let with = |chosen, share: f64, more: &[Change]| Wiring {
                    chosen: [wiring.chosen.as_slice(), &[chosen]].concat(),
                    weight: wiring.weight * share,
                    changes: [wiring.changes.as_slice(), more].concat(),
                };
                next.push(with(None, drawn, &[]));
                let read =
                    choices.iter().enumerate().filter(|(_, (_, changes))| !changes.is_empty());
                next.extend(read.map(|(i, (weight, changes))| with(Some(i), *weight, changes)));
            }
            all = next;
        }
        let drawn = all.remove(0);
        all.retain(|w| w.weight >= LEAST_WEIGHT);
        all.sort_by(|a, b| b.weight.total_cmp(&a.weight));
        all.truncate(MOST_WIRINGS - 1);
        all.insert(0, drawn);
        let total: f64 = all.iter().map(|w| w.weight).sum();
        for wiring in &mut all {
            wiring.weight /= total;
        }
        all
    }
}
