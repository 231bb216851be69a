//! What may be wrong with a charging system, weighed by what was read: many systems of each kind of trouble, each
//! with its own speed, battery, joints and meter.

use super::flow::{AT_VOLTS, CUT, Flow};
use super::published::{DIODES, FULL, GIVES, GOOD_VOLTS, IDLE, RATED, RECTIFIED, TAKES};
use super::state::ChargeState;
use super::system::{ChargeReading, ChargingSystem, Load};
use crate::random::Random;

/// So many systems of each kind of trouble; and of a system that nothing was read of.
const EACH: usize = 2500;
const EACH_UNREAD: usize = 400;
/// The chance that a reading is not what it says: a probe beside the pin, the engine not at full speed.
const SLIP: f64 = 0.02;
/// A voltmeter's share and last digit; its alternating range; a clamp's share and zero; an ohmmeter's share.
const VOLTS: (f64, f64) = (0.004, 0.02);
const ALTERNATING: (f64, f64) = (0.03, 0.3);
const RIPPLES: (f64, f64) = (0.25, 0.03);
const AMPS: (f64, f64) = (0.05, 0.25);
const DROPS: (f64, f64) = (0.05, 0.015);
/// What is on draws so much more or less than the drawing says.
const DRAWN: (f64, f64) = (0.75, 1.3);
/// Volts of the charge system of a stranger, and of the drawing's: how far they may be off.
const HELD_SPREAD: f64 = 0.2;
/// A good stator gives so many times the volts of the drawing.
const STATOR_SPREAD: (f64, f64) = (0.85, 1.2);
/// What is left of a weak one.
const WEAK: (f64, f64) = (0.05, 0.65);
/// With its winding on the engine a bridge works half the time, or hardly.
const GROUNDED: (f64, f64) = (0.0, 0.55);
const HALF: (f64, f64) = (0.35, 0.6);
/// Volts of an overcharging regulator, and of one that stops too soon.
const OVER: (f64, f64) = (15.1, 19.0);
const LOW: (f64, f64) = (12.9, 13.65);
/// Ohms of a bad joint in the charging path, and of good ones.
const BAD_JOINT: (f64, f64) = (0.04, 5.0);
const GOOD_JOINT: (f64, f64) = (0.005, 0.045);
const GOOD_GROUND: (f64, f64) = (0.002, 0.015);
/// Volts at rest of a battery that somebody asks about, of one that is run right down, and of one with a shorted
/// cell.
const EMF: (f64, f64) = (11.5, 13.0);
const RUN_DOWN: (f64, f64) = (6.0, 11.5);
const CELL_SHORT: (f64, f64) = (9.3, 11.1);
/// A shorted cell leaves a battery that takes all it gets.
const AS_SHORTED: f64 = 0.12;
/// After a charge nearly all rest here; so few do not.
const STAYS_DOWN: f64 = 0.01;
const CHARGED: (f64, f64) = (12.3, 13.3);
/// No battery with a shorted cell rests higher.
const CELL_SHORT_MOST: f64 = 11.9;
/// How usual it is that one without a shorted cell is run right down, and that one with it reads higher.
const DOWN: f64 = 0.15;
const HIGHER: f64 = 0.1;
/// So far volts at rest are from those that charge is taken at, once read.
const REST_SPREAD: f64 = 0.06;
/// Ripple of a good system, in V, and with a diode gone; without a regulator there is always more.
const SMOOTH: (f64, f64) = (0.02, 0.35);
const ROUGH: (f64, f64) = (0.45, 3.0);
const PULSES: (f64, f64) = (0.1, 1.2);
/// Fewer amperes make none.
const RIPPLES_FROM: f64 = 0.3;
/// Ohms of a stator's winding, as an ohmmeter shows it: leads and all.
const SHOWN_OHMS: (f64, f64) = (0.0, 2.5);
/// Ohms to the engine: of a winding that touches it at most, of a good one at least.
const TOUCHES: f64 = 500.0;
const CLEAR: f64 = 200_000.0;

/// One system that it may be.
#[derive(Clone, Copy, Debug)]
pub(super) struct Drawn {
    pub state: ChargeState,
    flow: Flow,
    /// Shares of full speed.
    idle: f64,
    full: f64,
    /// How far what is on is off the drawing.
    drawn: f64,
    /// Alternating volts at full speed, plug off.
    alternating: f64,
    ripple: f64,
    /// With an open way a regulator has no battery to go by: what it puts out then.
    loose: f64,
}

