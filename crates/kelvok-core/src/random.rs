//! Chance with a seed: the same seed gives the same trial on any machine and any number of cores.

/// A stream of random numbers (splitmix64: Steele, Lea and Flood, 2014).
#[derive(Clone, Debug)]
pub struct Random {
    state: u64,
}

impl Random {
    pub fn new(seed: u64) -> Self {
        Self { state: seed }
    }

    /// A stream of its own for the case of a machine: cases do not depend on their order.
    pub fn for_case(seed: u64, machine: &str, case: u64) -> Self {
        let hash = machine.bytes().fold(0xcbf2_9ce4_8422_2325u64, |hash, byte| {
            (hash ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3)
        });
        let mut mixed = Self::new(seed ^ hash);
        let start = mixed.bits() ^ case.wrapping_mul(0x9e37_79b9_7f4a_7c15);
        Self::new(start)
    }

    fn bits(&mut self) -> u64 {
        self.state = self.state.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.state;
        z = (z ^ z >> 30).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ z >> 27).wrapping_mul(0x94d0_49bb_1331_11eb);
        z ^ z >> 31
    }

    /// Zero to one.
    pub fn share(&mut self) -> f64 {
        (self.bits() >> 11) as f64 / (1u64 << 53) as f64
    }

    /// Whether something of this chance happens.
    pub fn happens(&mut self, chance: f64) -> bool {
        self.share() < chance
    }

    pub fn between(&mut self, low: f64, high: f64) -> f64 {
        low + (high - low) * self.share()
    }

    /// Equally likely in every decade.
    pub fn log_between(&mut self, low: f64, high: f64) -> f64 {
        self.between(low.ln(), high.ln()).exp()
    }

    /// Normal, by Box and Muller.
    pub fn normal(&mut self, mean: f64, deviation: f64) -> f64 {
        let radius = (-2.0 * (1.0 - self.share()).ln()).sqrt();
        mean + deviation * radius * (std::f64::consts::TAU * self.share()).cos()
    }

    /// An index below `count`, which must not be zero.
    pub fn index(&mut self, count: usize) -> usize {
        ((self.share() * count as f64) as usize).min(count - 1)
    }

    /// An index with chances in proportion to weights.
    pub fn weighted(&mut self, weights: &[f64]) -> usize {
        let mut left = self.share() * weights.iter().sum::<f64>();
        let found = weights.iter().position(|w| {
            left -= w;
            left < 0.0
        });
        found.unwrap_or(weights.len() - 1)
    }
}
