//! A store with so much room. What was not asked for lately goes first.

use std::collections::HashMap;
use std::hash::Hash;
use std::sync::{Mutex, MutexGuard, PoisonError};

pub(crate) const MEGABYTE: usize = 1 << 20;

/// The lock of something kept; whoever panicked with it left nothing half done.
pub(crate) fn locked<T>(kept: &Mutex<T>) -> MutexGuard<'_, T> {
    kept.lock().unwrap_or_else(PoisonError::into_inner)
}

#[derive(Debug)]
pub(crate) struct Kept<K, V> {
    all: HashMap<K, (V, u64)>,
    askings: u64,
}

impl<K, V> Default for Kept<K, V> {
    fn default() -> Self {
        Self { all: HashMap::new(), askings: 0 }
    }
}

impl<K: Hash + Eq + Clone, V: Clone> Kept<K, V> {
    /// What is kept under a key.
    pub fn get(&mut self, key: &K) -> Option<V> {
        self.askings += 1;
        let (kept, asked) = self.all.get_mut(key)?;
        *asked = self.askings;
        Some(kept.clone())
    }

    pub fn insert(&mut self, key: K, value: V) {
        self.askings += 1;
        self.all.insert(key, (value, self.askings));
    }

    /// What all of it takes, in bytes.
    pub fn bytes(&self, takes: impl Fn(&V) -> usize) -> usize {
        self.all.values().map(|(value, _)| takes(value)).sum()
    }

    /// Lets go of what may go, what was asked for the longest ago first, until the rest takes no more
    /// room than this, in bytes; the last one stays.
    pub fn trim(&mut self, room: usize, takes: impl Fn(&V) -> usize, may_go: impl Fn(&V) -> bool) {
        let mut taken = self.bytes(&takes);
        if taken <= room {
            return;
        }
        let may_go = self.all.iter().filter(|(_, (value, _))| may_go(value));
        let mut order: Vec<_> = may_go.map(|(key, (_, asked))| (*asked, key.clone())).collect();
        order.sort_unstable_by_key(|(asked, _)| *asked);
        order.pop();
        for (_, key) in order {
            if taken <= room {
                return;
            }
            if let Some((value, _)) = self.all.remove(&key) {
                // A value may have grown since it was counted.
                taken = taken.saturating_sub(takes(&value));
            }
        }
    }

    /// Those kept, the one asked for the longest ago first.
    pub fn oldest_first(&self) -> Vec<&V> {
        let mut order: Vec<_> = self.all.values().collect();
        order.sort_unstable_by_key(|(_, asked)| *asked);
        order.into_iter().map(|(value, _)| value).collect()
    }

    pub fn clear(&mut self) {
        self.all.clear();
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_asked_for_stays_and_the_rest_goes() {
        let mut kept = Kept::default();
        for key in 0..100 {
            kept.insert(key, key);
            assert_eq!(kept.get(&0), Some(0), "asked for all the while");
            kept.trim(10, |_| 1, |_| true);
        }
        assert_eq!(kept.get(&50), None);
        assert_eq!(kept.get(&99), Some(99));
        assert_eq!(kept.bytes(|_| 1), 10);
        kept.trim(0, |_| 1, |key| *key == 0);
        assert_eq!(kept.bytes(|_| 1), 10, "what may not go stays");
        kept.trim(0, |_| 1, |_| true);
        assert_eq!(kept.bytes(|_| 1), 1, "the last one stays");
    }
}
