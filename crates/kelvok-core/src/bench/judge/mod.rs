//! A switch on the bench against what it should do.

mod bench;
mod complete;
mod consequence;
mod findings;
mod leads;
mod linkage;
mod log;
mod operations;
mod poles;
mod subject;
mod travel;

pub use bench::{Bench, Next, SwitchVerdict};
pub use complete::{Expected, next_cell};
pub use consequence::Consequence;
pub use findings::{Finding, FindingKind, findings};
pub use leads::{Leads, LeadsVerdict};
pub use linkage::{LinkageVerdict, linkage_verdict};
pub use log::{BenchEntry, Way, WorkedBy};
pub use operations::{Operated, miss_rate_below, operations_for};
pub use poles::{Pole, PoleKind, poles};
pub use subject::Subject;
pub use travel::{Band, Stroke, Travel, travel};
