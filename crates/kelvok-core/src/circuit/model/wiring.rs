//! One way in which a machine may be wired.

use super::change::Change;

/// One way in which a machine may be wired.
#[derive(Clone, Debug, PartialEq)]
pub struct Wiring {
    /// By alternative of the document which of its choices it has; none where it is as drawn.
    pub chosen: Vec<Option<usize>>,
    /// Its share of what is possible; those of a circuit add up to one.
    pub weight: f64,
    /// What makes it differ from the drawing.
    pub changes: Vec<Change>,
}
