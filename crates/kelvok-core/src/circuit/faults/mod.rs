//! Every fault a machine may have, and what each comes to.

mod dictionary;
mod fault;
mod working;

pub use dictionary::OutcomeDictionary;
pub use fault::{Fault, FaultMode, FaultSeat, single_faults};
