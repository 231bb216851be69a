//! What is recorded of a release, by names.

use super::step::{Act, Saw, Step};
use crate::circuit::{Circuit, parse_change};
use crate::diagnosis::Unit;
use crate::machine::PartKind;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// One entry of a job's release.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum ReleaseEntry {
    /// A step was tried.
    Step {
        /// What was tried.
        #[serde(flatten)]
        tried: TriedStep,
        /// What was seen.
        saw: Saw,
        /// How long it took, where that was stopped.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        seconds: Option<f64>,
        /// The drawing by which it was planned.
        revision: u32,
    },
    /// A fuse was read: its part, and the amperes on it.
    Fuse {
        /// Its id.
        fuse: String,
        /// What is printed on it.
        amps: f64,
    },
    /// Something that no step can show was looked for with the meter or on the bench.
    Checked {
        /// The fault, in the fault notation.
        fault: String,
        /// Whether it was there.
        bad: bool,
        /// How that was found out: "plug off, C to D, 3.1 kOhm".
        #[serde(default)]
        how: String,
    },
    /// What killed a part that was found bad, in words: "not burnt: the pedal bent it".
    Cause {
        /// The part, by its unit's id.
        unit: String,
        /// What it was.
        how: String,
    },
    /// Somebody answers for it with a name.
    Signed {
        /// Who.
        name: String,
        /// As what: mechanic, owner of the shop.
        role: String,
        /// A signature drawn by hand: strokes of x and y, 0 to 1 of its field's width.
        #[serde(default)]
        strokes: Vec<Vec<[f32; 2]>>,
    },
    /// It went back without being released.
    Returned {
        /// Who says so.
        name: String,
        /// Why.
        reason: String,
    },
}

/// A recorded entry in its place of the job's log.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Recorded {
    pub sequence: u64,
    pub entry: ReleaseEntry,
}

/// A step as it is recorded: by what was done and not by its place in a plan, which may be another tomorrow.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TriedStep {
    /// What was done.
    pub act: Act,
    /// Control id -> position id before.
    pub from: BTreeMap<String, String>,
    /// Control id -> position id of what was moved.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub moved: BTreeMap<String, String>,
    /// At the latest after so many seconds.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub within: Option<f64>,
    /// What had to be seen.
    pub expected: Saw,
}

impl TriedStep {
    /// A step by names.
    pub fn of(circuit: &Circuit, step: &Step) -> Self {
        let (from, moved) = step.named(circuit);
        Self { act: step.act, from, moved, within: step.within, expected: step.expected }
    }
}

/// Strokes and points of a signature at most.
const MOST_STROKES: usize = 200;
const MOST_POINTS: usize = 5000;
/// Letters of a name and of a reason.
const LONGEST_NAME: usize = 80;
const LONGEST_REASON: usize = 400;
/// The largest fuse that a mower or tractor has, with room.
const MOST_AMPS: f64 = 500.0;
/// Nobody waits longer for an interlock.
const MOST_SECONDS: f64 = 600.0;

impl ReleaseEntry {
    /// What is wrong with it, as a field and a sentence; none where it can be recorded.
    pub fn problem(&self, circuit: &Circuit) -> Option<(&'static str, String)> {
        let name = |text: &str| {
            let length = text.trim().chars().count();
            (length == 0 || length > LONGEST_NAME)
                .then(|| ("name", format!("A name has 1 to {LONGEST_NAME} letters.")))
        };
        match self {
            Self::Step { seconds, .. } => {
                let wrong = |s: &f64| !s.is_finite() || *s < 0.0 || *s > MOST_SECONDS;
                seconds
                    .filter(wrong)
                    .map(|_| ("seconds", format!("A step takes 0 to {MOST_SECONDS} seconds.")))
            }
            Self::Fuse { fuse, amps } => {
                let known = circuit
                    .document()
                    .parts
                    .iter()
                    .any(|p| p.id == *fuse && p.kind == PartKind::Fuse);
                if !known {
                    return Some(("fuse", format!("This machine has no fuse \"{fuse}\".")));
                }
                let fits = amps.is_finite() && *amps > 0.0 && *amps <= MOST_AMPS;
                (!fits).then(|| ("amps", "A fuse has 1 to 500 A printed on it.".to_owned()))
            }
            Self::Checked { fault, how, .. } => {
                if parse_change(circuit, fault).is_err() {
                    return Some(("fault", format!("This machine cannot have \"{fault}\".")));
                }
                let length = how.trim().chars().count();
                (length == 0 || length > LONGEST_REASON).then(|| {
                    ("how", format!("Say how you checked it, in 1 to {LONGEST_REASON} letters."))
                })
            }
            Self::Cause { unit, how } => {
                if !Unit::named(circuit, unit).is_ok_and(|u| u != Unit::Nothing) {
                    return Some(("unit", format!("This machine has no part \"{unit}\".")));
                }
                let length = how.trim().chars().count();
                (length == 0 || length > LONGEST_REASON)
                    .then(|| ("how", format!("Say what it was, in 1 to {LONGEST_REASON} letters.")))
            }
            Self::Signed { name: by, role, strokes } => name(by).or_else(|| {
                if role.chars().count() > LONGEST_NAME {
                    return Some(("role", format!("A role has at most {LONGEST_NAME} letters.")));
                }
                let points: usize = strokes.iter().map(Vec::len).sum();
                let on_field = |p: &[f32; 2]| p.iter().all(|v| (0.0..=1.0).contains(v));
                let drawn = strokes.len() <= MOST_STROKES
                    && points <= MOST_POINTS
                    && strokes.iter().flatten().all(on_field);
                (!drawn).then(|| ("strokes", "This is no signature: sign again.".to_owned()))
            }),
            Self::Returned { name: by, reason } => name(by).or_else(|| {
                let length = reason.trim().chars().count();
                (length == 0 || length > LONGEST_REASON)
                    .then(|| ("reason", format!("Say why, in 1 to {LONGEST_REASON} letters.")))
            }),
        }
    }

    /// Whether nothing may follow it until the job is opened again.
    pub fn ends_it(&self) -> bool {
        matches!(self, Self::Signed { .. } | Self::Returned { .. })
    }
}
