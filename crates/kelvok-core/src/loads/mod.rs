//! Ohms, amperes and volts of whatever a machine feeds: clutch, coils, glow plugs, lamps. Two of the three give
//! the third; where all are read they are held against one another.

mod belief;
mod figures;
mod load;
mod misfit;
mod standing;
mod table;

pub use figures::{COPPER_SOURCE, at_20, copper};
pub use load::{Load, LoadKind, On, Probes, loads};
pub use misfit::LoadMisfit;
pub use standing::{
    Insulation, LoadNext, LoadReading, LoadStanding, LoadWord, Ohms, Said, load_standing,
};
pub use table::loads_csv;
