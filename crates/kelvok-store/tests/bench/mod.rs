//! A database of a test's own, and what is put into it.
#![allow(dead_code)]

use kelvok_core::circuit::{Engine, Instrument, Reading};
use kelvok_core::diagnosis::{Entry, ObservationEntry, Source};
use kelvok_database::{Database, Durability};
use kelvok_store::{Job, NewJob, Store};
use std::path::PathBuf;
use uuid::Uuid;

/// A database of a test's own, removed when it ends.
pub struct Workbench {
    pub database: Database,
    pub directory: PathBuf,
}

impl Workbench {
    pub fn new(durability: Durability) -> Self {
        let directory = std::env::temp_dir().join(format!("kelvok-{}", Uuid::now_v7().simple()));
        let database = Database::start(&directory, durability).expect("MariaDB");
        Self { database, directory }
    }

    pub async fn store(&self) -> Store {
        Store::open(&self.database.url()).await.expect("a store")
    }
}

impl Drop for Workbench {
    fn drop(&mut self) {
        self.database.stop();
        let _ = std::fs::remove_dir_all(&self.directory);
    }
}

pub async fn job(store: &Store) -> Job {
    let revision = store.save_machine("test", "{}").await.expect("a machine");
    store
        .open_job(NewJob {
            id: Uuid::now_v7(),
            revision_id: revision.id,
            tag: "Orchard 3".to_owned(),
            owner: "Somebody".to_owned(),
            complaint: "Silent.".to_owned(),
            ..NewJob::default()
        })
        .await
        .expect("a job")
}

pub fn reading(volts: f64) -> Entry {
    Entry {
        condition: [("key".to_owned(), "start".to_owned())].into(),
        engine: Engine::Stopped,
        set_up: Vec::new(),
        observation: ObservationEntry::Reading {
            instrument: Instrument::Voltmeter,
            red: "key.S".to_owned(),
            black: "battery.-".to_owned(),
            reading: Reading::Volts(volts),
            typed: volts.to_string(),
        },
        repeats: 1,
        source: Source::Tested,
        at_times: false,
        times_an_hour: None,
        celsius: None,
        idle: false,
    }
}
