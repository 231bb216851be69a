//! How well an observation fits a prediction. Every one leaves room for a slip: a probe that did
//! not touch, a control that was not held, so that one wrong reading never kills the truth.

use super::slips;
use super::unknowns::Unknowns;
use crate::circuit::{Crank, FaultMode, LampState, Reading};
use crate::diagnosis::evidence::{Heard, Inspected, Observation, Sensed, Source};
use crate::diagnosis::faults::Suspect;
use crate::diagnosis::predict::{Predicted, Shown, chance, doubtful};
use crate::interlock::EngineDoes;

/// The chance that an observation is not what it says: wrong point, setting or condition.
pub(crate) const SLIP: f64 = 0.03;
/// The same of what a customer tells, who may have had a foot elsewhere.
const TOLD_SLIP: f64 = 0.06;
/// One meter's scatter: this share of the reading and this many volts. (Its error of scale, up to
/// 0.5 %, is the same in every reading and goes into the supply.)
const METER_SHARE: f64 = 0.0015;
const METER_VOLTS: f64 = 0.01;
/// Stray volts on a point that nothing drives.
const STRAY_VOLTS: f64 = 0.02;
/// Each joint and wire has a tolerance of its own: what is dropped is known to this share of it, or
/// to this many volts. (What joints, battery and loads have in common is in the unknowns.)
const DROP_SHARE: f64 = 0.3;
const MOST_DROP_VOLTS: f64 = 0.2;
/// An ohmmeter, and what it measures hot or cold, are off by this share; so many ohms are lost or
/// not in leads and points.
const OHMS_SHARE: f64 = 0.13;
const OHMS_LOST: f64 = 0.12;
/// Diodes differ from one another by this many volts at a milliampere.
pub(crate) const DROP_VOLTS: f64 = 0.2;
/// Leads and contact of the probes, in ohms.
pub(crate) const LEADS_OHMS: f64 = 0.3;

const TAU: f64 = std::f64::consts::TAU;

/// Likelihood of an observation, apart for the honest reading and for a slip.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Fit {
    pub honest: f64,
    pub slip: f64,
}

impl Fit {
    /// Both together, repeats making a slip less likely.
    pub fn weigh(self, repeats: u32, source: Source) -> (f64, f64) {
        let slip = match source {
            Source::Tested => SLIP,
            Source::Told => TOLD_SLIP,
        };
        let slip = slip / f64::from(repeats.max(1)).powi(2);
        ((1.0 - slip) * self.honest, slip * self.slip)
    }

    /// Where it fits one thing or another: a fault that shows at this chance, or does not.
    pub fn either(self, chance: f64, other: Self) -> Self {
        let mix = |a: f64, b: f64| chance * a + (1.0 - chance) * b;
        Self { honest: mix(self.honest, other.honest), slip: mix(self.slip, other.slip) }
    }
}

/// Where a reading was taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Place {
    /// Red and black on the battery's own posts.
    Posts,
    Elsewhere,
}

