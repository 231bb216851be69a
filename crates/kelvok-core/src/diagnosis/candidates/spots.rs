//! What a test shows under every column. Most faults are nowhere near where it is made, and show what
//! the sound machine does: each answer is kept once, and for every column which one it is.

use super::spot::Spot;
use std::collections::HashMap;
use std::hash::{BuildHasherDefault, Hasher};

#[derive(Clone, Debug)]
pub(crate) struct Spots {
    each: Box<[Spot]>,
    which: Which,
}

/// Which of the answers each scenario gives.
#[derive(Clone, Debug)]
enum Which {
    Few(Box<[u8]>),
    Many(Box<[u16]>),
    /// A different one each.
    Own,
}

/// Two floats' bits mixed: nobody outside chooses them.
#[derive(Default)]
struct Mixed(u64);

impl Hasher for Mixed {
    fn finish(&self) -> u64 {
        self.0
    }

    fn write(&mut self, bytes: &[u8]) {
        for byte in bytes {
            self.write_u64(u64::from(*byte));
        }
    }

    fn write_u64(&mut self, bits: u64) {
        self.0 = (self.0 ^ bits).wrapping_mul(0x9e37_79b9_7f4a_7c15);
        self.0 ^= self.0 >> 32;
    }
}

impl Spots {
    pub fn of(all: impl Iterator<Item = Spot>) -> Self {
        let mut each: Vec<Spot> = Vec::new();
        let mut which: Vec<u32> = Vec::with_capacity(all.size_hint().0);
        let mut known: HashMap<u64, u32, BuildHasherDefault<Mixed>> = HashMap::default();
        let bits = |s: Spot| u64::from(s.at.to_bits()) << 32 | u64::from(s.half.to_bits());
        let mut sound = None;
        for spot in all {
            let key = bits(spot);
            if sound == Some(key) {
                which.push(0);
                continue;
            }
            sound.get_or_insert(key);
            let place = *known.entry(key).or_insert_with(|| {
                each.push(spot);
                each.len() as u32 - 1
            });
            which.push(place);
        }
        let which = if each.len() <= 1 << 8 {
            Which::Few(which.into_iter().map(|w| w as u8).collect())
        } else if each.len() <= 1 << 16 {
            Which::Many(which.into_iter().map(|w| w as u16).collect())
        } else {
            each = which.into_iter().map(|w| each[w as usize]).collect();
            Which::Own
        };
        Self { each: each.into(), which }
    }

    /// What a scenario gives.
    pub fn at(&self, scenario: usize) -> Spot {
        match &self.which {
            Which::Few(which) => self.each[usize::from(which[scenario])],
            Which::Many(which) => self.each[usize::from(which[scenario])],
            Which::Own => self.each[scenario],
        }
    }

    pub fn iter(&self) -> impl Iterator<Item = Spot> + '_ {
        let scenarios = match &self.which {
            Which::Few(which) => which.len(),
            Which::Many(which) => which.len(),
            Which::Own => self.each.len(),
        };
        (0..scenarios).map(|scenario| self.at(scenario))
    }

    /// What it takes, in bytes.
    pub fn bytes(&self) -> usize {
        size_of_val(&*self.each)
            + match &self.which {
                Which::Few(which) => size_of_val(&**which),
                Which::Many(which) => size_of_val(&**which),
                Which::Own => 0,
            }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_scenario_gives_what_was_put_in() {
        for different in [1, 3, 256, 257, 70_000] {
            let put =
                |i: usize| Spot { at: (i % different) as f32, half: (i % different) as f32 / 2.0 };
            let spots = Spots::of((0..80_000).map(put));
            assert!(spots.iter().eq((0..80_000).map(put)), "{different}");
            let rebuilt = Spots::of(spots.iter());
            assert_eq!(rebuilt.bytes(), spots.bytes());
        }
    }
}
