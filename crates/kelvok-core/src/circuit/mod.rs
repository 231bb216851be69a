//! The machine as a solvable circuit: compile once, then ask for operating points.
//!
//! [`Circuit::compile`] numbers nodes and elements; [`Setting`] is the circuit in one condition
//! with some changes; [`Solver`] gives its node volts, relays iterated, without allocating;
//! [`operating_point`] wraps all of that for a single question.

mod change;
mod check;
mod compile;
mod condition;
mod instrument;
mod lane;
mod notation;
mod operating_point;
mod outcome;
mod program;
mod setting;
mod solver;

pub use change::{Change, Fault, FaultMode, single_faults};
pub use check::check;
pub use compile::{
    Actuator, Circuit, Coil, Contact, Element, ElementId, ElementKind, NodeId, Plunger, PlungerId,
    UnknownName,
};
pub use condition::{Condition, ConditionError, Engine, every_condition};
pub use instrument::{Instrument, LampState, Reading, Refusal, clamp, ohms, read};
pub use lane::{Lane, Lanes};
pub use notation::{NotationError, fault_notation, parse_change};
pub use operating_point::{OperatingPoint, operating_point};
pub use outcome::{ClutchState, CoilState, Crank, Outcome, Spark};
pub use program::Program;
pub use setting::Setting;
pub use solver::{Relays, Solver};
