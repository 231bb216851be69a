//! Clutches, coils and glow plugs that are good, shorted, bad inside or open, read by a mechanic who takes the
//! reading that is asked for: is what they are named?
//!
//! The world is not the model's: windings off by more than their tolerance, other leads, a meter and a clamp
//! with scales of their own, warmth that is misjudged or not said.

use crate::circuit::Circuit;
use crate::loads::{Load, LoadKind, LoadNext, LoadReading, LoadWord, copper, load_standing, loads};
use crate::random::Random;
use rayon::prelude::*;

/// How a load was judged.
#[derive(Clone, Debug)]
pub struct LoadTried {
    /// What it is.
    pub truth: LoadWord,
    /// What it was named at the end, and how likely that was held.
    pub named: LoadWord,
    /// The chance given to it.
    pub sure: f64,
    /// Readings taken.
    pub readings: usize,
}

/// How usual good, shorted, bad inside and open ones are in a yard.
const USUAL: [(LoadWord, f64); 4] = [
    (LoadWord::Good, 0.5),
    (LoadWord::Shorted, 0.25),
    (LoadWord::High, 0.1),
    (LoadWord::Open, 0.15),
];
/// What is felt: a third more amperes, or a third fewer.
const FELT: (f64, f64) = (0.75, 1.5);
const MOST_READINGS: usize = 6;
/// The page asks how warm it is, and to take off what the leads have; most do.
const SAYS_HOW_WARM: f64 = 0.9;
const ZEROED: f64 = 0.8;
const CLAMP_OWNED: f64 = 0.6;

/// Every load of a machine, turn by turn.
pub fn try_loads(circuit: &Circuit, runs: usize, seed: u64) -> Vec<LoadTried> {
    let all: Vec<Load> = loads(circuit).into_iter().filter(|l| l.ohms_at.is_some()).collect();
    if all.is_empty() {
        return Vec::new();
    }
    let name = circuit.document().identity.model.as_str();
    let case = |case: usize| {
        let mut random = Random::for_case(seed, name, case as u64);
        Winding::drawn(&all[case % all.len()], &mut random).work(random)
    };
    (0..runs).into_par_iter().map(case).collect()
}

struct Winding<'l> {
    load: &'l Load,
    truth: LoadWord,
    /// At 20 °C; none of an open one.
    ohms: Option<f64>,
    celsius: f64,
    said: Option<f64>,
    leads: f64,
    meter: f64,
    clamp: Option<f64>,
}

impl<'l> Winding<'l> {
    fn drawn(load: &'l Load, random: &mut Random) -> Self {
        let shares: Vec<f64> = USUAL.iter().map(|(_, share)| *share).collect();
        let truth = USUAL[random.weighted(&shares)].0;
        let spread = load.tolerance.max(0.06);
        let off = match truth {
            LoadWord::Shorted => random.between(0.12, FELT.0),
            LoadWord::High => random.log_between(FELT.1, 5.0),
            _ => random.normal(1.0, 0.7 * spread).clamp(1.0 - 1.2 * spread, 1.0 + 1.2 * spread),
        };
        let celsius = random.between(-5.0, 95.0);
        let judged = random.normal(celsius, 8.0).clamp(-40.0, 200.0);
        let leads = if random.happens(ZEROED) { 0.1 } else { 0.4 };
        Self {
            load,
            truth,
            ohms: (truth != LoadWord::Open).then_some(load.ohms * off),
            celsius,
            said: random.happens(SAYS_HOW_WARM).then_some(judged),
            leads: random.between(0.0, leads),
            meter: random.normal(1.0, 0.01),
            clamp: random.happens(CLAMP_OWNED).then(|| random.normal(1.0, 0.02)),
        }
    }

    fn work(self, mut random: Random) -> LoadTried {
        let mut readings = Vec::new();
        let mut said = load_standing(self.load, &readings);
        while let Some(next) = said.next.filter(|_| readings.len() < MOST_READINGS) {
            let Some(reading) = self.read(next, &mut random) else { break };
            readings.push(reading);
            said = load_standing(self.load, &readings);
        }
        LoadTried { truth: self.truth, named: said.word, sure: said.sure, readings: readings.len() }
    }

    fn read(&self, next: LoadNext, random: &mut Random) -> Option<LoadReading> {
        let on = self.load.on.as_ref();
        // On for some minutes it is warmer; a glow plug at once, and much.
        let warm = match self.load.kind {
            LoadKind::GlowPlug => random.between(1.0, 2.2),
            _ => copper(self.celsius + random.between(0.0, 30.0)),
        };
        let volts = on.map_or(12.0, |on| on.volts) * random.between(0.9, 1.02);
        Some(match next {
            LoadNext::Ohms => {
                let shown = self.ohms.map(|ohms| {
                    let shown = ohms * copper(self.celsius) * self.meter + self.leads;
                    ((shown + random.normal(0.0, 0.03)) * 10.0).round() / 10.0
                });
                LoadReading::Ohms { ohms: shown, celsius: self.said }
            }
            LoadNext::Volts => {
                self.clamp?;
                LoadReading::Volts((volts * 100.0).round() / 100.0)
            }
            LoadNext::Amps => {
                let amps = self.ohms.map_or(0.0, |ohms| volts / (ohms * warm));
                let shown = amps * self.clamp? + random.normal(0.0, 0.08);
                LoadReading::Amps((shown * 10.0).round() / 10.0)
            }
            LoadNext::Insulation => LoadReading::Insulation(None),
        })
    }
}
