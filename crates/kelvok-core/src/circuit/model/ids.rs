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
    pub const REFERENCE: Self = Self(0);
    pub fn index(self) -> usize {
        usize::from(self.0)
    }
}
impl ElementId {
    pub fn index(self) -> usize {
        usize::from(self.0)
    }
}
impl PlungerId {
    pub fn index(self) -> usize {
        usize::from(self.0)
    }
}
