//! Numbers of nodes, elements and plungers.

/// A node: one piece of metal. Node 0 is the reference body, the zero of all voltages.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct NodeId(pub u16);

/// An element: one branch between two nodes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct ElementId(pub u16);

/// A plunger with its linkage: what presses the contacts of one interlock switch.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct PlungerId(pub u16);

impl NodeId {
    /// The body that volts are counted from.
    pub const REFERENCE: Self = Self(0);
    /// As an index into the lists of its kind.
    pub fn index(self) -> usize {
        usize::from(self.0)
    }
}

impl ElementId {
    /// As an index into the lists of its kind.
    pub fn index(self) -> usize {
        usize::from(self.0)
    }
}

impl PlungerId {
    /// As an index into the lists of its kind.
    pub fn index(self) -> usize {
        usize::from(self.0)
    }
}
