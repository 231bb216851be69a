//! Where an instrument is put.

use crate::circuit::{Instrument, NodeId};

/// An instrument put between two nodes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub(crate) struct Probe {
    pub instrument: Instrument,
    pub red: NodeId,
    pub black: NodeId,
}
