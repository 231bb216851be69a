//! Rows as they lie in the tables. Nothing outside this crate sees them.

pub mod bench_entry;
pub mod bench_switch;
pub mod evidence;
pub mod harness_trace;
pub mod instrument_lease;
pub mod job;
pub mod machine;
pub mod machine_revision;
pub mod named_condition;
pub mod person;
pub mod release_entry;
pub mod soak_entry;
pub mod switch_profile;
pub mod trace_entry;
pub mod verdict;
