//! Everything there is to do about a complaint, with what each suspect would make of it: worked out
//! once, asked at every step.

use super::context::{Complaint, Context};
use super::contexts::contexts;
use super::risk::risk_minutes;
use super::safety::Hazards;
use super::scale::Scale;
use super::scales::KnownScales;
use crate::circuit::Condition;
use crate::diagnosis::evidence::{Probe, TestAction};
use crate::diagnosis::faults::Suspects;
use crate::diagnosis::predict::{FaultDictionary, FaultModel, Predicted, Situation};
use crate::errand::pieces;
use std::collections::HashMap;
use std::sync::{Arc, OnceLock};

/// One thing that could be done.
#[derive(Clone, Debug)]
pub(crate) struct Prospect {
    /// Index into the catalog's contexts.
    pub context: usize,
    pub action: TestAction,
    pub scale: Arc<Scale>,
}

#[derive(Debug)]
pub(crate) struct Catalog {
    pub hazards: Hazards,
    pub contexts: Vec<Context>,
    /// The fault dictionary of each context.
    pub dictionaries: Vec<Arc<FaultDictionary>>,
    pub prospects: Vec<Prospect>,
    /// What each context risks, in minutes.
    pub risks: Vec<f64>,
    /// What is tried after a repair, by index into the prospects; once asked for.
    pub recheck: OnceLock<Vec<usize>>,
}

/// Room for what is worked out at once on its way to scales, in bytes.
const ROOM: usize = 24 << 20;

/// So many tests of a situation are worked out at once.
fn at_once(suspects: &Suspects) -> usize {
    (ROOM / (suspects.scenarios.len().max(1) * size_of::<Predicted>())).max(16)
}

impl Catalog {
    /// What it takes, in bytes, its dictionaries left out.
    pub fn bytes(&self) -> usize {
        let contexts = self.contexts.iter().map(|c| size_of_val(&*c.actions)).sum::<usize>();
        let prospects = self.prospects.iter().map(|p| size_of::<Prospect>() + p.scale.bytes());
        contexts + prospects.sum::<usize>()
    }

    /// Works out everything there is to do about a complaint.
    pub fn about(model: &FaultModel, scales: &KnownScales, complaint: &Complaint) -> Self {
        let hazards = Hazards::of(&model.circuit);
        let contexts = contexts(&model.circuit, &model.suspects, &hazards, complaint);
        Self::with(model, scales, hazards, contexts, &complaint.condition)
    }

    /// Works out what can be done in these contexts, taking scales that are known already.
    pub fn with(
        model: &FaultModel,
        scales: &KnownScales,
        hazards: Hazards,
        contexts: Vec<Context>,
        usual: &Condition,
    ) -> Self {
        let risk = |context| risk_minutes(&model.circuit, &hazards, context, usual);
        let risks = contexts.iter().map(risk).collect();
        let mut prospects = Vec::new();
        let mut dictionaries = Vec::new();
        let stretch = pieces(contexts.len());
        for (c, context) in contexts.iter().enumerate() {
            let situation = Situation::new(&context.condition, &context.set_up);
            let dictionary = model.dictionary(&situation);
            let known = scales.of(&situation);
            let missing: Vec<_> =
                context.actions.iter().filter(|action| !known.contains_key(action)).collect();
            let mut new = Vec::new();
            for some in missing.chunks(at_once(&model.suspects)) {
                let probes: Vec<_> =
                    some.iter().filter_map(|action| action.probe(&model.circuit)).collect();
                let sights = dictionary.look(&probes);
                new.extend(some.iter().filter_map(|action| {
                    let scale = scale(model, &dictionary, **action, &sights)?;
                    Some((**action, Arc::new(scale)))
                }));
            }
            let more = !new.is_empty();
            let all = if more {
                Arc::new(known.iter().map(|(a, s)| (*a, s.clone())).chain(new).collect())
            } else {
                known
            };
            let own = context.actions.iter().filter_map(|action| {
                Some(Prospect { context: c, action: *action, scale: all.get(action)?.clone() })
            });
            prospects.extend(own);
            if more {
                scales.keep(situation, all);
            }
            dictionaries.push(dictionary);
            stretch.one_done();
        }
        Self { hazards, contexts, dictionaries, prospects, risks, recheck: OnceLock::new() }
    }
}

fn scale(
    model: &FaultModel,
    dictionary: &FaultDictionary,
    action: TestAction,
    sights: &HashMap<Probe, Arc<[Predicted]>>,
) -> Option<Scale> {
    match action {
        TestAction::Measure { instrument, .. } => {
            let sight = sights.get(&action.probe(&model.circuit)?)?;
            Some(Scale::of_sight(instrument, sight))
        }
        TestAction::Try(sense) => Some(Scale::of_sense(dictionary, sense)),
        TestAction::Look(looked) => Some(Scale::of_look(&model.suspects, looked)),
    }
}
