//! What one hypothesis leaves open and every reading tells something of: the battery's volts, how
//! far volts sag, where loads in series divide them, and how great the fault is.
//!
//! A Kalman filter of four numbers. They are the same in every reading, and so are learned: a
//! battery that falls through the walk is followed, and does not look like a dropping wire; a fault
//! between two of the sizes that are solved for is met where it is.

use crate::diagnosis::evidence::BatteryEvent;

/// Which of the numbers is which.
const SUPPLY: usize = 0;
const SAG: usize = 1;
const DIVIDER: usize = 2;
const SIZE: usize = 3;
const NUMBERS: usize = 4;

/// How far the supply may wander from one reading to the next, in volts.
const DRIFT_VOLTS: f64 = 0.04;
/// How far a battery at rest may have come since it was last read, in volts: left with the key on,
/// charged overnight, helped by another.
const STEP_VOLTS: f64 = 0.4;
/// The same of one that was not read before.
const FIRST_STEP_VOLTS: f64 = 0.2;
/// The same of what hangs on it by jumper cables: a pack, or a truck that charges.
const JUMPED_VOLTS: f64 = 0.9;
/// How far an unread battery may stand from the figure in the document, in volts.
const UNREAD_VOLTS: f64 = 0.25;
/// A full battery at rest, in volts.
const FULL_VOLTS: f64 = 12.65;
/// What is lost on the way, in battery, joints and wires together, is known to this share of it,
/// or to this many volts.
const SAG_SHARE: f64 = 0.2;
const MOST_SAG_VOLTS: f64 = 0.6;
/// Between these shares of the supply it is loads that divide it: known to so many volts, and to
/// this share of what is lost.
const DIVIDED: std::ops::Range<f64> = 0.15..0.85;
const DIVIDER_VOLTS: f64 = 0.05;
const DIVIDER_SHARE: f64 = 0.06;
const TAU: f64 = std::f64::consts::TAU;

#[derive(Clone, Copy, Debug)]
pub(crate) struct Unknowns {
    /// Volts at rest; the others in standard deviations.
    mean: [f64; NUMBERS],
    covariance: [[f64; NUMBERS]; NUMBERS],
}

impl Unknowns {
    /// Before anything was read. `emf` are the volts at rest that the hypothesis was solved with.
    pub fn unread(emf: f64, about_the_battery: bool) -> Self {
        let spread = unread_spread(emf, about_the_battery);
        let mut covariance = [[0.0; NUMBERS]; NUMBERS];
        covariance[SUPPLY][SUPPLY] = spread * spread;
        for number in [SAG, DIVIDER, SIZE] {
            covariance[number][number] = 1.0;
        }
        Self { mean: [emf, 0.0, 0.0, 0.0], covariance }
    }

    /// Mean and variance of the battery's volts at rest.
    pub fn supply(&self) -> (f64, f64) {
        (self.mean[SUPPLY], self.covariance[SUPPLY][SUPPLY])
    }

    /// The battery wanders on.
    pub fn drift(&mut self) {
        self.covariance[SUPPLY][SUPPLY] += DRIFT_VOLTS * DRIFT_VOLTS;
    }

    /// The battery may be another by now, or charged: what its posts show at rest is how it is. What was
    /// never read before may be a little further off than was thought; a battery that is volts short
    /// is flat, and nothing else.
    pub fn step(&mut self) {
        let read_before = self.covariance[SUPPLY][SUPPLY] < 0.8 * UNREAD_VOLTS * UNREAD_VOLTS;
        let step = if read_before { STEP_VOLTS } else { FIRST_STEP_VOLTS };
        self.covariance[SUPPLY][SUPPLY] += step * step;
    }

    /// The battery is another than it was: at `emf` by the hypothesis, give or take what is left open
    /// by what became of it.
    pub fn renew(&mut self, emf: f64, about_the_battery: bool, event: Option<BatteryEvent>) {
        let spread = match event {
            Some(BatteryEvent::JumperOn) => JUMPED_VOLTS,
            Some(BatteryEvent::Swapped) | None => unread_spread(emf, about_the_battery),
            Some(_) => STEP_VOLTS.max(unread_spread(emf, about_the_battery)),
        };
        self.mean[SUPPLY] = emf;
        for other in 0..NUMBERS {
            self.covariance[SUPPLY][other] = 0.0;
            self.covariance[other][SUPPLY] = 0.0;
        }
        self.covariance[SUPPLY][SUPPLY] = spread * spread;
    }

    /// The density of a reading of volts that are `share` of the supply, to `spread` volts of its
    /// own; `slope` volts more for each standard deviation of the fault's size.
    ///
    /// Learns from it unless the density is below `slip`: then it was rather a slip.
    pub fn volts(&mut self, read: f64, share: f64, slope: f64, spread: f64, slip: f64) -> f64 {
        let by = self.volts_by(share, slope);
        self.learn(read, by, spread, slip)
    }

