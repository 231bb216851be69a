//! The fault dictionary of one situation: what every suspect would make the machine show in one
//! condition with one set-up, in every way in which it may be wired.
//!
//! Each wiring is a [`Block`] of its own, for most faults are felt nowhere and are then what the sound
//! machine of the same wiring shows.

use super::block::{Affairs, Block};
use super::kept::locked;
use super::predictor::{Predicted, Shown};
use super::situation::Situation;
use crate::circuit::{Circuit, Crank, Relays};
use crate::diagnosis::evidence::Probe;
use crate::diagnosis::faults::Scenario;
use std::collections::HashMap;
use std::sync::{Arc, Mutex, OnceLock};

/// A machine in one of its wirings, and what may be wrong with it then.
#[derive(Clone, Debug)]
pub(crate) struct Wired {
    circuit: Arc<Circuit>,
    scenarios: Arc<[Scenario]>,
    /// Where its scenarios stand among those of all wirings.
    first: usize,
}

impl Wired {
    /// Every wiring of a machine.
    ///
    /// # Arguments
    /// `scenarios` are those of all wirings, one after the other.
    pub fn all(circuit: &Arc<Circuit>, scenarios: &Arc<[Scenario]>) -> Vec<Self> {
        if circuit.wirings.len() < 2 {
            let (circuit, scenarios) = (Arc::clone(circuit), Arc::clone(scenarios));
            return vec![Self { circuit, scenarios, first: 0 }];
        }
        let of = |wiring: usize, own: &[Scenario]| {
            let first = own.first().map_or(0, |sound| sound.sound);
            let scenarios = own.iter().map(|s| s.within(first)).collect();
            Self { circuit: Arc::new(circuit.wired_as(wiring)), scenarios, first }
        };
        let blocks = scenarios.chunk_by(|one, other| one.sound == other.sound);
        blocks.enumerate().map(|(wiring, own)| of(wiring, own)).collect()
    }
}

#[derive(Debug)]
pub(crate) struct FaultDictionary {
    blocks: Vec<Block>,
    /// What is put together from more than one of them.
    shown: OnceLock<Arc<[Shown]>>,
    sights: Mutex<HashMap<Probe, Arc<[Predicted]>>>,
}

impl FaultDictionary {
    /// A dictionary for which nothing is solved yet. `running` are the relays to start from.
    pub fn new(wirings: &[Wired], situation: &Situation, running: Option<Arc<[Relays]>>) -> Self {
        let block = |wired: &Wired| {
            let whole = wirings.len() == 1;
            let own = |all: &Arc<[Relays]>| match whole {
                true => Arc::clone(all),
                false => all[wired.first..wired.first + wired.scenarios.len()].into(),
            };
            Block::new(&wired.circuit, &wired.scenarios, situation, running.as_ref().map(own))
        };
        Self {
            blocks: wirings.iter().map(block).collect(),
            shown: OnceLock::new(),
            sights: Mutex::default(),
        }
    }

    /// A dictionary of scenarios of a machine as it is drawn, or that change all that differs.
    pub fn of_scenarios(
        circuit: &Arc<Circuit>,
        scenarios: &Arc<[Scenario]>,
        situation: &Situation,
        running: Option<Arc<[Relays]>>,
    ) -> Self {
        Self {
            blocks: vec![Block::new(circuit, scenarios, situation, running)],
            shown: OnceLock::new(),
            sights: Mutex::default(),
        }
    }

    /// What is noticed under every scenario.
    pub fn shown(&self) -> Arc<[Shown]> {
        if let [only] = &self.blocks[..] {
            return only.shown();
        }
        let all = || self.blocks.iter().flat_map(|b| b.shown().to_vec()).collect();
        self.shown.get_or_init(all).clone()
    }

    /// How relays, fuses and the starter stand under every scenario: two of one wiring that stand
    /// otherwise are different states of affairs. None where nothing that moves by itself can be seen at a
    /// probe.
    pub fn affairs(&self, probe: Probe) -> Option<Arc<[Affairs]>> {
        if let [only] = &self.blocks[..] {
            return only.affairs(probe);
        }
        let each: Vec<_> = self.blocks.iter().map(|b| b.affairs(probe)).collect();
        if each.iter().all(Option::is_none) {
            return None;
        }
        let still: Affairs = (Default::default(), Crank::No);
        let of = |(block, affairs): (&Block, Option<Arc<[Affairs]>>)| {
            affairs.map_or_else(|| vec![still; block.len()], |own| own.to_vec())
        };
        Some(self.blocks.iter().zip(each).flat_map(of).collect())
    }

    /// What a probe shows under every scenario; kept from then on.
    pub fn sight(&self, probe: Probe) -> Arc<[Predicted]> {
        if let [only] = &self.blocks[..] {
            return only.sight(probe);
        }
        if let Some(known) = locked(&self.sights).get(&probe) {
            return Arc::clone(known);
        }
        let all: Arc<[_]> = self.blocks.iter().flat_map(|b| b.sight(probe).to_vec()).collect();
        locked(&self.sights).entry(probe).or_insert(all).clone()
    }

    /// What probes show under every scenario; what is not kept yet is worked out together.
    pub fn look(&self, probes: &[Probe]) -> HashMap<Probe, Arc<[Predicted]>> {
        if let [only] = &self.blocks[..] {
            return only.look(probes);
        }
        let each: Vec<_> = self.blocks.iter().map(|b| b.look(probes)).collect();
        let of = |probe: &Probe| each.iter().flat_map(|own| own[probe].to_vec()).collect();
        probes.iter().map(|probe| (*probe, of(probe))).collect()
    }

    /// The battery's volts at rest that a scenario was solved with.
    pub fn emf(&self, scenario: &Scenario) -> f64 {
        self.blocks[0].emf(scenario)
    }

    /// What it takes, in bytes.
    pub fn bytes(&self) -> usize {
        let sights = locked(&self.sights).values().map(|s| size_of_val(&**s)).sum::<usize>();
        let shown = self.shown.get().map_or(0, |s| size_of_val(&**s));
        self.blocks.iter().map(Block::bytes).sum::<usize>() + sights + shown
    }

    /// Lets go of all that can be worked out again, but for what is noticed.
    pub fn forget(&self) {
        locked(&self.sights).clear();
        self.blocks.iter().for_each(Block::forget);
    }
}
