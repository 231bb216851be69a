//! Whether to replace now or to test on.

/// Replacing a unit now against testing on, in money. What both come to in the end, fitting the
/// part that is bad, is left out.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Choice {
    /// The chance that it is this unit.
    pub chance: f64,
    /// What fitting it costs: part and time.
    pub fitting: f64,
    /// What testing on costs: time to a verdict.
    pub testing: f64,
    /// What is lost on average by replacing now: the fitting where it was not this, and then the
    /// testing after all.
    pub replace_now: f64,
    /// What is lost by testing first: the testing.
    pub test_first: f64,
}

/// Fitting a part is followed by trying the machine, in minutes.
const RECHECK_MINUTES: f64 = 2.0;

impl Choice {
    /// The arithmetic.
    ///
    /// # Arguments
    /// `price` of the part; `fit` and `test` in minutes, to fit it and to reach a verdict by
    /// testing; `rate` is what an hour of the shop costs, in the money of the price.
    pub fn of(chance: f64, price: f64, fit: f64, test: f64, rate: f64) -> Self {
        let fitting = price + (fit + RECHECK_MINUTES) / 60.0 * rate;
        let testing = test / 60.0 * rate;
        let replace_now = (1.0 - chance) * (fitting + testing);
        Self { chance, fitting, testing, replace_now, test_first: testing }
    }

    /// Whether replacing now costs less.
    pub fn favors_replacing(&self) -> bool {
        self.replace_now < self.test_first
    }
}
