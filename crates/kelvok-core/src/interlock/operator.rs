//! Where the operator is, and whether the wheels may be driven.

use crate::circuit::{Circuit, Condition, Engine};
use crate::machine::Control;

/// Whether a control stands at a position that something is true of.
pub(crate) fn stands_at(
    circuit: &Circuit,
    condition: &Condition,
    is: impl Fn(&Control, &str) -> bool,
) -> bool {
    let mut stand = circuit.controls.iter().zip(&condition.positions);
    stand.any(|(control, at)| is(control, &control.positions[usize::from(*at)].id))
}

/// Whether nobody sits where the operator belongs.
pub(crate) fn leaves_seat(circuit: &Circuit, condition: &Condition) -> bool {
    stands_at(circuit, condition, |c, at| c.id.contains("seat") && at == "empty")
}

/// Whether the wheels may be driven: something that has a neutral is not in it, or a bar is swung in.
pub(crate) fn drives(circuit: &Circuit, condition: &Condition) -> bool {
    let gear = |c: &Control| c.positions.iter().any(|p| p.id == "neutral");
    let bar = |c: &Control| c.id == "left" || c.id == "right";
    stands_at(circuit, condition, |c, at| gear(c) && at != "neutral" || bar(c) && at == "in")
}

/// Ordinary use with the engine running, as somebody reads a meter beside the machine: the wheels stand, and nobody
/// has to sit on it, where it runs like that; else as its document has them.
pub(crate) fn beside_while_it_runs(circuit: &Circuit) -> Vec<Condition> {
    let used = circuit.normal_use().into_iter();
    let mut running: Vec<Condition> = used.filter(|c| c.engine >= Engine::Running).collect();
    running.sort_by_key(|c| (drives(circuit, c), !leaves_seat(circuit, c)));
    running
}
