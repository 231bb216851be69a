//! A switch in the hand: which terminals are joined in which position, and what that makes them.
//!
//! A [`Profile`] says how a kind of switch is made. A [`FoundTable`] is what was found of one, cell
//! by cell; [`Joined`] is what follows from it in one position, joined terminals being one class.
//! [`assignments`] finds every way in which the terminals in the hand can be those of a profile, and
//! [`next_probe`] the pair and position that parts what is left soonest; [`next_cell`] finishes a
//! whole table in the fewest probes.

mod assignments;
mod complete;
mod found;
mod joined;
mod logic;
mod next_probe;
mod operations;
mod optimum;
mod profile;
mod table_text;

pub use assignments::{Assignment, Assignments, assignments};
pub use complete::{Expected, next_cell};
pub use found::{Cell, FoundTable, Grade, Seen};
pub use joined::{Conflict, Joined};
pub use logic::by_logic;
pub use next_probe::{Identity, MOVE_PROBES, NextProbe, identify, next_probe};
pub use operations::{miss_rate_below, operations_for};
pub use optimum::optimal_mean_probes;
pub use profile::{
    Function, Ignition, PROFILES, Position, Profile, ProfileDocument, SWITCH_FORMAT, SwitchKind,
    Terminal, profile_schema,
};
pub use table_text::TableError;
