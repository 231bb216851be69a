//! The battery by itself: what it is by what was read of it, what it will do with this machine's
//! starter, and which reading tells most next.

mod belief;
mod curve;
mod next;
mod own_load;
mod physics;
pub mod published;
mod standing;
mod starting;
mod test;

pub use curve::{BandPoint, BatteryCurve, CurvePoint};
pub use next::{BatteryReading, NextReading};
pub use own_load::{OwnLoad, own_load};
pub use physics::{BatteryState, Plate, Seen};
pub use standing::{
    BatteryStanding, BatteryWord, ChargeTime, CrankChance, CrankingForecast, DrainStanding,
    LoadTest, Range, StateChance, battery_standing,
};
pub(crate) use starting::Starting;
pub use starting::{battery_volts, cranked_in};
pub use test::{BatteryTest, BatteryTestError, Chemistry};
