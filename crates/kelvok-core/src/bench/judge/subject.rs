//! What lies on the bench.

use crate::bench::found::{MOST_POSITIONS, MOST_TERMINALS};
use crate::bench::identify::Assignment;
use crate::bench::profile::{Position, Profile, ProfileDocument, SwitchKind};
use crate::machine::Problem;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// Operations wanted of what springs back, where nobody says how many.
const OPERATIONS: u32 = 5;
/// More than this nobody turns a key.
const MOST_OPERATIONS: u32 = 1000;
/// The longest name of a terminal or position, in characters.
const LONGEST_NAME: usize = 24;

/// A switch on the bench: how many terminals it has, what they are called, and what it is thought
/// to be.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Subject {
    pub kind: SwitchKind,
    /// As they are marked, or as whoever has it in the hand numbers them.
    pub terminals: Vec<String>,
    pub positions: Vec<Position>,
    /// The kind that it should be; none where it is unknown. A copy: the library may move on.
    #[serde(default)]
    pub profile: Option<ProfileDocument>,
    /// Terminal -> the profile's terminal that a drawing says it is. Empty: what is printed on it
    /// counts, where that is the profile's.
    #[serde(default)]
    pub layout: BTreeMap<String, String>,
    /// How often what springs back is operated.
    #[serde(default = "operations")]
    pub operations: u32,
    /// What moving the key costs, in probes.
    #[serde(default = "move_probes")]
    pub move_probes: f64,
}

fn operations() -> u32 {
    OPERATIONS
}

fn move_probes() -> f64 {
    crate::bench::MOVE_PROBES
}

impl Subject {
    /// One that is marked as a profile is.
    pub fn of_profile(profile: &ProfileDocument) -> Self {
        Self {
            kind: profile.kind,
            terminals: profile.terminals.iter().map(|t| t.id.clone()).collect(),
            positions: profile.positions.clone(),
            profile: Some(profile.clone()),
            layout: BTreeMap::new(),
            operations: OPERATIONS,
            move_probes: crate::bench::MOVE_PROBES,
        }
    }

    /// Everything that is wrong with it.
    pub fn problems(&self) -> Vec<Problem> {
        let mut all = Vec::new();
        let mut wrong = |path: &str, sentence: String| all.push(Problem::error(path, sentence));
        let ids: Vec<&str> = self.positions.iter().map(|p| p.id.as_str()).collect();
        let terminals: Vec<&str> = self.terminals.iter().map(String::as_str).collect();
        for (path, names, least, most) in
            [("terminals", &terminals, 2, MOST_TERMINALS), ("positions", &ids, 1, MOST_POSITIONS)]
        {
            if !(least..=most).contains(&names.len()) {
                let has = names.len();
                wrong(path, format!("A switch has {least} to {most} {path}, not {has}."));
            }
            for (i, name) in names.iter().enumerate() {
                if name.trim().is_empty() || name.chars().count() > LONGEST_NAME {
                    let long = format!("A name has 1 to {LONGEST_NAME} characters.");
                    wrong(path, long);
                } else if name.trim() != *name || name.chars().any(char::is_control) {
                    wrong(path, format!("\"{}\" has blanks at its ends.", name.trim()));
                }
                if names[..i].contains(name) {
                    wrong(path, format!("Two {path} are named \"{name}\": give each its own."));
                }
            }
        }
        for position in &self.positions {
            let back = position.returns_to.as_deref();
            if back.is_some_and(|b| b == position.id || !ids.contains(&b)) {
                let id = &position.id;
                wrong("positions", format!("\"{id}\" springs back to another position."));
            }
        }
        if !(1..=MOST_OPERATIONS).contains(&self.operations) {
            wrong("operations", format!("It is operated 1 to {MOST_OPERATIONS} times."));
        }
        if !(0.0..=100.0).contains(&self.move_probes) {
            wrong("move_probes", "A move costs 0 to 100 probes.".into());
        }
        let Some(document) = &self.profile else {
            if !self.layout.is_empty() {
                wrong("layout", "A layout is of a profile: say which.".into());
            }
            return all;
        };
        if let Err(problems) = Profile::of(document.clone()) {
            let of = |p: Problem| Problem::error(format!("/profile{}", p.path), p.sentence);
            all.extend(problems.into_iter().map(of));
        }
        let mut wrong = |path: &str, sentence: String| all.push(Problem::error(path, sentence));
        if document.terminals.len() != self.terminals.len() {
            let (has, wants) = (self.terminals.len(), document.terminals.len());
            wrong("terminals", format!("\"{}\" has {wants}, this one {has}.", document.name));
        }
        let mut taken = BTreeSet::new();
        for (terminal, be) in &self.layout {
            if !self.terminals.contains(terminal) {
                wrong("layout", format!("There is no terminal \"{terminal}\"."));
            }
            if !document.terminals.iter().any(|t| t.id == *be) {
                wrong("layout", format!("\"{}\" has no terminal \"{be}\".", document.name));
            }
            if !taken.insert(be) {
                wrong("layout", format!("\"{be}\" is in two places."));
            }
        }
        if !self.layout.is_empty() && self.layout.len() != self.terminals.len() {
            wrong("layout", "A layout says where every terminal is.".into());
        }
        all
    }

    /// By terminal, which of the profile's it is said to be; none where nobody says.
    pub fn said(&self) -> Option<Assignment> {
        let profile = self.profile.as_ref()?;
        let at = |id: &String| profile.terminals.iter().position(|t| t.id == *id);
        let said = self.terminals.iter().map(|terminal| {
            let id = if self.layout.is_empty() { terminal } else { self.layout.get(terminal)? };
            at(id).map(|t| t as u8)
        });
        said.collect()
    }

    /// Names that differ only in case or blanks: most likely one terminal, written in two ways.
    pub fn alike(&self) -> Vec<(String, String)> {
        let bare = |name: &str| -> String {
            name.chars().filter(|c| !c.is_whitespace()).flat_map(char::to_lowercase).collect()
        };
        let pairs = self.terminals.iter().enumerate().flat_map(|(i, one)| {
            self.terminals[i + 1..].iter().map(move |other| (one.clone(), other.clone()))
        });
        pairs.filter(|(one, other)| bare(one) == bare(other)).collect()
    }
}
