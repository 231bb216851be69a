//! Which switch it is, and what its terminals are for.

mod assignments;
mod layout;
mod logic;
mod next_probe;
mod optimum;

pub use assignments::{Assignment, Assignments, assignments};
pub use layout::{LayoutVerdict, NearMiss, layout_verdict, near_misses};
pub(super) use logic::Role;
pub use logic::by_logic;
pub use next_probe::{Identity, MOVE_PROBES, NextProbe, identify, next_probe};
pub use optimum::optimal_mean_probes;
