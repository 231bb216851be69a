//! What is worked out for whoever asks: the desk where heavy questions wait, and machines ready to be
//! asked, kept.

pub mod compiled;
pub mod desk;
