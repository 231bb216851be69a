//! Compiled machines, kept by their documents: what follows from a document never changes.

use super::problem::Problem;
use kelvok_core::circuit::{Circuit, Condition};
use kelvok_core::diagnosis::{Belief, Book, Evidence, History, KillSweep, Suspects};
use kelvok_core::interlock::{FaultSheet, Track, nearest_complete};
use kelvok_core::machine::Machine;
use kelvok_store::{Revision, Verdict};
use std::collections::HashMap;
use std::sync::{Arc, LazyLock, Mutex, MutexGuard, Once, OnceLock, PoisonError};

/// A machine ready to be asked.
pub struct Compiled {
    pub circuit: Circuit,
    /// What could be wrong with it.
    pub suspects: Suspects,
    /// What each suspect would show, as far as it was asked for.
    pub book: Arc<Book>,
    /// The start circuit; a machine with a rope has none.
    pub start: Option<Track>,
    sheet: OnceLock<FaultSheet>,
    /// Sweeps by kill circuit.
    sweeps: Mutex<HashMap<String, Option<KillSweep>>>,
    /// The logs judged last, the latest at the end.
    judged: Mutex<Vec<Judged>>,
    planned_ahead: Once,
}

/// A log, and what is believed by it once it is judged.
type Judged = (Vec<Evidence>, Arc<OnceLock<Arc<Belief>>>);

/// So many jobs on machines alike are worked on at once.
const MOST_JUDGED: usize = 4;

impl Compiled {
    /// The sweeps planned so far.
    pub fn sweeps(&self) -> MutexGuard<'_, HashMap<String, Option<KillSweep>>> {
        self.sweeps.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// What is believed by a log, judged now or before: a page asks for its track and for what
    /// follows at once, and whoever comes second waits for the first. Call it where that holds up
    /// nobody.
    pub fn belief(&self, log: &[Evidence]) -> Arc<Belief> {
        let cell = {
            let mut judged = self.judged.lock().unwrap_or_else(PoisonError::into_inner);
            let known = judged.iter().position(|(own, _)| own == log);
            let (own, cell) = match known {
                Some(at) => judged.remove(at),
                None => (log.to_vec(), Arc::default()),
            };
            if judged.len() == MOST_JUDGED {
                judged.remove(0);
            }
            judged.push((own, Arc::clone(&cell)));
            cell
        };
        let judge = || Arc::new(Belief::judge(&self.circuit, &self.suspects, &self.book, log));
        cell.get_or_init(judge).clone()
    }

    /// Works out, once and on a thread of its own, what a first plan will ask for, so that it waits
    /// for no more than it must. It keeps two cores busy for seconds: for a machine on which a job
    /// is open, not for every one that is looked at.
    pub fn plan_ahead(self: &Arc<Self>) {
        self.planned_ahead.call_once(|| {
            let ahead = Arc::clone(self);
            std::thread::spawn(move || {
                let Self { circuit, suspects, book, start, .. } = &*ahead;
                let rest = Condition::at_rest(circuit);
                let start = start.as_ref().and_then(|s| nearest_complete(circuit, s, &rest));
                book.warm(circuit, suspects, &start.unwrap_or(rest));
            });
        });
    }

    /// The fault-and-effect sheet, worked out now or before. Takes seconds: call it where that
    /// holds up nobody.
    pub fn sheet(&self) -> &FaultSheet {
        self.sheet.get_or_init(|| FaultSheet::of(&self.circuit))
    }
}

#[derive(Default)]
pub struct Circuits {
    kept: Mutex<HashMap<String, Arc<Compiled>>>,
    /// The same with the weights that a shop's closed jobs give the suspects.
    in_shops: Mutex<HashMap<(String, History), Arc<Compiled>>>,
}

/// All servers of one process share what they worked out.
static SHARED: LazyLock<Arc<Circuits>> = LazyLock::new(Arc::default);

/// More machines than a shop works on at once.
const MOST_KEPT: usize = 64;

impl Circuits {
    pub fn shared() -> Arc<Self> {
        SHARED.clone()
    }

    /// The revision's circuit as a shop knows it: what its closed jobs came to shifts the weights.
    pub fn in_shop(
        &self,
        revision: &Revision,
        closed: &[Verdict],
    ) -> Result<Arc<Compiled>, Problem> {
        let table = self.of(revision)?;
        let mut history = History::default();
        for (seat, mode) in closed.iter().filter_map(|v| v.kind) {
            history.count(seat, mode);
        }
        if history == History::default() {
            return Ok(table);
        }
        let mut kept = self.in_shops.lock().unwrap_or_else(PoisonError::into_inner);
        if kept.len() >= MOST_KEPT {
            kept.clear();
        }
        let key = (revision.document.clone(), history);
        let shifted = |key: &(String, History)| {
            Arc::new(Compiled {
                suspects: Suspects::in_shop(&table.circuit, &key.1),
                circuit: table.circuit.clone(),
                // What each suspect would show does not depend on how likely it is.
                book: table.book.clone(),
                start: table.start.clone(),
                sheet: OnceLock::new(),
                sweeps: Mutex::default(),
                judged: Mutex::default(),
                planned_ahead: Once::new(),
            })
        };
        Ok(kept.entry(key).or_insert_with_key(shifted).clone())
    }

    /// The revision's circuit, compiled now or before.
    pub fn of(&self, revision: &Revision) -> Result<Arc<Compiled>, Problem> {
        let mut kept = self.kept.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(compiled) = kept.get(&revision.document) {
            return Ok(compiled.clone());
        }
        let machine = Machine::read(&revision.document).map_err(|p| Problem::document(&p))?;
        let circuit = Circuit::compile(&machine);
        let known = |name: &&str| circuit.document().circuits.iter().any(|c| c.id == *name);
        let start = known(&"start").then(|| Track::lay_out(&circuit, "start")).transpose()?;
        let suspects = Suspects::of(&circuit);
        let (book, sheet, sweeps) = (Arc::default(), OnceLock::new(), Mutex::default());
        let compiled = Arc::new(Compiled {
            circuit,
            suspects,
            book,
            start,
            sheet,
            sweeps,
            judged: Mutex::default(),
            planned_ahead: Once::new(),
        });
        if kept.len() >= MOST_KEPT {
            kept.clear();
        }
        kept.insert(revision.document.clone(), compiled.clone());
        Ok(compiled)
    }
}
