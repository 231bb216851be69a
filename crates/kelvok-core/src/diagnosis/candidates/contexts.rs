//! Everything that could be done next: points x instruments x conditions x set-ups, things tried on
//! the machine, and looks.

use super::context::{Complaint, Context};
use super::safety::{Hazards, has_battery, may_be_live};
use super::survey::Candidates;
use crate::circuit::Circuit;
use crate::diagnosis::evidence::{SetUp, TestAction};
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
    let battery = has_battery(circuit);
    for context in &mut contexts {
        context.set_up.retain(|s| battery || *s != SetUp::BatteryOff);
        let (condition, set_up) = (&context.condition, &context.set_up);
        context.actions.retain(|action| match all.probes(*action) {
            Some(probe) => hazards.allows(set_up, condition, probe),
            None => !matches!(action, TestAction::Measure { .. }),
        });
    }
    let contexts = contexts.into_iter().flat_map(|c| battery_off_first(&all, c));
    one_each(contexts)
}

/// Ohms are taken with the battery on only where it could drive no current: what is taken elsewhere
/// in a context is taken with the battery off.
fn battery_off_first(all: &Candidates, mut context: Context) -> Vec<Context> {
    let into_live = |action: &TestAction| {
        let probe = all.probes(*action);
        probe
            .is_some_and(|(with, at)| with.feeds() && may_be_live(all.circuit, &context.set_up, at))
    };
    let off: Vec<_> = context.actions.extract_if(.., |action| into_live(action)).collect();
    let set_up = [context.set_up.clone(), vec![SetUp::BatteryOff]].concat();
    let off = Context { set_up, actions: off, ..context.clone() };
    vec![context, off]
}

/// One context a condition and set-up, none of them empty.
fn one_each(contexts: impl Iterator<Item = Context>) -> Vec<Context> {
    let mut merged: Vec<Context> = Vec::new();
    let mut at = HashMap::new();
    for context in contexts.filter(|c| !c.actions.is_empty()) {
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
