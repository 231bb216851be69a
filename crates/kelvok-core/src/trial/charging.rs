//! Charging systems that are good or have one thing wrong, read by a mechanic who takes the reading that is asked
//! for: is the place named where it is?
//!
//! The world is not the model's: a stator whose amperes fall with speed by another law, a battery whose volts rise
//! while it charges, other idles, meters with scales of their own, loads that draw more or less than drawn, a
//! mechanic without a clamp, and one who holds full speed badly.

use crate::charging::{
    ChargeKind, ChargeNote, ChargePlace, ChargeReading, ChargeState, ChargingSystem, Load,
    charge_standing, charging_system,
};
use crate::circuit::Circuit;
use crate::random::Random;
use rayon::prelude::*;

/// How a system was judged.
#[derive(Clone, Debug)]
pub struct ChargingTried {
    /// What is wrong with it.
    pub truth: ChargeState,
    /// Where it was said to be, if it was said, and how likely that was held.
    pub named: Option<ChargePlace>,
    /// The chance given to it.
    pub sure: f64,
    /// What it may be at the end, likeliest first.
    pub causes: Vec<(ChargeState, f64)>,
    /// What was read, in order.
    pub readings: Vec<ChargeReading>,
}

const MOST_READINGS: usize = 14;
const CLAMP_OWNED: f64 = 0.5;
const WAITS: f64 = 0.8;
/// How usual each is in a yard; what a machine cannot have is left out.
const USUAL: [(ChargeState, f64); 13] = [
    (ChargeState::Good, 0.35),
    (ChargeState::StatorOpen, 0.05),
    (ChargeState::StatorGrounded, 0.06),
    (ChargeState::StatorWeak, 0.05),
    (ChargeState::RegulatorDead, 0.12),
    (ChargeState::RegulatorHalf, 0.05),
    (ChargeState::RegulatorOver, 0.05),
    (ChargeState::RegulatorLow, 0.02),
    (ChargeState::FeedOpen, 0.09),
    (ChargeState::FeedHigh, 0.05),
    (ChargeState::GroundOpen, 0.03),
    (ChargeState::GroundHigh, 0.04),
    (ChargeState::BatteryShorted, 0.04),
];

/// Charging systems of a machine, turn by turn.
pub fn try_charging(circuit: &Circuit, runs: usize, seed: u64) -> Vec<ChargingTried> {
    let Some(system) = charging_system(circuit) else { return Vec::new() };
    if system.sites.is_empty() {
        return Vec::new();
    }
    let name = circuit.document().identity.model.as_str();
    let case = |case: usize| {
        let mut random = Random::for_case(seed, name, case as u64);
        Yard::drawn(&system, &mut random).work(random)
    };
    (0..runs).into_par_iter().map(case).collect()
}

struct Yard<'s> {
    system: &'s ChargingSystem,
    truth: ChargeState,
    /// Alternating volts at full speed, what is left of them; amperes at full speed; where it stops.
    alternating: f64,
    left: f64,
    amps: f64,
    stops: f64,
    feed: f64,
    ground: f64,
    rest: f64,
    /// How far a battery's volts rise while it charges, and the ohms behind them.
    rises: f64,
    ohms: f64,
    idle: f64,
    draws: f64,
    ripple: f64,
    meter: f64,
    clamp: Option<f64>,
    loose: f64,
}

