//! What a customer's complaint means on this machine: the symptoms that it can have, and what each
//! says of it.
//!
//! A symptom always says two things: what the machine does not do, and what it still does. "It dies
//! when I get off" says that it runs with somebody on the seat. Both halves go into the log, as told.

mod menu;
mod reader;
mod symptom;

pub use menu::{Offer, Telling, menu};
pub use reader::{Complaint, Understood, read};
pub use symptom::{Symptom, When};