/// How a reading fits what a hypothesis predicts.
///
/// # Arguments
/// `emf` is the battery's volts at rest that the prediction was solved with.
pub(crate) fn fit_reading(
    (reading, place): (Reading, Place),
    predicted: Predicted,
    emf: f64,
    unknowns: &mut Unknowns,
) -> Fit {
    match (reading, predicted) {
        (Reading::Volts(read), Predicted::Volts { mean, swing, slope }) => {
            let slip = match place {
                Place::Posts => slips::volts_at_the_posts(read, emf),
                Place::Elsewhere => slips::volts(read, emf),
            };
            let share = mean / emf;
            let spread = own_spread(read, share, emf).hypot(swing);
            Fit { honest: unknowns.volts(read, share, slope, spread, SLIP * slip), slip }
        }
        (Reading::Ohms(read), Predicted::Ohms { ohms: mean, slope }) => {
            let slip = slips::ohms(read, LEADS_OHMS);
            let honest = match (read, mean) {
                (None, None) => 1.0,
                (Some(read), Some(mean)) => {
                    let off = (read + LEADS_OHMS).ln() - (mean + LEADS_OHMS).ln();
                    unknowns.sized(off, slope, ohms_spread(mean), SLIP * slip)
                }
                // Damp and dirt across an open: rare, and never low.
                (Some(read), None) if read > 1e5 => 0.02,
                _ => 0.0,
            };
            Fit { honest, slip }
        }
        (Reading::Buzz(read), Predicted::Buzz(mean)) => {
            Fit { honest: f64::from(u8::from(read == mean)), slip: if read { 0.2 } else { 0.8 } }
        }
        (Reading::Lamp(read), Predicted::Lamp { volts, slope }) => {
            let between = doubtful(volts, slope.abs());
            let honest = chance(read, LampState::at(volts), between);
            // Half light is hardly ever a slip.
            let slip = match read {
                LampState::Out => 0.8,
                LampState::Bright => 0.17,
                LampState::Dim => 0.03,
            };
            Fit { honest, slip }
        }
        (Reading::Lit(read), Predicted::Lit(mean)) => {
            let sure = if read == mean { 0.95 } else { 0.05 };
            Fit { honest: sure, slip: if read { 0.2 } else { 0.8 } }
        }
        (Reading::AcVolts(read), Predicted::AcVolts(mean)) => {
            let spread = ac_spread(mean);
            let off = (read - mean) / spread;
            let honest = (-off * off / 2.0).exp() / (spread * TAU.sqrt());
            Fit { honest, slip: slips::ac_volts(read) }
        }
        (Reading::Amps(read), Predicted::Amps { mean, swing, slope }) => {
            let slip = slips::amps(read);
            // Which way the arrow on the jaw points is soon mistaken.
            let turned = (read + mean).abs() < (read - mean).abs();
            let (read, way) =
                if turned { (-read, ARROW_TURNED) } else { (read, 1.0 - ARROW_TURNED) };
            let spread = amps_spread(mean).hypot(swing);
            let honest = way * unknowns.sized(read - mean, slope, spread, SLIP * slip);
            Fit { honest, slip }
        }
        (Reading::Drop(read), Predicted::Drop(mean)) => {
            let honest = match (read, mean) {
                (None, None) => 0.9,
                (Some(read), Some(mean)) if (read - mean).abs() < DROP_VOLTS => 0.9,
                _ => 0.02,
            };
            Fit { honest, slip: 0.3 }
        }
        // Ohms taken where the circuit would be live say nothing that can be trusted.
        _ => Fit { honest: 0.05, slip: 0.05 },
    }
}

/// How far a reading of ohms may be off, in `ln(ohms + LEADS)`.
fn ohms_spread(ohms: f64) -> f64 {
    OHMS_SHARE.hypot(OHMS_LOST / (ohms + LEADS_OHMS))
}

/// A stator's volts go with the engine's speed, which nobody holds exactly.
pub(crate) fn ac_spread(volts: f64) -> f64 {
    0.15 * volts + 0.2
}

/// A clamp's zero wanders by so many amperes; what is drawn is known to this share of it.
const CLAMP_AMPS: f64 = 0.4;
const DRAWN_SHARE: f64 = 0.15;
/// A starter's goes with how hard the engine is to turn.
const STARTER_AMPS: f64 = 40.0;
const STARTER_SHARE: f64 = 0.3;
/// The chance that a clamp is read with its arrow the wrong way.
const ARROW_TURNED: f64 = 0.2;

/// How far a clamp's reading may be off: its zero, and what the load really draws.
pub(crate) fn amps_spread(amps: f64) -> f64 {
    let share = if amps.abs() > STARTER_AMPS { STARTER_SHARE } else { DRAWN_SHARE };
    CLAMP_AMPS.hypot(share * amps)
}

/// How far a reading of volts may be off by itself: the meter's scatter, stray volts, and the
/// joints on the way.
fn own_spread(read: f64, share: f64, supply: f64) -> f64 {
    let meter = METER_SHARE * read.abs() + METER_VOLTS;
    let lost = share.abs().min((1.0 - share).abs()) * supply;
    let dropped = (DROP_SHARE * lost).min(MOST_DROP_VOLTS);
    meter.hypot(STRAY_VOLTS).hypot(dropped)
}

/// How what was noticed fits what the machine would do.
pub(crate) fn fit_sensed(sensed: Sensed, shown: &Shown) -> Fit {
    match sensed {
        Sensed::Starter(heard) => fit_heard(heard, shown.crank),
        Sensed::Engine(does) => {
            let honest = match (does, shown.engine) {
                (a, b) if a == b => 0.95,
                // A miss is easily not noticed, or taken for the fuel.
                (EngineDoes::Runs, EngineDoes::RunsRough) => 0.3,
                (EngineDoes::RunsRough, EngineDoes::Runs) => 0.03,
                _ => 0.01,
            };
            Fit { honest, slip: 0.3 }
        }
        Sensed::Blades(turn) => {
            Fit { honest: if turn == shown.blades { 0.97 } else { 0.015 }, slip: 0.5 }
        }
        Sensed::Lamp(lamp, state) => {
            let honest = chance(state, shown.lamp(lamp), shown.doubtful_lamp(lamp));
            Fit { honest, slip: 0.3 }
        }
    }
}

