//! Whether what may have brought a fault about was looked at, and the test that tells.

use super::aftermath::Cause;
use crate::diagnosis::belief::{Belief, odds_beside};
use crate::diagnosis::evidence::{Evidence, Observation};
use crate::diagnosis::plan::{AnswerRange, NextTest};
use crate::diagnosis::predict::FaultModel;
use serde::Serialize;

/// What the log says of a possible cause.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Checked {
    /// Nothing that was read tells.
    NotYet,
    /// What was read is this or another of the causes.
    OneOf,
    /// The log says that it is not there ...
    Good,
    /// ... or that it is.
    Bad,
    /// It was put right, and nothing read since says otherwise.
    Repaired,
}

impl Checked {
    /// Whether nobody can tell yet.
    pub fn is_open(self) -> bool {
        matches!(self, Self::NotYet | Self::OneOf)
    }
}

/// A possible cause, and how far it was looked at.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct CauseStanding {
    pub cause: Cause,
    pub checked: Checked,
    /// What would tell, and what it shows where the cause is good.
    pub test: Option<(NextTest, Option<AnswerRange>)>,
}

/// The log is so many times as likely with it: then it is there.
const SURE: f64 = 10.0;
/// The log is so many times less likely with it: then it is not. More than the other way round, since what is
/// let go kills the next part: a look at a fuse alone is not enough.
const CLEAR: f64 = 100.0;

/// What the log says of causes beside the fault that one of them may have brought about, and how many times as
/// likely it is with each.
pub(crate) fn checked(
    model: &FaultModel,
    (belief, log): (&Belief, &[Evidence]),
    suspect: usize,
    causes: &[Cause],
) -> Vec<(Checked, f64)> {
    let unit = |cause: &Cause| model.suspects.list[cause.suspect].unit;
    let repair = |cause: &Cause| {
        log.iter().rposition(|e| e.observation == Observation::Repaired(unit(cause)))
    };
    let odds = |log: &[Evidence], cause: &Cause| {
        odds_beside(model, (belief, log), suspect, &cause.scenarios).unwrap_or(1.0)
    };
    // A new part that reads bad is bad; what was read before any of them was put right may have been that one.
    let since = causes.iter().filter_map(repair).max().map_or(log, |at| &log[at + 1..]);
    let now: Vec<f64> = causes.iter().map(|cause| odds(since, cause)).collect();
    let all: f64 = now.iter().sum();
    let own = causes.iter().zip(&now).map(|(cause, now)| {
        let ever = if since.len() < log.len() { odds(log, cause) } else { *now };
        let says = if *now > SURE * (1.0 + all - now) {
            Checked::Bad
        } else if repair(cause).is_some() {
            Checked::Repaired
        } else if now.min(ever) < 1.0 / CLEAR {
            Checked::Good
        } else if now.max(ever) > SURE {
            // Before another was put right it fitted, too: it may be there besides.
            Checked::OneOf
        } else {
            Checked::NotYet
        };
        (says, *now)
    });
    own.collect()
}
