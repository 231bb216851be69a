//! Batteries that are not the model's, read by a mechanic who takes the reading that is asked for: is what
//! they are named, and what the starter will do on them?
//!
//! The world has two time constants where the model has one, other curves of volts and ohms by
//! charge, and every figure spread.

use crate::battery::{
    BatteryReading, BatteryStanding, BatteryState, BatteryTest, Chemistry, Seen, Starting,
    battery_standing, battery_volts, own_load,
};
use crate::circuit::{Circuit, Crank};
use crate::random::Random;
use rayon::prelude::*;
use std::sync::Arc;

/// How a battery was judged.
#[derive(Clone, Copy, Debug)]
pub struct BatteryTried {
    /// What it is.
    pub truth: BatteryState,
    /// What was held likeliest at the end, and how likely.
    pub named: BatteryState,
    /// The chance given to it.
    pub sure: f64,
    /// Readings of volts and acid.
    pub readings: usize,
    /// It was put on the charger on the way.
    pub charged: bool,
    /// Whether it was foretold that the starter turns the engine, and whether it does; none where nothing
    /// electric cranks.
    pub turns: Option<(bool, bool)>,
}

/// As sure as this, the mechanic stops.
const SURE: f64 = 0.95;
const MOST_STEPS: usize = 7;

/// Batteries in a machine: good, low, worn and with a dead cell, as they come into a yard.
pub fn try_batteries(circuit: &Arc<Circuit>, runs: usize, seed: u64) -> Vec<BatteryTried> {
    if circuit.battery().is_none() {
        return Vec::new();
    }
    let own = own_load(circuit).map_or(0.0, |own| own.amps);
    let model = circuit.document().identity.model.as_str();
    let case = |case: usize| {
        let mut random = Random::for_case(seed, model, case as u64);
        let real = Real::drawn(circuit, &mut random);
        Mechanic { circuit, own, real, random, seen: Vec::new() }.work()
    };
    (0..runs).into_par_iter().map(case).collect()
}

/// A battery of the yard.
struct Real {
    state: BatteryState,
    /// Six cells, or three, as a share of six.
    scale: f64,
    charge: f64,
    health: f64,
    rated: f64,
    hours: f64,
    celsius: f64,
    offset: f64,
    rise: f64,
    cold: f64,
    fast: (f64, f64),
    slow: (f64, f64),
    /// Volts of surface charge straight off a charger, and the hours in which they go.
    fresh: f64,
    goes: f64,
    surface: f64,
    /// Left of the last load, by time constant.
    left: (f64, f64),
    dead: f64,
    meter: f64,
}

impl Real {
    fn drawn(circuit: &Circuit, random: &mut Random) -> Self {
        let state = BatteryState::ALL[random.weighted(&[0.4, 0.3, 0.22, 0.08])];
        let (charge, health) = match state {
            BatteryState::Good => (random.between(0.8, 1.0), random.normal(1.0, 0.1)),
            BatteryState::Low => (random.between(0.0, 0.65), random.normal(1.0, 0.1)),
            BatteryState::Worn => (random.between(0.4, 1.0), random.between(0.12, 0.55)),
            BatteryState::DeadCell => (random.between(0.5, 1.0), random.between(0.5, 1.1)),
        };
        let health = if state == BatteryState::Worn { health } else { health.clamp(0.75, 1.3) };
        let scale = battery_volts(circuit).unwrap_or(12.0) / 12.0;
        let battery = circuit.element(circuit.battery().expect("asked for with a battery"));
        // What somebody bought is not just what the book wants.
        let rated = 3.0 * scale / battery.ohms * random.between(0.85, 1.2);
        Self {
            state,
            scale,
            charge,
            health,
            rated,
            hours: rated * 0.095 * random.between(0.8, 1.2),
            celsius: random.between(-5.0, 32.0),
            offset: random.normal(0.0, 0.03),
            rise: random.between(2.5, 6.0),
            cold: 0.0132 * random.between(0.8, 1.2),
            fast: (random.between(0.15, 0.45), random.between(1.5, 6.0)),
            slow: (random.between(0.05, 0.3), random.between(15.0, 60.0)),
            fresh: random.between(0.1, 0.6),
            goes: random.between(2.0, 6.0),
            surface: 0.0,
            left: (0.0, 0.0),
            dead: random.between(0.85, 1.08),
            meter: random.normal(1.0, 0.003),
        }
    }

