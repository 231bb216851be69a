//! Columns of two faults at once, and dictionaries of them.

use crate::circuit::{Circuit, Relays};
use crate::diagnosis::faults::{Scenario, Suspects};
use crate::diagnosis::predict::{FaultDictionary, Situation, running_relays};
use std::collections::HashMap;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

/// Scenarios of two faults each, and dictionaries of them. The first is the sound machine's.
#[derive(Debug)]
pub(crate) struct Pairs {
    scenarios: Arc<[Scenario]>,
    dictionaries: Mutex<HashMap<Situation, Arc<FaultDictionary>>>,
    running: OnceLock<Arc<[Relays]>>,
}

impl Clone for Pairs {
    fn clone(&self) -> Self {
        let dictionaries = self.dictionaries.lock().unwrap_or_else(PoisonError::into_inner).clone();
        Self {
            scenarios: self.scenarios.clone(),
            dictionaries: Mutex::new(dictionaries),
            running: self.running.clone(),
        }
    }
}

impl Default for Pairs {
    fn default() -> Self {
        Self::of(Vec::new())
    }
}

impl Pairs {
    /// Pairs with these scenarios, the sound machine's before them.
    pub fn of(scenarios: Vec<Scenario>) -> Self {
        Self {
            scenarios: scenarios.into(),
            dictionaries: Mutex::default(),
            running: OnceLock::new(),
        }
    }

    pub fn scenarios(&self) -> &[Scenario] {
        &self.scenarios
    }

    /// A scenario, counted on from those of the suspects.
    pub fn scenario<'a>(&'a self, suspects: &'a Suspects, scenario: usize) -> &'a Scenario {
        match scenario.checked_sub(suspects.scenarios.len()) {
            Some(pair) => &self.scenarios[pair],
            None => &suspects.scenarios[scenario],
        }
    }

    /// The pairs' dictionary of a situation, worked out now or before.
    pub fn dictionary(
        &self,
        circuit: &Arc<Circuit>,
        situation: &Situation,
    ) -> Option<Arc<FaultDictionary>> {
        if self.scenarios.is_empty() {
            return None;
        }
        let running = || running_relays(circuit, &self.scenarios).into();
        let running = situation.runs().then(|| self.running.get_or_init(running).clone());
        let mut all = self.dictionaries.lock().unwrap_or_else(PoisonError::into_inner);
        let new = || {
            let own = FaultDictionary::of_scenarios(circuit, &self.scenarios, situation, running);
            Arc::new(own)
        };
        Some(all.entry(situation.clone()).or_insert_with(new).clone())
    }
}
