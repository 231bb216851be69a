//! The fault dictionaries of one machine, worked out when first asked for and kept.

use super::dictionary::{FaultDictionary, Wired};
use super::kept::{Kept, MEGABYTE, locked};
use super::running::running_relays;
use super::situation::Situation;
use crate::circuit::{Circuit, Relays};
use crate::diagnosis::faults::Suspects;
use std::sync::{Arc, Mutex, OnceLock};

/// Shared by whoever diagnoses the machine, however likely each holds each fault.
#[derive(Debug, Default)]
pub(crate) struct Dictionaries {
    kept: Mutex<Kept<Situation, Arc<FaultDictionary>>>,
    /// The machine in each of its wirings.
    wirings: OnceLock<Vec<Wired>>,
    /// The relays as ordinary starting leaves them, by scenario.
    running: OnceLock<Arc<[Relays]>>,
}

/// Room in bytes: an afternoon's readings in a hundred situations of an ordinary machine.
const ROOM: usize = 96 * MEGABYTE;

impl Dictionaries {
    /// The dictionary of a situation.
    pub fn of_situation(
        &self,
        circuit: &Arc<Circuit>,
        suspects: &Suspects,
        situation: &Situation,
    ) -> Arc<FaultDictionary> {
        let kept = locked(&self.kept).get(situation);
        kept.unwrap_or_else(|| {
            self.make_room();
            let running = situation.runs().then(|| self.running(circuit, suspects));
            let wirings = || Wired::all(circuit, &suspects.scenarios);
            let wirings = self.wirings.get_or_init(wirings);
            let new = FaultDictionary::new(wirings, situation, running);
            let mut all = locked(&self.kept);
            // Whoever came first: nothing is solved for it twice.
            all.get(situation).unwrap_or_else(|| {
                let new = Arc::new(new);
                all.insert(situation.clone(), new.clone());
                new
            })
        })
    }

    /// Lets go of operating points, then of whole dictionaries, that were not asked for lately. One
    /// that a catalog holds stays, with what is noticed in it.
    fn make_room(&self) {
        let mut all = locked(&self.kept);
        let mut taken = all.bytes(|d| d.bytes());
        if taken <= ROOM {
            return;
        }
        for dictionary in all.oldest_first() {
            if taken <= ROOM / 2 {
                break;
            }
            let before = dictionary.bytes();
            dictionary.forget();
            // Others may be solving for it meanwhile.
            taken = taken.saturating_sub(before.saturating_sub(dictionary.bytes()));
        }
        all.trim(ROOM / 2, |d| d.bytes(), |d| Arc::strong_count(d) == 1);
    }

    /// What is kept, in bytes.
    pub fn bytes(&self) -> usize {
        locked(&self.kept).bytes(|d| d.bytes())
    }

    /// Lets go of everything; it is worked out again when asked for.
    pub fn forget(&self) {
        locked(&self.kept).clear();
    }

    /// The relays as ordinary starting leaves them, by scenario.
    pub fn running(&self, circuit: &Circuit, suspects: &Suspects) -> Arc<[Relays]> {
        let running = || running_relays(circuit, &suspects.scenarios).into();
        self.running.get_or_init(running).clone()
    }
}
