//! What hypotheses come to in the circuit, in one of its wirings.

use crate::circuit::{Change, Circuit, NodeId, Program, Solver};
use std::sync::{Arc, OnceLock};

/// A set of changes that hypotheses come to: what is solved for. The first is the sound machine's.
#[derive(Clone, Debug, Default)]
#[allow(missing_docs)]
pub struct Scenario {
    pub changes: Vec<Change>,
    /// The battery's volts at rest, where the changes are about those.
    pub emf: Option<f64>,
    /// The scenario of the sound machine that is wired the same.
    pub(crate) sound: usize,
    /// How many of its changes are that wiring's; they come first.
    wired: usize,
    /// The scenarios of the next smaller and the next greater size of the same fault.
    pub(crate) sizes: Option<(usize, usize)>,
    /// Where the changes join nodes: the elimination order with those, once asked for.
    program: OnceLock<Option<Arc<Program>>>,
}

impl Scenario {
    /// The sound machine of a wiring, by its own place among the scenarios.
    pub(crate) fn wired(changes: &[Change], own: usize) -> Self {
        let (changes, wired) = (changes.to_vec(), changes.len());
        Self { changes, wired, sound: own, ..Self::default() }
    }

    /// What was found to be otherwise than drawn, to go with any other.
    pub(crate) fn found(changes: Vec<Change>) -> Self {
        Self { changes, ..Self::default() }
    }

    /// A fault in a machine that is sound otherwise.
    pub(crate) fn with(&self, change: Change) -> Self {
        let changes = [self.changes.as_slice(), &[change]].concat();
        Self { changes, ..self.elsewhere() }
    }

    /// One size of a fault in a machine that is sound otherwise.
    pub(crate) fn sized(
        &self,
        change: Change,
        emf: Option<f64>,
        sizes: Option<(usize, usize)>,
    ) -> Self {
        Self { emf, sizes, ..self.with(change) }
    }

    /// The same where the circuit is wired so already, among the scenarios of that wiring only.
    pub(crate) fn within(&self, first: usize) -> Self {
        Self {
            changes: self.changes[self.wired..].to_vec(),
            emf: self.emf,
            sizes: self.sizes.map(|(less, more)| (less - first, more - first)),
            ..Self::default()
        }
    }

    /// The same among scenarios that are not the sizes beside it.
    pub(crate) fn alone(&self) -> Self {
        Self { sizes: None, ..self.clone() }
    }

    /// The same, for another circuit of the same nodes and elements.
    pub(crate) fn elsewhere(&self) -> Self {
        Self { program: OnceLock::new(), ..self.clone() }
    }

    /// Both at once, in the wiring of the first.
    pub(crate) fn both(one: &Self, other: &Self) -> Self {
        let changes = [one.changes.as_slice(), &other.changes[other.wired..]].concat();
        Self { changes, emf: one.emf.or(other.emf), sizes: None, ..one.elsewhere() }
    }

    /// The two nodes between which it changes a conductance, where that is all it does.
    pub(crate) fn only_between(&self, circuit: &Circuit) -> Option<(NodeId, NodeId)> {
        let [change] = self.changes[..] else { return None };
        change.only_between(circuit)
    }

    /// A solver with room for what the changes join; `None` where they join nothing.
    pub(crate) fn solver<'c>(&self, circuit: &'c Circuit) -> Option<Solver<'c>> {
        let program = self.program.get_or_init(|| circuit.program_for(&self.changes)).clone()?;
        let joins = self.changes.iter().map(|c| c.joins(circuit).len()).sum();
        Some(Solver::on(circuit, program, joins))
    }
}
