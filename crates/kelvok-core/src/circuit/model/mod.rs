//! The machine as numbered nodes and elements, compiled once: what it is made of, how it may be changed,
//! in what order it is eliminated.

mod alternatives;
mod change;
mod circuit;
mod compile;
mod condition;
mod conditions;
mod contact;
mod element;
mod find_telltales;
mod ids;
mod lane;
mod notation;
mod program;
mod resolved;
mod stamps;
mod telltales;
mod wiring;

pub use change::{Ailment, Change};
pub use circuit::{Circuit, UnknownName};
pub use condition::{Condition, ConditionError};
pub use conditions::{by_moves, every_condition, one_move_away};
pub use contact::{Actuator, Coil, Contact, ModuleCode, Plunger};
pub use element::{Element, ElementKind, drained_ohms};
pub use ids::{ElementId, NodeId, PlungerId};
pub use lane::{Lane, Lanes};
pub use notation::{FAULT_FORMS, NotationError, fault_notation, parse_change};
pub use program::Program;
pub(crate) use program::Workspace;
pub use resolved::Resolved;
pub(crate) use resolved::coils_make;
pub(crate) use telltales::FuelSolenoid;
pub use wiring::Wiring;
