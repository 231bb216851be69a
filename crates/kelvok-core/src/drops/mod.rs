//! Volts lost on the way: what each joint of a loaded circuit takes, by what was read across it, beside what
//! it ought to take.

mod allowance;
mod amps;
mod next;
mod path;
mod potentials;
mod span;
mod starter;
mod table;
mod walk;

pub use allowance::{GROUND_SIDE_VOLTS, SUPPLY_SIDE_VOLTS, TRADE_SOURCE, trade_volts};
pub use amps::{AmpsBy, AmpsDrawn};
pub use next::NextDrop;
pub(crate) use path::carrying;
pub use path::{LoadPath, Lost, load_paths};
pub use span::{Span, SpanWord};
pub use starter::{StarterPlane, StarterWord};
pub use walk::{DropReading, DropWalk, DropWord, SideTotal, drop_walk};
