//! Bench meters that talk: the words they understand, when a reading stands still, and a stand-in
//! that reads a simulated machine.

mod commands;
mod stand_in;
mod steady;

pub use commands::{Garbage, Identity, Range, Shown};
pub use stand_in::{Answer, StandIn, bring_about};
pub use steady::{Standing, Steady};
