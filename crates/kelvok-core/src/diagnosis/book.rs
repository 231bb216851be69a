//! What is known of a machine's faults, solved when first asked for and kept.

use super::Suspects;
use super::candidates::Complaint;
use super::catalog::{Catalog, Scales};
use super::generations::Generations;
use super::page::{Page, Situation};
use super::suspects::Column;
use crate::circuit::{Circuit, Condition, Relays};
use crate::interlock::Judge;
use rayon::prelude::*;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

/// Pages by situation, solved when first asked for and kept. Shared by whoever diagnoses this
/// machine.
#[derive(Debug, Default)]
pub struct Book {
    pages: Mutex<Generations<Situation, Arc<Page>>>,
    /// The relays as ordinary starting leaves them, by column.
    running: OnceLock<Arc<[Relays]>>,
    /// Who asks while one is being worked out waits for it.
    catalogs: Mutex<Generations<Complaint, Arc<OnceLock<Arc<Catalog>>>>>,
    scales: Mutex<Generations<Situation, Scales>>,
}

/// Pages are let go of beyond this much room: an afternoon's readings in 400 situations, or what is
/// noticed in twenty times as many.
const MOST_ROOM: usize = 8000;
const MOST_CATALOGS: usize = 100;
/// Scales are kept of so many situations, up to a megabyte each; with them a complaint near one
/// that was planned for before needs no page solved.
const MOST_SCALED: usize = 1600;

impl Book {
    /// The page of a situation.
    pub(super) fn page(
        &self,
        circuit: &Circuit,
        suspects: &Suspects,
        situation: &Situation,
    ) -> Arc<Page> {
        let key = situation;
        let kept = self.pages.lock().unwrap_or_else(PoisonError::into_inner).get(key);
        kept.unwrap_or_else(|| {
            let running = key.runs().then(|| self.running(circuit, suspects));
            let page = Arc::new(Page::new(circuit, &suspects.columns, key, running));
            let mut pages = self.pages.lock().unwrap_or_else(PoisonError::into_inner);
            // Whoever came first: nothing is solved on it twice.
            pages.get(key).unwrap_or_else(|| {
                pages.insert(key.clone(), page.clone(), MOST_ROOM, |page| page.weight());
                page
            })
        })
    }
}

impl Book {
    /// The relays as ordinary starting leaves them, by column.
    pub(super) fn running(&self, circuit: &Circuit, suspects: &Suspects) -> Arc<[Relays]> {
        let running = || running_relays(circuit, &suspects.columns).into();
        self.running.get_or_init(running).clone()
    }

    /// Works out what a first plan for a condition will ask for, so that it is then there.
    pub fn warm(&self, circuit: &Circuit, suspects: &Suspects, condition: &Condition) {
        self.catalog(circuit, suspects, &Complaint::of(&[], condition));
    }

    /// What tests in a situation tell, as far as it was worked out.
    pub(super) fn scales(&self, situation: &Situation) -> Scales {
        let mut scales = self.scales.lock().unwrap_or_else(PoisonError::into_inner);
        scales.get(situation).unwrap_or_default()
    }

    pub(super) fn keep_scales(&self, situation: Situation, scales: Scales) {
        let mut kept = self.scales.lock().unwrap_or_else(PoisonError::into_inner);
        kept.insert(situation, scales, MOST_SCALED, |_| 1);
    }

    /// Everything there is to do about a complaint.
    pub(super) fn catalog(
        &self,
        circuit: &Circuit,
        suspects: &Suspects,
        complaint: &Complaint,
    ) -> Arc<Catalog> {
        let cell = {
            let mut catalogs = self.catalogs.lock().unwrap_or_else(PoisonError::into_inner);
            catalogs.get(complaint).unwrap_or_else(|| {
                let cell = Arc::default();
                catalogs.insert(complaint.clone(), Arc::clone(&cell), MOST_CATALOGS, |_| 1);
                cell
            })
        };
        let catalog = || Arc::new(Catalog::of(circuit, suspects, self, complaint));
        cell.get_or_init(catalog).clone()
    }
}

/// The relays as ordinary starting leaves them with each column's changes.
pub(super) fn running_relays(circuit: &Circuit, columns: &[Column]) -> Vec<Relays> {
    if circuit.coils.is_empty() {
        return vec![Relays::default(); columns.len()];
    }
    let of = |c: &Column| Judge::new(circuit, &c.changes).running_relays();
    columns.par_iter().map(of).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::machine::Machine;
    use std::sync::Barrier;

    #[test]
    fn whoever_comes_second_waits_for_the_first() {
        let text = include_str!("../../../../machines/hexley-walk-50.json");
        let circuit = Circuit::compile(&Machine::read(text).expect("a library machine"));
        let suspects = Suspects::of(&circuit);
        let complaint = Complaint::of(&[], &Condition::at_rest(&circuit));
        let (book, both) = (Book::default(), Barrier::new(2));
        let ask = || {
            both.wait();
            book.catalog(&circuit, &suspects, &complaint)
        };
        let [one, other] = std::thread::scope(|s| {
            [s.spawn(ask), s.spawn(ask)].map(|asked| asked.join().expect("a catalog"))
        });
        assert!(Arc::ptr_eq(&one, &other), "one catalog was worked out twice");
    }
}
