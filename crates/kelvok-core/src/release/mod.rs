//! Before the machine goes back: the fewest things to try that show every interlock to work, the order that
//! takes the least, what was found, and what stands in the way.
//!
//! A fault that breaks a duty is exposed by a [`Step`] where a person sees otherwise than on the machine as it
//! should be. The [`ReleasePlan`] is an exact cover of all such faults, found by branch and bound; a
//! [`ReleaseEntry`] is what was seen at a step, and [`ReleaseStanding`] what is still to do and what blocks.

mod entry;
mod exposure;
mod killed;
mod order;
mod plan;
mod routes;
mod smallest;
mod standing;
mod step;

pub use entry::{Recorded, ReleaseEntry, TriedStep};
pub use exposure::{ExposedFault, Exposure, exposure};
pub use killed::{CauseOpen, KillCause, Killed};
pub use plan::{PlannedStep, ReleasePlan, Unexposed};
pub use smallest::{Cover, smallest_cover};
pub use standing::{AskedAgain, Blocker, ReleaseStanding, StepResult, fuses_read};
pub use step::{Act, Saw, Step};
