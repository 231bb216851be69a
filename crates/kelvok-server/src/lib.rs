//! Kelvok over HTTP: the API under `/api/v1`, and the web application beside it.
//!
//! One module a resource; one error type, [`problem::Problem`], mapped to a response in one place.

mod app;
mod assets;
mod attachment;
mod bench;
mod bodies;
mod circuits;
mod describe;
mod desk;
mod diagnosis;
mod drawing;
mod evidence;
mod gate;
mod health;
mod input;
mod jobs;
mod listen;
mod lists;
mod machines;
mod meters;
mod people;
mod problem;
mod reference;
mod router;
mod stories;
mod sweeps;
mod trace;
mod unreadable;
mod verdicts;
mod views;

pub use app::{App, Settings};
pub use circuits::ROOM;
pub use router::{openapi, serve};
