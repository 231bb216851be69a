//! What is repaired or replaced.

use crate::circuit::{Element, PlungerId};

/// What is repaired or replaced: a verdict is a set of these.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Unit {
    /// A part, by index into the document's parts.
    Part(usize),
    /// A wire, by index into the document's wires.
    Wire(usize),
    /// The linkage that works a plunger, apart from its switch.
    Linkage(PlungerId),
    /// Nothing is wrong with the circuit now.
    Nothing,
}

impl Unit {
    /// What an element is repaired with; none of a jumper.
    pub fn of_element(element: &Element) -> Option<Self> {
        element.part.map(Self::Part).or(element.wire.map(Self::Wire))
    }
}
