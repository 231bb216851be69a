//! What one state of a machine's document has otherwise than another: in what is drawn, and in how it decides.

mod decisions;
mod drawing;
mod fields;

pub use decisions::{ConditionChange, DecisionChanges, DutyChange, DutyState, SentenceChange};
pub use drawing::{DrawingChange, DrawnThing, How, drawing_changes};
