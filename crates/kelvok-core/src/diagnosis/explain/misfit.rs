//! An entry that fits nothing that is believed: the three things that may have happened, and how
//! well each would explain it. Statements that cannot both hold.

use super::believed::believed;
use crate::circuit::{Condition, Instrument, NodeId, Reading, one_move_away};
use crate::diagnosis::belief::{Belief, Place, Unknowns, fit_close_up, fit_reading, fit_sensed};
use crate::diagnosis::evidence::{Evidence, Observation, Probe, Source};
use crate::diagnosis::predict::{FaultModel, Predicted, Shown, nominal_volts};

/// An entry that nothing believed explains, and what may have happened; the likeliest first.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Misfit {
    pub sequence: u64,
    /// Chance that it was a slip.
    pub slip: f64,
    pub explanations: Vec<Explanation>,
}

/// What may have happened at an entry that fits nothing.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Explanation {
    pub mistake: Mistake,
    /// Its share among the explanations.
    pub share: f64,
}

/// What may have happened at a reading.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum Mistake {
    /// The probes were elsewhere: test points, by index.
    WrongPoint { red: usize, black: usize },
    /// The meter was on another range.
    WrongSetting(Instrument),
    /// The machine stood otherwise: a control let go, or not moved far enough.
    OtherCondition(Condition),
}

/// Above this chance of having been a slip an entry is asked about.
const ASKED_ABOUT: f64 = 0.35;
/// How often each happens, by itself.
const POINT: f64 = 0.4;
const SETTING: f64 = 0.15;
const CONDITION: f64 = 0.45;
/// The share of wrong points that are elsewhere on the machine.
const ACROSS: f64 = 0.2;
/// An explanation must fit at least this well, against the best that any could.
const WORTH_SAYING: f64 = 0.02;
/// The latest entry that nothing believed explains, if there is one.
pub(crate) fn misfit(model: &FaultModel, belief: &Belief, log: &[Evidence]) -> Option<Misfit> {
    let judged = belief.judgements.iter().rev().find(|j| j.slip > ASKED_ABOUT)?;
    let entry = log.iter().find(|e| e.sequence == judged.sequence)?;
    // What the customer says is gone after, not doubted, as long as nothing was tried on the machine.
    if entry.source == Source::Told && log.iter().all(|e| e.source == Source::Told) {
        return None;
    }
    let without: Vec<Evidence> =
        log.iter().filter(|e| e.sequence != entry.sequence).cloned().collect();
    let others = Belief::judge(model, &without);
    let inquiry = Inquiry { model, entry, scenarios: believed(&model.suspects, &others) };
    let mut found = match entry.observation {
        Observation::Read { .. } => {
            let mut all: Vec<_> = inquiry.points().into_iter().collect();
            all.extend(inquiry.settings());
            all.extend(inquiry.conditions());
            all
        }
        Observation::Sensed(_) | Observation::CloseUp(_) => {
            inquiry.conditions().into_iter().collect()
        }
        _ => Vec::new(),
    };
    let best = inquiry.best_fit();
    found.retain(|(_, weight)| *weight > WORTH_SAYING * best);
    found.sort_by(|a, b| b.1.total_cmp(&a.1));
    let total: f64 = found.iter().map(|(_, w)| w).sum();
    let explanations =
        found.into_iter().map(|(mistake, w)| Explanation { mistake, share: w / total }).collect();
    Some(Misfit { sequence: entry.sequence, slip: judged.slip, explanations })
}

struct Inquiry<'a> {
    model: &'a FaultModel,
    entry: &'a Evidence,
    scenarios: Vec<(usize, f64)>,
}

