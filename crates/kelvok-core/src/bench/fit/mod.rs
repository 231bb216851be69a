//! The switch and the machine that it comes from or goes into.

mod effects;
mod new_part;
mod of_part;
mod wire_moves;

pub use effects::MachineEffects;
pub use new_part::{Unfit, ignition_of, unfit};
pub use of_part::{profile_of_part, wires_at};
pub use wire_moves::{Move, PlugWire, WireCheck, WirePlan, wire_plan};
