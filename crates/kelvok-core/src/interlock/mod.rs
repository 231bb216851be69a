//! How the machine decides: ways through its circuits, the contacts that make or break them, what
//! every combination of controls comes to, and whether the interlocks do their duty.

mod behavior;
mod check;
mod cover;
mod duties;
mod fault_sheet;
mod ladder;
mod moves;
mod noticed;
mod operator;
mod paths;
mod reasons;
mod sentences;
mod snapshot;
mod spreadsheet;
mod table;
mod track;

pub use behavior::{Behavior, Judge};
pub use check::check;
pub use cover::{Cube, Value, agrees, minimal_cover};
pub use duties::{DutyProof, DutySeen, Turning, prove_duties};
pub(crate) use duties::{TriedDuties, changed, spoken_of};
pub use fault_sheet::{ChangeEffects, FaultEffect, FaultRow, FaultSheet, Noticeable};
pub use ladder::{Ladder, Rung};
pub use moves::{Fix, blocked_by, fewest_moves, nearest_complete};
pub use noticed::{EngineDoes, Noticed};
pub(crate) use operator::{beside_while_it_runs, drives, leaves_seat, stands_at};
pub use paths::{Path, paths};
pub use reasons::{Asked, Reason, reasons};
pub use sentences::{Clause, Effect, Sentence, phrase, sentences};
pub use snapshot::{Difference, Snapshot, Stands, WireStands, standing};
pub use spreadsheet::Spreadsheet;
pub use table::{InterlockTable, TooManyCombinations};
pub use track::{LayOutError, Piece, Track};
