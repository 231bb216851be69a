//! What instruments show and operators notice at an operating point.

mod diode_range;
mod instrument;
mod lamp_state;
mod leads;
mod netlist;
mod operating_point;
mod outcome;
mod read;
mod senses;
mod sequence;
mod spark;

pub use diode_range::DiodeRange;
pub use instrument::{Instrument, Reading, Refusal};
pub use lamp_state::LampState;
pub use leads::Leads;
pub use netlist::Netlist;
pub use operating_point::{OperatingPoint, operating_point};
pub use outcome::{ClutchState, CoilState, Crank, Needle, Outcome};
pub use read::{clamped, read, wires_between};
pub use senses::{MinMax, Senses};
pub use sequence::{Moment, Sequence, Step, sequence};
pub use spark::Spark;
pub(crate) use spark::spark_ways;
