//! Changes: everything that differs from the healthy machine as drawn.

use super::ids::{ElementId, NodeId, PlungerId};
use crate::machine::Engine;

/// One difference from the machine as drawn: a fault, a set-up, a temporary change.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum Change {
    /// The element does not conduct; a contact never makes.
    Open(ElementId),
    /// Open in its bad moments, which are the ones solved: an intermittent, a dead spot in its
    /// travel.
    AtTimes(ElementId),
    /// The contact is made whatever moves it.
    Made(ElementId),
    /// The element has these ohms; a contact, when made.
    Ohms(ElementId, f64),
    /// The source has these volts: a battery at rest, a regulator's output (written below zero), a
    /// stator.
    Emf(ElementId, f64),
    /// The battery is discharged to these volts at rest, and its inner resistance has risen with it.
    Drained(ElementId, f64),
    /// The node touches the reference body through these ohms.
    ShortToGround(NodeId, f64),
    /// It does so only with the engine hot: insulation that softens.
    GroundWhenHot(NodeId, f64),
    /// Two nodes touch: a jumper, a chafed neighbor, a cross-feed inside a switch; always, or only
    /// with a control (by index) in the positions of a mask.
    Join { ends: (NodeId, NodeId), ohms: f64, when: Option<(usize, u32)> },
    /// Two cavities of a plug have changed places, by their joints.
    Swapped(ElementId, ElementId),
    /// Every cavity of the connector (by part index) is open: worked loose, or unplugged.
    Apart(usize),
    /// The plunger is pressed, or is not, whatever the linkage is meant to do.
    Pressed(PlungerId, bool),
    /// The switch does the opposite of what was drawn: normally closed fitted for normally open.
    Inverted(PlungerId),
    /// One contact does the opposite of what was drawn, the others of its switch what was.
    OtherKind(ElementId),
    /// A coil has lost this share of its turns: fewer ohms, and less pull.
    ShortedTurns(ElementId, f64),
    /// The contact's delay is gone.
    NoDelay(ElementId),
    /// The fuse is of another rating than drawn, in amperes.
    Rating(ElementId, f64),
    /// Something is wrong with the part that its ohms do not show.
    Ails(ElementId, Ailment),
}

impl Change {
    /// Whether it changes nothing in a circuit that stands still with the engine so.
    pub(crate) fn does_nothing(self, engine: Engine) -> bool {
        match self {
            Self::NoDelay(_) | Self::Ails(..) => true,
            Self::GroundWhenHot(..) => engine != Engine::RunningHot,
            _ => false,
        }
    }
}

/// What can be wrong with a part that no meter shows.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Ailment {
    /// An ignition module or coil gives no spark.
    Dead,
    /// The starter spins and does not take the engine along.
    NoDrive,
    /// The engine does not let itself be turned: seized, hydro-locked.
    Seized,
    /// The clutch's gap has worn too wide to pull in.
    WideGap,
}
