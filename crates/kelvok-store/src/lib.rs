//! Jobs, machines, evidence, verdicts and switches on the bench, in MariaDB.
//!
//! Evidence and verdicts are append-only: a mistake is voided with a reason, never erased. Ids come
//! from the client (UUIDv7), so a retry never doubles an entry; their order is a sequence a job,
//! given inside the transaction. One repository a concept, all reached through [`Store`]. A row that
//! cannot be read is told as such beside those that can; nothing else fails for it.

mod backup;
mod bench;
mod conditions;
mod derived;
mod entities;
mod error;
mod formats;
mod instruments;
mod jobs;
mod log;
mod machines;
mod migrations;
mod moment;
mod people;
mod releases;
mod revisions;
mod rows;
mod search;
mod soaks;
mod store;
mod stories;
mod switch_profiles;
mod temporary;
mod traces;

pub use backup::{Kept, backup, restore};
pub use bench::{BenchHead, BenchSwitch, MachinePart};
pub use conditions::NamedCondition;
pub use error::StoreError;
pub use instruments::LEASE_SECONDS;
pub use jobs::{Job, JobChange, JobDigest, JobStatus, JobsHad, JobsOf, NewJob};
pub use log::{LogEntry, Verdict, Void, Voided};
pub use machines::{Machine, MachineLine, Made, Revision, RevisionHead};
pub use migrations::Migrator;
pub use moment::recordable;
pub use revisions::RevisionLine;
pub use rows::{Readable, Unreadable};
pub use search::{Listed, PAGE, Wanted};
pub use soaks::timed;
pub use store::Store;
pub use stories::Story;
pub use switch_profiles::KeptProfile;
pub use traces::HarnessTrace;
