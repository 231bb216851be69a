//! What must hold of a document, beyond its shape. Every rule reports; none stops the others.

mod alternatives;
mod intent;
mod parts;
mod rules;
mod size;
mod wiring;

use crate::machine::{MachineDocument, Problem};
use rules::Rules;
use std::collections::BTreeSet;

pub use size::MOST_COMBINATIONS;

pub(super) fn validate(document: &MachineDocument, unreadable: &BTreeSet<String>) -> Vec<Problem> {
    let too_large = size::too_large(document);
    if !too_large.is_empty() {
        return too_large;
    }
    let mut rules = Rules { document, unreadable, problems: Vec::new(), used: BTreeSet::new() };
    rules.head();
    rules.controls();
    rules.parts();
    rules.wires();
    rules.splices();
    rules.places();
    rules.test_points();
    rules.circuits();
    rules.floating_parts();
    rules.intent();
    rules.alternatives();
    rules.problems
}
