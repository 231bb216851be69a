//! What each fault would make an instrument show, and what an operator would notice.
//!
//! A [`Predictor`] solves one situation under one hypothesis after another; a [`FaultDictionary`]
//! keeps what that came to for every scenario, and [`Dictionaries`] keep those of a machine. A
//! [`FaultModel`] is a machine with what may be wrong with it and its dictionaries.

mod block;
mod burning;
mod details;
mod dictionaries;
mod dictionary;
mod fault_model;
mod kept;
mod predictor;
mod reach;
mod running;
mod situation;

pub(crate) use block::Affairs;
pub(crate) use burning::{chance, doubtful};
pub(crate) use details::Details;
pub(crate) use dictionaries::Dictionaries;
pub(crate) use dictionary::FaultDictionary;
pub(crate) use fault_model::FaultModel;
pub(crate) use kept::{Kept, MEGABYTE, locked};
pub(crate) use predictor::{Predicted, Predictor, Shown, nominal_volts};
pub(crate) use running::running_relays;
pub(crate) use situation::Situation;
