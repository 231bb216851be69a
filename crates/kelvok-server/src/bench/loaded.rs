//! A switch with its log and its machine, for whoever answers a question about it.

use crate::app::App;
use crate::bench::profiles::library;
use crate::http::problem::Problem;
use crate::work::desk::aside;
use axum::http::StatusCode;
use kelvok_core::bench::{Bench, BenchEntry, Profile};
use kelvok_core::circuit::Circuit;
use kelvok_store::{BenchSwitch, LogEntry, Readable};
use std::sync::Arc;
use uuid::Uuid;

pub struct Loaded {
    pub switch: BenchSwitch,
    pub log: Readable<LogEntry<BenchEntry>>,
    pub bench: Bench,
    /// Every profile that is known.
    pub kinds: Vec<Profile>,
    pub circuit: Option<Arc<Circuit>>,
}

impl Loaded {
    pub async fn get(app: &App, id: Uuid) -> Result<Self, Problem> {
        let switch = app.store.bench_switch(id).await?;
        let log = app.store.bench_entries(id).await?;
        let circuit = match &switch.head.machine {
            None => None,
            Some(machine) => {
                // A machine that cannot be read takes nothing from what was read of the switch.
                match app.circuits.circuit(app, machine.revision_id).await {
                    Err(problem) if problem.status == 503 => return Err(problem),
                    circuit => circuit.ok(),
                }
            }
        };
        let kinds = library(app).await?;
        let loaded = aside(move || {
            let standing = log.iter().filter(|e| e.voided.is_none()).map(|e| &e.body);
            let bench = Bench::of(switch.head.subject.clone(), standing)?;
            Some(Self { kinds, switch, log, bench, circuit })
        });
        let damaged = "What is kept of this switch cannot be. The rest is kept.";
        loaded.await?.ok_or_else(|| Problem::new(StatusCode::CONFLICT, damaged))
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
