//! Whether a machine charges its battery, and which of stator, regulator, wires, grounds and battery keeps it from
//! that: by volts at the posts at rest, at idle and at full speed, amperes, and what the stator gives.

mod belief;
mod flow;
mod published;
mod standing;
mod state;
mod system;
mod table;

pub use belief::{ChargeBelief, slipped};
pub use published::{CHARGING_SOURCE, GOOD_VOLTS, OVER_VOLTS, RIPPLE_VOLTS};
pub use standing::{
    ChargeCause, ChargeDoes, ChargeExpected, ChargeNote, ChargeStanding, charge_standing,
};
pub use state::{ChargePlace, ChargeState, charge_state};
pub use system::{ChargeKind, ChargeReading, ChargeSite, ChargingSystem, Load, charging_system};
pub use table::charging_csv;
