//! The longest answer there is, asked for until it is there.

#[path = "../../../kelvok-core/tests/library/large.rs"]
mod large;

use super::program::{On, Program};
use anyhow::ensure;
use reqwest::StatusCode;
use serde_json::Value;
use std::time::{Duration, Instant};

/// The fault sheet of a machine with so many harnesses.
pub async fn run(harnesses: usize) -> anyhow::Result<()> {
    let directory = tempfile::Builder::new().prefix("kelvok").tempdir()?;
    let program = Program::start(On::Directory(directory.path())).await?;
    let text = large::large(harnesses);
    let (status, kept) = program.post("/machines", &serde_json::from_str(&text)?).await?;
    ensure!(status == StatusCode::OK, "{status}: {kept}");
    let sheet = format!(
        "{}/api/v1/machines/{}/faults",
        program.address,
        kept["name"].as_str().unwrap_or_default()
    );
    let began = Instant::now();
    let (mut asked, mut share, mut slowest) = (0, 0.0, Duration::ZERO);
    let rows = loop {
        asked += 1;
        let one = Instant::now();
        let answer = program.client.get(&sheet).send().await?;
        slowest = slowest.max(one.elapsed());
        let status = answer.status();
        let body: Value = answer.json().await?;
        if status == StatusCode::OK {
            break body["rows"].as_array().map_or(0, Vec::len);
        }
        ensure!(status == StatusCode::ACCEPTED, "{status}: {body}");
        let now = body["share"].as_f64().unwrap_or(-1.0);
        ensure!(now >= share, "it went back from {share} to {now}");
        share = now;
    };
    let (held, most) = program.memory()?;
    println!(
        "fault sheet of {} kB, {rows} rows: {:.0} s, asked {asked} times, the longest answer {:.1} s; \
         {held:.0} MB held, {most:.0} at most",
        text.len() / 1000,
        began.elapsed().as_secs_f64(),
        slowest.as_secs_f64()
    );
    ensure!(rows > 0 && slowest < Duration::from_secs(6), "not what it must be");
    Ok(())
}
