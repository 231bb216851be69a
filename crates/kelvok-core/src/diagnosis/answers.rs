//! Answers that a mechanic can tell apart, and what a test tells.
//!
//! Every answer lies somewhere on a scale that is cut into cells: volts in steps of 0.4, ohms by
//! factors of two, a sound or a look in as many as it has. What a suspect predicts is spread over
//! the cells near it, by how unsure it is, so that two suspects are told apart as far as a meter
//! and a hand would tell them apart.

use super::burning::doubtful;
use super::likelihood::{DROP_VOLTS, LEADS_OHMS, ac_spread, looks_bad};
use super::page::Page;
use super::predict::{Predicted, Shown};
use super::spots::Spots;
use super::{Doing, EngineDoes, Heard, Sense, Suspects};
use crate::circuit::{Circuit, Instrument, LampState};

/// Volts to a cell.
const VOLTS: f64 = 0.4;
/// Cells below zero volts: fifteen volts' worth.
const BELOW: f64 = 38.0;
/// Natural logarithm of ohms to a cell.
const LN_OHMS: f64 = 0.7;
/// Alternating volts to a cell, and those across a diode.
const AC_VOLTS: f64 = 1.0;
const DROP: f64 = 0.1;
/// The cell of over range, beyond forty megohm.
const OVER: u8 = 40;
/// No scale has more cells.
const CELLS: usize = 80;

/// Where an answer lies on its scale, and how far it may be off.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Spot {
    pub at: f32,
    /// Half the width it is spread over, in cells; none for what is one thing or another.
    pub half: f32,
}

/// What a test shows under every column; of a look, the chance that it looks bad, by suspect.
#[derive(Clone, Debug)]
pub(super) enum Scale {
    Spots { kind: Kind, spots: Spots },
    Looks(Vec<f32>),
}

/// What a scale is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Kind {
    Volts,
    Ohms,
    Buzz,
    Lamp,
    /// Of an LED lamp.
    Lit,
    AcVolts,
    /// Of the diode range.
    Drop,
    Sense(Sense),
}

/// What one answer, or a range of them, is.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum AnswerRange {
    Volts {
        low: f64,
        high: f64,
    },
    Ohms {
        low: f64,
        high: f64,
    },
    OverRange,
    AcVolts {
        low: f64,
        high: f64,
    },
    /// Volts across a diode.
    Drop {
        low: f64,
        high: f64,
    },
    Buzz(bool),
    Lit(bool),
    Heard(Heard),
    Engine(EngineDoes),
    Blades(bool),
    Lamp(LampState),
    LooksBad(bool),
}

impl Scale {
    /// What an instrument shows under every column.
    pub fn of_sight(instrument: Instrument, sight: &[Predicted]) -> Self {
        let kind = match instrument {
            Instrument::Voltmeter => Kind::Volts,
            Instrument::Ohmmeter => Kind::Ohms,
            Instrument::Buzzer => Kind::Buzz,
            Instrument::TestLamp => Kind::Lamp,
            Instrument::AcVoltmeter => Kind::AcVolts,
            Instrument::DiodeRange => Kind::Drop,
            Instrument::LedLamp => Kind::Lit,
        };
        Self::Spots { kind, spots: Spots::of(sight.iter().map(|p| Spot::of(*p))) }
    }

    /// What is noticed under every column.
    pub fn of_sense(circuit: &Circuit, suspects: &Suspects, page: &Page, sense: Sense) -> Self {
        let shown = page.shown(circuit, &suspects.columns);
        let spots = Spots::of(shown.iter().map(|s| Spot::sensed(sense, s)));
        Self::Spots { kind: Kind::Sense(sense), spots }
    }

    /// What a look finds, by suspect.
    pub fn of_look(suspects: &Suspects, looked: super::Inspected) -> Self {
        Self::Looks(suspects.list.iter().map(|s| looks_bad(s, looked) as f32).collect())
    }

