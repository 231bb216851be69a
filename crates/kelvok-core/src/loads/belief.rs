//! How many ohms a load has at 20 °C, by what was read: every size between a dead short and a broken
//! winding weighed, heat, leads and meter unknown.

use super::figures::{GLOWED, UNSAID, WARMED, copper};
use super::load::{Load, LoadKind};

/// What may be of a load.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum State {
    Good,
    Shorted,
    High,
    Open,
}

/// Before anything is read: most are good.
const PRIOR: [(State, f64); 4] =
    [(State::Good, 0.75), (State::Shorted, 0.12), (State::High, 0.03), (State::Open, 0.10)];

/// Ohms read, and at how many degrees if that was said; none where the meter shows open leads.
#[derive(Clone, Copy, Debug)]
pub(super) struct Cold {
    pub ohms: Option<f64>,
    pub celsius: Option<f64>,
}

/// Volts and amperes of one moment.
#[derive(Clone, Copy, Debug)]
pub(super) struct Hot {
    pub volts: f64,
    pub amps: f64,
}

/// A grid of sizes, as logarithms of shares of the ohms called for.
const STEPS: usize = 240;
const LEAST: f64 = 0.05;
const MOST: f64 = 8.0;
/// Leads that nobody zeroed, in ohms, and how usual.
const LEADS: [(f64, f64); 4] = [(0.0, 0.5), (0.1, 0.25), (0.2, 0.15), (0.4, 0.1)];
/// An ohmmeter's share, and its last digit.
const OHMS_SHARE: f64 = 0.015;
const OHMS_DIGIT: f64 = 0.06;
/// What a person says of warmth may be off by so much, as a share of the ohms.
const SAID_SHARE: f64 = 0.04;
/// A clamp's share, and what it does not feel, in A; a voltmeter's share.
const AMPS_SHARE: f64 = 0.03;
const AMPS_FLOOR: f64 = 0.15;
/// A reading that is of something else; a probe that slipped shows open leads, as a rule.
const SLIP: f64 = 0.002;
/// Open leads are shown by a good winding as rarely as a probe slips.
const OPEN_SHOWS: f64 = 0.98;

/// Weights of every size, and of a broken winding.
pub(super) struct Belief {
    /// By state, over the grid; of an open one a single weight.
    sizes: Vec<(f64, [f64; 3])>,
    open: f64,
}

impl Belief {
    pub fn new(load: &Load, cold: &[Cold], hot: &[Hot]) -> Self {
        let step = (MOST / LEAST).ln() / STEPS as f64;
        let mut sizes: Vec<(f64, [f64; 3])> = (0..=STEPS)
            .map(|i| {
                let x = LEAST.ln() + step * i as f64;
                (x, density(load, x))
            })
            .collect();
        for state in 0..3 {
            let all: f64 = sizes.iter().map(|(_, d)| d[state]).sum();
            let prior = PRIOR[state].1;
            sizes.iter_mut().for_each(|(_, d)| d[state] *= prior / all.max(1e-300));
        }
        let mut open = PRIOR[3].1;
        for own in cold {
            let likely = |x: f64| cold_likely(load, *own, load.ohms * x.exp());
            sizes.iter_mut().for_each(|(x, d)| d.iter_mut().for_each(|w| *w *= likely(*x)));
            open *= if own.ohms.is_none() { OPEN_SHOWS } else { SLIP / load.ohms };
        }
        for own in hot {
            let likely = |x: f64| hot_likely(load, *own, load.ohms * x.exp());
            sizes.iter_mut().for_each(|(x, d)| d.iter_mut().for_each(|w| *w *= likely(*x)));
            let none = normal(own.amps, 0.0, AMPS_FLOOR);
            open *= none + SLIP / expected(load, own.volts);
        }
        let all: f64 = open + sizes.iter().map(|(_, d)| d.iter().sum::<f64>()).sum::<f64>();
        let all = all.max(1e-300);
        sizes.iter_mut().for_each(|(_, d)| d.iter_mut().for_each(|w| *w /= all));
        Self { sizes, open: open / all }
    }

    /// How likely each state is: good, shorted, high, open.
    pub fn states(&self) -> [f64; 4] {
        let own = |state: usize| self.sizes.iter().map(|(_, d)| d[state]).sum::<f64>();
        [own(0), own(1), own(2), self.open]
    }

    /// Ohms at 20 °C that are as likely under as over, and between which nine in ten lie; none of an open one.
    pub fn ohms(&self, load: &Load) -> Option<(f64, f64, f64)> {
        if self.open > 0.5 {
            return None;
        }
        let whole: f64 = self.sizes.iter().map(|(_, d)| d.iter().sum::<f64>()).sum();
        let at = |share: f64| {
            let mut sum = 0.0;
            let found = self.sizes.iter().find(|(_, d)| {
                sum += d.iter().sum::<f64>();
                sum >= share * whole
            });
            load.ohms * found.map_or(1.0, |(x, _)| x.exp())
        };
        Some((at(0.5), at(0.05), at(0.95)))
    }
}

/// How usual a size is of a good one, one with shorted turns, and one with a bad joint inside.
fn density(load: &Load, x: f64) -> [f64; 3] {
    let spread = load.tolerance.max(0.06);
    let good = normal(x, 0.0, 0.6 * spread);
    let from = (1.0 - 1.2 * spread).ln();
    let shorted = f64::from(u8::from(x < from));
    let high = f64::from(u8::from(x > (1.0 + 1.5 * spread).ln()));
    [good, shorted, high]
}

fn cold_likely(load: &Load, read: Cold, own: f64) -> f64 {
    let Some(shown) = read.ohms else { return 1.0 - OPEN_SHOWS };
    let warm = read.celsius.map_or_else(|| spread(UNSAID), |celsius| vec![copper(celsius)]);
    let said = if read.celsius.is_some() { SAID_SHARE } else { 0.0 };
    let mut sum = 0.0;
    for (leads, usual) in LEADS {
        for warm in &warm {
            let true_ohms = own * warm + leads;
            let off = (OHMS_SHARE * true_ohms).hypot(said * own).hypot(OHMS_DIGIT);
            sum += usual * normal(shown, true_ohms, off);
        }
    }
    sum / warm.len() as f64 + SLIP / load.ohms
}

fn hot_likely(load: &Load, read: Hot, own: f64) -> f64 {
    let warm = spread(match load.kind {
        LoadKind::Coil => (1.0, WARMED),
        LoadKind::GlowPlug => (1.0, GLOWED),
        LoadKind::Lamp => (0.85, 1.15),
    });
    let sum: f64 = warm
        .iter()
        .map(|warm| {
            let amps = read.volts / (own * warm);
            normal(read.amps, amps, (AMPS_SHARE * amps).hypot(AMPS_FLOOR))
        })
        .sum();
    sum / warm.len() as f64 + SLIP / expected(load, read.volts)
}

fn expected(load: &Load, volts: f64) -> f64 {
    load.draws(volts).max(0.1)
}

/// So many warmths between two are weighed.
const WARMTHS: usize = 7;

fn spread((from, to): (f64, f64)) -> Vec<f64> {
    (0..WARMTHS).map(|i| from + (to - from) * i as f64 / (WARMTHS - 1) as f64).collect()
}

fn normal(x: f64, mean: f64, sigma: f64) -> f64 {
    let z = (x - mean) / sigma;
    (-0.5 * z * z).exp() / (sigma * (2.0 * std::f64::consts::PI).sqrt())
}
