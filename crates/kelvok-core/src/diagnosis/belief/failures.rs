//! How often what comes and goes shows, and what silence is worth.

/// How often what comes and goes shows while the engine runs: failures in minutes, as a Gamma
/// distribution of their rate.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Failures {
    count: f64,
    minutes: f64,
}

impl Default for Failures {
    /// Nothing was said: once in a quarter of an hour, or far from it.
    fn default() -> Self {
        Self { count: 1.0, minutes: 15.0 }
    }
}

impl Failures {
    /// So many an hour were told of: worth an hour of watching.
    pub fn said(an_hour: f64) -> Self {
        let unsaid = Self::default();
        Self { count: unsaid.count + an_hour, minutes: unsaid.minutes + 60.0 }
    }

    /// The chance that it does not show for so long, though it is there: the rate unknown.
    pub fn silent_for(self, minutes: f64) -> f64 {
        (self.minutes / (self.minutes + minutes)).powf(self.count)
    }
}

#[cfg(test)]
mod tests {
    use super::Failures;

    #[test]
    fn silence_is_worth_more_where_it_was_seen_often() {
        let (unsaid, often) = (Failures::default(), Failures::said(10.0));
        assert!((unsaid.silent_for(0.0) - 1.0).abs() < 1e-12);
        assert!((unsaid.silent_for(15.0) - 0.5).abs() < 1e-12, "one more quarter of an hour");
        assert!(often.silent_for(30.0) < 0.05, "{}", often.silent_for(30.0));
        assert!(often.silent_for(30.0) < unsaid.silent_for(30.0));
    }
}
