//! Everything that could be done next: points x instruments x conditions x set-ups, things tried on
//! the machine, and looks.

use super::context::{Complaint, Context};
use super::safety::Hazards;
use super::survey::Candidates;
use crate::circuit::Circuit;
use crate::diagnosis::evidence::TestAction;
use crate::diagnosis::faults::Suspects;
use std::collections::HashMap;

/// All there is to do about a complaint.
pub(crate) fn contexts(
    circuit: &Circuit,
    suspects: &Suspects,
    hazards: &Hazards,
    complaint: &Complaint,
) -> Vec<Context> {
    let all = Candidates::of(circuit, hazards, complaint);
    let mut contexts = all.volts();
    contexts.extend(all.lamps_in_place());
    contexts.extend(all.alternating());
    contexts.extend(all.ohms());
    contexts.extend(all.diodes());
    contexts.extend(all.shorts());
    let bared = all.unplugged();
    contexts.extend(all.with_modules_off(&bared));
    contexts.extend(bared);
    contexts.extend(all.sweeps());
    contexts.extend(all.tries());
    contexts.push(all.looks(suspects));
    for context in &mut contexts {
        let (condition, set_up) = (&context.condition, &context.set_up);
        context.actions.retain(|action| match action {
            TestAction::Measure { instrument, red, black } => {
                let node = |i: &usize| all.points.iter().find(|p| p.index == *i).map(|p| p.node);
                let (Some(red), Some(black)) = (node(red), node(black)) else {
                    return false;
                };
                hazards.allows(set_up, condition, (*instrument, [red, black]))
            }
            _ => true,
        });
    }
    // One context a condition and set-up.
    let mut merged: Vec<Context> = Vec::with_capacity(contexts.len());
    let mut at = HashMap::new();
    for context in contexts.into_iter().filter(|c| !c.actions.is_empty()) {
        let next = merged.len();
        let key = (context.condition.clone(), context.set_up.clone());
        let place = *at.entry(key).or_insert(next);
        if place == next {
            merged.push(context);
            continue;
        }
        let own = &mut merged[place];
        own.sweep |= context.sweep;
        let new = context.actions.into_iter().filter(|d| !own.actions.contains(d));
        let new: Vec<_> = new.collect();
        own.actions.extend(new);
    }
    merged
}
