//! An entry that fits nothing that is believed: the three things that may have happened, and how
//! well each would explain it. Statements that cannot both hold.

use super::book::Book;
use super::likelihood::{fit_reading, fit_sensed};
use super::page::{Situation, nominal_volts};
use super::predict::{Predicted, Probe};
use super::unknowns::Unknowns;
use super::{Belief, Evidence, Observation, Sensed, Suspects};
use crate::circuit::{Circuit, Condition, Instrument, NodeId, Reading, one_move_away};
use std::collections::HashMap;

/// An entry that nothing believed explains, and what may have happened; the likeliest first.
#[derive(Clone, Debug)]
pub struct Misfit {
    pub sequence: u64,
    /// Chance that it was a slip.
    pub slip: f64,
    pub explanations: Vec<Explanation>,
}

#[derive(Clone, Debug)]
pub struct Explanation {
    pub mistake: Mistake,
    /// Its share among the explanations.
    pub share: f64,
}

/// What may have happened at a reading.
#[derive(Clone, Debug, PartialEq)]
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
/// States of belief below this share are left out.
const LEAST: f64 = 1e-3;

/// The latest entry that nothing believed explains, if there is one.
pub fn misfit(
    circuit: &Circuit,
    suspects: &Suspects,
    book: &Book,
    belief: &Belief,
    log: &[Evidence],
) -> Option<Misfit> {
    let judged = belief.judgements.iter().rev().find(|j| j.slip > ASKED_ABOUT)?;
    let at = log.iter().position(|e| e.sequence == judged.sequence)?;
    let entry = &log[at];
    let without: Vec<Evidence> =
        log.iter().filter(|e| e.sequence != entry.sequence).cloned().collect();
    let others = Belief::judge(circuit, suspects, book, &without);
    let inquiry = Inquiry { circuit, suspects, book, entry, columns: believed(suspects, &others) };
    let mut found = match entry.observation {
        Observation::Read { .. } => {
            let mut all: Vec<_> = inquiry.points().into_iter().collect();
            all.extend(inquiry.settings());
            all.extend(inquiry.conditions());
            all
        }
        Observation::Sensed(_) => inquiry.conditions().into_iter().collect(),
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

/// What is believed, as columns with their weights.
fn believed(suspects: &Suspects, belief: &Belief) -> Vec<(usize, f64)> {
    let mut columns: HashMap<usize, f64> = HashMap::new();
    for (state, weight) in belief.weights.iter().enumerate().filter(|(_, w)| **w > LEAST) {
        let column = belief.column_now(suspects, state);
        if column < suspects.columns.len() {
            *columns.entry(column).or_default() += weight;
        }
    }
    let mut columns: Vec<_> = columns.into_iter().collect();
    columns.sort_by_key(|(column, _)| *column);
    columns
}

struct Inquiry<'a> {
    circuit: &'a Circuit,
    suspects: &'a Suspects,
    book: &'a Book,
    entry: &'a Evidence,
    columns: Vec<(usize, f64)>,
}

impl Inquiry<'_> {
    /// How well the reading would fit a probe in a condition, by all that is believed.
    fn fit(&self, condition: &Condition, probe: Probe, reading: Reading) -> f64 {
        let situation = Situation::new(condition, &self.entry.set_up);
        let page = self.book.page(self.circuit, self.suspects, &situation);
        let sight = page.sight(self.circuit, &self.suspects.columns, probe);
        self.weighed(|column| self.fit_one(reading, sight[column], column))
    }

    fn fit_one(&self, reading: Reading, predicted: Predicted, column: usize) -> f64 {
        let emf = self.suspects.columns[column].emf.unwrap_or(nominal_volts(self.circuit));
        fit_reading(reading, predicted, emf, &mut Unknowns::unread(emf, false)).honest
    }

    fn weighed(&self, fit: impl Fn(usize) -> f64) -> f64 {
        self.columns.iter().map(|(column, weight)| weight * fit(*column)).sum()
    }

    /// How well it would fit if something believed predicted just what was found.
    fn best_fit(&self) -> f64 {
        match self.entry.observation {
            Observation::Read { reading, .. } => {
                let just = match reading {
                    Reading::Volts(mean) => Predicted::Volts { mean, swing: 0.0, slope: 0.0 },
                    Reading::Ohms(ohms) => Predicted::Ohms { ohms, slope: 0.0 },
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
        let points = &self.circuit.document().test_points;
        let node = |i: usize| self.circuit.terminal(&points[i].terminal).ok();
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
        let circuit = self.circuit;
        let near = one_move_away(circuit, &self.entry.condition);
        let near = near.into_iter().filter(|c| c.engine == self.entry.condition.engine);
        let weighed = near.map(|condition| {
            let fit = match self.entry.observation {
                Observation::Read { instrument, red, black, reading } => {
                    self.fit(&condition, Probe { instrument, red, black }, reading)
                }
                Observation::Sensed(sensed) => self.sensed(&condition, sensed),
                _ => 0.0,
            };
            (Mistake::OtherCondition(condition), CONDITION * fit)
        });
        weighed.max_by(|a, b| a.1.total_cmp(&b.1))
    }

    fn sensed(&self, condition: &Condition, sensed: Sensed) -> f64 {
        let situation = Situation::new(condition, &self.entry.set_up);
        let page = self.book.page(self.circuit, self.suspects, &situation);
        let shown = page.shown(self.circuit, &self.suspects.columns);
        self.weighed(|column| fit_sensed(sensed, &shown[column]).honest)
    }
}

/// Entries, by sequence, for which a current was put into a circuit that was live, by most of what
/// is believed: they say nothing, and may have harmed the meter.
pub fn on_live(
    circuit: &Circuit,
    suspects: &Suspects,
    book: &Book,
    belief: &Belief,
    log: &[Evidence],
) -> Vec<u64> {
    let columns = believed(suspects, belief);
    let whole: f64 = columns.iter().map(|(_, w)| w).sum();
    let live = log.iter().filter(|entry| {
        let Observation::Read { instrument, red, black, .. } = entry.observation else {
            return false;
        };
        if !instrument.feeds() {
            return false;
        }
        let situation = Situation::new(&entry.condition, &entry.set_up);
        let page = book.page(circuit, suspects, &situation);
        let sight = page.sight(circuit, &suspects.columns, Probe { instrument, red, black });
        let refused = columns.iter().filter(|(c, _)| sight[*c] == Predicted::Refused);
        refused.map(|(_, w)| w).sum::<f64>() > 0.5 * whole
    });
    live.map(|entry| entry.sequence).collect()
}

/// Pairs of entries, by sequence, that cannot both hold: one thing noticed in one condition, and
/// the same otherwise, nothing having been repaired between and neither coming and going.
pub fn contradictions(log: &[Evidence]) -> Vec<(u64, u64)> {
    let mut pairs = Vec::new();
    for (i, one) in log.iter().enumerate() {
        let Observation::Sensed(before) = one.observation else { continue };
        for other in &log[i + 1..] {
            if matches!(other.observation, Observation::Repaired(_)) {
                break;
            }
            let Observation::Sensed(after) = other.observation else { continue };
            let alike = one.condition == other.condition && one.set_up == other.set_up;
            let at_times = one.at_times || other.at_times;
            if alike && !at_times && before.sense() == after.sense() && before != after {
                pairs.push((one.sequence, other.sequence));
            }
        }
    }
    pairs
}
