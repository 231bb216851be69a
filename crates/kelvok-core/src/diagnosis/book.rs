//! What is known of a machine's faults, solved when first asked for and kept.

use super::Suspects;
use super::candidates::Complaint;
use super::catalog::{Catalog, Scales};
use super::page::{Page, Situation};
use super::suspects::Column;
use crate::circuit::{Circuit, Condition, Relays};
use crate::interlock::Judge;
use rayon::prelude::*;
use std::collections::HashMap;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

/// Pages by situation, solved when first asked for and kept. Shared by whoever diagnoses this
/// machine.
#[derive(Debug, Default)]
pub struct Book {
    pages: Mutex<HashMap<Situation, Arc<Page>>>,
    /// The relays as ordinary starting leaves them, by column.
    running: OnceLock<Arc<[Relays]>>,
    catalogs: Mutex<HashMap<Complaint, Arc<Catalog>>>,
    scales: Mutex<Scales>,
}

/// Pages are let go of beyond this much room: an afternoon's readings in 400 situations, or what is
/// noticed in twenty times as many.
const MOST_ROOM: usize = 8000;
const MOST_CATALOGS: usize = 100;

impl Book {
    /// The page of a situation.
    pub(super) fn page(
        &self,
        circuit: &Circuit,
        suspects: &Suspects,
        situation: &Situation,
    ) -> Arc<Page> {
        let key = situation;
        let kept = self.pages.lock().unwrap_or_else(PoisonError::into_inner).get(key).cloned();
        kept.unwrap_or_else(|| {
            let running = key.runs().then(|| self.running(circuit, suspects));
            let page = Arc::new(Page::new(circuit, &suspects.columns, key, running));
            let mut pages = self.pages.lock().unwrap_or_else(PoisonError::into_inner);
            if pages.values().map(|p| p.weight()).sum::<usize>() >= MOST_ROOM {
                pages.clear();
            }
            pages.insert(key.clone(), page.clone());
            page
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

    /// Everything there is to do about a complaint.
    pub(super) fn catalog(
        &self,
        circuit: &Circuit,
        suspects: &Suspects,
        complaint: &Complaint,
    ) -> Arc<Catalog> {
        let kept = {
            let catalogs = self.catalogs.lock().unwrap_or_else(PoisonError::into_inner);
            catalogs.get(complaint).cloned()
        };
        kept.unwrap_or_else(|| {
            let catalog = {
                let mut scales = self.scales.lock().unwrap_or_else(PoisonError::into_inner);
                Arc::new(Catalog::of(circuit, suspects, self, complaint, &mut scales))
            };
            let mut catalogs = self.catalogs.lock().unwrap_or_else(PoisonError::into_inner);
            if catalogs.len() >= MOST_CATALOGS {
                catalogs.clear();
            }
            catalogs.insert(complaint.clone(), catalog.clone());
            catalog
        })
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
