//! Cases of the case book (`cases/`), and whether the judgement says of each what it must.
#![allow(dead_code)]

use kelvok_core::circuit::{Change, Circuit, Condition, parse_change};
use kelvok_core::diagnosis::{Belief, Evidence, Model, Plan, StoryDocument, Unit};
use kelvok_core::machine::{LIBRARY, Machine};
use serde::Deserialize;
use serde_json::Value;
use std::path::{Path, PathBuf};

/// An accused unit weighs at least this much.
const ACCUSED: f64 = 0.2;
/// Above this chance an entry is called a slip.
const A_SLIP: f64 = 0.9;

/// A case: a job as a mechanic worked it, what was wrong, and what must be said when.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Case {
    pub title: String,
    /// A machine of the library, or a document beside the cases (`machines/NAME.json`).
    pub machine: String,
    /// What was wrong, in the fault notation; of a sound machine nothing.
    pub truth: Vec<String>,
    /// Entries that are not true, counted from 1: a probe beside, a word misheard.
    #[serde(default)]
    pub wrong: Vec<usize>,
    pub says: Vec<Say>,
    /// What is not said yet, and why: then the case must still fail.
    pub not_yet: Option<String>,
    pub story: Value,
}

/// What must be said once so many entries are in. Units by id.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Say {
    pub after: usize,
    /// The verdict is this unit, or these as *one of these*.
    #[serde(default)]
    pub named: Vec<String>,
    /// No verdict yet.
    #[serde(default)]
    pub open: bool,
    /// Each is among the three units most suspected, or among those that no test tells from one.
    #[serde(default)]
    pub first_three: Vec<String>,
    /// Nobody would say that it is one of these.
    #[serde(default)]
    pub not_accused: Vec<String>,
    /// How great it is said to be, in the fault's own measure: the bounds lie within these.
    pub size: Option<SizeDue>,
    /// These entries count as slips.
    #[serde(default)]
    pub slips: Vec<usize>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct SizeDue {
    pub unit: String,
    pub from: f64,
    pub to: f64,
}

pub fn folder() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../cases")
}

/// Every case by its file's name, in order.
pub fn all() -> Vec<(String, Case)> {
    let files = std::fs::read_dir(folder()).expect("the case book").flatten().map(|f| f.path());
    let mut files: Vec<_> = files.filter(|f| f.extension().is_some_and(|e| e == "json")).collect();
    files.sort();
    let read = |file: PathBuf| {
        let name = file.file_stem().unwrap_or_default().to_string_lossy().into_owned();
        let text = std::fs::read_to_string(&file).expect("a case");
        let case = serde_json::from_str(&text).unwrap_or_else(|e| panic!("{name}: {e}"));
        (name, case)
    };
    files.into_iter().map(read).collect()
}

pub fn circuit_of(machine: &str) -> Circuit {
    let shipped = LIBRARY.iter().find(|m| m.name == machine).map(|m| m.text.to_owned());
    let own = || std::fs::read_to_string(folder().join("machines").join(format!("{machine}.json")));
    let text = shipped.map_or_else(own, Ok).unwrap_or_else(|e| panic!("{machine}: {e}"));
    Circuit::compile(&Machine::read(&text).unwrap_or_else(|p| panic!("{machine}: {p:#?}")))
}

impl Case {
    pub fn story(&self) -> StoryDocument {
        let text = self.story.to_string();
        StoryDocument::read(&text).unwrap_or_else(|e| panic!("{}: {e}", self.title))
    }

    pub fn evidence(&self, circuit: &Circuit) -> Vec<Evidence> {
        let resolve = |(i, line): (usize, &kelvok_core::diagnosis::StoryEntry)| {
            let entry = line.entry.resolve(circuit, i as u64 + 1);
            entry.unwrap_or_else(|e| panic!("{}: entry {}: {e}", self.title, i + 1))
        };
        self.story().entries.iter().enumerate().map(resolve).collect()
    }

    pub fn changes(&self, circuit: &Circuit) -> Vec<Change> {
        let parse = |f: &String| parse_change(circuit, f).unwrap_or_else(|e| panic!("{e}"));
        self.truth.iter().map(parse).collect()
    }

    /// What is said and must not be, or is not said and must be.
    pub fn faults_found(&self, model: &Model) -> Vec<String> {
        let log = self.evidence(model.circuit());
        self.says.iter().flat_map(|say| say.missing(self, model, &log)).collect()
    }
}

impl Say {
    fn missing(&self, case: &Case, model: &Model, log: &[Evidence]) -> Vec<String> {
        assert!(self.after <= log.len(), "{}: {} of {}", case.title, self.after, log.len());
        let log = &log[..self.after];
        let circuit = model.circuit();
        let belief = model.judge(log);
        let unit = |id: &String| Unit::named(circuit, id).unwrap_or_else(|e| panic!("{e}"));
        let mut missing = Vec::new();
        let mut must = |is: bool, what: String| {
            if !is {
                let list = suspects(model, &belief);
                missing.push(format!("after {}: {what}; suspects: {list}", self.after));
            }
        };
        let plan = (self.open || !self.named.is_empty() || !self.first_three.is_empty())
            .then(|| planned(model, &belief, log));
        let verdict = plan.as_ref().and_then(|p| p.conclusion.as_ref());
        if self.open {
            must(verdict.is_none(), format!("a verdict already: {verdict:?}"));
        }
        if !self.named.is_empty() {
            let mut due: Vec<_> = self.named.iter().map(unit).collect();
            let mut said = verdict.map(|v| v.units.clone()).unwrap_or_default();
            due.sort();
            said.sort();
            must(due == said, format!("not named {:?} but {said:?}", self.named));
        }
        for id in &self.first_three {
            let listed = plan.iter().flat_map(|p| p.groups.iter().take(3)).flatten();
            must(listed.copied().any(|u| u == unit(id)), format!("{id} is not in the first three"));
        }
        for id in &self.not_accused {
            let probability = belief.of_unit(model.suspects(), unit(id));
            must(probability < ACCUSED, format!("{id} is accused at {probability:.2}"));
        }
        if let Some(due) = &self.size {
            let own =
                belief.units(model.suspects()).into_iter().find(|u| u.unit == unit(&due.unit));
            let size = own.and_then(|u| model.size(&belief, log, u.suspect));
            let within = size.is_some_and(|s| due.from <= s.low && s.high <= due.to);
            must(within, format!("the size is not {} to {} but {size:?}", due.from, due.to));
        }
        for judgement in &belief.judgements {
            let entry = judgement.sequence as usize;
            let slip = judgement.slip;
            if self.slips.contains(&entry) {
                must(slip > 0.5, format!("entry {entry} is taken for true: {slip:.2}"));
            } else if !case.wrong.contains(&entry) {
                must(slip < A_SLIP, format!("true entry {entry} is called a slip at {slip:.2}"));
            }
        }
        missing
    }
}

pub fn planned(model: &Model, belief: &Belief, log: &[Evidence]) -> Plan {
    let condition = model.complained_of(log, &Condition::at_rest(model.circuit()));
    model.plan(belief, log, &condition)
}

fn suspects(model: &Model, belief: &Belief) -> String {
    let units = belief.units(model.suspects());
    let first = units.iter().take(5);
    let words = first.map(|u| format!("{} {:.3}", u.unit.id(model.circuit()), u.probability));
    words.collect::<Vec<_>>().join(", ")
}
