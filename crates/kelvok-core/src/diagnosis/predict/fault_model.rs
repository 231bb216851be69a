//! A machine, what may be wrong with it, and what each of that would show.

use super::dictionaries::Dictionaries;
use super::dictionary::FaultDictionary;
use super::situation::Situation;
use crate::charging::{ChargingSystem, charging_system};
use crate::circuit::{Circuit, Condition, Relays};
use crate::diagnosis::evidence::{Evidence, SetUp};
use crate::diagnosis::faults::Suspects;
use std::sync::{Arc, OnceLock};

/// Cheap to clone; all clones share what is worked out.
#[derive(Clone, Debug)]
pub(crate) struct FaultModel {
    pub circuit: Arc<Circuit>,
    pub suspects: Arc<Suspects>,
    dictionaries: Arc<Dictionaries>,
    charging: Arc<OnceLock<Option<Arc<ChargingSystem>>>>,
}

impl FaultModel {
    pub fn new(
        circuit: Arc<Circuit>,
        suspects: Arc<Suspects>,
        dictionaries: Arc<Dictionaries>,
    ) -> Self {
        Self { circuit, suspects, dictionaries, charging: Arc::default() }
    }

    /// What charges the machine's battery.
    pub fn charging(&self) -> Option<Arc<ChargingSystem>> {
        let own = || charging_system(&self.circuit).map(Arc::new);
        self.charging.get_or_init(own).clone()
    }

    /// What every scenario shows in a situation.
    pub fn dictionary(&self, situation: &Situation) -> Arc<FaultDictionary> {
        self.dictionaries.of_situation(&self.circuit, &self.suspects, situation)
    }

    /// The same of a condition with a set-up.
    pub fn dictionary_at(&self, condition: &Condition, set_up: &[SetUp]) -> Arc<FaultDictionary> {
        self.dictionary(&Situation::new(condition, set_up))
    }

    /// The same of where an entry of the log was made.
    pub fn dictionary_of(&self, entry: &Evidence) -> Arc<FaultDictionary> {
        self.dictionary_at(&entry.condition, &entry.set_up)
    }

    /// The relays as ordinary starting leaves them, by scenario.
    pub fn running(&self) -> Arc<[Relays]> {
        self.dictionaries.running(&self.circuit, &self.suspects)
    }
}
