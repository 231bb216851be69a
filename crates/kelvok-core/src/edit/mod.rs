//! A machine's document changed by hand, one step after the other, and what is wrong with what comes of it.
//!
//! The steps are a list that whoever edits holds: undoing is leaving the last one out.

mod review;
mod step;
mod wire_list;

pub use review::{PlacedProblem, Review};
pub use step::{Edit, EditError, MOST_EDITS};
pub use wire_list::{MOST_ROWS, RowProblem, wire_list_edits};
