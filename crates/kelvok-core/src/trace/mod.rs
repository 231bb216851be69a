//! Tracing a harness: which cavity is joined to which, found with a buzzer, plug by plug.
//!
//! ```text
//! Harness (ends, links as drawn) -> Trace (what the readings say of it) -> next step, what is known,
//! and the document with what was found
//! ```
//!
//! Plugs are off while it is traced, so that a beep is a wire and not a switch; which ones have to be is
//! asked of the circuit engine. docs/trace.md has the method and its figures.

mod belief;
mod entry;
mod harness;
mod lookalikes;
mod looks;
mod next;
mod pieces;
mod standing;
mod wired;
mod written;

pub use belief::Trace;
pub use entry::{TraceEntry, TraceError};
pub use harness::{End, Harness, Link};
pub use next::TraceStep;
pub use standing::{CircuitTraced, LinkState, TraceFinding, Traced};
