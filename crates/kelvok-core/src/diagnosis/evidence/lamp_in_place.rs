//! A lamp in place of a coil: the plug off a solenoid or clutch, a 21 W lamp from its feed pin to
//! ground. It draws through the feed as the coil would, and nothing moves.

use crate::circuit::{Change, Circuit, ElementKind, NodeId};
use crate::interlock::Track;
use crate::machine::{LOAD_LAMP_OHMS, PartKind};
use std::collections::BTreeSet;

/// The plug, by part, through which a track feeds its solenoid or clutch.
pub(crate) fn lamp_plug(circuit: &Circuit, track: &Track) -> Option<usize> {
    pin(circuit, track).map(|(plug, _)| plug)
}

/// Every such plug of a machine, by part.
pub(crate) fn plugs(circuit: &Circuit) -> BTreeSet<usize> {
    let named = circuit.document().circuits.iter();
    let tracks = named.filter_map(|c| Track::lay_out(circuit, &c.id).ok());
    tracks.filter_map(|t| lamp_plug(circuit, &t)).collect()
}

/// What the set-up changes; nothing where the plug feeds no solenoid or clutch.
pub(crate) fn changes(circuit: &Circuit, plug: usize) -> Vec<Change> {
    let named = circuit.document().circuits.iter();
    let mut tracks = named.filter_map(|c| Track::lay_out(circuit, &c.id).ok());
    let pin = tracks.find_map(|t| pin(circuit, &t).filter(|(own, _)| *own == plug));
    let lamp =
        |(plug, node)| vec![Change::Apart(plug), Change::ShortToGround(node, LOAD_LAMP_OHMS)];
    pin.map(lamp).unwrap_or_default()
}

/// The last plug before a track's load, and the pin on its harness side.
fn pin(circuit: &Circuit, track: &Track) -> Option<(usize, NodeId)> {
    let load = circuit.part(circuit.element(track.load).part?);
    if !matches!(load.kind, PartKind::Solenoid | PartKind::Clutch) {
        return None;
    }
    let path = track.feed_paths().first()?;
    let last = circuit.element(*path.elements.last()?);
    let plug = last.part.filter(|_| last.kind == ElementKind::Joint)?;
    let harness = path.nodes.iter().rev().nth(1)?;
    (circuit.part(plug).kind == PartKind::Connector).then_some((plug, *harness))
}