impl<'s> Yard<'s> {
    fn drawn(system: &'s ChargingSystem, random: &mut Random) -> Self {
        let shares: Vec<f64> = USUAL
            .iter()
            .map(|(state, share)| if state.is_of(system) { *share } else { 0.0 })
            .collect();
        let truth = USUAL[random.weighted(&shares)].0;
        let made = system.rated.unwrap_or_else(|| random.between(9.0, 20.0));
        let left = match truth {
            ChargeState::StatorOpen => 0.0,
            ChargeState::StatorWeak => random.between(0.1, 0.55),
            _ => 1.0,
        };
        let gives = match truth {
            ChargeState::RegulatorDead => 0.0,
            ChargeState::RegulatorHalf => random.between(0.4, 0.55),
            ChargeState::StatorGrounded => random.between(0.0, 0.5),
            _ => 1.0,
        };
        let joint = |random: &mut Random| random.log_between(0.08, 3.0);
        let feed = match truth {
            ChargeState::FeedOpen => 1e6,
            ChargeState::FeedHigh => joint(random),
            _ => random.between(0.008, 0.04),
        };
        let ground = match truth {
            ChargeState::GroundOpen => 1e6,
            ChargeState::GroundHigh => joint(random),
            _ => random.between(0.002, 0.015),
        };
        let rough = match truth {
            ChargeState::RegulatorHalf | ChargeState::StatorGrounded => (0.6, 2.5),
            _ if !system.regulated => (0.15, 1.0),
            _ => (0.03, 0.3),
        };
        let mut own = Self {
            system,
            truth,
            alternating: system.alternating * random.normal(1.0, 0.07).clamp(0.8, 1.25),
            left,
            amps: made * gives * random.normal(1.0, 0.08),
            stops: match truth {
                ChargeState::RegulatorOver => random.between(15.4, 18.0),
                ChargeState::RegulatorLow => random.between(12.9, 13.5),
                _ => random.normal(system.volts, 0.12),
            },
            feed,
            ground,
            rest: match truth {
                ChargeState::BatteryShorted => random.between(9.6, 10.9),
                _ => random.normal(12.35, 0.25).clamp(11.4, 12.8),
            },
            rises: 0.0,
            ohms: random.log_between(0.02, 0.15),
            idle: random.normal(0.43, 0.05).clamp(0.3, 0.6),
            draws: random.normal(1.0, 0.12).clamp(0.7, 1.4),
            ripple: random.log_between(rough.0, rough.1),
            meter: random.normal(1.0, 0.003),
            loose: {
                let stops = system.volts;
                [0.0, stops, 1.3 * stops, 4.0][random.index(4)]
            },
            clamp: random.happens(CLAMP_OWNED).then(|| random.normal(1.0, 0.03)),
        };
        own.rises = own.rise(random);
        own
    }

    /// Volts at the posts, and amperes from the regulator: found by halving, for no line is straight here.
    fn flows(&self, load: Load, speed: f64) -> (f64, f64) {
        let drawn = load.drawn * self.draws;
        let open = match (self.system.regulated, self.system.winding.is_some()) {
            (true, true) => 1.38 * self.alternating * self.left * speed - 1.5,
            (true, false) => 1.6 * self.system.volts * speed,
            (false, _) => {
                self.system.volts * self.left * speed * self.alternating
                    / self.system.alternating.max(1.0)
            }
        };
        let gives = |volts: f64| {
            if volts >= open {
                0.0
            } else if self.system.regulated {
                // An ellipse between open volts and shorted amperes, not a line.
                self.amps * 1.25 * speed.sqrt() * (1.0 - (volts / open).powi(2)).sqrt()
            } else {
                let alive = if self.amps > 0.0 { 1.0 } else { 0.0 };
                alive * (open - volts) / self.system.ohms
            }
        };
        let way = self.feed + self.ground;
        let out = |posts: f64| {
            let (mut low, mut high) = (0.0, 60.0);
            for _ in 0..50 {
                let amps = (low + high) / 2.0;
                let source = posts + amps * way;
                let held = self.system.regulated && source > self.stops;
                if held || gives(source) < amps { high = amps } else { low = amps }
            }
            low
        };
        let (mut low, mut high) = (5.0, 25.0);
        for _ in 0..50 {
            let posts = (low + high) / 2.0;
            let into = out(posts) - drawn;
            let stands = match into {
                into if into > 0.0 => {
                    self.rest + self.rises * (1.0 - (-into).exp()) + into * self.ohms
                }
                into => self.rest + into * 0.02,
            };
            if stands > posts { low = posts } else { high = posts }
        }
        (low, out(low))
    }

    /// Some hours on a charger.
    fn charge(&mut self, random: &mut Random) {
        self.rest = match self.truth {
            ChargeState::BatteryShorted => random.between(10.0, 10.9),
            _ => random.between(12.5, 13.0),
        };
        self.rises = self.rise(random);
    }

    /// How far a battery's volts rise, to a mechanic who waits until they stop, or does not.
    fn rise(&self, random: &mut Random) -> f64 {
        let full = ((self.rest - 12.0) / 0.7).clamp(0.0, 1.0);
        match self.truth {
            ChargeState::BatteryShorted => random.between(0.1, 0.6),
            _ if random.happens(WAITS) => random.between(0.7, 1.4) + 1.5 * full,
            _ => random.between(0.2, 0.9) + 0.8 * full,
        }
    }

