//! Compiled machines, kept by revision: a revision never changes, so neither does its circuit.

use super::problem::Problem;
use kelvok_core::circuit::Circuit;
use kelvok_core::diagnosis::Suspects;
use kelvok_core::interlock::{FaultSheet, Track};
use kelvok_core::machine::Machine;
use kelvok_store::Revision;
use std::collections::HashMap;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};
use uuid::Uuid;

/// A machine ready to be asked.
pub struct Compiled {
    pub circuit: Circuit,
    /// What could be wrong with whatever cranks the engine.
    pub suspects: Suspects,
    /// The start circuit; a machine with a rope has none.
    pub start: Option<Track>,
    sheet: OnceLock<FaultSheet>,
}

impl Compiled {
    /// The fault-and-effect sheet, worked out now or before. Takes seconds: call it where that
    /// holds up nobody.
    pub fn sheet(&self) -> &FaultSheet {
        self.sheet.get_or_init(|| FaultSheet::of(&self.circuit))
    }
}

#[derive(Default)]
pub struct Circuits {
    kept: Mutex<HashMap<Uuid, Arc<Compiled>>>,
}

/// More machines than a shop works on at once.
const MOST_KEPT: usize = 64;

impl Circuits {
    /// The revision's circuit, compiled now or before.
    pub fn of(&self, revision: &Revision) -> Result<Arc<Compiled>, Problem> {
        let mut kept = self.kept.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(compiled) = kept.get(&revision.id) {
            return Ok(compiled.clone());
        }
        let machine = Machine::read(&revision.document).map_err(|p| Problem::document(&p))?;
        let circuit = Circuit::compile(&machine);
        let known = |name: &&str| circuit.document().circuits.iter().any(|c| c.id == *name);
        let start = known(&"start").then(|| Track::lay_out(&circuit, "start")).transpose()?;
        let names: Vec<_> = ["start", "crank"].into_iter().filter(known).collect();
        let suspects = Suspects::of_circuits(&circuit, &names)?;
        let compiled = Arc::new(Compiled { circuit, suspects, start, sheet: OnceLock::new() });
        if kept.len() >= MOST_KEPT {
            kept.clear();
        }
        kept.insert(revision.id, compiled.clone());
        Ok(compiled)
    }
}
