//! What a reading proves of the elements it went through, and of which it says nothing.

use crate::circuit::{ElementId, ElementKind, Fault, FaultMode, Relays};
use crate::diagnosis::belief::Belief;
use crate::diagnosis::candidates::told_apart;
use crate::diagnosis::evidence::{Evidence, Observation, Probe, Unit};
use crate::diagnosis::faults::Suspect;
use crate::diagnosis::predict::{FaultModel, Predictor, Situation};
use serde::Serialize;

/// How much is proved of an element.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Grade {
    /// No more than that it is not open.
    NotOpen,
    /// It carried the circuit's current.
    UnderLoad,
}

/// What one entry of the log proves.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Proof {
    pub sequence: u64,
    /// The reading is what a circuit sound up to the point shows.
    pub sound: bool,
    pub cleared: Vec<(ElementId, Grade)>,
}

/// A current that counts as load on a control circuit, in amperes.
const LOAD_AMPS: f64 = 0.5;
/// An open element is disproved where it fits this much worse than the best.
const DISPROVED: f64 = 0.02;
/// What is proved is proved of every wiring that is likelier than this.
const COUNTS: f64 = 0.01;
/// A reading is what a sound circuit shows where that fits at least this well.
const SOUND: f64 = 0.05;

/// What each entry of the log proves of the machine's elements.
///
/// It proves something only where it is what a circuit sound up to the point would show: as a
/// whole, or with nothing but a load failed. Then an element is cleared where its being open would
/// have shown otherwise: otherwise than was found, and than a sound machine shows.
pub(crate) fn proofs(model: &FaultModel, belief: &Belief, log: &[Evidence]) -> Vec<Proof> {
    let (circuit, suspects) = (&*model.circuit, &*model.suspects);
    let open = |suspect: &Suspect| {
        let open = |f: &Fault| matches!(f.mode, FaultMode::Open | FaultMode::FuseBlown);
        suspect.faults.iter().any(open).then(|| suspect.elements.first().copied()).flatten()
    };
    let load =
        |e: ElementId| matches!(circuit.element(e).kind, ElementKind::Load | ElementKind::Coil(_));
    let alone = |state: usize| belief.states[state].second.is_none();
    let suspect_of =
        |state: usize| &suspects.list[suspects.hypotheses[belief.states[state].first].suspect];
    let whole =
        |suspect: &Suspect| suspect.unit == Unit::Nothing || open(suspect).is_some_and(load);
    let top =
        (0..belief.weights.len()).max_by(|a, b| belief.weights[*a].total_cmp(&belief.weights[*b]));
    let states: Vec<usize> = (0..belief.states.len()).filter(|s| alone(*s)).collect();
    let possible = (0..belief.wirings.len()).filter(|w| belief.wirings[*w] > COUNTS);
    let possible: Vec<usize> = possible.collect();
    log.iter()
        .zip(&belief.judgements)
        .filter_map(|(entry, judgement)| {
            let acts =
                matches!(entry.observation, Observation::Read { .. } | Observation::Sensed(_));
            if !acts {
                return None;
            }
            let fits = |state: usize| f64::from(judgement.fits[state]);
            let sound = states.iter().any(|s| fits(*s) > SOUND && whole(suspect_of(*s)));
            let dictionary = model.dictionary_of(entry);
            let (sight, shown) = match entry.observation {
                Observation::Read { instrument, red, black, .. } => {
                    let probe = Probe { instrument, red, black };
                    (Some(dictionary.sight(probe)), None)
                }
                _ => (None, Some(dictionary.shown())),
            };
            let concerns = |state: usize| {
                let state = &belief.states[state];
                let (own, sound) = (state.before, suspects.sound_of(state.first));
                sight.as_ref().is_some_and(|s| told_apart(s[own], s[sound]))
                    || shown.as_ref().is_some_and(|s| !s[own].looks_like(&s[sound]))
            };
            // However else the machine may be wired, it is disproved there, too.
            let disproved = |state: &usize| fits(*state) < DISPROVED && concerns(*state);
            let everywhere = |suspect: usize| {
                possible.iter().all(|wiring| {
                    let own = |s: &&usize| {
                        let h = &suspects.hypotheses[belief.states[**s].first];
                        h.suspect == suspect && h.wiring == *wiring
                    };
                    states.iter().filter(own).any(disproved)
                })
            };
            let mut cleared = Vec::new();
            if sound && judgement.slip < 0.5 {
                let (condition, set_up) = (&entry.condition, &entry.set_up);
                let wired = Situation::new(condition, set_up).wired(circuit);
                let circuit = wired.as_deref().unwrap_or(circuit);
                let mut predictor = Predictor::new(circuit, condition, set_up, belief.supply_volts);
                if let Some(top) = top {
                    let scenario = belief.scenario_now(suspects, top);
                    let scenario = belief.pairs.scenario(suspects, scenario);
                    // What the scenario's own solver was built for is the circuit without jumpers.
                    let elsewhere = wired.is_some().then(|| scenario.elsewhere());
                    predictor.suppose(elsewhere.as_ref().unwrap_or(scenario), Relays::default());
                }
                for state in states.iter().filter(|s| disproved(s)) {
                    let Some(element) = open(suspect_of(*state)) else { continue };
                    let suspect = suspects.hypotheses[belief.states[*state].first].suspect;
                    if possible.len() > 1 && !everywhere(suspect) {
                        continue;
                    }
                    let loaded = predictor.solved().amps(element).abs() >= LOAD_AMPS;
                    let grade = if loaded { Grade::UnderLoad } else { Grade::NotOpen };
                    if !cleared.contains(&(element, grade)) {
                        cleared.push((element, grade));
                    }
                }
            }
            Some(Proof { sequence: entry.sequence, sound, cleared })
        })
        .collect()
}