    fn work(mut self, mut random: Random) -> ChargingTried {
        let mut readings: Vec<ChargeReading> = Vec::new();
        let mut said = charge_standing(self.system, &[]);
        let mut all: Vec<ChargeReading> = Vec::new();
        let mut charged = false;
        while let Some(next) = said.next.filter(|_| all.len() < MOST_READINGS) {
            let next = match next {
                ChargeKind::Amps if self.clamp.is_none() => match said.or.first() {
                    Some(other) => *other,
                    None => break,
                },
                next => next,
            };
            readings.push(self.read(next, &mut random));
            all.extend(readings.last());
            said = charge_standing(self.system, &readings);
            // The page says that the battery goes on a charger first, or is read again when it is full.
            let noted = |note: ChargeNote| said.notes.contains(&note) && said.next.is_none();
            let flat = noted(ChargeNote::ChargeFirst) && said.says.is_none();
            if flat || noted(ChargeNote::WhenFull) && !charged {
                charged = true;
                self.charge(&mut random);
                readings = vec![ChargeReading::Charged, self.read(ChargeKind::Rest, &mut random)];
                all.extend(readings.last());
                said = charge_standing(self.system, &readings);
            }
        }
        ChargingTried {
            truth: self.truth,
            named: said.says.map(|own| own.place),
            sure: said.says.map_or(0.0, |own| own.chance),
            causes: said.causes.iter().map(|own| (own.state, own.chance)).collect(),
            readings: all,
        }
    }

    fn read(&self, kind: ChargeKind, random: &mut Random) -> ChargeReading {
        let site = self.system.site(kind);
        let load =
            Load { idle: site.is_some_and(|s| s.idle), drawn: site.map_or(0.0, |s| s.drawn) };
        let speed = match load.idle {
            true => self.idle * random.normal(1.0, 0.05),
            false => random.normal(0.96, 0.04).clamp(0.8, 1.04),
        };
        let (posts, amps) = self.flows(load, speed);
        let shown = |volts: f64, random: &mut Random| {
            ((volts * self.meter + random.normal(0.0, 0.01)) * 100.0).round() / 100.0
        };
        // What a regulator puts out that no battery holds.
        let loose = self.loose * random.normal(1.0, 0.03);
        match kind {
            ChargeKind::Rest => ChargeReading::Rest(shown(self.rest, random)),
            ChargeKind::Full | ChargeKind::Idle => ChargeReading::Posts(shown(posts, random), load),
            ChargeKind::Amps => {
                let shown = amps * self.clamp.unwrap_or(1.0) + random.normal(0.0, 0.15);
                ChargeReading::Amps((shown * 10.0).round() / 10.0, load)
            }
            ChargeKind::Ripple => {
                let ripple = if amps > 0.3 { self.ripple * random.normal(1.0, 0.1) } else { 0.01 };
                ChargeReading::Ripple(shown(ripple.max(0.0), random))
            }
            ChargeKind::Feed => {
                let open = self.truth == ChargeState::FeedOpen;
                let drop = if open { loose - self.rest } else { amps * self.feed };
                ChargeReading::Feed(shown(drop, random), load)
            }
            ChargeKind::Ground => {
                let open = self.truth == ChargeState::GroundOpen;
                let drop = if open { loose - self.rest } else { amps * self.ground };
                ChargeReading::Ground(shown(drop, random), load)
            }
            ChargeKind::Stator => {
                let own = if self.truth == ChargeState::StatorGrounded { 0.85 } else { self.left };
                let volts = own * self.alternating * speed * random.normal(1.0, 0.02);
                ChargeReading::Stator((volts * 10.0).round() / 10.0, false)
            }
            ChargeKind::Winding => ChargeReading::Winding(
                (self.truth != ChargeState::StatorOpen).then(|| random.between(0.2, 0.9)),
            ),
            ChargeKind::Frame => ChargeReading::Frame(
                (self.truth == ChargeState::StatorGrounded).then(|| random.log_between(0.1, 200.0)),
            ),
        }
    }
}
