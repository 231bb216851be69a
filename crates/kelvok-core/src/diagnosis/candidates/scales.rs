//! What tests tell, by situation, as far as it was worked out: with it a complaint near one that was
//! planned for before needs nothing solved.

use super::scale::Scale;
use crate::diagnosis::evidence::TestAction;
use crate::diagnosis::predict::{Kept, MEGABYTE, Situation, locked};
use std::collections::HashMap;
use std::sync::{Arc, Mutex};

/// Scales of one situation, by what is done in it.
pub(crate) type Scales = Arc<HashMap<TestAction, Arc<Scale>>>;

#[derive(Debug, Default)]
pub(crate) struct KnownScales(Mutex<Kept<Situation, Scales>>);

const ROOM: usize = 48 * MEGABYTE;

fn bytes(scales: &Scales) -> usize {
    scales.values().map(|scale| scale.bytes()).sum()
}

impl KnownScales {
    pub fn of(&self, situation: &Situation) -> Scales {
        locked(&self.0).get(situation).unwrap_or_default()
    }

    pub fn keep(&self, situation: Situation, scales: Scales) {
        let mut kept = locked(&self.0);
        kept.insert(situation, scales);
        kept.trim(ROOM, bytes, |_| true);
    }

    /// What is kept, in bytes.
    pub fn bytes(&self) -> usize {
        locked(&self.0).bytes(bytes)
    }

    pub fn forget(&self) {
        locked(&self.0).clear();
    }
}