impl Inquiry<'_> {
    /// How well the reading would fit a probe in a condition, by all that is believed.
    fn fit(&self, condition: &Condition, probe: Probe, reading: Reading) -> f64 {
        let sight = self.model.dictionary_at(condition, &self.entry.set_up).sight(probe);
        self.weighed(|scenario| self.fit_one(reading, sight[scenario], scenario))
    }

    fn fit_one(&self, reading: Reading, predicted: Predicted, scenario: usize) -> f64 {
        let emf = self.model.suspects.scenarios[scenario]
            .emf
            .unwrap_or(nominal_volts(&self.model.circuit));
        fit_reading((reading, Place::Elsewhere), predicted, emf, &mut Unknowns::unread(emf, false))
            .honest
    }

    fn weighed(&self, fit: impl Fn(usize) -> f64) -> f64 {
        self.scenarios.iter().map(|(scenario, weight)| weight * fit(*scenario)).sum()
    }

    /// How well it would fit if something believed predicted just what was found.
    fn best_fit(&self) -> f64 {
        match self.entry.observation {
            Observation::Read { reading, .. } => {
                let just = match reading {
                    Reading::Volts(mean) => Predicted::Volts { mean, swing: 0.0, slope: 0.0 },
                    Reading::Ohms(ohms) => Predicted::Ohms { ohms, slope: 0.0 },
                    Reading::Amps(mean) => Predicted::Amps { mean, swing: 0.0, slope: 0.0 },
                    _ => return 1.0,
                };
                self.fit_one(reading, just, 0)
            }
            _ => 1.0,
        }
    }

    /// The other pair of test points that explains it best: one probe was elsewhere.
    fn points(&self) -> Option<(Mistake, f64)> {
        let Observation::Read { instrument, red, black, reading } = self.entry.observation else {
            return None;
        };
        let points = &self.model.circuit.document().test_points;
        let node = |i: usize| self.model.circuit.terminal(&points[i].terminal).ok();
        let at = |wanted: NodeId| (0..points.len()).find(|i| node(*i) == Some(wanted));
        let (own_red, own_black) = (at(red)?, at(black)?);
        let others = (0..points.len()).filter(|i| node(*i).is_some_and(|n| n != red && n != black));
        let pairs =
            others.flat_map(|i| [(i, own_black), (own_red, i)]).chain([(own_black, own_red)]);
        let weighed = pairs.filter_map(|(r, b)| {
            let probe = Probe { instrument, red: node(r)?, black: node(b)? };
            let fit = self.fit(&self.entry.condition, probe, reading);
            // A neighboring pin is sooner mistaken for the right one than one across the machine.
            let near = points[r].place == points[own_red].place
                && points[b].place == points[own_black].place;
            let by_itself = if near { POINT } else { POINT * ACROSS };
            Some((Mistake::WrongPoint { red: r, black: b }, by_itself * fit))
        });
        weighed.max_by(|a, b| a.1.total_cmp(&b.1))
    }

    /// The range that explains it best.
    fn settings(&self) -> Option<(Mistake, f64)> {
        let Observation::Read { instrument, red, black, reading } = self.entry.observation else {
            return None;
        };
        let figure = match reading {
            Reading::Volts(v) | Reading::AcVolts(v) => Some(v),
            Reading::Ohms(ohms) | Reading::Drop(ohms) => ohms,
            _ => None,
        };
        let as_read = |with: Instrument| match (with, figure) {
            (Instrument::Voltmeter, figure) => figure.map(Reading::Volts),
            (Instrument::AcVoltmeter, figure) => figure.map(|v| Reading::AcVolts(v.abs())),
            (Instrument::Ohmmeter, figure) => Some(Reading::Ohms(figure.map(f64::abs))),
            _ => None,
        };
        let ranges = [Instrument::Voltmeter, Instrument::AcVoltmeter, Instrument::Ohmmeter];
        let weighed = ranges.into_iter().filter(|with| *with != instrument).filter_map(|with| {
            let probe = Probe { instrument: with, red, black };
            let fit = self.fit(&self.entry.condition, probe, as_read(with)?);
            Some((Mistake::WrongSetting(with), SETTING * fit))
        });
        weighed.max_by(|a, b| a.1.total_cmp(&b.1))
    }

    /// The condition, one control away, that explains it best.
    fn conditions(&self) -> Option<(Mistake, f64)> {
        let circuit = &*self.model.circuit;
        let near = one_move_away(circuit, &self.entry.condition);
        let near = near.into_iter().filter(|c| c.engine == self.entry.condition.engine);
        let weighed = near.map(|condition| {
            let fit = match self.entry.observation {
                Observation::Read { instrument, red, black, reading } => {
                    self.fit(&condition, Probe { instrument, red, black }, reading)
                }
                Observation::Sensed(sensed) => {
                    self.noticed(&condition, |shown| fit_sensed(sensed, shown).honest)
                }
                Observation::CloseUp(seen) => self
                    .noticed(&condition, |shown| fit_close_up(circuit, seen, shown.details).honest),
                _ => 0.0,
            };
            (Mistake::OtherCondition(condition), CONDITION * fit)
        });
        weighed.max_by(|a, b| a.1.total_cmp(&b.1))
    }

    fn noticed(&self, condition: &Condition, fit: impl Fn(&Shown) -> f64) -> f64 {
        let shown = self.model.dictionary_at(condition, &self.entry.set_up).shown();
        self.weighed(|scenario| fit(&shown[scenario]))
    }
}
