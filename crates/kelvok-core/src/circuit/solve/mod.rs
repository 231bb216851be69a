//! Operating points: a setting of the circuit solved, relays settled.

mod compensation;
mod relays;
mod setting;
mod solved;
mod solver;

pub use compensation::{Compensated, Compensation, Settled};
pub use relays::Relays;
pub use setting::Setting;
pub use solved::Solved;
pub use solver::{OfLane, Solver};
