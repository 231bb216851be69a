//! A soak: a machine is run until what comes and goes has shown, or has kept quiet for long enough. How long
//! that is, and what the quiet is worth.

mod entry;
mod rate;
mod standing;

pub use entry::{SoakEntry, SoakError, Told, Trigger};
pub use rate::Rate;
pub use standing::{Goal, SoakStanding, Timed, is_under_way};
