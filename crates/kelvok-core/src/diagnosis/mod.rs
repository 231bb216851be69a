//! From evidence to suspects, and from suspects to the next test.
//!
//! Model-based diagnosis after de Kleer and Williams (1987) and Pattipati and Alexandridis (1990):
//! suspects are faults in the machine's own circuit, evidence is compared with what each would
//! make an instrument show, and the next test is the one that tells most a minute.
//!
//! [`Suspects`] are what may be wrong; a [`Book`] keeps what each of them would show; a [`Belief`]
//! is what a log of [`Evidence`] leaves of them; [`plan`] says what to do next.

mod aftermath;
mod answers;
mod belief;
mod book;
mod burning;
mod candidates;
mod catalog;
mod confirm;
mod document;
mod doing;
mod entry;
mod evidence;
mod excluded;
mod expected;
mod failures;
mod forecast;

mod groups;
mod kept;
mod kill_sweep;
mod lamp_in_place;
mod likelihood;
mod minutes;
mod misfit;
mod page;
mod pairs;
mod planner;
mod predict;
mod priors;
mod proof;
mod reading_text;
mod recheck;
mod run;
mod safety;
mod schools;
mod sharpen;
mod spots;
mod state;
mod suspects;
mod sweep;
mod unknowns;
mod weigh;

pub use aftermath::{Aftermath, Cause, Strain, aftermath};
pub use answers::AnswerRange;
pub(crate) use answers::told_apart;
pub use belief::{Belief, Judgement, UnitBelief};
pub use book::Book;
pub use document::{
    STORY_FORMAT, Signed, StoryDocument, StoryEntry, StoryError, StoryVerdict, story_schema,
};
pub use doing::{Doing, Sense};
pub use entry::{
    Entry, EntryError, LookEntry, ObservationEntry, SetUpEntry, lamp_part, resolve_situation,
};
pub use evidence::{
    EngineDoes, Evidence, Heard, Inspected, Observation, Sensed, SetUp, Source, Work,
};
pub use excluded::{Because, Excluded, excluded};
pub use expected::{Expected, expected};
pub use forecast::{Choice, Forecast, forecast, forecasts};
pub use kill_sweep::{KillSweep, Sign, Stand, kill_sweep};
pub(crate) use likelihood::looks_bad;
pub use misfit::{Explanation, Misfit, Mistake, contradictions, misfit, on_live};
pub use planner::{Answer, Conclusion, NextTest, Plan, Why, every_test, plan, plan_by, walk_round};
pub(crate) use planner::{Parting, partings};
pub(crate) use predict::{Predicted, Predictor, Probe};
pub use priors::{History, Seat};
pub use proof::{Grade, Proof, proofs};
pub use reading_text::{ReadingError, parse_reading};
pub use safety::{Caution, Danger};
pub(crate) use safety::{Hazards, solid_with};
pub use schools::School;
pub use suspects::{Column, Hypothesis, Suspect, Suspects, Unit};
pub use weigh::{Measurement, Weighed, weigh};
