//! How often a fault shows that comes and goes: a rate that is not known but by what was told and seen
//! (Gamma for a Poisson count: Gelman and others, *Bayesian Data Analysis*, 2.6).

use super::entry::Told;
use serde::Serialize;

/// What somebody tells counts for this share of what was seen.
const TOLD_COUNTS: f64 = 0.5;
/// Before anything is told: half a time (Jeffreys) in an hour, so vague that an hour's telling goes over it.
const SHAPE: f64 = 0.5;
const HOURS: f64 = 0.5;

/// A rate, as a Gamma distribution.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Rate {
    /// Times, told and seen, by what they count.
    pub times: f64,
    /// In so many hours.
    pub hours: f64,
}

impl Rate {
    /// By what was told.
    pub fn told(told: &Told) -> Self {
        Self {
            times: SHAPE + TOLD_COUNTS * f64::from(told.times),
            hours: HOURS + TOLD_COUNTS * told.hours * told.share,
        }
    }

    /// After it was seen so often in so many hours.
    pub fn seen(self, times: usize, hours: f64) -> Self {
        Self { times: self.times + times as f64, hours: self.hours + hours }
    }

    /// Times an hour, on the average.
    pub fn an_hour(&self) -> f64 {
        self.times / self.hours
    }

    /// The chance that it keeps quiet for so long, if it is there.
    pub fn quiet_for(&self, hours: f64) -> f64 {
        (self.hours / (self.hours + hours.max(0.0))).powf(self.times)
    }

    /// For how many hours it must keep quiet so that this is the chance of it.
    pub fn quiet_until(&self, chance: f64) -> f64 {
        self.hours * (chance.powf(-1.0 / self.times) - 1.0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn quiet_is_worth_more_the_more_often_it_happened() {
        let told = |times, hours| Rate::told(&Told { times, hours, share: 1.0 });
        let (often, seldom) = (told(8, 2.0), told(2, 20.0));
        assert!(often.quiet_for(1.0) < 0.2 && seldom.quiet_for(1.0) > 0.8);
        for rate in [often, seldom] {
            for chance in [0.5, 0.05, 0.01] {
                assert!((rate.quiet_for(rate.quiet_until(chance)) - chance).abs() < 1e-9);
            }
        }
        // Four times in five hours, half of them on rough ground: twice an hour there, or so.
        let half = Rate::told(&Told { times: 4, hours: 5.0, share: 0.5 });
        assert!((1.2..1.7).contains(&half.an_hour()), "{}", half.an_hour());
        assert!(half.seen(3, 1.0).an_hour() > half.an_hour());
    }
}
