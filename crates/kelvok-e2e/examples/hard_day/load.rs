//! Under load: how soon it ends, and how much it keeps.

use super::program::{On, Program};
use anyhow::{Context, ensure};
use kelvok_core::machine::LIBRARY;
use serde_json::{Value, json};
use std::time::{Duration, Instant};
use uuid::Uuid;

/// A job on a library machine that goes by another model.
async fn job(program: &Program, n: usize) -> anyhow::Result<(Uuid, String)> {
    let mut document: Value = serde_json::from_str(LIBRARY[n % LIBRARY.len()].text)?;
    let model = document["identity"]["model"].as_str().context("a model")?;
    document["identity"]["model"] = format!("{model} no {n}").into();
    let (status, kept) = program.post("/machines", &document).await?;
    ensure!(status == 200, "{kept}");
    let id = Uuid::now_v7();
    let open = json!({"id": id, "revision_id": kept["revision_id"], "complaint": "It quits."});
    let (status, answer) = program.post("/jobs", &open).await?;
    ensure!(status == 200, "{answer}");
    Ok((id, kept["name"].as_str().context("a name")?.to_owned()))
}

/// SIGTERM while every hand is at work and more waits: the server and its database end.
pub async fn stops(times: usize) -> anyhow::Result<()> {
    let directory = tempfile::Builder::new().prefix("kelvok").tempdir()?;
    let mut longest = Duration::ZERO;
    for round in 0..times {
        let mut program = Program::start(On::Directory(directory.path())).await?;
        let mut jobs = Vec::new();
        for n in 0..6 {
            jobs.push(job(&program, n).await?);
        }
        let mut asks = Vec::new();
        for (job, name) in jobs {
            for path in [format!("/jobs/{job}/forecast"), format!("/machines/{name}/faults")] {
                let client = program.client.clone();
                let at = format!("{}/api/v1{path}", program.address);
                asks.push(tokio::spawn(async move { client.get(at).send().await.map(|_| ()) }));
            }
        }
        tokio::time::sleep(Duration::from_millis(300 + 150 * (round as u64 % 10))).await;
        let took = program.terminate()?;
        longest = longest.max(took);
        for ask in asks {
            ask.abort();
        }
        let pid = directory.path().join("m.pid");
        ensure!(!pid.exists(), "its database is still there");
    }
    println!("{times} times SIGTERM under load: the longest took {:.1} s", longest.as_secs_f64());
    ensure!(longest < Duration::from_secs(10), "not what it must be");
    Ok(())
}

/// Machines worked on one after the other: a job heard, its plan, track and sweeps, the sheet.
pub async fn machines(count: usize) -> anyhow::Result<()> {
    let directory = tempfile::Builder::new().prefix("kelvok").tempdir()?;
    let program = Program::start(On::Directory(directory.path())).await?;
    let began = Instant::now();
    let mut most = 0f64;
    for n in 0..count {
        let (job, name) = job(&program, n).await?;
        program.get(&format!("/jobs/{job}/diagnosis")).await?;
        let note = json!({"id": Uuid::now_v7(), "by": "Maren", "condition": {},
            "observed": {"kind": "note", "text": "Quits when hot."}});
        program.post(&format!("/jobs/{job}/evidence"), &note).await?;
        for rest in ["diagnosis", "sweeps"] {
            program.get(&format!("/jobs/{job}/{rest}")).await?;
        }
        // The longest of all questions now and then.
        if n % 10 == 0 {
            program.get(&format!("/jobs/{job}/forecast")).await?;
        }
        program.get(&format!("/machines/{name}/faults")).await?;
        let (now, peak) = program.memory()?;
        most = peak;
        if n % 10 == 9 {
            let kept = program.get("/health").await?["kept_megabytes"].as_f64().unwrap_or(0.0);
            eprintln!(
                "{:3} machines: {now:.0} MB held, {kept:.0} of them counted, {peak:.0} at most",
                n + 1
            );
        }
    }
    let (now, _) = program.memory()?;
    println!(
        "{count} machines worked on in {:.0} s: {now:.0} MB held, {most:.0} MB at most",
        began.elapsed().as_secs_f64()
    );
    ensure!(most < 1000.0, "not what it must be");
    Ok(())
}
