//! A store that forgets what was not asked for lately.

use std::collections::HashMap;
use std::hash::Hash;

/// What was put in or asked for lately is young; the rest is old, and goes when the young fill up.
#[derive(Debug)]
pub(super) struct Generations<K, V> {
    young: HashMap<K, V>,
    old: HashMap<K, V>,
}

impl<K, V> Default for Generations<K, V> {
    fn default() -> Self {
        Self { young: HashMap::new(), old: HashMap::new() }
    }
}

impl<K: Hash + Eq + Clone, V: Clone> Generations<K, V> {
    /// What is kept under a key; it is young again.
    pub fn get(&mut self, key: &K) -> Option<V> {
        if let Some(kept) = self.young.get(key) {
            return Some(kept.clone());
        }
        let (key, kept) = self.old.remove_entry(key)?;
        self.young.insert(key, kept.clone());
        Some(kept)
    }

    /// Puts something in. Where the young take half the room there is, the old are let go, and
    /// these are old from now on.
    ///
    /// # Arguments
    /// `takes` is the room that a value takes, `room` what there is for young and old together.
    pub fn insert(&mut self, key: K, value: V, room: usize, takes: impl Fn(&V) -> usize) {
        if self.young.len() > room / 2 || self.young.values().map(takes).sum::<usize>() > room / 2 {
            self.old = std::mem::take(&mut self.young);
        }
        self.young.insert(key, value);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_asked_for_stays_and_the_rest_goes() {
        let mut kept = Generations::default();
        for key in 0..100 {
            kept.insert(key, key, 10, |_| 1);
            assert_eq!(kept.get(&0), Some(0), "asked for all the while");
        }
        assert_eq!(kept.get(&50), None);
        assert_eq!(kept.get(&99), Some(99));
        assert!(kept.young.len() + kept.old.len() <= 12);
    }
}
