//! What several resources send: names, conditions, drawings, what cannot be read.

pub mod drawing;
pub mod names;
pub mod taken;
pub mod unreadable;
