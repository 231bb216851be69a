//! What an entry proves, rules out or contradicts, what a point should read, and what a fault may
//! have caused.

mod aftermath;
mod battery;
mod believed;
mod causes;
mod charging;
mod contradictions;
mod drops;
mod excluded;
mod expected;
mod live;
mod loads;
mod misfit;
mod proof;
mod walked;

pub(crate) use aftermath::aftermath;
pub use aftermath::{Aftermath, Cause, PastFuse, Strain};
pub(crate) use battery::seen_of_the_battery;
pub(crate) use causes::checked;
pub use causes::{CauseStanding, Checked};
pub use charging::ChargingRead;
pub use contradictions::contradictions;
pub use drops::DropsRead;
pub(crate) use excluded::excluded;
pub use excluded::{Because, Excluded};
pub use expected::Expected;
pub(crate) use expected::expected;
pub(crate) use live::on_live;
pub use loads::LoadRead;
pub(crate) use misfit::misfit;
pub use misfit::{Explanation, Misfit, Mistake};
pub(crate) use proof::proofs;
pub use proof::{Grade, Proof};
pub use walked::{Found, Lost, found, lost};
