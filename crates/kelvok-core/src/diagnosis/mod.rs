//! From evidence to suspects, and from suspects to the next test.
//!
//! Model-based diagnosis after de Kleer and Williams (1987) and Pattipati and Alexandridis (1990):
//! suspects are faults in the machine's own circuit, evidence is compared with what each would
//! make an instrument show, and the next test is the one that tells most a minute.

mod belief;
mod candidates;
mod entry;
mod evidence;
mod expected;
mod likelihood;
mod planner;
mod predict;
mod priors;
mod proof;
mod reading_text;
mod suspects;

pub use belief::{Belief, Judgement, UnitBelief};
pub use entry::{Entry, EntryError, ObservationEntry, SetUpEntry};
pub use evidence::{Evidence, Heard, Observation, SetUp};
pub use expected::{Expected, expected};
pub use planner::{Answer, AnswerRange, Caution, Conclusion, NextTest, Plan, plan};
pub use proof::{Grade, Proof, proofs};
pub use reading_text::{ReadingError, parse_reading};
pub use suspects::{Hypothesis, Suspect, Suspects, Unit};