    /// Where a state's weight lies on it.
    fn put(&self, stake: &Stake, put: &mut Put<'_>) {
        match self {
            Self::Looks(bad) => {
                let bad = f64::from(bad[stake.suspect]);
                put(Spot::exactly(1), bad * stake.weight);
                put(Spot::exactly(0), (1.0 - bad) * stake.weight);
            }
            Self::Spots { spots, .. } => stake.put(spots.at(stake.column), spots.at(0), put),
        }
    }

    /// Whether two hypotheses can be told apart by it.
    pub fn splits(&self, suspects: &Suspects, one: usize, other: usize) -> bool {
        let (one, other) = (&suspects.hypotheses[one], &suspects.hypotheses[other]);
        match self {
            Self::Spots { spots, .. } => spots.at(one.column).apart_from(spots.at(other.column)),
            // A look proves nothing by itself.
            Self::Looks(_) => false,
        }
    }

    /// A number by column, the same for columns that answer alike; `None` where answers are no
    /// matter of course.
    pub fn classes(&self) -> Option<Vec<u8>> {
        let Self::Spots { spots, .. } = self else { return None };
        let spots: Vec<Spot> = spots.iter().collect();
        if spots.iter().any(|s| s.at.is_nan()) {
            return None;
        }
        let mut order: Vec<usize> = (0..spots.len()).collect();
        order.sort_by(|a, b| spots[*a].at.total_cmp(&spots[*b].at));
        let mut classes = vec![0; spots.len()];
        for pair in order.windows(2) {
            let apart = spots[pair[0]].apart_from(spots[pair[1]]);
            classes[pair[1]] = classes[pair[0]] + u8::from(apart);
        }
        Some(classes)
    }

    /// The columns that answer otherwise than a sound machine.
    pub fn exposed(&self) -> impl Iterator<Item = usize> + '_ {
        let spots = match self {
            Self::Spots { spots, .. } => Some(spots),
            Self::Looks(_) => None,
        };
        let apart = |spots: &'_ Spots| spots.iter().map(|s| s.apart_from(spots.at(0))).collect();
        let apart: Vec<bool> = spots.map(apart).unwrap_or_default();
        apart.into_iter().enumerate().filter(|(_, apart)| *apart).map(|(column, _)| column)
    }

    /// Whether all of these columns give one answer.
    pub fn is_settled(&self, columns: &[usize]) -> bool {
        match self {
            Self::Spots { spots, .. } => {
                let first = columns.first().map(|c| spots.at(*c).at);
                columns.iter().all(|c| first.is_some_and(|f| (spots.at(*c).at - f).abs() < 0.05))
            }
            Self::Looks(_) => false,
        }
    }

    /// What it takes, in bytes.
    pub fn bytes(&self) -> usize {
        size_of::<Self>()
            + match self {
                Self::Spots { spots, .. } => spots.bytes(),
                Self::Looks(bad) => size_of_val(&**bad),
            }
    }

    /// Whether any of these columns would have the instrument refused.
    pub fn refused(&self, columns: &[usize]) -> bool {
        match self {
            Self::Spots { spots, .. } => columns.iter().any(|c| spots.at(*c).at.is_nan()),
            Self::Looks(_) => false,
        }
    }
}

/// Whether whoever measures both can tell one from the other.
pub(crate) fn told_apart(one: Predicted, other: Predicted) -> bool {
    let (one, other) = (Spot::of(one), Spot::of(other));
    one.at.is_nan() != other.at.is_nan() || one.apart_from(other)
}

/// The cell of what is noticed.
fn sensed(sense: Sense, shown: &Shown) -> u8 {
    match sense {
        Sense::Starter => Heard::of(shown.crank) as u8,
        Sense::Engine => shown.engine as u8,
        Sense::Blades => u8::from(shown.blades),
        Sense::Lamp(lamp) => shown.lamp(lamp) as u8,
    }
}

impl Spot {
    /// Of a lamp between two states, half in each.
    fn sensed(sense: Sense, shown: &Shown) -> Self {
        let doubtful = match sense {
            Sense::Lamp(lamp) => shown.doubtful_lamp(lamp),
            _ => None,
        };
        doubtful.map_or_else(|| Self::exactly(sensed(sense, shown)), Self::between)
    }

