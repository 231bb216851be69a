//! The sweep of a kill wire: module off, one lead on the wire, one on ground, and only controls
//! are moved.

use super::safety::key_controls;
use crate::circuit::{Circuit, Condition, ElementId, ElementKind, by_moves};
use crate::interlock::{Judge, Ladder};
use std::collections::BTreeSet;

/// The conditions that tell most about a kill circuit's contacts, none of which cranks a sound
/// machine: one in which nothing grounds the wire, the nearest to that in which each rung alone
/// does, and every single move of a control that is not the key.
pub(crate) fn sweep_conditions(
    circuit: &Circuit,
    ladder: &Ladder,
    from: &Condition,
) -> Vec<Condition> {
    let mut judge = Judge::new(circuit, &[]);
    let made = |condition: &Condition, element: ElementId| match circuit.element(element).kind {
        ElementKind::Contact(c) => circuit.made(&circuit.contacts[c], condition),
        _ => true,
    };
    let complete = |condition: &Condition| -> Vec<usize> {
        let whole = |r: &usize| ladder.rungs[*r].complete(&|e| made(condition, e));
        (0..ladder.rungs.len()).filter(whole).collect()
    };
    let quiet: Vec<Condition> = by_moves(circuit, from)
        .into_iter()
        .filter(|c| !judge.cranks(c) || circuit.document().drive.recoil)
        .collect();
    let Some(open) = quiet.iter().find(|c| complete(c).is_empty()).cloned() else {
        return quiet.into_iter().take(1).collect();
    };
    let near = by_moves(circuit, &open);
    let still: BTreeSet<_> = quiet.iter().collect();
    let mut chosen = vec![open.clone()];
    for rung in 0..ladder.rungs.len() {
        let alone = near.iter().find(|c| still.contains(c) && complete(c) == [rung]);
        chosen.extend(alone.cloned());
    }
    let keys = key_controls(circuit);
    let single = near.iter().filter(|c| {
        let moved: Vec<_> =
            (0..c.positions.len()).filter(|i| c.positions[*i] != open.positions[*i]).collect();
        moved.len() == 1 && !keys.contains(&moved[0]) && still.contains(c)
    });
    chosen.extend(single.cloned());
    let mut seen = BTreeSet::new();
    chosen.retain(|c| seen.insert(c.clone()));
    chosen
}
