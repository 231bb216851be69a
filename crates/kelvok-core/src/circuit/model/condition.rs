//! A condition: the position of every control, and the engine's own state.

use crate::machine::Engine;

/// Every control's position, by index into the machine's controls.
#[derive(Clone, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[allow(missing_docs)]
pub struct Condition {
    pub positions: Vec<u8>,
    pub engine: Engine,
}

/// Why a condition is none of a machine.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[allow(missing_docs)]
pub enum ConditionError {
    #[error("this machine has no control \"{0}\"")]
    Control(String),
    #[error("the control \"{control}\" has no position \"{position}\"; it has {known}")]
    Position { control: String, position: String, known: String },
}
