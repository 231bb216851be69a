//! The machine as a solvable circuit: compile once, then ask for operating points.
//!
//! [`Circuit::compile`] numbers nodes and elements; [`Setting`] is the circuit in one condition
//! with some changes; [`Solver`] gives its node volts, relays iterated, without allocating;
//! [`operating_point`] wraps all of that for a single question.

mod change;
mod compensation;
mod compile;
mod condition;
mod dictionary;
mod fault;
mod instrument;
mod lane;
mod model;
mod netlist;
mod notation;
mod operating_point;
mod outcome;
mod program;
mod sequence;
mod setting;
mod solved;
mod solver;
mod spark;
mod stamps;
mod telltales;

pub use crate::machine::Engine;
pub use change::{Ailment, Change};
pub use compensation::{Compensated, Compensation, Settled};
pub use condition::{Condition, ConditionError, by_moves, every_condition, one_move_away};
pub use dictionary::FaultDictionary;
pub use fault::{Fault, FaultMode, FaultSeat, single_faults};
pub use instrument::{
    DiodeRange, Instrument, LampState, Leads, MinMax, Reading, Refusal, Senses, clamp, read,
};
pub use lane::{Lane, Lanes};
pub use model::{
    Actuator, Circuit, Coil, Contact, Element, ElementId, ElementKind, ModuleCode, NodeId, Plunger,
    PlungerId, Resolved, UnknownName,
};
pub use netlist::Netlist;
pub use notation::{NotationError, fault_notation, parse_change};
pub use operating_point::{OperatingPoint, operating_point};
pub use outcome::{ClutchState, CoilState, Crank, Needle, Outcome, Spark};
pub use program::Program;
pub use sequence::{Moment, Sequence, Step, sequence};
pub use setting::Setting;
pub use solved::Solved;
pub use solver::{OfLane, Relays, Solver};
