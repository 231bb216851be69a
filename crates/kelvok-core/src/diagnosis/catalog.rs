//! Everything there is to do about a complaint, with what each suspect would make of it: worked out
//! once, asked at every step.

use super::answers::Scale;
use super::book::Book;
use super::candidates::{Complaint, Context, contexts};
use super::page::{Page, Situation};
use super::predict::Probe;
use super::safety::Hazards;
use super::{Doing, Suspects};
use crate::circuit::{Circuit, NodeId};
use std::collections::HashMap;
use std::sync::{Arc, OnceLock};

/// One thing that could be done.
#[derive(Clone, Debug)]
pub(super) struct Prospect {
    /// Index into the catalog's contexts.
    pub context: usize,
    pub doing: Doing,
    pub scale: Arc<Scale>,
}

#[derive(Debug)]
pub(super) struct Catalog {
    pub hazards: Hazards,
    pub contexts: Vec<Context>,
    /// The page of each context; none where nothing of the machine acts in it.
    pub pages: Vec<Arc<Page>>,
    pub prospects: Vec<Prospect>,
    /// What is tried after a repair, by index into the prospects; once asked for.
    pub recheck: OnceLock<Vec<usize>>,
}

/// Scales by what is done where, kept from complaint to complaint.
pub(super) type Scales = HashMap<(Situation, Doing), Arc<Scale>>;

impl Catalog {
    /// Works out everything there is to do, taking scales that are known already.
    pub fn of(
        circuit: &Circuit,
        suspects: &Suspects,
        book: &Book,
        complaint: &Complaint,
        scales: &mut Scales,
    ) -> Self {
        let hazards = Hazards::of(circuit);
        let contexts = contexts(circuit, suspects, &hazards, complaint);
        let mut prospects = Vec::new();
        let mut pages = Vec::new();
        for (c, context) in contexts.iter().enumerate() {
            let situation = Situation::new(&context.condition, &context.set_up);
            let page = book.page(circuit, suspects, &situation);
            let missing = context
                .doings
                .iter()
                .filter(|doing| !scales.contains_key(&(situation.clone(), **doing)));
            let probes: Vec<_> = missing.filter_map(|d| probe(circuit, *d)).collect();
            page.prepare(circuit, &suspects.columns, &probes);
            for doing in &context.doings {
                let key = (situation.clone(), *doing);
                let scale = match scales.get(&key) {
                    Some(scale) => scale.clone(),
                    None => {
                        let Some(scale) = scale(circuit, suspects, &page, *doing) else {
                            continue;
                        };
                        let scale = Arc::new(scale);
                        scales.insert(key, scale.clone());
                        scale
                    }
                };
                prospects.push(Prospect { context: c, doing: *doing, scale });
            }
            pages.push(page);
        }
        Self { hazards, contexts, pages, prospects, recheck: OnceLock::new() }
    }
}

/// The probe that a measurement is.
pub(super) fn probe(circuit: &Circuit, doing: Doing) -> Option<Probe> {
    let Doing::Measure { instrument, red, black } = doing else {
        return None;
    };
    Some(Probe { instrument, red: node(circuit, red)?, black: node(circuit, black)? })
}

/// The node of a test point, by index.
pub(super) fn node(circuit: &Circuit, point: usize) -> Option<NodeId> {
    circuit.terminal(&circuit.document().test_points.get(point)?.terminal).ok()
}

fn scale(circuit: &Circuit, suspects: &Suspects, page: &Page, doing: Doing) -> Option<Scale> {
    match doing {
        Doing::Measure { .. } => Scale::of_probe(circuit, suspects, page, probe(circuit, doing)?),
        Doing::Try(sense) => Some(Scale::of_sense(circuit, suspects, page, sense)),
        Doing::Look(looked) => Some(Scale::of_look(suspects, looked)),
    }
}
