//! Every test that could be made: where, what each suspect would answer, what it costs, and what is
//! never proposed.
//!
//! A [`Catalog`] is all there is to do about a [`Complaint`]; [`Catalogs`] keep those of a machine.

mod catalog;
mod catalogs;
mod context;
mod contexts;
mod kill;
mod kill_conditions;
mod minutes;
mod ohms;
mod risk;
mod safety;
mod scale;
mod scales;
mod spot;
mod spots;
mod survey;
mod tries;
mod volts;

pub(crate) use catalog::{Catalog, Prospect};
pub(crate) use catalogs::Catalogs;
pub(crate) use context::{Complaint, Context, complained_of, still_works};
pub(crate) use kill::sweep_set_ups;
pub(crate) use minutes::MechanicAt;
pub use safety::{Caution, Danger};
pub(crate) use safety::{
    Hazards, cautions, key_controls, key_is_held, may_be_live, may_turn, power_off, solid_with,
};
pub(crate) use scale::{Kind, Scale};
pub(crate) use scales::KnownScales;
pub(crate) use spot::{
    AC_VOLTS, BELOW, CELLS, DROP, LN_OHMS, OVER, Spot, VOLTS, amps_at, told_apart,
};
