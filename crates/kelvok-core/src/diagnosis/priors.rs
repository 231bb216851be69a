//! How likely each thing is to fail, before anything is known: one table.
//!
//! Weights are relative. Opens and high resistance outweigh shorts; what moves, sits in the wet or
//! is sat on outweighs what is sealed; a plug's pin ranks below the switch it feeds.

use crate::circuit::{Circuit, ElementKind, Fault, FaultMode};
use crate::machine::PartKind;

/// Nothing is wrong now: an intermittent that is not showing, or a control not as stated.
pub(super) const NOTHING_WRONG: f64 = 0.5;

/// The weight of a single fault.
pub(super) fn prior(circuit: &Circuit, fault: &Fault) -> f64 {
    use FaultMode::*;
    let element = fault.element().map(|e| circuit.element(e));
    let kind = element.map(|e| e.kind);
    let part = element.and_then(|e| e.part).map(|p| circuit.part(p).kind);
    match (fault.mode, kind, part) {
        (Open, Some(ElementKind::Contact(_)), Some(PartKind::InterlockSwitch)) => 3.0,
        (Open, Some(ElementKind::Contact(_)), _) => 2.0,
        (HighResistance, Some(ElementKind::Contact(_)), _) => 1.2,
        (StuckMade, ..) => 0.4,
        (LinkageShort, ..) => 0.8,
        (LinkageHolds, ..) => 0.3,
        (ConnectorApart, ..) => 0.2,
        (Open, Some(ElementKind::Joint), _) => 0.2,
        (HighResistance, Some(ElementKind::Joint), _) => 0.25,
        (Open, Some(ElementKind::Ground), _) => 0.3,
        (HighResistance, Some(ElementKind::Ground), _) => 0.5,
        (Open, Some(ElementKind::Wire), _) => 0.3,
        (HighResistance, Some(ElementKind::Wire), _) => 0.15,
        (FuseBlown, ..) => 1.5,
        (HighResistance, ..) => 0.1,
        (Open, Some(ElementKind::Coil(_)), _) => 0.8,
        (Open, ..) => 0.5,
        (BatteryFlat, ..) => 1.5,
        (BatteryWeak, ..) => 1.2,
        (ShortToGround, ..) => 0.15,
        _ => 0.1,
    }
}
