//! A server of a test's own, on a real MariaDB, with the library and a job in it.
#![allow(dead_code)]

use kelvok_core::machine::LIBRARY;
use kelvok_database::{Database, Durability};
use kelvok_server::{App, Settings, serve};
use kelvok_store::{NewJob, Store};
use reqwest::header::{HeaderValue, ORIGIN};
use reqwest::{Client, Response, StatusCode};
use serde_json::Value;
use std::path::PathBuf;
use tokio::net::TcpListener;
use tokio::sync::oneshot;
use uuid::Uuid;

pub struct Server {
    pub database: Database,
    directory: PathBuf,
    pub address: String,
    pub client: Client,
    pub job: Uuid,
    pub store: Store,
    stop: Option<oneshot::Sender<()>>,
}

impl Server {
    pub async fn start() -> Self {
        Self::with(Settings::default()).await
    }

    /// With the shop's meters listed.
    pub async fn with_meters(meters: &[&str]) -> Self {
        let meters = meters.iter().map(|m| (*m).to_owned()).collect();
        Self::with(Settings { meters, ..Settings::default() }).await
    }

    pub async fn with(settings: Settings) -> Self {
        let directory = std::env::temp_dir().join(format!("kelvok-{}", Uuid::now_v7().simple()));
        let database = Database::start(&directory, Durability::Relaxed).expect("MariaDB");
        let store = Store::open(&database.url()).await.expect("a store");
        store.add_person("Maren").await.expect("a person");
        let mut revision = None;
        for shipped in LIBRARY {
            let saved = store.save_machine(shipped.name, shipped.text).await.expect("a machine");
            revision.get_or_insert(saved.id);
        }
        let job = Uuid::now_v7();
        store
            .open_job(NewJob {
                id: job,
                revision_id: revision.expect("the library is not empty"),
                tag: "Orchard 3".to_owned(),
                owner: String::new(),
                complaint: "Silent.".to_owned(),
                ..NewJob::default()
            })
            .await
            .expect("a job");
        let listener = TcpListener::bind("127.0.0.1:0").await.expect("a port");
        let address = format!("http://{}", listener.local_addr().expect("bound"));
        let (stop, stopped) = oneshot::channel();
        let app = App::new(store.clone(), settings);
        tokio::spawn(serve(app, listener, async {
            let _ = stopped.await;
        }));
        let own = HeaderValue::from_str(&address).expect("a header");
        let client = Client::builder().default_headers([(ORIGIN, own)].into_iter().collect());
        let client = client.build().expect("a client");
        Self { database, directory, address, client, job, store, stop: Some(stop) }
    }

    /// Asks again for as long as the answer is being worked out.
    pub async fn get(&self, path: &str) -> Response {
        loop {
            let request = self.client.get(format!("{}{path}", self.address));
            let response = request.send().await.expect("an answer");
            if response.status() != StatusCode::ACCEPTED {
                return response;
            }
        }
    }

    pub async fn json(&self, path: &str) -> Value {
        self.get(path).await.json().await.expect("JSON")
    }

    pub async fn post(&self, path: &str, body: &Value) -> (StatusCode, Value) {
        loop {
            let request = self.client.post(format!("{}{path}", self.address)).json(body);
            let response = request.send().await.expect("an answer");
            if response.status() != StatusCode::ACCEPTED {
                return (response.status(), response.json().await.unwrap_or(Value::Null));
            }
        }
    }

    pub fn job_path(&self, rest: &str) -> String {
        format!("/api/v1/jobs/{}{rest}", self.job)
    }

    pub async fn record(&self, body: &Value) -> (StatusCode, Value) {
        self.post(&self.job_path("/evidence"), body).await
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        if let Some(stop) = self.stop.take() {
            let _ = stop.send(());
        }
        self.database.stop();
        let _ = std::fs::remove_dir_all(&self.directory);
    }
}
