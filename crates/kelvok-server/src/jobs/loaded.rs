//! A job with its circuit and its log, as whoever answers a question about it needs it.

use crate::app::App;
use crate::http::problem::Problem;
use crate::views::unreadable::UnreadableView;
use crate::work::compiled::Compiled;
use crate::work::desk::Size;
use kelvok_core::circuit::Circuit;
use kelvok_core::diagnosis::{Entry, Evidence, SetUp, jumper_on, off_since};
use kelvok_core::fuses::Fitted;
use kelvok_core::release::{Recorded, ReleaseEntry, fuses_read};
use kelvok_store::{Job, LogEntry, Readable};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;
use uuid::Uuid;

/// A job's row, circuit and evidence, for whoever answers a question about it.
pub(crate) struct Loaded {
    pub job: Job,
    pub compiled: Arc<Compiled>,
    pub evidence: Readable<LogEntry<Entry>>,
    /// The fuses that were read.
    pub fitted: Vec<Fitted>,
}

impl Loaded {
    pub async fn get(app: &App, id: Uuid) -> Result<Self, Problem> {
        let job = app.store.job(id).await?;
        let compiled = app.circuits.in_shop(app, job.revision_id, id).await?;
        let evidence = app.store.evidence(id).await?;
        let recorded: Vec<_> = recorded(&app.store.release_entries(id).await?);
        let read = fuses_read(compiled.circuit(), &recorded).into_iter();
        let fitted = read.filter_map(|(part, amps)| Some(Fitted { part, amps: amps? })).collect();
        Ok(Self { job, compiled, evidence, fitted })
    }

    pub fn standing(&self) -> impl Iterator<Item = &LogEntry<Entry>> {
        self.evidence.iter().filter(|e| e.voided.is_none())
    }

    /// What was not voided, in the circuit's terms. What this machine has no name for any more
    /// counts for nothing.
    pub fn log(&self) -> Vec<Evidence> {
        let circuit = self.compiled.circuit();
        let resolved = self.standing().map(|e| e.body.resolve(circuit, e.sequence as u64));
        resolved.filter_map(Result::ok).collect()
    }

    /// What was taken off for a test, and is not back on.
    pub fn still_off(&self) -> Vec<SetUp> {
        off(self.compiled.circuit(), &self.evidence).into_iter().map(|(what, _)| what).collect()
    }

    /// Whether jumper cables hang on the battery.
    pub fn jumper_on(&self) -> bool {
        jumper_on(&self.log())
    }

    /// Entries that count for nothing, and why.
    pub fn unreadable(&self) -> Vec<UnreadableView> {
        let circuit = self.compiled.circuit();
        let unnamed = self.standing().filter_map(|e| {
            let error = e.body.resolve(circuit, e.sequence as u64).err()?;
            Some(UnreadableView { place: Some(e.sequence), why: format!("{error}.") })
        });
        self.evidence.unreadable.iter().map(UnreadableView::of).chain(unnamed).collect()
    }

    /// A question about this job as it is now, by what it is and all that its answer depends on.
    pub fn question(&self, asked: impl std::fmt::Debug) -> String {
        let mut state = DefaultHasher::new();
        for entry in &*self.evidence {
            (entry.sequence, entry.voided.is_some()).hash(&mut state);
        }
        for Fitted { part, amps } in &self.fitted {
            (part, amps.to_bits()).hash(&mut state);
        }
        let machine = Arc::as_ptr(&self.compiled) as usize;
        format!("{} {machine:x} {:x} {asked:?}", self.job.id, state.finish())
    }

    pub fn size(&self) -> Size {
        self.compiled.size()
    }
}

/// What a log leaves off, each with the entry that first had it so.
pub(crate) fn off<'e>(
    circuit: &Circuit,
    evidence: &'e [LogEntry<Entry>],
) -> Vec<(SetUp, &'e LogEntry<Entry>)> {
    let all = evidence.iter().filter_map(|e| e.body.resolve(circuit, e.sequence as u64).ok());
    let by = |sequence: u64| evidence.iter().find(|e| e.sequence as u64 == sequence);
    off_since(&all.collect::<Vec<_>>())
        .into_iter()
        .filter_map(|(what, sequence)| Some((what, by(sequence)?)))
        .collect()
}

/// What was recorded of a release and not taken back.
pub(crate) fn recorded(entries: &Readable<LogEntry<ReleaseEntry>>) -> Vec<Recorded> {
    let standing = entries.iter().filter(|e| e.voided.is_none());
    standing.map(|e| Recorded { sequence: e.sequence as u64, entry: e.body.clone() }).collect()
}
