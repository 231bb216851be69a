//! What the evidence leaves of each suspect.
//!
//! Every explanation (a state: one hypothesis, or two, and which repairs cured it) is taken through
//! the log ([`run`]), learning on the way what each leaves open ([`unknowns`]); what comes of it is a
//! [`Belief`].

mod battery;
mod beside;
mod charging;
mod close_up;
mod failures;
mod likelihood;
mod masked;
mod outcome;
mod pairs;
mod posterior;
mod propose;
mod run;
mod size;
mod slips;
mod unknowns;

pub(crate) use beside::odds_beside;
pub(crate) use close_up::fit_close_up;
pub(crate) use likelihood::{
    DROP_VOLTS, LEADS_OHMS, Place, ac_spread, amps_spread, fit_reading, fit_sensed, looks_bad,
};
pub(crate) use masked::may_do_by_two;
pub(crate) use outcome::{drawing_error, outcome};
pub(crate) use posterior::POINTS_TO;
pub use posterior::{Belief, Judgement, UnitBelief, WIRING_KNOWN_AT};
pub(crate) use run::SHAKEN_SHOWS;
pub(crate) use size::size_of;
pub use size::{FaultSize, SizeKind};
pub(crate) use unknowns::Unknowns;
