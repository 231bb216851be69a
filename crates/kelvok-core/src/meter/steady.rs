//! When a reading stands still: within its noise for a second, after it has moved.
//!
//! Probes that hang in the air stand still too. So a reading counts only once the figure has moved
//! since the last one was taken: whoever measures a dead point taps a live one first, and on ohms
//! the probes together.

use super::{Range, Shown};

/// A reading must stand for this long, in seconds.
const STANDS_SECONDS: f64 = 1.0;
/// Fewer figures than this in that time prove nothing.
const FEWEST: usize = 3;

/// Watches the figures of one range.
#[derive(Clone, Debug)]
pub struct Steady {
    range: Range,
    /// Figures since the display last jumped, with their times in seconds.
    run: Vec<(f64, Shown)>,
    /// What stood when watching began, or was last taken; moving away from it arms.
    left: Option<Shown>,
    armed: bool,
}

/// How a figure stands among those before it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Standing {
    /// Taken now: it stood for a second, and had moved before.
    pub taken: Option<Shown>,
    /// It stands, though it may not have moved.
    pub stands: bool,
}

impl Steady {
    /// Nothing read yet on a range.
    pub fn new(range: Range) -> Self {
        Self { range, run: Vec::new(), left: None, armed: false }
    }

    /// Takes in a figure.
    ///
    /// # Arguments
    /// `at` in seconds, of any clock that does not go back.
    pub fn push(&mut self, at: f64, shown: Shown) -> Standing {
        if self.run.first().is_some_and(|(_, first)| !self.alike(*first, shown)) {
            self.run.clear();
        }
        self.run.push((at, shown));
        match self.left {
            None => self.left = Some(shown),
            Some(left) if !self.alike(left, shown) => self.armed = true,
            Some(_) => {}
        }
        let since = self.run.first().map_or(at, |(first, _)| *first);
        let stands = at - since >= STANDS_SECONDS && self.run.len() >= FEWEST;
        let taken = (stands && self.armed).then(|| self.mean());
        if let Some(taken) = taken {
            self.armed = false;
            self.left = Some(taken);
        }
        Standing { taken, stands }
    }

    fn mean(&self) -> Shown {
        let figures: Vec<f64> = self.run.iter().filter_map(|(_, s)| s.figure()).collect();
        match figures.len() {
            0 => Shown::OverRange,
            n => Shown::Figure(figures.iter().sum::<f64>() / n as f64),
        }
    }

    /// Whether two figures differ by no more than a meter's noise on this range.
    fn alike(&self, one: Shown, other: Shown) -> bool {
        let (share, floor) = match self.range {
            Range::DcVolts | Range::AcVolts | Range::Diode => (0.004, 0.02),
            Range::Ohms | Range::Continuity => (0.02, 0.15),
            Range::DcAmps => (0.02, 0.02),
        };
        match (one, other) {
            (Shown::Figure(a), Shown::Figure(b)) => {
                (a - b).abs() <= floor + share * a.abs().max(b.abs())
            }
            (one, other) => one == other,
        }
    }
}