    fn emf(&self) -> f64 {
        let s = self.charge;
        let whole = 11.85 + 0.95 * s - 0.15 * s * s + self.offset;
        let dead = if self.state == BatteryState::DeadCell { self.dead / 6.0 } else { 0.0 };
        whole * (1.0 - dead) * self.scale
    }

    fn ohms(&self) -> f64 {
        let full = 3.0 * self.scale / (self.rated * self.health);
        let empty = (1.0 - self.charge).max(0.0).powf(1.5);
        full * (1.0 + self.rise * empty) * (self.cold * (25.0 - self.celsius)).exp()
    }

    fn polarized(&self, seconds: f64) -> (f64, f64) {
        let part = |(share, tau): (f64, f64)| share * (1.0 - (-seconds / tau).exp());
        (part(self.fast), part(self.slow))
    }

    fn shown(&self, volts: f64, random: &mut Random) -> f64 {
        ((volts * self.meter + random.normal(0.0, 0.008)).max(0.0) * 100.0).round() / 100.0
    }

    fn rests(&mut self, hours: f64) {
        self.surface *= (-hours / self.goes).exp();
        self.left = (0.0, 0.0);
    }

    fn loaded(&mut self, amps: f64, seconds: f64) -> f64 {
        let (fast, slow) = self.polarized(seconds);
        let first = amps * self.ohms();
        let volts =
            self.emf() + self.surface * (-seconds / 6.0).exp() - first * (1.0 + fast + slow);
        self.left = (first * fast, first * slow);
        let share = amps * seconds / 3600.0 / self.hours;
        self.surface *= (-share / 0.012).exp();
        self.charge -= share;
        volts
    }

    fn recovered(&self, seconds: f64) -> f64 {
        let left = |volts: f64, tau: f64| volts * (-seconds / (1.5 * tau)).exp();
        let still = left(self.left.0, self.fast.1) + left(self.left.1, self.slow.1);
        self.emf() + self.surface - still
    }

    fn charged(&mut self, amps: f64, hours: f64) {
        let holds = self.hours * self.health.min(1.0);
        self.charge = (self.charge + 0.9 * amps * hours / holds).min(1.0);
        self.surface = self.fresh;
        self.left = (0.0, 0.0);
    }

    /// What the starter does on it three seconds in.
    fn turns(&self, starting: &Starting<'_>) -> bool {
        let (fast, slow) = self.polarized(3.0);
        let ohms = self.ohms() * (1.0 + fast + slow);
        matches!(starting.does(self.emf(), ohms), Crank::Yes | Crank::Slow)
    }
}

struct Mechanic<'c> {
    circuit: &'c Circuit,
    own: f64,
    real: Real,
    random: Random,
    seen: Vec<Seen>,
}

