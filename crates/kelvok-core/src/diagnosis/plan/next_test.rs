//! What to do next, and what stands.

use super::answers::AnswerRange;
use crate::circuit::Condition;
use crate::diagnosis::candidates::Caution;
use crate::diagnosis::evidence::{SetUp, TestAction, Unit};
use serde::Serialize;

/// What to do next, and what stands.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Plan {
    /// Nobody here has seen yet what is complained of: have it happen first. None where that was done,
    /// or where it comes and goes.
    pub reproduce: Option<NextTest>,
    /// Tests, the best first.
    pub tests: Vec<NextTest>,
    /// Units that no reachable test tells apart, each set as one; most suspected first.
    pub groups: Vec<Vec<Unit>>,
    pub conclusion: Option<Conclusion>,
}

/// One unit or group holds nearly all the weight.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Conclusion {
    pub units: Vec<Unit>,
    pub probability: f64,
    /// A second, different observation points to it too.
    pub confirmed: bool,
}

/// A test for a person to make.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct NextTest {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub action: TestAction,
    /// Reaching the points from where the mechanic is, setting up, reading.
    pub minutes: f64,
    /// Expected information about which unit it is.
    pub bits: f64,
    pub why: Why,
    pub answers: Vec<Answer>,
    pub cautions: Vec<Caution>,
}

/// What a test is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Why {
    /// It splits the suspects.
    Splits,
    /// It was done before, and much hangs on it: done again, a slip shows.
    Again,
    /// One unit holds nearly all the weight: this would point to it apart from what already does.
    Confirms,
    /// After a repair: whether the rest works too.
    Recheck,
    /// To see for oneself what is complained of.
    Reproduce,
}

/// What an answer would mean.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Answer {
    pub range: AnswerRange,
    pub probability: f64,
    /// How many units that count it would leave.
    pub left: usize,
    /// The units it would leave, most suspected first, with their probabilities then.
    pub units: Vec<(Unit, f64)>,
}
