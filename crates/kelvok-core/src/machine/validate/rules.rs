//! What rules work on, and those of a document as a whole: head, controls.

use crate::machine::{
    Control, Engine, Expression, FORMAT, MachineDocument, Part, PartKind, Problem,
};
use std::collections::{BTreeMap, BTreeSet};

/// Letters that mean something on every screen: `o` over range, `z` buzz, `n` silent, `u` void,
/// `j` jumper.
const RESERVED_LETTERS: &str = "oznuj";

/// Any figure of a machine lies in here, in its own unit.
const PLAUSIBLE: std::ops::RangeInclusive<f64> = 1e-6..=1e9;

pub(super) struct Rules<'a> {
    pub(super) document: &'a MachineDocument,
    pub(super) unreadable: &'a BTreeSet<String>,
    pub(super) problems: Vec<Problem>,
    /// Terminals that a wire, a splice or a plug lands on.
    pub(super) used: BTreeSet<String>,
}

impl Rules<'_> {
    pub(super) fn wrong(&mut self, path: impl Into<String>, sentence: impl Into<String>) {
        self.problems.push(Problem::error(path, sentence));
    }

    /// Whether the item at this path was already reported as unreadable.
    pub(super) fn skip(&self, path: &str) -> bool {
        self.unreadable.contains(path)
    }

    pub(super) fn head(&mut self) {
        let d = self.document;
        if d.format != FORMAT {
            self.wrong(
                "/format",
                format!("The format must be \"{FORMAT}\", not \"{}\".", d.format),
            );
        }
        for (field, text) in [("make", &d.identity.make), ("model", &d.identity.model)] {
            if text.trim().is_empty() && !self.skip("/identity") {
                self.wrong(format!("/identity/{field}"), format!("The machine needs a {field}."));
            }
        }
        if d.identity.family.contains("battery-electric") {
            self.wrong("/identity/family", "Battery-electric drives are out of scope.");
        }
        match self.part(&d.reference) {
            Some(p) if p.kind == PartKind::Body => {}
            Some(_) => self.wrong("/reference", format!("\"{}\" is not a body.", d.reference)),
            None if self.unreadable.contains(&d.reference) => {}
            None => self.wrong("/reference", format!("There is no part \"{}\".", d.reference)),
        }
        for (i, text) in d.impossible.iter().enumerate() {
            self.expression(&format!("/impossible/{i}"), text);
        }
    }

    pub(super) fn unique<'b>(
        &mut self,
        section: &str,
        what: &str,
        ids: impl Iterator<Item = &'b str>,
    ) {
        let mut seen = BTreeMap::new();
        for (i, id) in ids.enumerate() {
            let path = format!("/{section}/{i}/id");
            if self.skip(&format!("/{section}/{i}")) {
                continue;
            }
            let sound = |c: char| c.is_ascii_lowercase() || c.is_ascii_digit() || c == '-';
            if id.is_empty() || !id.chars().all(sound) {
                self.wrong(&path, format!("\"{id}\" is no id: use small letters, digits and -."));
            } else if let Some(first) = seen.insert(id, i) {
                self.wrong(&path, format!("The name \"{id}\" is taken: {what} {first} has it."));
            }
        }
    }

    pub(super) fn controls(&mut self) {
        let d = self.document;
        self.unique("controls", "control", d.controls.iter().map(|c| c.id.as_str()));
        let mut letters = BTreeMap::new();
        for (i, control) in d.controls.iter().enumerate() {
            let at = format!("/controls/{i}");
            if self.skip(&at) {
                continue;
            }
            if control.id == "engine" {
                self.wrong(format!("{at}/id"), "\"engine\" is the engine's own state.");
            }
            self.positions(&at, control);
            let mut chars = control.letter.chars();
            match (chars.next(), chars.next()) {
                (Some(c), None) if c.is_ascii_lowercase() => {
                    if RESERVED_LETTERS.contains(c) {
                        self.wrong(format!("{at}/letter"), format!("The letter {c} is reserved."));
                    } else if let Some(other) = letters.insert(c, &control.name) {
                        let sentence = format!("The letter {c} already moves {other}.");
                        self.wrong(format!("{at}/letter"), sentence);
                    }
                }
                _ => self.wrong(format!("{at}/letter"), "A control needs one small letter."),
            }
        }
    }

    pub(super) fn positions(&mut self, at: &str, control: &Control) {
        let ids: Vec<_> = control.positions.iter().map(|p| p.id.as_str()).collect();
        if !(2..=16).contains(&ids.len()) {
            self.wrong(format!("{at}/positions"), "A control has 2 to 16 positions.");
        }
        for (j, position) in control.positions.iter().enumerate() {
            if ids[..j].contains(&position.id.as_str()) {
                let sentence = format!("The position \"{}\" stands twice.", position.id);
                self.wrong(format!("{at}/positions/{j}/id"), sentence);
            }
            if let Some(back) = &position.returns_to
                && (!ids.contains(&back.as_str()) || *back == position.id)
            {
                let sentence = format!("It returns to \"{back}\", which is no other position.");
                self.wrong(format!("{at}/positions/{j}/returns_to"), sentence);
            }
        }
        if !ids.contains(&control.rest.as_str()) {
            self.wrong(format!("{at}/rest"), format!("There is no position \"{}\".", control.rest));
        }
    }

    pub(super) fn expression(&mut self, path: &str, text: &str) {
        let expression = match Expression::parse(text) {
            Ok(expression) => expression,
            Err(e) => {
                return self
                    .wrong(path, format!("\"{text}\" does not read as an expression: {e}."));
            }
        };
        for term in expression.terms() {
            if term.control == "engine" {
                for p in &term.positions {
                    if Engine::named(p).is_none() {
                        self.wrong(path, format!("The engine is never \"{p}\"."));
                    }
                }
                continue;
            }
            let Some(control) = self.document.controls.iter().find(|c| c.id == term.control) else {
                if !self.unreadable.contains(&term.control) {
                    self.wrong(path, format!("There is no control \"{}\".", term.control));
                }
                continue;
            };
            for p in &term.positions {
                if !control.positions.iter().any(|q| q.id == *p) {
                    let sentence =
                        format!("The control \"{}\" has no position \"{p}\".", control.id);
                    self.wrong(path, sentence);
                }
            }
        }
    }

    pub(super) fn part(&self, id: &str) -> Option<&Part> {
        self.document.parts.iter().find(|p| p.id == id)
    }

    /// Notes a terminal as used, and reports it if no part has it.
    pub(super) fn terminal(&mut self, path: &str, address: &str) {
        self.used.insert(address.to_owned());
        let (part, terminal) = address.split_once('.').unwrap_or((address, ""));
        if self.unreadable.contains(part) {
            return;
        }
        match self.part(part) {
            None => self.wrong(path, format!("\"{address}\": there is no part \"{part}\".")),
            Some(p) if !p.has_terminal(terminal) => {
                let sentence = format!("\"{address}\": {} has no terminal \"{terminal}\".", p.name);
                self.wrong(path, sentence);
            }
            Some(_) => {}
        }
    }

    pub(super) fn positive(&mut self, path: String, value: Option<f64>, what: &str) {
        let Some(v) = value else { return };
        if v.is_nan() || v <= 0.0 {
            self.wrong(path, format!("{what} must be more than zero, not {v}."));
        } else if !PLAUSIBLE.contains(&v) {
            self.wrong(path, format!("{what} of {v:e} are no real machine's."));
        }
    }

    pub(super) fn place(&mut self, path: String, id: &str) {
        if !self.document.places.iter().any(|p| p.id == id) && !self.unreadable.contains(id) {
            self.wrong(path, format!("There is no place \"{id}\"."));
        }
    }
}

impl Part {
    /// The part's terminals; a connector's are its cavities.
    pub fn all_terminals(&self) -> Vec<&str> {
        let cavities = self.mates.keys();
        self.terminals.iter().chain(cavities).map(String::as_str).collect()
    }

    pub(in crate::machine) fn has_terminal(&self, terminal: &str) -> bool {
        self.terminals.iter().any(|t| t == terminal) || self.mates.contains_key(terminal)
    }
}