impl Mechanic<'_> {
    fn work(mut self) -> BatteryTried {
        // The label is gone from one in ten; one in two was driven in or comes off a charger.
        if self.random.happens(0.9) {
            let (cold_amps, chemistry) = (Some(self.real.rated.round()), Chemistry::Flooded);
            self.see(BatteryTest::Label { cold_amps, amp_hours: None, chemistry });
        }
        let mut since = if self.random.happens(0.5) {
            self.real.surface = self.real.fresh * self.real.charge.max(0.2);
            self.random.between(0.1, 1.0)
        } else {
            self.random.between(12.0, 48.0)
        };
        self.real.rests(since);
        let caps = self.random.happens(0.4);
        let (mut readings, mut charged) = (0, false);
        let mut said = self.standing();
        for _ in 0..MOST_STEPS {
            if said.chances[0].chance >= SURE {
                break;
            }
            let asked = said.next.iter().find(|n| caps || n.reading != BatteryReading::Acid);
            match asked {
                Some(asked) => {
                    self.take(asked.reading, &mut since, &said);
                    readings += 1;
                }
                None if !charged && said.charge_first => {
                    charged = true;
                    let (amps, hours) = (said.charging[1].amps, said.charging[1].hours.min(24.0));
                    self.real.charged(amps, hours);
                    self.see(BatteryTest::Charged { amps, hours });
                    since = self.random.between(10.0, 20.0);
                    self.real.rests(since);
                }
                None => break,
            }
            said = self.standing();
        }
        let starting = Starting::of(self.circuit);
        let turns = said.cranking.as_ref().zip(starting).map(|(forecast, starting)| {
            let turn = forecast.does.iter().filter(|d| matches!(d.does, Crank::Yes | Crank::Slow));
            (turn.map(|d| d.chance).sum::<f64>() >= 0.5, self.real.turns(&starting))
        });
        BatteryTried {
            truth: self.real.state,
            named: said.chances[0].state,
            sure: said.chances[0].chance,
            readings,
            charged,
            turns,
        }
    }

    fn standing(&self) -> BatteryStanding {
        battery_standing(self.circuit, &self.seen, self.own).expect("it has a battery")
    }

    fn see(&mut self, test: BatteryTest) {
        self.seen.push(Seen::Test(test));
    }

    fn take(&mut self, reading: BatteryReading, since: &mut f64, said: &BatteryStanding) {
        let celsius = Some(self.real.celsius.round());
        let load = |amps: f64, spread: f64, random: &mut Random| {
            amps * random.between(1.0 - spread, 1.0 + spread)
        };
        match reading {
            BatteryReading::Rest => {
                let surface_off = self.random.happens(0.5);
                if surface_off {
                    // Lamps for three minutes, and a minute's rest.
                    self.real.loaded(8.0, 180.0);
                }
                let volts = self.real.recovered(90.0);
                let volts = self.real.shown(volts, &mut self.random);
                self.see(BatteryTest::Rest { volts, hours: *since, surface_off, celsius });
            }
            BatteryReading::OwnLoads | BatteryReading::Tester => {
                let estimated = reading == BatteryReading::OwnLoads;
                let amps = if estimated { self.own } else { said.load_test.amps };
                let spread = if estimated { 0.12 } else { 0.04 };
                let drawn = load(amps, spread, &mut self.random);
                let volts = self.real.loaded(drawn, 15.0);
                let volts = self.real.shown(volts, &mut self.random);
                let seconds = 15.0;
                self.see(BatteryTest::Loaded { volts, amps, estimated, seconds, celsius });
            }
            BatteryReading::Recovery => {
                let volts = self.real.recovered(60.0);
                let volts = self.real.shown(volts, &mut self.random);
                self.see(BatteryTest::Recovered { volts, seconds: 60.0 });
            }
            BatteryReading::Cranking => {
                let outside = said.outside_ohms.unwrap_or(0.06) * self.random.normal(1.0, 0.1);
                let (fast, slow) = self.real.polarized(3.0);
                let own = self.real.ohms() * (1.0 + fast + slow);
                let amps = self.real.emf() / (own + outside);
                let volts = self.real.loaded(amps, 3.0);
                let volts = self.real.shown(volts, &mut self.random);
                self.seen.push(Seen::Cranked(volts));
            }
            BatteryReading::Acid => {
                let sound = 1.12 + 0.145 * self.real.charge - 0.00072 * (self.real.celsius - 27.0);
                let mut cells = [0.0; 6];
                let count = (6.0 * self.real.scale) as usize;
                for cell in cells.iter_mut().take(count) {
                    *cell = (sound + self.random.normal(0.0, 0.006)).clamp(1.06, 1.3);
                }
                if self.real.state == BatteryState::DeadCell {
                    let bad = self.random.index(count);
                    cells[bad] = (sound - self.random.between(0.06, 0.12)).max(1.06);
                }
                self.see(BatteryTest::Hydrometer { cells });
            }
        }
    }
}