    /// The same of a figure that depends on nothing but the fault's size.
    pub fn sized(&mut self, off: f64, slope: f64, spread: f64, slip: f64) -> f64 {
        self.learn(off, [0.0, 0.0, 0.0, slope], spread, slip)
    }

    /// Mean and standard deviation of volts that are `share` of the supply, as far as they are
    /// known by now.
    pub fn expected_volts(&self, share: f64, slope: f64) -> (f64, f64) {
        self.expected(self.volts_by(share, slope))
    }

    /// The same of how far off a figure is that depends on nothing but the fault's size.
    pub fn expected_size(&self, slope: f64) -> (f64, f64) {
        self.expected([0.0, 0.0, 0.0, slope])
    }

    fn expected(&self, by: [f64; NUMBERS]) -> (f64, f64) {
        let dot = |row: &[f64; NUMBERS]| row.iter().zip(&by).map(|(a, b)| a * b).sum::<f64>();
        let variance = dot(&self.covariance.each_ref().map(dot));
        (dot(&self.mean), variance.max(0.0).sqrt())
    }

    /// How volts that are `share` of the supply depend on each number.
    fn volts_by(&self, share: f64, slope: f64) -> [f64; NUMBERS] {
        let lost = share.abs().min((1.0 - share).abs()) * self.mean[SUPPLY];
        let mut by = [0.0; NUMBERS];
        by[SUPPLY] = share;
        by[SIZE] = slope;
        if DIVIDED.contains(&share) {
            by[DIVIDER] = DIVIDER_VOLTS + DIVIDER_SHARE * lost;
        } else {
            // Up where it ought to be near nothing, down where it ought to be near full.
            let sag = (SAG_SHARE * lost).min(MOST_SAG_VOLTS);
            by[SAG] = if share > 0.5 { -sag } else { sag };
        }
        by
    }

    fn learn(&mut self, read: f64, by: [f64; NUMBERS], spread: f64, slip: f64) -> f64 {
        let dot = |row: &[f64; NUMBERS]| row.iter().zip(&by).map(|(a, b)| a * b).sum::<f64>();
        let moved = self.covariance.each_ref().map(dot);
        let variance = dot(&moved) + spread * spread;
        let off = read - dot(&self.mean);
        let density = (-off * off / (2.0 * variance)).exp() / (variance * TAU).sqrt();
        if density > slip {
            for i in 0..NUMBERS {
                let gain = moved[i] / variance;
                self.mean[i] += gain * off;
                for (slot, other) in self.covariance[i].iter_mut().zip(&moved) {
                    *slot -= gain * other;
                }
            }
        }
        density
    }
}

/// How far an unread battery may be from the volts that a hypothesis was solved with. A flat battery's
/// sizes are wide: the emptier, the wider.
fn unread_spread(emf: f64, about_the_battery: bool) -> f64 {
    match about_the_battery {
        true => UNREAD_VOLTS.max((FULL_VOLTS - emf) * 0.15),
        false => UNREAD_VOLTS,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_size_between_two_is_learned_once() {
        let mut unknowns = Unknowns::unread(12.6, false);
        // Three volts where five are expected, give or take two by size.
        let first = unknowns.volts(3.0, 5.0 / 12.6, 2.0, 0.05, 1e-3);
        let second = unknowns.volts(3.0, 5.0 / 12.6, 2.0, 0.05, 1e-3);
        assert!(second > 10.0 * first, "{first} {second}");
        let (volts, _) = unknowns.supply();
        assert!((volts - 12.6).abs() < 0.2, "the battery takes little of it: {volts}");
    }

    #[test]
    fn what_was_learned_is_expected() {
        let mut unknowns = Unknowns::unread(12.6, false);
        let (before, unsure) = unknowns.expected_volts(5.0 / 12.6, 2.0);
        unknowns.volts(3.0, 5.0 / 12.6, 2.0, 0.05, 1e-3);
        let (after, sure) = unknowns.expected_volts(5.0 / 12.6, 2.0);
        assert!((before - 5.0).abs() < 1e-9 && (after - 3.0).abs() < 0.05, "{before} {after}");
        assert!(unsure > 2.0 && sure < 0.1, "{unsure} {sure}");
        // What half as much of the size shows elsewhere follows.
        let (elsewhere, _) = unknowns.expected_volts(8.0 / 12.6, 1.0);
        assert!((elsewhere - 7.0).abs() < 0.1, "{elsewhere}");
    }

    #[test]
    fn a_falling_battery_is_followed() {
        let mut unknowns = Unknowns::unread(12.6, false);
        for step in 0..20 {
            unknowns.drift();
            unknowns.volts(12.6 - 0.03 * f64::from(step), 1.0, 0.0, 0.03, 1e-3);
        }
        assert!((unknowns.supply().0 - 12.03).abs() < 0.05, "{:?}", unknowns.supply());
    }

    #[test]
    fn what_is_far_off_teaches_nothing() {
        let mut unknowns = Unknowns::unread(12.6, false);
        unknowns.volts(0.0, 1.0, 0.0, 0.03, 1e-3);
        assert_eq!(unknowns.supply().0, 12.6);
    }
}