/// What a reading would show.
#[derive(Clone, Copy, Debug)]
pub(super) enum Shows {
    /// So much, and how far the meter scatters.
    About(f64, f64),
    /// Ohms: open leads.
    Open,
    /// Ohms that lie between.
    Between(f64, f64),
}

/// Weights of many systems.
#[derive(Clone, Debug)]
pub struct ChargeBelief {
    pub(super) all: Vec<(Drawn, f64)>,
}

impl ChargeBelief {
    /// Every kind of trouble that a system may have, by what was read.
    pub fn new(system: &ChargingSystem, readings: &[ChargeReading]) -> Self {
        let rest = readings.iter().rev().find_map(|r| match r {
            ChargeReading::Rest(volts) => Some(*volts),
            _ => None,
        });
        let mut belief = Self::drawn(system, rest, EACH);
        // Of volts at rest the last counts: the battery is what it is now.
        let rests = |r: &&ChargeReading| matches!(r, ChargeReading::Rest(_));
        let charged = readings.contains(&ChargeReading::Charged);
        for reading in readings.iter().filter(|r| !rests(r)) {
            belief.weigh(reading);
        }
        if let Some(volts) = rest {
            belief.weigh_by(|drawn| drawn.rests_at(volts, charged));
        }
        belief
    }

    /// The same before anything was read.
    pub fn unread(system: &ChargingSystem) -> Self {
        Self::drawn(system, None, EACH_UNREAD)
    }

    fn drawn(system: &ChargingSystem, rest: Option<f64>, each: usize) -> Self {
        let own = |s: &&ChargeState| s.is_of(system);
        let states: Vec<ChargeState> = ChargeState::ALL.iter().filter(own).copied().collect();
        let usual: f64 = states.iter().map(|s| s.usual()).sum();
        let mut all = Vec::with_capacity(states.len() * each);
        for state in states {
            let mut random = Random::for_case(0, "charging", state as u64);
            let weight = state.usual() / usual / each as f64;
            let one = |_| (Drawn::new(system, state, rest, &mut random), weight);
            all.extend((0..each).map(one));
        }
        Self { all }
    }

    fn weigh(&mut self, reading: &ChargeReading) {
        self.weigh_by(|drawn| drawn.likely(reading));
    }

    fn weigh_by(&mut self, likely: impl Fn(&Drawn) -> f64) {
        for (drawn, weight) in &mut self.all {
            *weight *= likely(drawn);
        }
        let sum: f64 = self.all.iter().map(|(_, w)| w).sum();
        self.all.iter_mut().for_each(|(_, w)| *w /= sum.max(1e-300));
    }

    /// How likely each state is; those that the system may have.
    pub fn states(&self) -> Vec<(ChargeState, f64)> {
        let mut found: Vec<(ChargeState, f64)> = Vec::new();
        for (drawn, weight) in &self.all {
            match found.iter_mut().find(|(state, _)| *state == drawn.state) {
                Some((_, own)) => *own += weight,
                None => found.push((drawn.state, *weight)),
            }
        }
        found.sort_by(|a, b| b.1.total_cmp(&a.1));
        found
    }

    /// How likely one more reading is in each state, that it is no slip taken for granted; per unit of the reading.
    pub fn likelihoods(&self, reading: &ChargeReading) -> Vec<(ChargeState, f64)> {
        let mut found: Vec<(ChargeState, f64, f64)> = Vec::new();
        for (drawn, weight) in &self.all {
            let near = weight * drawn.near(reading);
            match found.iter_mut().find(|(state, _, _)| *state == drawn.state) {
                Some((_, sum, all)) => (*sum, *all) = (*sum + near, *all + weight),
                None => found.push((drawn.state, near, *weight)),
            }
        }
        found.into_iter().map(|(state, sum, all)| (state, sum / all.max(1e-300))).collect()
    }

    /// Between which a good system's reading lies, nine times in ten, given all that was read.
    pub(super) fn good(&self, reading: &ChargeReading) -> Option<(f64, f64)> {
        let good = self.all.iter().filter(|(drawn, _)| drawn.state == ChargeState::Good);
        let mut shown: Vec<(f64, f64)> = good
            .filter_map(|(drawn, weight)| match drawn.shows(reading) {
                Shows::About(at, _) => Some((at, *weight)),
                _ => None,
            })
            .collect();
        shown.sort_by(|a, b| a.0.total_cmp(&b.0));
        let sum: f64 = shown.iter().map(|(_, w)| w).sum();
        let at = |share: f64| {
            let mut left = share * sum;
            let found = shown.iter().find(|(_, w)| {
                left -= w;
                left <= 0.0
            });
            found.map(|(at, _)| *at)
        };
        at(0.05).zip(at(0.95))
    }
}

