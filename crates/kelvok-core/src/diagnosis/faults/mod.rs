//! What may be wrong, and how likely each of it is before anything is known.

mod battery;
mod history;
mod past_work;
mod priors;
mod scenario;
mod state;
mod suspects;
mod together;

pub(crate) use battery::falls_to;
pub use history::History;
pub(crate) use history::site_of;
pub(crate) use past_work::likelier_after;
pub use scenario::Scenario;
pub(crate) use state::{State, singles};
pub(crate) use suspects::magnitudes;
pub use suspects::{Hypothesis, Suspect, Suspects};
pub(crate) use together::{RELATED, together};