    /// Between two neighboring states, half in each.
    fn between([_, upper]: [LampState; 2]) -> Self {
        Self { at: f32::from(upper as u8), half: 1.0 }
    }

    fn exactly(cell: u8) -> Self {
        Self { at: f32::from(cell) + 0.5, half: 0.0 }
    }

    pub fn of(predicted: Predicted) -> Self {
        match predicted {
            Predicted::Volts { mean, swing, slope } => Self::volts(mean, swing.hypot(slope)),
            Predicted::Ohms { ohms: Some(ohms), slope } => {
                Self::ln_ohms((ohms + LEADS_OHMS).ln(), slope.abs())
            }
            Predicted::Ohms { ohms: None, .. } => Self::exactly(OVER),
            Predicted::Buzz(on) | Predicted::Lit(on) => Self::exactly(u8::from(on)),
            Predicted::Lamp { volts, slope } => match doubtful(volts, slope.abs()) {
                Some(between) => Self::between(between),
                None => Self::exactly(LampState::at(volts) as u8),
            },
            Predicted::AcVolts(volts) => Self::about(volts / AC_VOLTS, ac_spread(volts) / AC_VOLTS),
            Predicted::Drop(Some(volts)) => Self::about(volts / DROP, DROP_VOLTS / 1.7 / DROP),
            Predicted::Drop(None) => Self::exactly(OVER),
            Predicted::Refused => Self { at: f32::NAN, half: 0.0 },
        }
    }

    /// Volts with their standard deviation.
    pub fn volts(mean: f64, spread: f64) -> Self {
        Self::about(mean / VOLTS + BELOW, spread / VOLTS)
    }

    /// The natural logarithm of ohms, leads included, with its standard deviation.
    pub fn ln_ohms(mean: f64, spread: f64) -> Self {
        Self::about(mean / LN_OHMS + 3.0, spread / LN_OHMS)
    }

    fn about(at: f64, spread: f64) -> Self {
        Self {
            at: at.clamp(0.0, CELLS as f64 - 2.0) as f32,
            // A uniform of the same standard deviation, and never finer than a cell.
            half: (1.7 * spread).clamp(0.5, CELLS as f64) as f32,
        }
    }

    /// Volts or ohms this far apart are told apart by whoever looks twice.
    fn apart_from(self, other: Self) -> bool {
        let room: f32 = if self.half == 0.0 || other.half == 0.0 { 0.1 } else { 0.7 };
        (self.at - other.at).abs() > room.max(0.6 * self.half.max(other.half)).max(0.1)
    }

    /// Adds a weight to the cells it is spread over.
    fn spread(self, weight: f64, row: &mut [f64; CELLS]) {
        if self.half == 0.0 {
            row[(self.at as usize).min(CELLS - 1)] += weight;
            return;
        }
        let (low, high) = ((self.at - self.half).max(0.0), self.at + self.half);
        let density = weight / f64::from(high - low);
        let last = (high as usize).min(CELLS - 1);
        for (cell, slot) in row.iter_mut().enumerate().take(last + 1).skip(low as usize) {
            let from = low.max(cell as f32);
            let to = if cell == last { high } else { high.min(cell as f32 + 1.0) };
            *slot += density * f64::from(to - from).max(0.0);
        }
    }
}

/// What is believed, as planning counts it: who it could be, in how many ways.
#[derive(Clone, Debug)]
pub(super) struct Stakes {
    pub states: Vec<Stake>,
    pub labels: usize,
}

#[derive(Clone, Copy, Debug)]
pub(super) struct Stake {
    /// By index into the belief's states.
    pub state: usize,
    pub suspect: usize,
    pub column: usize,
    pub shows: f64,
    pub weight: f64,
    /// The unit that it would lead to, as a number.
    pub label: usize,
}

impl Stake {
    /// What shows while the fault does, and while it hides.
    pub fn put(&self, bad: Spot, good: Spot, put: &mut Put<'_>) {
        put(bad, self.shows * self.weight);
        if self.shows < 1.0 {
            put(good, (1.0 - self.shows) * self.weight);
        }
    }
}

