//! kill -9 while readings come in: what was acknowledged is there, once.

use super::program::{Dice, On, Program};
use anyhow::{Context, ensure};
use kelvok_core::machine::LIBRARY;
use kelvok_database::{Database, Durability};
use serde_json::{Value, json};
use std::collections::{BTreeMap, BTreeSet};
use std::sync::{Arc, Mutex};
use std::time::Duration;
use uuid::Uuid;

/// Hands that record at once.
const HANDS: usize = 4;

/// What the hands share: where the server is now, and what it acknowledged.
#[derive(Default)]
struct Shared {
    address: String,
    acknowledged: BTreeMap<Uuid, i64>,
    over: bool,
}

fn reading(id: Uuid, hand: usize) -> Value {
    json!({"id": id, "by": format!("Hand {hand}"), "condition": {"key": "start", "pedal": "down"},
        "observed": {"kind": "reading", "instrument": "voltmeter", "red": "battery.+",
            "black": "battery.-", "typed": "12.5"}})
}

/// Records one reading after the other; each is sent until it is answered for good.
async fn hand(n: usize, job: Uuid, shared: Arc<Mutex<Shared>>) -> usize {
    let client = reqwest::Client::builder().timeout(Duration::from_secs(10)).build();
    let client = client.expect("a client");
    let (mut id, mut sent) = (Uuid::now_v7(), 0);
    loop {
        let (address, over) = {
            let shared = shared.lock().expect("no hand panics");
            (shared.address.clone(), shared.over)
        };
        if over {
            return sent;
        }
        let request = client.post(format!("{address}/api/v1/jobs/{job}/evidence"));
        let request = request.header("origin", &address).json(&reading(id, n));
        sent += 1;
        match request.send().await {
            Ok(answer) if answer.status() == 200 => {
                if let Ok(view) = answer.json::<Value>().await {
                    let sequence = view["sequence"].as_i64().unwrap_or(-1);
                    shared.lock().expect("no hand panics").acknowledged.insert(id, sequence);
                    id = Uuid::now_v7();
                }
            }
            Ok(answer) if answer.status() != 503 => {
                panic!("{}: {}", answer.status(), answer.text().await.unwrap_or_default());
            }
            _ => tokio::time::sleep(Duration::from_millis(20)).await,
        }
    }
}

pub async fn run(times: usize) -> anyhow::Result<()> {
    let directory = tempfile::Builder::new().prefix("kelvok").tempdir()?;
    let mut database = Database::start(directory.path(), Durability::Full)?;
    let url = database.url();
    let mut program = Program::start(On::Database(&url)).await?;
    let document: Value = serde_json::from_str(LIBRARY[0].text)?;
    let (_, kept) = program.post("/machines", &document).await?;
    let job = Uuid::now_v7();
    let open = json!({"id": job, "revision_id": kept["revision_id"], "complaint": "Silent."});
    let (status, answer) = program.post("/jobs", &open).await?;
    ensure!(status == 200, "{answer}");
    let shared =
        Arc::new(Mutex::new(Shared { address: program.address.clone(), ..Shared::default() }));
    let hands: Vec<_> = (0..HANDS).map(|n| tokio::spawn(hand(n, job, shared.clone()))).collect();
    let mut dice = Dice(1);
    let (mut with_database, mut failed) = (0, 0);
    for round in 0..times {
        tokio::time::sleep(Duration::from_millis(40 + dice.below(500))).await;
        program.kill()?;
        if round % 3 == 0 {
            with_database += 1;
            database.kill();
            database.resume()?;
        }
        loop {
            match Program::start(On::Database(&url)).await {
                Ok(started) => break program = started,
                Err(error) => {
                    failed += 1;
                    eprintln!("a start failed: {error:#}");
                }
            }
        }
        shared.lock().expect("no hand panics").address.clone_from(&program.address);
    }
    tokio::time::sleep(Duration::from_millis(500)).await;
    shared.lock().expect("no hand panics").over = true;
    let mut sent = 0;
    for hand in hands {
        sent += hand.await?;
    }
    let view = program.get(&format!("/jobs/{job}")).await?;
    let entries = view["evidence"].as_array().context("a log")?;
    let mut there = BTreeMap::new();
    for entry in entries {
        let id: Uuid = entry["id"].as_str().context("an id")?.parse()?;
        there.entry(id).or_insert_with(Vec::new).push(entry["sequence"].as_i64().unwrap_or(-1));
    }
    let acknowledged = &shared.lock().expect("no hand panics").acknowledged;
    let lost = acknowledged.iter().filter(|(id, at)| there.get(id).is_none_or(|s| !s.contains(at)));
    let lost = lost.count();
    let places: BTreeSet<_> = there.values().flatten().collect();
    let doubled = entries.len() - there.len() + (entries.len() - places.len());
    println!(
        "{times} kills, {with_database} with the database: {sent} requests, {} readings acknowledged, \
         {lost} lost, {doubled} doubled, {failed} failed starts",
        acknowledged.len()
    );
    ensure!(lost + doubled + failed == 0, "not what it must be");
    Ok(())
}
