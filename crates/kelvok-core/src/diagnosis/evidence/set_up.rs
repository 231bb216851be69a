//! What the mechanic arranges before observing.

use super::lamp_in_place;
use crate::circuit::{Change, Circuit, ElementId, ElementKind, NodeId, PlungerId};
use crate::machine::{JUMPER_OHMS, PartKind};

/// Something the mechanic arranged before observing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum SetUp {
    /// A connector, by part index, is unplugged.
    Unplugged(usize),
    /// A switch is worked by hand, its linkage out of the way.
    PressedByHand(PlungerId),
    /// The linkage is out of the way of a switch's plunger, which nothing presses.
    FreedByHand(PlungerId),
    /// The harness at a place, by index, is shaken and pulled at while looking.
    Shaken(usize),
    /// The plug of a solenoid or clutch, by part index, is off and a 21 W lamp hangs in its place,
    /// from the feed pin to ground.
    LampInPlace(usize),
    /// The battery's lead is off, so that ohms may be read anywhere.
    BatteryOff,
    /// One wire, by index, is off its stud or out of its plug, the other end left on.
    WireOff(usize),
    /// A jumper wire joins two points.
    Jumper {
        /// Where its clips are.
        ends: (NodeId, NodeId),
        /// What its fuse is rated at, in amperes, if it has one.
        fuse: Option<u16>,
    },
}

impl SetUp {
    /// Everything that can be set up on a machine, short of single wires taken off and of jumpers, which
    /// are as many as there are pairs of points.
    pub fn all(circuit: &Circuit) -> Vec<Self> {
        let document = circuit.document();
        let parts = || document.parts.iter().enumerate();
        // Its negative clamp off is the battery off.
        let negative = circuit.posts().map(|(negative, _)| negative);
        let on_negative = |joint| {
            let e = circuit.element(joint);
            Some(e.a) == negative || Some(e.b) == negative
        };
        let plugs = parts().filter(|(part, p)| {
            let mut joints = circuit.joints(*part).peekable();
            let plug = p.kind == PartKind::Connector && joints.peek().is_some();
            plug && !joints.any(on_negative)
        });
        let plugs = plugs.map(|(part, _)| Self::Unplugged(part));
        let plungers = (0..circuit.plungers.len()).map(|p| PlungerId(p as u16));
        let by_hand = plungers.flat_map(|p| [Self::PressedByHand(p), Self::FreedByHand(p)]);
        let lamps = lamp_in_place::plugs(circuit).into_iter().map(Self::LampInPlace);
        let at = |id: &str| parts().any(|(_, p)| p.place.as_deref() == Some(id));
        let places = document.places.iter().enumerate().filter(|(_, p)| at(&p.id));
        let shaken = places.map(|(place, _)| Self::Shaken(place));
        let off = [Self::BatteryOff].into_iter().filter(|off| !off.changes(circuit).is_empty());
        off.chain(plugs).chain(by_hand).chain(lamps).chain(shaken).collect()
    }

    /// What it changes in the circuit.
    pub fn changes(self, circuit: &Circuit) -> Vec<Change> {
        match self {
            Self::Unplugged(part) => vec![Change::Apart(part)],
            Self::PressedByHand(plunger) => vec![Change::Pressed(plunger, true)],
            Self::FreedByHand(plunger) => vec![Change::Pressed(plunger, false)],
            Self::Shaken(_) => Vec::new(),
            Self::WireOff(wire) => wire_of(circuit, wire).map(Change::Open).into_iter().collect(),
            Self::Jumper { ends, .. } => {
                vec![Change::Join { ends, ohms: JUMPER_OHMS, when: None }]
            }
            Self::LampInPlace(plug) => lamp_in_place::changes(circuit, plug),
            Self::BatteryOff => circuit
                .elements()
                .filter(|(_, e)| matches!(e.kind, ElementKind::Source { .. }))
                .map(|(id, _)| Change::Open(id))
                .collect(),
        }
    }
}

/// The element that a wire of the document is.
fn wire_of(circuit: &Circuit, wire: usize) -> Option<ElementId> {
    circuit.elements().find(|(_, e)| e.wire == Some(wire)).map(|(id, _)| id)
}
