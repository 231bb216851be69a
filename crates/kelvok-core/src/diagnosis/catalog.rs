//! Everything there is to do about a complaint, with what each suspect would make of it: worked out
//! once, asked at every step.

use super::answers::Scale;
use super::book::Book;
use super::candidates::{Complaint, Context, contexts};
use super::page::{Page, Situation};
use super::predict::{Predicted, Probe};
use super::safety::Hazards;
use super::{Doing, Suspects};
use crate::circuit::{Circuit, NodeId};
use crate::errand::pieces;
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

/// Room for what is worked out at once on its way to scales, in bytes.
const ROOM: usize = 24 << 20;

/// So many tests of a situation are worked out at once.
fn at_once(suspects: &Suspects) -> usize {
    (ROOM / (suspects.columns.len().max(1) * size_of::<Predicted>())).max(16)
}

/// Scales of one situation, by what is done in it.
pub(super) type Scales = Arc<HashMap<Doing, Arc<Scale>>>;

impl Catalog {
    /// What it takes, in bytes, its pages left out.
    pub fn bytes(&self) -> usize {
        let contexts = self.contexts.iter().map(|c| size_of_val(&*c.doings)).sum::<usize>();
        let prospects = self.prospects.iter().map(|p| size_of::<Prospect>() + p.scale.bytes());
        contexts + prospects.sum::<usize>()
    }

    /// Works out everything there is to do.
    pub fn of(circuit: &Circuit, suspects: &Suspects, book: &Book, complaint: &Complaint) -> Self {
        let hazards = Hazards::of(circuit);
        let contexts = contexts(circuit, suspects, &hazards, complaint);
        Self::with(circuit, suspects, book, hazards, contexts)
    }

    /// Works out what can be done in these contexts, taking scales that are known already.
    pub fn with(
        circuit: &Circuit,
        suspects: &Suspects,
        book: &Book,
        hazards: Hazards,
        contexts: Vec<Context>,
    ) -> Self {
        let mut prospects = Vec::new();
        let mut pages = Vec::new();
        let stretch = pieces(contexts.len());
        for (c, context) in contexts.iter().enumerate() {
            let situation = Situation::new(&context.condition, &context.set_up);
            let page = book.page(circuit, suspects, &situation);
            let known = book.scales(&situation);
            let missing: Vec<_> =
                context.doings.iter().filter(|doing| !known.contains_key(doing)).collect();
            let mut new = Vec::new();
            for some in missing.chunks(at_once(suspects)) {
                let probes: Vec<_> = some.iter().filter_map(|d| probe(circuit, **d)).collect();
                let sights = page.look(circuit, &suspects.columns, &probes);
                new.extend(some.iter().filter_map(|doing| {
                    let scale = scale(circuit, suspects, &page, **doing, &sights)?;
                    Some((**doing, Arc::new(scale)))
                }));
            }
            let more = !new.is_empty();
            let scales = if more {
                Arc::new(known.iter().map(|(d, s)| (*d, s.clone())).chain(new).collect())
            } else {
                known
            };
            let own = context.doings.iter().filter_map(|doing| {
                Some(Prospect { context: c, doing: *doing, scale: scales.get(doing)?.clone() })
            });
            prospects.extend(own);
            if more {
                book.keep_scales(situation, scales);
            }
            pages.push(page);
            stretch.one_done();
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

fn scale(
    circuit: &Circuit,
    suspects: &Suspects,
    page: &Page,
    doing: Doing,
    sights: &HashMap<Probe, Arc<[Predicted]>>,
) -> Option<Scale> {
    match doing {
        Doing::Measure { instrument, .. } => {
            Some(Scale::of_sight(instrument, sights.get(&probe(circuit, doing)?)?))
        }
        Doing::Try(sense) => Some(Scale::of_sense(circuit, suspects, page, sense)),
        Doing::Look(looked) => Some(Scale::of_look(suspects, looked)),
    }
}
