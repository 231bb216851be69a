//! How likely each thing is to fail, before anything is known: one table.
//!
//! Weights are relative. Opens and high resistance outweigh shorts; what moves, sits in the wet or
//! is sat on outweighs what is sealed; a plug's pin ranks below the switch it feeds. A part that
//! was replaced lately keeps its weight: a new part may be bad.

use crate::circuit::{Circuit, ElementKind, Fault, FaultMode};
use crate::machine::PartKind;

/// Nothing is wrong now: a fault that is not showing, or a control not as stated.
pub(crate) const NOTHING_WRONG: f64 = 0.5;
/// A fault that comes and goes, as a share of the weight of the same fault lasting.
const INTERMITTENT_SHARE: f64 = 0.4;

/// The weight of a single fault.
pub(crate) fn weight(circuit: &Circuit, fault: &Fault) -> f64 {
    use FaultMode::*;
    let element = fault.element().map(|e| circuit.element(e));
    let kind = element.map(|e| e.kind);
    let own = element.and_then(|e| e.part).map(|p| circuit.part(p));
    let part = own.map(|p| p.kind);
    // A clamp or a lug: it hangs in the weather, and much is drawn through it.
    let clamp = own.is_some_and(|p| p.kind == PartKind::Connector && p.mates.len() == 1);
    match (fault.mode, kind, part) {
        (Open, Some(ElementKind::Contact(_)), Some(PartKind::InterlockSwitch)) => 3.0,
        (Open, Some(ElementKind::Contact(_)), _) => 2.0,
        (HighResistance, Some(ElementKind::Contact(_)), _) => 1.2,
        (DeadSpot, ..) => 1.2 * INTERMITTENT_SHARE,
        (StuckMade, ..) => 0.4,
        (LinkageShort, ..) => 0.8,
        (LinkageHolds, ..) => 0.3,
        (WrongSwitch, ..) => 0.1,
        (ConnectorApart, ..) => 0.2,
        (Open, Some(ElementKind::Joint), _) => 0.2,
        (HighResistance, Some(ElementKind::Joint), _) if clamp => 0.6,
        (HighResistance, Some(ElementKind::Joint), _) => 0.25,
        (Open, Some(ElementKind::Ground), _) => 0.3,
        (HighResistance, Some(ElementKind::Ground), _) => 0.5,
        (Open, Some(ElementKind::Wire), _) => 0.3,
        (HighResistance, Some(ElementKind::Wire), _) => 0.15,
        (Intermittent, ..) => 0.3 * INTERMITTENT_SHARE,
        (FuseBlown, ..) => 1.5,
        (WrongFuse, ..) => 0.05,
        (HighResistance, ..) => 0.1,
        (Open, Some(ElementKind::Coil(_)), _) => 0.8,
        (Open, ..) => 0.5,
        (ShortedTurns, ..) => 0.3,
        // Every machine has one, and it is what fails most of all.
        (BatteryFlat, ..) => 3.0,
        (BatteryWeak, ..) => 2.0,
        (BatteryReversed, ..) => 0.02,
        (ShortToGround, ..) => 0.15,
        (GroundWhenHot, ..) => 0.05,
        (ShortToNeighbor, ..) => 0.04,
        (CrossFeed, ..) => 0.03,
        (Swapped | Water, ..) => 0.03,
        (Dead, ..) => 0.6,
        (GroundedInside, ..) => 0.3,
        (RegulatorDead, ..) => 0.8,
        (Overcharge | StatorGrounded, ..) => 0.3,
        (WideGap, ..) => 0.6,
        (NoDelay, ..) => 0.1,
        (NoDrive | Seized, ..) => 0.3,
        _ => 0.1,
    }
}
