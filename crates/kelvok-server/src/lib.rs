//! Kelvok over HTTP: the API under `/api/v1`, and the web application beside it.
//!
//! Rooms: [`http`] (connections, what comes in and goes out; one error type, mapped to a response in
//! one place), [`work`] (heavy questions, machines kept ready), [`views`] (what several send), and a
//! room a resource.

mod app;
mod bench;
mod http;
mod jobs;
mod machines;
mod meters;
mod router;
mod shop;
mod views;
mod work;

pub use app::{App, Settings};
pub use router::{openapi, serve};
pub use work::compiled::ROOM;
