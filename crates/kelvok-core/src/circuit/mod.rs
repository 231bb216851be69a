//! The machine as a solvable circuit: compile once, then ask for operating points.
//!
//! [`Circuit::compile`] numbers nodes and elements; [`Setting`] is the circuit in one condition
//! with some changes; [`Solver`] gives its node volts, relays iterated, without allocating;
//! [`operating_point`] wraps all of that for a single question.

mod faults;
mod model;
mod observe;
mod solve;

pub use crate::machine::Engine;
pub use faults::{Fault, FaultMode, FaultSeat, OutcomeDictionary, single_faults};
pub use model::{
    Actuator, Ailment, Change, Circuit, Coil, Condition, ConditionError, Contact, Element,
    ElementId, ElementKind, FAULT_FORMS, Lane, Lanes, ModuleCode, NodeId, NotationError, Plunger,
    PlungerId, Program, Resolved, UnknownName, Wiring, by_moves, drained_ohms, every_condition,
    fault_notation, one_move_away, parse_change,
};
pub use observe::{
    ClutchState, CoilState, Crank, DiodeRange, Instrument, LampState, Leads, MinMax, Moment,
    Needle, Netlist, OperatingPoint, Outcome, Reading, Refusal, Senses, Sequence, Spark, Step,
    clamped, operating_point, read, sequence, wires_between,
};
pub use solve::{Compensated, Compensation, OfLane, Relays, Setting, Settled, Solved, Solver};
