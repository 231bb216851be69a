//! How good the diagnosis is: machines with seeded troubles, found by every strategy with the same
//! virtual mechanic, paired case by case.

mod case;
mod causes;
mod charging;
mod drops;
mod loads;
mod machine;
mod mechanic;
mod misdrawn;
mod optimum;
mod release;
mod run;
mod starters;
mod summary;
mod supply;
mod surroundings;
mod tracing;
mod universe;
mod world;
mod yard;

pub use case::Faults;
pub use causes::{CauseTried, try_causes};
pub use charging::{ChargingTried, try_charging};
pub use drops::{DropsTried, try_drops};
pub use loads::{LoadTried, try_loads};
pub use machine::TrialMachine;
pub use mechanic::Outcome;
pub use misdrawn::{Misdrawn, try_misdrawn};
pub use optimum::{Reduced, against_optimum};
pub use release::{ReleaseTried, try_releases};
pub use run::{Options, try_machine};
pub use starters::{StarterTried, try_starters};
pub use summary::{Interval, Summary, saving, wilson};
pub use supply::{BatteryTried, try_batteries};
pub use surroundings::Surroundings;
pub use tracing::{
    Known, Miswired, TraceOutcome, miswire, ohms_between, trace_machine, try_tracing,
};
