//! A kill circuit as a ladder: every way from the kill lead to ground is a rung, and any one
//! complete rung stops the engine.

use super::paths::paths;
use super::{LayOutError, Path};
use crate::circuit::{Circuit, ElementId, NodeId};

/// One way to ground.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Rung {
    pub path: Path,
    /// The contacts on it, from the lead to ground.
    pub contacts: Vec<ElementId>,
}

/// A laid-out kill circuit.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Ladder {
    pub from: NodeId,
    pub to: NodeId,
    pub rungs: Vec<Rung>,
}

/// More ways than this are cut off.
const MOST_RUNGS: usize = 64;

impl Ladder {
    /// Lays out one of the machine's kill circuits.
    ///
    /// # Errors
    /// The circuit is unknown, or no way leads to ground in any condition.
    pub fn lay_out(circuit: &Circuit, name: &str) -> Result<Self, LayOutError> {
        let found = circuit.document().circuits.iter().find(|c| c.id == name);
        let named = found.ok_or_else(|| LayOutError::Unknown(name.to_owned()))?;
        let no_way = || LayOutError::NoWay(named.name.clone());
        let end = |address: &str| circuit.terminal(address).map_err(|_| no_way());
        let ladder = Self::between(circuit, end(&named.from)?, end(&named.to)?);
        if ladder.rungs.is_empty() { Err(no_way()) } else { Ok(ladder) }
    }

    /// Every way between two nodes as rungs; ways through the same contacts are one rung, and one
    /// that needs all the contacts of another and more is none.
    pub fn between(circuit: &Circuit, from: NodeId, to: NodeId) -> Self {
        let mut rungs: Vec<Rung> = Vec::new();
        for path in paths(circuit, from, to, &[], MOST_RUNGS) {
            let contacts = path.contacts(circuit);
            let within = |a: &[ElementId], b: &[ElementId]| a.iter().all(|c| b.contains(c));
            if rungs.iter().any(|r| within(&r.contacts, &contacts)) {
                continue;
            }
            rungs.retain(|r| !within(&contacts, &r.contacts));
            rungs.push(Rung { path, contacts });
        }
        rungs.sort_by_key(|r| r.contacts.len());
        Self { from, to, rungs }
    }
}

impl Rung {
    /// Whether it is complete, where `conducts` says which elements carry current.
    pub fn complete(&self, conducts: &impl Fn(ElementId) -> bool) -> bool {
        self.path.elements.iter().all(|e| conducts(*e))
    }
}
