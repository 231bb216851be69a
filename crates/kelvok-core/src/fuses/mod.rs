//! Fuses against their loads and their wires: what each of them carries in every condition, and what it may
//! carry.

mod carried;
mod figures;
mod guards;
mod sheet;
mod table;

pub use carried::{Carried, Load};
pub use figures::{BLOW_SOURCE, BlowTime, WIRE_SOURCE, blow_time, wire_amps};
pub use guards::Guard;
pub use sheet::{Fitted, FuseRow, FuseSheet, FuseWord, FuseWorkings, Short, WireRow, WireWord};
