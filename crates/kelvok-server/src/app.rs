//! What handlers share.

use crate::http::problem::Problem;
use crate::meters::Streams;
use crate::work::compiled::{Circuits, ROOM};
use crate::work::desk::{Desk, Reply, Size};
use kelvok_store::Store;
use std::sync::Arc;
use std::time::Duration;

/// What the server is told from outside.
#[derive(Clone, Debug)]
pub struct Settings {
    /// Host names it answers to beside those of loopback.
    pub hosts: Vec<String>,
    /// The shop's meters, `host:port`. No other address is ever dialled.
    pub meters: Vec<String>,
    /// Room for what is worked out of machines and kept, in bytes.
    pub room: usize,
}

impl Default for Settings {
    fn default() -> Self {
        Self { hosts: Vec::new(), meters: Vec::new(), room: ROOM }
    }
}

/// What handlers share. Nothing here outlives a restart: the database has the state, and the
/// circuits are compiled from revisions that never change.
#[derive(Clone)]
pub struct App {
    pub(crate) store: Store,
    pub(crate) circuits: Arc<Circuits>,
    pub(crate) desk: Arc<Desk>,
    pub(crate) streams: Arc<Streams>,
    pub(crate) settings: Arc<Settings>,
}

impl App {
    pub fn new(store: Store, settings: Settings) -> Self {
        Self {
            store,
            circuits: Arc::new(Circuits::with_room(settings.room)),
            desk: Arc::default(),
            streams: Arc::default(),
            settings: Arc::new(settings),
        }
    }

    /// Asks a heavy question, and makes room for what comes next.
    pub(crate) async fn ask<T: Send + Sync + 'static>(
        &self,
        key: String,
        size: Size,
        work: impl FnOnce() -> Result<T, Problem> + Send + 'static,
    ) -> Result<Reply<T>, Problem> {
        let work = self.making_room(work);
        self.desk.ask(key, size, work).await
    }

    /// The same, waiting no longer than `patience`.
    pub(crate) async fn ask_within<T: Send + Sync + 'static>(
        &self,
        patience: Duration,
        key: String,
        size: Size,
        work: impl FnOnce() -> Result<T, Problem> + Send + 'static,
    ) -> Result<Reply<T>, Problem> {
        let work = self.making_room(work);
        self.desk.ask_within(patience, key, size, work).await
    }

    fn making_room<T, W: FnOnce() -> T>(&self, work: W) -> impl FnOnce() -> T + use<T, W> {
        let circuits = self.circuits.clone();
        move || {
            circuits.make_room();
            let answer = work();
            circuits.make_room();
            answer
        }
    }
}