fn between(random: &mut Random, (low, high): (f64, f64)) -> f64 {
    random.between(low, high)
}

fn log_between(random: &mut Random, (low, high): (f64, f64)) -> f64 {
    random.log_between(low, high)
}

impl Drawn {
    fn new(
        system: &ChargingSystem,
        state: ChargeState,
        rest: Option<f64>,
        random: &mut Random,
    ) -> Self {
        let spread = between(random, STATOR_SPREAD);
        let weak = between(random, WEAK);
        let share = match state {
            ChargeState::StatorOpen => 0.0,
            ChargeState::StatorWeak => weak,
            _ => 1.0,
        };
        let rated = match system.rated {
            Some(amps) => amps * random.between(0.85, 1.15),
            None => between(random, RATED),
        };
        let full_open = match (system.regulated, system.winding) {
            (true, Some(_)) => RECTIFIED * spread * system.alternating - DIODES,
            // A generator builds up to half as much again.
            (true, None) => 1.5 * spread * system.volts,
            (false, _) => spread * system.volts,
        };
        let amps = match system.regulated {
            true => rated,
            false => ((full_open - AT_VOLTS) / system.ohms).max(0.1),
        };
        let gives = match state {
            ChargeState::RegulatorDead => 0.0,
            ChargeState::RegulatorHalf => between(random, HALF),
            ChargeState::StatorGrounded => between(random, GROUNDED),
            _ => 1.0,
        };
        let stops = match state {
            ChargeState::RegulatorOver => between(random, OVER),
            ChargeState::RegulatorLow => between(random, LOW),
            _ => random.normal(system.volts, HELD_SPREAD),
        };
        let (feed, bad_feed) = (between(random, GOOD_JOINT), log_between(random, BAD_JOINT));
        let (ground, bad_ground) = (between(random, GOOD_GROUND), log_between(random, BAD_JOINT));
        let shorted = state == ChargeState::BatteryShorted;
        let (sound, down) = (between(random, EMF), between(random, RUN_DOWN));
        let cell = between(random, CELL_SHORT);
        let which = random.share();
        let emf = match rest {
            Some(volts) => random.normal(volts, REST_SPREAD),
            None if shorted => cell,
            None if which < DOWN => down,
            None => sound,
        };
        let takes = log_between(random, TAKES);
        let ripple = match state {
            _ if !system.regulated => PULSES,
            ChargeState::RegulatorHalf | ChargeState::StatorGrounded => ROUGH,
            _ => SMOOTH,
        };
        let ripple = log_between(random, ripple);
        // What the meter of one shop and the tachometer of another leave open.
        let alternating = spread * share * system.alternating;
        let loose = random.between(-13.0, 18.0);
        Self {
            state,
            flow: Flow {
                open: full_open * share,
                amps: amps * gives * if share > 0.0 { 1.0 } else { 0.0 },
                stops: system.regulated.then_some(stops),
                feed: match state {
                    ChargeState::FeedOpen => CUT,
                    ChargeState::FeedHigh => bad_feed,
                    _ => feed,
                },
                ground: match state {
                    ChargeState::GroundOpen => CUT,
                    ChargeState::GroundHigh => bad_ground,
                    _ => ground,
                },
                emf,
                takes: if shorted { takes.min(AS_SHORTED) } else { takes },
                gives: log_between(random, GIVES),
            },
            idle: between(random, IDLE),
            full: between(random, FULL),
            drawn: between(random, DRAWN),
            alternating,
            ripple,
            loose,
        }
    }

    fn speed(&self, idle: bool) -> f64 {
        if idle { self.idle } else { self.full }
    }

    fn flows(&self, load: Load) -> super::flow::Flows {
        self.flow.at(self.speed(load.idle), self.drawn * load.drawn)
    }

