//! Chance with a seed, for tests: the mixing of splitmix64.

/// A stream of random numbers.
pub struct Dice(pub u64);

impl Dice {
    /// A number below so many.
    pub fn roll(&mut self, sides: usize) -> usize {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ z >> 30).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ z >> 27).wrapping_mul(0x94d0_49bb_1331_11eb);
        ((z ^ z >> 31) % sides.max(1) as u64) as usize
    }

    /// One of a list.
    pub fn of<'a, T>(&mut self, list: &'a [T]) -> &'a T {
        &list[self.roll(list.len())]
    }
}