/// How what was heard fits what the starter would do.
fn fit_heard(heard: Heard, crank: Crank) -> Fit {
    let truth = Heard::of(crank);
    let honest = if (heard, truth) == (Heard::Chatter, Heard::Chatter) {
        0.62
    } else if heard == truth {
        0.96
    } else {
        match (heard, truth) {
            // A single click and a rattle are told apart with some effort; so is slow from normal.
            // A battery that collapses gives a rattle, or one click and no more.
            (Heard::Click, Heard::Chatter) => 0.35,
            (Heard::Chatter, Heard::Click) => 0.1,
            (Heard::CranksSlowly, Heard::Cranks) | (Heard::Cranks, Heard::CranksSlowly) => 0.1,
            (Heard::Click, Heard::CranksSlowly) | (Heard::CranksSlowly, Heard::Click) => 0.1,
            // A relay's click under a hood is missed, or imagined.
            (Heard::Silent, Heard::Click) | (Heard::Click, Heard::Silent) => 0.03,
            _ => 0.005,
        }
    };
    Fit { honest, slip: 0.2 }
}

/// The chance that looking at something finds it bad though it is not what is wrong: a green pin is
/// often seen, a burnt fuse or a cut wire is what it looks like.
fn looks_bad_anyway(inspected: Inspected) -> f64 {
    match inspected {
        Inspected::Fuse(_) => 0.01,
        Inspected::Wire(_) => 0.015,
        Inspected::Linkage(_) => 0.03,
        Inspected::Plug(_) => 0.04,
        Inspected::Lug(_) => 0.05,
    }
}

/// The chance that who looks at something finds it bad, where this is the suspect.
pub(crate) fn looks_bad(suspect: &Suspect, inspected: Inspected) -> f64 {
    use FaultMode::*;
    let sees = |mode: FaultMode| match (inspected, mode) {
        (Inspected::Plug(_), ConnectorApart) => 0.95,
        (Inspected::Plug(_), Water) => 0.7,
        (Inspected::Plug(_), Open | HighResistance) => 0.5,
        (Inspected::Plug(_), Intermittent) => 0.4,
        (Inspected::Plug(_), Swapped) => 0.3,
        (Inspected::Fuse(_), FuseBlown) => 0.97,
        (Inspected::Fuse(_), WrongFuse) => 0.9,
        (Inspected::Fuse(_), HighResistance) => 0.2,
        (Inspected::Linkage(_), LinkageShort | LinkageHolds) => 0.9,
        (Inspected::Lug(_), Open) => 0.85,
        (Inspected::Lug(_), HighResistance) => 0.6,
        (Inspected::Lug(_), Intermittent) => 0.5,
        (Inspected::Wire(_), Open | ShortToGround | ShortToNeighbor | GroundWhenHot) => 0.5,
        (Inspected::Wire(_), HighResistance | Intermittent) => 0.3,
        _ => 0.0,
    };
    let own = suspect.faults.iter().filter(|f| suspect.sits_in(inspected, f));
    own.map(|f| sees(f.mode)).fold(looks_bad_anyway(inspected), f64::max)
}

/// How a look fits a suspect.
pub(crate) fn fit_inspected(suspect: &Suspect, inspected: Inspected, bad: bool) -> Fit {
    let chance = looks_bad(suspect, inspected);
    let honest = if bad { chance } else { 1.0 - chance };
    Fit { honest, slip: if bad { 0.1 } else { 0.9 } }
}

/// A part that is bad passes the bench at this chance.
const PASSES_BAD: f64 = 0.05;
/// A good one fails it at this chance.
const FAILS_GOOD: f64 = 0.02;

/// How a test of a unit by itself fits a fault: its own, or another's.
pub(crate) fn fit_benched(own: bool, bad: bool) -> Fit {
    let fails = if own { 1.0 - PASSES_BAD } else { FAILS_GOOD };
    let honest = if bad { fails } else { 1.0 - fails };
    Fit { honest, slip: 0.5 }
}

/// Whether two observations are of one kind, so that the later only repeats the earlier.
pub(crate) fn same_kind(a: &Observation, b: &Observation) -> bool {
    match (a, b) {
        (Observation::Sensed(_), Observation::Sensed(_)) => true,
        (Observation::CloseUp(a), Observation::CloseUp(b)) => a.is_of_the_same(*b),
        (Observation::Inspected(a, _), Observation::Inspected(b, _)) => a == b,
        (Observation::Benched(a, _), Observation::Benched(b, _)) => a == b,
        (Observation::Read { instrument: a, .. }, Observation::Read { instrument: b, .. }) => {
            a.measures_as(*b)
        }
        _ => false,
    }
}