/// Takes a spot and the weight that lies there.
pub(super) type Put<'a> = dyn FnMut(Spot, f64) + 'a;

/// Room to work in, kept from test to test.
pub(super) struct Room {
    rows: Vec<[f64; CELLS]>,
    used: Vec<(usize, usize)>,
}

impl Room {
    pub fn new(labels: usize) -> Self {
        Self { rows: vec![[0.0; CELLS]; labels], used: vec![(CELLS, 0); labels] }
    }

    /// Expected drop of the entropy over labels, in bits, were the answer what it should be.
    pub fn information(&mut self, scale: &Scale, stakes: &Stakes) -> f64 {
        self.information_by(stakes, |stake, put| scale.put(stake, put))
    }

    /// The same of what is said to be put for each state: spots with their weights.
    pub fn information_by(&mut self, stakes: &Stakes, of: impl Fn(&Stake, &mut Put<'_>)) -> f64 {
        self.fill(stakes, of);
        let mut all = [0.0; CELLS];
        let mut within = 0.0;
        for (row, (low, high)) in self.rows.iter().zip(&self.used) {
            if low > high {
                continue;
            }
            let cells = &row[*low..=*high];
            let sum: f64 = cells.iter().sum();
            for (slot, w) in all[*low..=*high].iter_mut().zip(cells) {
                *slot += w;
            }
            within += entropy(cells) + plogp(sum);
        }
        let total: f64 = all.iter().sum();
        // H(answer) - H(answer | label), all weights being shares of the total.
        ((entropy(&all) + plogp(total)) - within).max(0.0) / total
    }

    /// The chance of an answer that is so many times as likely under the first label as under all
    /// others, if it is the first; of what was asked last.
    pub fn points_to_first(&self, times: f64) -> f64 {
        let mut others = [0.0; CELLS];
        for row in &self.rows[1..] {
            for (slot, w) in others.iter_mut().zip(row) {
                *slot += w;
            }
        }
        let own: f64 = self.rows[0].iter().sum();
        let all: f64 = others.iter().sum();
        let points = |(w, other): &(&f64, &f64)| **w * all > times * **other * own;
        self.rows[0].iter().zip(&others).filter(points).map(|(w, _)| w).sum::<f64>() / own
    }

    fn fill(&mut self, stakes: &Stakes, of: impl Fn(&Stake, &mut Put<'_>)) {
        for (row, used) in self.rows.iter_mut().zip(&mut self.used) {
            if used.0 <= used.1 {
                row[used.0..=used.1].fill(0.0);
            }
            *used = (CELLS, 0);
        }
        for stake in &stakes.states {
            let row = &mut self.rows[stake.label];
            let used = &mut self.used[stake.label];
            of(stake, &mut |spot, weight| {
                let (low, high) = (spot.at - spot.half, spot.at + spot.half);
                used.0 = used.0.min(low.max(0.0) as usize);
                used.1 = used.1.max((high as usize).min(CELLS - 1));
                spot.spread(weight, row);
            });
        }
    }
}

fn plogp(p: f64) -> f64 {
    if p > 0.0 { p * p.log2() } else { 0.0 }
}

/// Minus the sum of p log p.
fn entropy(cells: &[f64]) -> f64 {
    -cells.iter().map(|p| plogp(*p)).sum::<f64>()
}

/// States that give an answer, by index, each with the share of its weight that does.
type Givers = Vec<(usize, f64)>;

/// Answers as a card shows them: ranges with a gap between them, each with the states that give it
/// and the share of each state's weight that does.
pub(super) fn ranges(scale: &Scale, stakes: &Stakes) -> Vec<(AnswerRange, Givers)> {
    let (kind, spots) = match scale {
        Scale::Looks(bad) => {
            let share = |i: usize, of: fn(f64) -> f64| {
                let stake = &stakes.states[i];
                (i, stake.weight * of(f64::from(bad[stake.suspect])))
            };
            let each =
                |of: fn(f64) -> f64| (0..stakes.states.len()).map(|i| share(i, of)).collect();
            return vec![
                (AnswerRange::LooksBad(true), each(|b| b)),
                (AnswerRange::LooksBad(false), each(|b| 1.0 - b)),
            ];
        }
        Scale::Spots { kind, spots } => (*kind, spots),
    };
    let mut all: Vec<(f32, usize, f64)> = Vec::new();
    let lamp = matches!(kind, Kind::Lamp | Kind::Sense(Sense::Lamp(_)));
    for (i, stake) in stakes.states.iter().enumerate() {
        stake.put(spots.at(stake.column), spots.at(0), &mut |spot, weight| match lamp
            && spot.half > 0.0
        {
            // Nothing is put there.
            _ if spot.at.is_nan() => {}
            // Between two states it is called either.
            true => all.extend([-0.5, 0.5].map(|by| (spot.at + by, i, weight / 2.0))),
            false => all.push((spot.at, i, weight)),
        });
    }
    all.sort_by(|a, b| a.0.total_cmp(&b.0));
    // Cells apart by less than this are one answer on the card.
    let figure = matches!(kind, Kind::Volts | Kind::Ohms | Kind::AcVolts | Kind::Drop);
    let gap = if figure { 1.1 } else { 0.1 };
    let over = matches!(kind, Kind::Ohms | Kind::Drop);
    let mut grouped: Vec<(f32, f32, Givers)> = Vec::new();
    for (at, state, weight) in all {
        match grouped.last_mut() {
            Some((_, high, states))
                if at - *high <= gap && (at < 40.0 || *high >= 40.0 || !over) =>
            {
                *high = at;
                states.push((state, weight));
            }
            _ => grouped.push((at, at, vec![(state, weight)])),
        }
    }
    grouped.into_iter().map(|(low, high, states)| (kind.range(low, high), states)).collect()
}

impl Kind {
    fn range(self, low: f32, high: f32) -> AnswerRange {
        let (low, high) = (f64::from(low), f64::from(high));
        let cell = low as usize;
        match self {
            // No negative zero for a screen to show.
            Self::Volts => {
                let volts = |at: f64| (at - BELOW) * VOLTS + 0.0;
                AnswerRange::Volts { low: volts(low), high: volts(high) }
            }
            Self::Ohms | Self::Drop if low >= f64::from(OVER) => AnswerRange::OverRange,
            Self::AcVolts => AnswerRange::AcVolts { low: low * AC_VOLTS, high: high * AC_VOLTS },
            Self::Drop => AnswerRange::Drop { low: low * DROP, high: high * DROP },
            Self::Ohms => {
                let ohms = |at: f64| (((at - 3.0) * LN_OHMS).exp() - LEADS_OHMS).max(0.0);
                AnswerRange::Ohms { low: ohms(low), high: ohms(high) }
            }
            Self::Buzz => AnswerRange::Buzz(cell == 1),
            Self::Lit => AnswerRange::Lit(cell == 1),
            Self::Sense(Sense::Starter) => AnswerRange::Heard(match cell {
                0 => Heard::Silent,
                1 => Heard::Click,
                2 => Heard::Chatter,
                3 => Heard::CranksSlowly,
                _ => Heard::Cranks,
            }),
            Self::Sense(Sense::Engine) => AnswerRange::Engine(match cell {
                0 => EngineDoes::Stops,
                1 => EngineDoes::RunsRough,
                _ => EngineDoes::Runs,
            }),
            Self::Sense(Sense::Blades) => AnswerRange::Blades(cell == 1),
            Self::Lamp | Self::Sense(Sense::Lamp(_)) => AnswerRange::Lamp(match cell {
                0 => LampState::Out,
                1 => LampState::Dim,
                _ => LampState::Bright,
            }),
        }
    }
}

impl Doing {
    /// Whether it reads a resistance, which wants the power off.
    pub fn is_ohms(self) -> bool {
        matches!(self, Self::Measure { instrument, .. } if instrument.feeds())
    }
}
