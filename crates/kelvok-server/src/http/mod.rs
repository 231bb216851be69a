//! HTTP itself: connections, what every request passes, what comes in and what goes out. Nothing here
//! knows a job or a machine.

pub mod assets;
pub mod attachment;
pub mod bodies;
pub mod describe;
pub mod gate;
pub mod input;
pub mod listen;
pub mod lists;
pub mod problem;
