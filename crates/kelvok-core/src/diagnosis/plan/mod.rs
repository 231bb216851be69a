//! What to do next: the most information a minute, and what that leaves.
//!
//! [`Planning`] is what can be done now with what it costs and tells; each file adds one thing that
//! it is asked.

mod answers;
mod beside;
mod choice;
mod choose;
mod confirm;
mod forecast;
mod forewarn;
mod groups;
mod information;
mod kill_sweep;
mod minded;
mod next_test;
mod order;
mod own_test;
mod planning;
mod recheck;
mod sharpen;
mod stakes;
mod strategy;
mod wirings;

pub use answers::AnswerRange;
pub use choice::Choice;
pub(crate) use choose::Parting;
pub(crate) use forecast::Ahead;
pub use forecast::Forecast;
pub use forewarn::Forewarned;
pub(crate) use forewarn::forewarn;
pub(crate) use kill_sweep::kill_sweep;
pub use kill_sweep::{KillSweep, Sign, Stand};
pub(crate) use minded::minded_at;
pub use next_test::{Answer, Conclusion, NextTest, Plan, Why};
pub(crate) use own_test::weigh;
pub use own_test::{Measurement, Weighed};
pub(crate) use planning::Planning;
pub use strategy::Strategy;
