//! What is known of a machine's faults, solved when first asked for and kept.

use super::Suspects;
use super::candidates::Complaint;
use super::catalog::{Catalog, Scales};
use super::kept::Kept;
use super::page::{Page, Situation};
use super::suspects::Column;
use crate::circuit::{Circuit, Condition, Relays};
use crate::errand::carried;
use crate::interlock::Judge;
use rayon::prelude::*;
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError};

/// What is kept of one machine, solved when first asked for. Shared by whoever diagnoses it.
#[derive(Debug, Default)]
pub struct Book {
    pages: Mutex<Kept<Situation, Arc<Page>>>,
    /// The relays as ordinary starting leaves them, by column.
    running: OnceLock<Arc<[Relays]>>,
    /// Who asks while one is being worked out waits for it.
    catalogs: Mutex<Kept<Complaint, Arc<OnceLock<Arc<Catalog>>>>>,
    scales: Mutex<Kept<Situation, Scales>>,
}

const MEGABYTE: usize = 1 << 20;
/// Room for operating points, an afternoon's readings in a hundred situations of an ordinary
/// machine; for what is noticed, in bytes; for catalogs; and for scales: with them a complaint near
/// one that was planned for before needs no page solved.
const ROOM_FOR_PAGES: usize = 96 * MEGABYTE;
const ROOM_FOR_CATALOGS: usize = 48 * MEGABYTE;
const ROOM_FOR_SCALES: usize = 48 * MEGABYTE;

fn locked<T>(kept: &Mutex<T>) -> MutexGuard<'_, T> {
    kept.lock().unwrap_or_else(PoisonError::into_inner)
}

fn catalog_bytes(cell: &Arc<OnceLock<Arc<Catalog>>>) -> usize {
    cell.get().map_or(0, |catalog| catalog.bytes())
}

fn scales_bytes(scales: &Scales) -> usize {
    scales.values().map(|scale| scale.bytes()).sum()
}

impl Book {
    /// The page of a situation.
    pub(super) fn page(
        &self,
        circuit: &Circuit,
        suspects: &Suspects,
        situation: &Situation,
    ) -> Arc<Page> {
        let key = situation;
        let kept = locked(&self.pages).get(key);
        kept.unwrap_or_else(|| {
            self.make_room();
            let running = key.runs().then(|| self.running(circuit, suspects));
            let page = Arc::new(Page::new(circuit, &suspects.columns, key, running));
            let mut pages = locked(&self.pages);
            // Whoever came first: nothing is solved on it twice.
            pages.get(key).unwrap_or_else(|| {
                pages.insert(key.clone(), page.clone());
                page
            })
        })
    }

    /// Lets go of operating points, then of whole pages, that were not asked for lately. A page that
    /// a catalog holds stays, with what is noticed on it.
    fn make_room(&self) {
        let mut pages = locked(&self.pages);
        let mut taken = pages.bytes(|page| page.bytes());
        if taken <= ROOM_FOR_PAGES {
            return;
        }
        for page in pages.oldest_first() {
            if taken <= ROOM_FOR_PAGES / 2 {
                break;
            }
            let before = page.bytes();
            page.forget();
            // Others may be solving on it meanwhile.
            taken = taken.saturating_sub(before.saturating_sub(page.bytes()));
        }
        pages.trim(ROOM_FOR_PAGES / 2, |page| page.bytes(), |page| Arc::strong_count(page) == 1);
    }

    /// What is kept, in bytes.
    pub fn bytes(&self) -> usize {
        locked(&self.pages).bytes(|page| page.bytes())
            + locked(&self.catalogs).bytes(catalog_bytes)
            + locked(&self.scales).bytes(scales_bytes)
    }

    /// Lets go of everything; it is worked out again when asked for.
    pub fn forget(&self) {
        locked(&self.catalogs).clear();
        locked(&self.scales).clear();
        locked(&self.pages).clear();
    }

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
        locked(&self.scales).get(situation).unwrap_or_default()
    }

    pub(super) fn keep_scales(&self, situation: Situation, scales: Scales) {
        let mut kept = locked(&self.scales);
        kept.insert(situation, scales);
        kept.trim(ROOM_FOR_SCALES, scales_bytes, |_| true);
    }

    /// Everything there is to do about a complaint.
    pub(super) fn catalog(
        &self,
        circuit: &Circuit,
        suspects: &Suspects,
        complaint: &Complaint,
    ) -> Arc<Catalog> {
        let cell = {
            let mut catalogs = locked(&self.catalogs);
            catalogs.get(complaint).unwrap_or_else(|| {
                let cell = Arc::default();
                catalogs.insert(complaint.clone(), Arc::clone(&cell));
                catalogs.trim(ROOM_FOR_CATALOGS, catalog_bytes, |_| true);
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
    let carried = carried();
    let of = |c: &Column| carried.within(|| Judge::new(circuit, &c.changes).running_relays());
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
