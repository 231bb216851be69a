//! How the machine decides: ways through its circuits, and the contacts that make or break them.

mod moves;
mod paths;
mod track;

pub use moves::nearest_complete;
pub use paths::{Path, paths};
pub use track::{LayOutError, Piece, Track};
