//! A switch with its log and its machine, for whoever answers a question about it.

use super::profiles::library;
use crate::app::App;
use crate::circuits::Compiled;
use crate::problem::Problem;
use kelvok_core::bench::{Bench, BenchEntry, Profile};
use kelvok_store::{BenchSwitch, LogEntry};
use std::sync::Arc;
use uuid::Uuid;

pub struct Loaded {
    pub switch: BenchSwitch,
    pub log: Vec<LogEntry<BenchEntry>>,
    pub bench: Bench,
    /// Every profile that is known.
    pub kinds: Vec<Profile>,
    pub compiled: Option<Arc<Compiled>>,
}

impl Loaded {
    pub async fn get(app: &App, id: Uuid) -> Result<Self, Problem> {
        let switch = app.store.bench_switch(id).await?;
        let log = app.store.bench_entries(id).await?;
        let compiled = match &switch.head.machine {
            None => None,
            Some(machine) => {
                let revision = app.store.revision(machine.revision_id).await?;
                Some(app.circuits.of(&revision)?)
            }
        };
        let standing = log.iter().filter(|e| e.voided.is_none()).map(|e| &e.body);
        let bench = Bench::of(switch.head.subject.clone(), standing);
        let bench = bench.ok_or_else(Problem::internal)?;
        Ok(Self { kinds: library(app).await?, switch, log, bench, compiled })
    }

    /// The entries that stand, in order.
    pub fn standing(&self) -> impl Iterator<Item = &BenchEntry> {
        self.log.iter().filter(|e| e.voided.is_none()).map(|e| &e.body)
    }

    /// Whether it is taken for the machine's own switch: what it does, the machine does.
    pub fn is_the_machines(&self) -> bool {
        let head = &self.switch.head;
        head.replaces.is_some() && head.replaces == head.subject.profile
    }
}
