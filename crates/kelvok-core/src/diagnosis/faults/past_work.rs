//! What somebody did to the machine before the job, and what that makes likelier.

use super::suspects::Suspect;
use crate::circuit::{Circuit, ElementKind, FaultMode, NodeId};
use crate::diagnosis::evidence::{Unit, Work};
use std::collections::BTreeSet;

/// How much likelier a suspect becomes by what somebody had done to a unit.
///
/// A part that was replaced is not excused, and what plugs onto it was handled; what was bridged
/// may have been bridged wrongly or left so; a fuse that was changed may be of another size.
pub(crate) fn likelier_after(circuit: &Circuit, suspect: &Suspect, unit: Unit, work: Work) -> f64 {
    use FaultMode::*;
    let own = suspect.unit == unit;
    let is = |modes: &[FaultMode]| suspect.faults.iter().any(|f| modes.contains(&f.mode));
    match work {
        Work::Replaced if own && is(&[WrongSwitch, Swapped]) => 10.0,
        Work::Replaced if !own && hangs_on(circuit, suspect, unit) => 3.0,
        Work::Jumped if own && is(&[StuckMade, CrossFeed]) => 8.0,
        Work::Jumped if hangs_on(circuit, suspect, unit) => 3.0,
        Work::Cut if own => 4.0,
        Work::Cut if hangs_on(circuit, suspect, unit) => 6.0,
        Work::FuseChanged if own && is(&[WrongFuse]) => 20.0,
        // A fuse that was changed had blown.
        Work::FuseChanged
            if is(&[ShortToGround, GroundWhenHot, ShortedTurns, Shorted, Overcharge]) =>
        {
            3.0
        }
        _ => 1.0,
    }
}

/// Whether a suspect sits in a wire or plug that ends on a unit's part.
fn hangs_on(circuit: &Circuit, suspect: &Suspect, unit: Unit) -> bool {
    let Unit::Part(part) = unit else {
        return false;
    };
    let ends: BTreeSet<_> = circuit
        .elements()
        .filter(|(_, e)| e.part == Some(part))
        .flat_map(|(_, e)| [e.a, e.b])
        .filter(|n| *n != NodeId::REFERENCE)
        .collect();
    suspect.elements.iter().any(|e| {
        let e = circuit.element(*e);
        let joins = matches!(e.kind, ElementKind::Wire | ElementKind::Joint);
        joins && (ends.contains(&e.a) || ends.contains(&e.b))
    })
}
