//! What a reading proves of the elements it went through, and of which it says nothing.

use super::predict::{Predictor, Probe};
use super::{Belief, Evidence, Observation, Suspects, Unit};
use crate::circuit::{Circuit, ElementId, FaultMode};
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
/// A reading is what a sound circuit shows where that fits at least this well.
const SOUND: f64 = 0.05;

/// What each reading of the log proves of the elements in scope.
///
/// A reading proves something only where it is what a circuit sound up to the point would show:
/// as a whole, or with nothing but the load failed.
pub fn proofs(
    circuit: &Circuit,
    suspects: &Suspects,
    belief: &Belief,
    log: &[Evidence],
) -> Vec<Proof> {
    let open_load = |s: usize| {
        let suspect = &suspects.list[s];
        suspect.faults.iter().any(|f| f.mode == FaultMode::Open)
            && suspect.elements.iter().all(|e| suspects.tracks.iter().any(|t| t.load == *e))
    };
    let top = (0..belief.hypotheses.len())
        .max_by(|a, b| belief.hypotheses[*a].total_cmp(&belief.hypotheses[*b]));
    log.iter()
        .zip(&belief.judgements)
        .filter_map(|(entry, judgement)| {
            let Observation::Read { instrument, red, black, .. } = entry.observation else {
                return None;
            };
            let sound = suspects.hypotheses.iter().zip(&judgement.fits).any(|(h, fit)| {
                let whole = suspects.list[h.suspect].unit == Unit::Nothing || open_load(h.suspect);
                whole && *fit > SOUND
            });
            let mut cleared = Vec::new();
            if sound {
                let mut predictor =
                    Predictor::new(circuit, &entry.condition, &entry.set_up, belief.supply_volts);
                if let Some(top) = top {
                    predictor.suppose(&suspects.hypotheses[top]);
                    predictor.read(&[Probe { instrument, red, black }]);
                }
                for (h, fit) in suspects.hypotheses.iter().zip(&judgement.fits) {
                    let suspect = &suspects.list[h.suspect];
                    let open = suspect
                        .faults
                        .iter()
                        .any(|f| matches!(f.mode, FaultMode::Open | FaultMode::FuseBlown));
                    if let (true, &[element]) = (open && *fit < DISPROVED, &suspect.elements[..]) {
                        let grade = if predictor.amps(element).abs() >= LOAD_AMPS {
                            Grade::UnderLoad
                        } else {
                            Grade::NotOpen
                        };
                        cleared.push((element, grade));
                    }
                }
            }
            Some(Proof { sequence: entry.sequence, sound, cleared })
        })
        .collect()
}
