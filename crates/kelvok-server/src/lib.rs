//! Kelvok over HTTP: the API under `/api/v1`, and the web application beside it.
//!
//! One module a resource; one error type, [`problem::Problem`], mapped to a response in one place.

mod app;
mod assets;
mod bodies;
mod circuits;
mod diagnosis;
mod drawing;
mod evidence;
mod gate;
mod health;
mod jobs;
mod machines;
mod people;
mod problem;
mod reference;
mod router;
mod trace;
mod verdicts;
mod views;

pub use app::{App, Settings};
pub use router::{openapi, serve};
