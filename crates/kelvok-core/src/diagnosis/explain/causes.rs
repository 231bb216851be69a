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
    /// The log says that it is not there ...
    Good,
    /// ... or that it is.
    Bad,
    /// It was put right, and nothing read since says otherwise.
    Repaired,
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

/// The log is so many times as likely, or as unlikely, with it: then it is there, or is not.
const SURE: f64 = 10.0;

/// What the log says of a cause beside the fault that it may have brought about.
pub(crate) fn checked(
    model: &FaultModel,
    (belief, log): (&Belief, &[Evidence]),
    suspect: usize,
    cause: &Cause,
) -> Checked {
    let unit = model.suspects.list[cause.suspect].unit;
    let repair = log.iter().rposition(|e| e.observation == Observation::Repaired(unit));
    // A new part that reads bad is bad: what was read before it was fitted is of the old one.
    let since = repair.map_or(log, |at| &log[at + 1..]);
    match odds_beside(model, (belief, since), suspect, &cause.scenarios) {
        Some(odds) if odds > SURE => Checked::Bad,
        _ if repair.is_some() => Checked::Repaired,
        Some(odds) if odds < 1.0 / SURE => Checked::Good,
        _ => Checked::NotYet,
    }
}
