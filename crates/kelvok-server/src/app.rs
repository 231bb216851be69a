//! What handlers share.

use super::circuits::Circuits;
use kelvok_store::Store;
use std::sync::Arc;

/// What the server is told from outside.
#[derive(Clone, Debug, Default)]
pub struct Settings {
    /// Host names it answers to beside those of loopback.
    pub hosts: Vec<String>,
    /// Addresses of meters it may dial beside those on loopback: `host:port`.
    pub meters: Vec<String>,
}

/// What handlers share. Nothing here outlives a restart: the database has the state, and the
/// circuits are compiled from revisions that never change.
#[derive(Clone)]
pub struct App {
    pub(crate) store: Store,
    pub(crate) circuits: Arc<Circuits>,
    pub(crate) settings: Arc<Settings>,
}

impl App {
    pub fn new(store: Store, settings: Settings) -> Self {
        Self { store, circuits: Circuits::shared(), settings: Arc::new(settings) }
    }
}
