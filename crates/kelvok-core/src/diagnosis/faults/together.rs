//! How likely two faults are at once: by chance, and where one may have brought the other about.

use super::suspects::Suspect;
use crate::circuit::{Circuit, ElementId, ElementKind, FaultMode, NodeId};
use std::collections::BTreeSet;

/// Two faults at once, as a share of the product of their chances.
const TOGETHER: f64 = 0.15;
/// The same of two of which one may have brought the other about, or one thing both.
pub(crate) const RELATED: f64 = 4.0;

/// The share of the product of their chances that two suspects are wrong at once.
pub(crate) fn together(circuit: &Circuit, one: &Suspect, other: &Suspect) -> f64 {
    match related(circuit, one, other) || related(circuit, other, one) {
        true => RELATED,
        false => TOGETHER,
    }
}

/// Whether the first may have brought the second about, or what did the first does the second:
/// a battery that gasses eats its clamps; a coil with shorted turns burns the contacts that feed it;
/// too much charge cooks the battery; water in one plug is in the next.
fn related(circuit: &Circuit, one: &Suspect, other: &Suspect) -> bool {
    use FaultMode::*;
    let (Some(cause), Some(effect)) = (one.faults.first(), other.faults.first()) else {
        return false;
    };
    let kind = |fault: &crate::circuit::Fault| fault.element().map(|e| circuit.element(e).kind);
    match (cause.mode, effect.mode) {
        (BatteryWeak | BatteryFlat, HighResistance | Open) => {
            let joint = kind(effect) == Some(ElementKind::Joint);
            joint && effect.element().is_some_and(|e| at_a_post(circuit, e))
        }
        (Overcharge, BatteryWeak | BatteryFlat) => true,
        (ShortedTurns | Shorted, Open | HighResistance | StuckMade | FuseBlown) => {
            let burns =
                matches!(kind(effect), Some(ElementKind::Contact(_) | ElementKind::Fuse { .. }));
            let ends = cause.element().zip(effect.element()).filter(|_| burns);
            ends.is_some_and(|(load, through)| feeds(circuit, through, load))
        }
        (Water, Water | Open | HighResistance | Intermittent) => {
            let joint = effect.mode == Water || kind(effect) == Some(ElementKind::Joint);
            joint && one.places.iter().any(|place| other.places.contains(place))
        }
        _ => false,
    }
}

/// Whether an element ends on a battery post.
fn at_a_post(circuit: &Circuit, element: ElementId) -> bool {
    let e = circuit.element(element);
    let source = |e: &crate::circuit::Element| matches!(e.kind, ElementKind::Source { .. });
    let mut sources = circuit.elements().filter(|(_, e)| source(e));
    sources.any(|(_, s)| [s.a, s.b].iter().any(|post| [e.a, e.b].contains(post)))
}

/// Whether a load hangs on the battery through an element alone, all contacts taken as made.
fn feeds(circuit: &Circuit, through: ElementId, load: ElementId) -> bool {
    let live = |e: &crate::circuit::Element| matches!(e.kind, ElementKind::Source { .. });
    let mut next: Vec<NodeId> =
        circuit.elements().filter(|(_, e)| live(e)).flat_map(|(_, e)| [e.a, e.b]).collect();
    let mut reached: BTreeSet<_> = next.iter().copied().collect();
    while let Some(here) = next.pop() {
        for (id, beyond, _) in circuit.around(here) {
            let conducts = circuit.element(*id).conducts();
            if *id != through && conducts && reached.insert(*beyond) {
                next.push(*beyond);
            }
        }
    }
    let e = circuit.element(load);
    !reached.contains(&e.a) || !reached.contains(&e.b)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::diagnosis::faults::Suspects;
    use crate::machine::{LIBRARY, Machine};

    #[test]
    fn what_eats_what_is_related_and_nothing_else_is() {
        let gt46 = LIBRARY.iter().find(|m| m.name == "pellwick-gt-46").expect("shipped");
        let circuit = Circuit::compile(&Machine::read(gt46.text).expect("sound"));
        let suspects = Suspects::of(&circuit);
        let of = |element: &str, mode: FaultMode| {
            let element = circuit.element_named(element).expect("there");
            let own = |s: &&Suspect| {
                s.faults.first().is_some_and(|f| f.mode == mode && f.element() == Some(element))
            };
            suspects.list.iter().find(own).expect("listed")
        };
        use FaultMode::*;
        let share = |one, other| together(&circuit, one, other);
        let battery = of("battery", BatteryWeak);
        let clutch = of("clutch", ShortedTurns);
        assert_eq!(share(battery, of("pos-clamp.lug", HighResistance)), RELATED);
        assert_eq!(share(of("neg-clamp.lug", HighResistance), battery), RELATED);
        assert_eq!(share(clutch, of("pto.clutch", Open)), RELATED);
        assert_eq!(share(of("seat.clutch", HighResistance), clutch), RELATED);
        for (one, other) in [
            (battery, of("brake.start", Open)),
            (battery, of("solenoid-base", HighResistance)),
            (clutch, of("pto.start", Open)),
            (clutch, of("brake.kill", Open)),
            (of("brake.start", Open), of("pto.start", Open)),
        ] {
            assert_eq!(share(one, other), TOGETHER, "{:?} {:?}", one.unit, other.unit);
        }
    }
}