    /// What a meter shows of it.
    pub fn shows(&self, reading: &ChargeReading) -> Shows {
        let about =
            |at: f64, (share, digit): (f64, f64)| Shows::About(at, digit + share * at.abs());
        match *reading {
            ChargeReading::Rest(_) | ChargeReading::Charged => {
                Shows::About(self.flow.emf, REST_SPREAD)
            }
            ChargeReading::Posts(_, load) => about(self.flows(load).posts, VOLTS),
            ChargeReading::Amps(_, load) => about(self.flows(load).amps, AMPS),
            ChargeReading::Ripple(_) => {
                let flows = self.flows(Load { idle: false, drawn: 0.0 });
                about(if flows.amps > RIPPLES_FROM { self.ripple } else { 0.01 }, RIPPLES)
            }
            ChargeReading::Feed(_, load) => match self.state {
                ChargeState::FeedOpen => Shows::About(self.loose, 2.0),
                _ => about(self.flows(load).amps * self.flow.feed, DROPS),
            },
            ChargeReading::Ground(_, load) => match self.state {
                ChargeState::GroundOpen => Shows::About(self.loose, 2.0),
                _ => about(self.flows(load).amps * self.flow.ground, DROPS),
            },
            ChargeReading::Stator(_, idle) => {
                let share = if self.state == ChargeState::StatorGrounded { 0.8 } else { 1.0 };
                about(share * self.alternating * self.speed(idle), ALTERNATING)
            }
            ChargeReading::Winding(_) => match self.state {
                ChargeState::StatorOpen => Shows::Open,
                _ => Shows::Between(SHOWN_OHMS.0, SHOWN_OHMS.1),
            },
            ChargeReading::Frame(_) => match self.state {
                ChargeState::StatorGrounded => Shows::Between(0.0, TOUCHES),
                _ => Shows::Between(CLEAR, f64::INFINITY),
            },
        }
    }

    /// How likely volts at rest are of a battery like its own; which of them it is was drawn by them.
    fn rests_at(&self, volts: f64, charged: bool) -> f64 {
        let within = |(low, high): (f64, f64)| {
            let inside = volts > low && volts <= high;
            if inside { 1.0 / (high - low) } else { 0.0 }
        };
        let own = match self.state {
            ChargeState::BatteryShorted => {
                (1.0 - HIGHER) * within(CELL_SHORT)
                    + HIGHER * within((CELL_SHORT.1, CELL_SHORT_MOST))
            }
            _ if charged => {
                (1.0 - STAYS_DOWN) * within(CHARGED) + STAYS_DOWN * within((RUN_DOWN.0, CHARGED.0))
            }
            _ => (1.0 - DOWN) * within(EMF) + DOWN * within(RUN_DOWN),
        };
        (1.0 - SLIP) * own + SLIP / 13.0
    }

    /// How likely a reading is of it, or a slip.
    fn likely(&self, reading: &ChargeReading) -> f64 {
        (1.0 - SLIP) * self.near(reading) + SLIP * slipped(reading)
    }

    /// How likely a reading is of it.
    fn near(&self, reading: &ChargeReading) -> f64 {
        let ohms = |shown: Option<f64>| {
            let fits = match (shown, self.shows(reading)) {
                (None, Shows::Open) => true,
                (None, Shows::Between(_, high)) => high.is_infinite(),
                (Some(ohms), Shows::Between(low, high)) => (low..=high).contains(&ohms),
                _ => false,
            };
            f64::from(u8::from(fits))
        };
        let figure = |read: f64| match self.shows(reading) {
            Shows::About(at, spread) => {
                let off = (read - at) / spread;
                (-0.5 * off * off).exp() / (spread * std::f64::consts::TAU.sqrt())
            }
            _ => 1.0,
        };
        match *reading {
            ChargeReading::Rest(read) => self.rests_at(read, false),
            ChargeReading::Charged => 1.0,
            ChargeReading::Amps(read, _) => figure(read.abs()),
            ChargeReading::Posts(read, _)
            | ChargeReading::Ripple(read)
            | ChargeReading::Feed(read, _)
            | ChargeReading::Ground(read, _)
            | ChargeReading::Stator(read, _) => figure(read),
            ChargeReading::Winding(ohms_read) | ChargeReading::Frame(ohms_read) => ohms(ohms_read),
        }
    }
}

/// How likely a reading is of a probe beside its pin, or an engine not at its speed.
pub fn slipped(reading: &ChargeReading) -> f64 {
    match reading {
        // No slip shows more volts than the battery has.
        ChargeReading::Posts(read, _) if *read > GOOD_VOLTS.1 => 0.005,
        ChargeReading::Posts(..) => 1.0 / 6.0,
        ChargeReading::Rest(_) | ChargeReading::Feed(..) | ChargeReading::Ground(..) => 1.0 / 13.0,
        ChargeReading::Amps(..) => 1.0 / 20.0,
        ChargeReading::Ripple(_) => 1.0 / 4.0,
        ChargeReading::Stator(..) => 1.0 / 40.0,
        // Open leads are what a probe shows that does not touch.
        ChargeReading::Winding(None) | ChargeReading::Frame(None) => 0.7,
        ChargeReading::Winding(_) | ChargeReading::Frame(_) => 0.1,
        ChargeReading::Charged => 1.0,
    }
}
