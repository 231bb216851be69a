//! From evidence to suspects, and from suspects to the next test.
//!
//! Model-based diagnosis after de Kleer and Williams (1987) and Pattipati and Alexandridis (1990):
//! suspects are faults in the machine's own circuit, evidence is compared with what each would
//! make an instrument show, and the next test is the one that tells most a minute.
//!
//! A [`Model`] answers whatever is asked of a machine. Behind it are rooms, each using only those
//! before it:
//!
//! ```text
//! evidence -> faults -> predict -> belief -> candidates -> plan -> explain
//! ```

mod belief;
mod candidates;
mod evidence;
mod explain;
mod faults;
mod model;
mod plan;
mod predict;

pub use crate::interlock::EngineDoes;
pub(crate) use belief::looks_bad;
pub use belief::{Belief, FaultSize, Judgement, SizeKind, UnitBelief, WIRING_KNOWN_AT};
pub use candidates::{Caution, Danger};
pub(crate) use candidates::{Hazards, key_controls, key_is_held, solid_with, told_apart};
pub use evidence::{
    BatteryEvent, CloseUp, CloseUpEntry, Entry, EntryError, Evidence, Heard, Inspected, LookEntry,
    Observation, ObservationEntry, ReadingError, Repair, STORY_FORMAT, Sense, Sensed, SetUp,
    SetUpEntry, Signed, Source, SparkSeen, StoryDocument, StoryEntry, StoryError, StoryVerdict,
    TestAction, Unit, Work, before_repair, jumper_on, lamp_part, off_since, parse_reading,
    resolve_situation, still_off, story_schema, to_put_back,
};
pub(crate) use evidence::{Probe, one_is_an_ohm};
pub use explain::{
    Aftermath, Because, Cause, CauseStanding, ChargingRead, Checked, DropsRead, Excluded, Expected,
    Explanation, Found, Grade, LoadRead, Lost, Misfit, Mistake, PastFuse, Proof, Strain,
    contradictions, found, lost,
};
pub(crate) use faults::site_of;
pub use faults::{History, Hypothesis, Scenario, Suspect, Suspects};
pub use model::{Model, Workings};
pub(crate) use plan::Parting;
pub use plan::{
    Answer, AnswerRange, Choice, Conclusion, Forecast, Forewarned, KillSweep, Measurement,
    NextTest, Plan, Sign, Stand, Strategy, Weighed, Why,
};
pub(crate) use predict::{Predicted, Predictor};
