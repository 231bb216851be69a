//! From the complaint on: statements, sweeps, strategies and stories over HTTP.

mod server;

use kelvok_core::circuit::FaultMode;
use kelvok_core::machine::SiteKind;
use kelvok_store::{JobStatus, NewJob, Store, Verdict};
use reqwest::StatusCode;
use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

fn entry(observed: Value) -> Value {
    json!({
        "id": Uuid::now_v7(), "by": "Maren",
        "condition": {"key": "start", "pedal": "down"},
        "observed": observed,
    })
}

fn heard(heard: &str) -> Value {
    entry(json!({"kind": "heard", "heard": heard}))
}

fn units(list: &Value) -> Vec<&str> {
    list.as_array().unwrap().iter().filter_map(|e| e["unit"]["id"].as_str()).collect()
}

#[tokio::test]
async fn statements_rule_switches_out_contradict_and_are_noted() {
    let server = Server::start().await;
    let mut told = heard("silent");
    told["source"] = json!("told");
    assert_eq!(server.record(&told).await.0, 200);
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    let out = units(&diagnosis["excluded"]);
    assert!(out.contains(&"seat") && out.contains(&"reverse"), "{out:?}");
    assert_eq!(diagnosis["excluded"][0]["reasons"][0]["would_show"], Value::Null);
    assert_eq!(diagnosis["reproduce"]["cautions"], json!(["may-crank"]), "told is not yet heard");
    let looks = diagnosis["walk_round"].as_array().unwrap();
    assert!(looks.len() > 3 && looks.iter().all(|l| l["action"]["kind"] == "look"));

    assert_eq!(server.record(&heard("cranks")).await.0, 200);
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    assert_eq!(diagnosis["contradictions"], json!([{"one": 1, "other": 2}]));

    let worked = json!({"kind": "worked-on", "unit": "seat", "work": "jumped"});
    assert_eq!(server.record(&entry(worked)).await.0, 200);
    let nothing = json!({"kind": "worked-on", "unit": "sail", "work": "jumped"});
    assert_eq!(server.record(&entry(nothing)).await.0, 422);
    assert_eq!(server.record(&entry(json!({"kind": "note", "text": "Belt frayed"}))).await.0, 200);
    let (status, problem) = server.record(&entry(json!({"kind": "note", "text": " "}))).await;
    assert_eq!((status.as_u16(), &problem["errors"][0]["field"]), (422, &json!("text")));
}

#[tokio::test]
async fn a_reading_that_fits_nothing_is_asked_about() {
    let server = Server::start().await;
    server.record(&heard("silent")).await;
    let volts = |red: &str, typed: &str| {
        entry(json!({
            "kind": "reading", "instrument": "voltmeter",
            "red": red, "black": "battery.-", "typed": typed,
        }))
    };
    for (red, typed) in [
        ("battery.+", "12.58"),
        ("brake-plug.A", "12.56"),
        ("brake-plug.B", "0.02"),
        ("pto-plug.A", "0.02"),
    ] {
        assert_eq!(server.record(&volts(red, typed)).await.0, 200);
    }
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    assert_eq!(diagnosis["misfit"], Value::Null);
    let (_, wrong) = server.record(&volts("trigger-tab.T", "12.55")).await;
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    assert_eq!(diagnosis["misfit"]["sequence"], wrong["sequence"]);
    let ways = diagnosis["misfit"]["explanations"].as_array().unwrap();
    assert!(ways.iter().any(|w| w["kind"] == "wrong-point"), "{ways:?}");
}

#[tokio::test]
async fn a_measurement_of_ones_own_is_weighed_before_it_is_taken() {
    let server = Server::start().await;
    server.record(&heard("silent")).await;
    let own = |instrument: &str, red: &str, set_up: Value| {
        json!({
            "condition": {"key": "start", "pedal": "down"}, "set_up": set_up,
            "instrument": instrument, "red": red, "black": "battery.-",
        })
    };
    let path = server.job_path("/own-test");
    let (status, weighed) = server.post(&path, &own("voltmeter", "brake-plug.B", json!([]))).await;
    assert_eq!(status, 200, "{weighed}");
    assert_eq!((&weighed["dangers"], &weighed["sound"]["kind"]), (&json!([]), &json!("volts")));
    assert_eq!(weighed["test"]["cautions"], json!(["may-crank"]));
    assert!(weighed["test"]["answers"].as_array().unwrap().len() > 1, "{weighed}");
    assert!(weighed["test"]["minutes"].as_f64().unwrap() > 0.0);
    let (_, weighed) = server.post(&path, &own("ohmmeter", "brake-plug.B", json!([]))).await;
    assert_eq!(weighed["dangers"], json!(["live-circuit"]));

    let off = json!([{"kind": "unplugged", "connector": "brake-plug"}]);
    assert_eq!(server.post(&path, &own("ohmmeter", "brake.start-in", off)).await.0, 200);
    for (instrument, red, set_up, field) in [
        ("ohmmeter", "brake.start-in", json!([]), "red"),
        ("ohmmeter", "sail.A", json!([]), "red"),
        ("voltmeter", "battery.-", json!([]), "black"),
        (
            "voltmeter",
            "battery.+",
            json!([{"kind": "unplugged", "connector": "sail"}]),
            "connector",
        ),
    ] {
        let (status, problem) = server.post(&path, &own(instrument, red, set_up)).await;
        let said = (status.as_u16(), problem["errors"][0]["field"].as_str());
        assert_eq!(said, (422, Some(field)), "{problem}");
    }
    let job = server.json(&server.job_path("")).await;
    let set_ups = job["set_ups"].as_array().unwrap();
    let press = json!({"kind": "pressed-by-hand", "switch": "brake"});
    assert!(set_ups.iter().any(|s| s["entry"] == press), "{set_ups:?}");
}

#[tokio::test]
async fn every_strategy_is_forecast_and_each_orders_its_own_tests() {
    let server = Server::start().await;
    server.record(&heard("silent")).await;
    let path = server.job_path("/forecast?price=12&fit=10&rate=60");
    let forecast = server.json(&path).await;
    let strategies = forecast["strategies"].as_array().unwrap();
    assert_eq!(strategies.len(), 7);
    let minutes: Vec<f64> = strategies.iter().map(|s| s["minutes"].as_f64().unwrap()).collect();
    assert!(minutes.is_sorted() && minutes[0] > 0.0, "{minutes:?}");
    let choice = &forecast["choice"];
    assert_eq!((&choice["price"], &choice["rate"]), (&json!(12.0), &json!(60.0)));
    assert!((choice["fitting"].as_f64().unwrap() - 24.0).abs() < 1e-9, "12 and 12 minutes");
    let refused = server.get(&server.job_path("/forecast?price=-1")).await;
    assert_eq!(refused.status(), 422);

    let first = |strategy: &str| server.job_path(&format!("/diagnosis?strategy={strategy}"));
    let forward = server.json(&first("battery-forward")).await;
    let back = server.json(&first("load-back")).await;
    let red = |d: &Value| d["tests"][0]["action"]["red"]["terminal"].clone();
    assert_ne!(red(&forward), red(&back));
    assert_eq!(forward["suspects"], back["suspects"], "a strategy believes nothing of its own");
    assert_ne!(server.get(&first("astrology")).await.status(), 200);
}

#[tokio::test]
async fn a_sweep_is_walked_and_what_is_found_stands_beside_what_should_be() {
    let server = Server::start().await;
    let sweeps = server.json(&server.job_path("/sweeps")).await;
    assert_eq!(sweeps.as_array().unwrap().len(), 1, "both cylinders hang on one wire");
    let walk = &sweeps[0]["walk"];
    let stands = walk["stands"].as_array().unwrap();
    assert!(stands.len() >= 5 && stands.iter().all(|s| s["found"] == Value::Null));
    let entries: Vec<_> =
        walk["set_up"].as_array().unwrap().iter().map(|s| s["entry"].clone()).collect();
    let record = |stand: &Value, typed: &str, at_times: bool| {
        json!({
            "id": Uuid::now_v7(), "by": "Maren", "condition": stand["condition"],
            "set_up": entries, "at_times": at_times,
            "observed": {
                "kind": "reading", "instrument": "buzzer", "typed": typed,
                "red": walk["red"]["terminal"], "black": walk["black"]["terminal"],
            },
        })
    };
    assert_eq!(server.record(&record(&stands[0], "buzz", false)).await.0, 200);
    // The second should buzz through the seat and the pedal switch.
    assert_eq!(stands[1]["shows"], "buzzes");
    assert_eq!(server.record(&record(&stands[1], "silent", false)).await.0, 200);
    assert_eq!(server.record(&record(&stands[2], "silent", true)).await.0, 200);
    let sweeps = server.json(&server.job_path("/sweeps")).await;
    let found: Vec<_> = sweeps[0]["walk"]["stands"]
        .as_array()
        .unwrap()
        .iter()
        .map(|s| (s["found"]["sign"].as_str(), s["found"]["dead_spot"].as_bool()))
        .collect();
    assert_eq!(found[0], (Some("buzzes"), Some(false)));
    assert_eq!(found[1], (Some("silent"), Some(false)));
    assert_eq!(found[2], (Some("silent"), Some(true)));
    assert_eq!(found[3], (None, None));
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    let first = &diagnosis["suspects"][0]["units"];
    let named: Vec<_> = first.as_array().unwrap().iter().filter_map(|u| u["id"].as_str()).collect();
    let on_the_way =
        ["seat", "brake", "seat-plug", "brake-plug", "w26", "w27", "w28", "seat:linkage"];
    assert!(named.iter().any(|n| on_the_way.contains(n)), "{named:?}");
}

#[tokio::test]
async fn a_story_goes_out_and_comes_back_the_same() {
    let server = Server::start().await;
    let mut told = heard("silent");
    told["source"] = json!("told");
    told["at_times"] = json!(true);
    told["times_an_hour"] = json!(2.0);
    server.record(&told).await;
    let (_, wrong) = server.record(&heard("cranks")).await;
    let void = json!({"by": "Maren", "reason": "Mistyped; \"twice\""});
    let path = server.job_path(&format!("/evidence/{}/void", wrong["id"].as_str().unwrap()));
    assert_eq!(server.post(&path, &void).await.0, 200);
    server.record(&entry(json!({"kind": "note", "text": "Belt frayed, left"}))).await;
    let ran = |minutes: f64, engine: &str| {
        let mut ran = entry(json!({"kind": "ran", "minutes": minutes}));
        ran["engine"] = json!(engine);
        ran["condition"] = json!({"key": "run"});
        ran
    };
    assert_eq!(server.record(&ran(40.0, "running")).await.0, 200);
    for (wrong, field) in [(ran(0.0, "running"), "minutes"), (ran(5.0, "stopped"), "engine")] {
        let (status, problem) = server.record(&wrong).await;
        assert_eq!((status.as_u16(), &problem["errors"][0]["field"]), (422, &json!(field)));
    }
    let keep = json!({"id": Uuid::now_v7(), "by": "Maren", "units": ["key"]});
    assert_eq!(server.post(&server.job_path("/verdicts"), &keep).await.0, 200);

    let job = server.json(&server.job_path("")).await;
    let machines = server.json("/api/v1/machines").await;
    let same = |m: &&Value| m["model"] == job["model"];
    let revision =
        machines["machines"].as_array().unwrap().iter().find(same).unwrap()["revision_id"].clone();
    let json_text = server.get(&server.job_path("/story.json")).await.text().await.unwrap();
    let csv_text = server.get(&server.job_path("/story.csv")).await.text().await.unwrap();
    let story: Value = serde_json::from_str(&json_text).unwrap();
    assert_eq!(story["entries"].as_array().unwrap().len(), 4);

    for text in [&json_text, &csv_text] {
        let id = Uuid::now_v7();
        let body = json!({"id": id, "revision_id": revision, "text": text, "by": "Ilse"});
        let (status, view) = server.post("/api/v1/jobs/stories", &body).await;
        assert_eq!(status, 200, "{view:#}");
        // Sent again, it is there once.
        assert_eq!(server.post("/api/v1/jobs/stories", &body).await.0, 200);
        let path = format!("/api/v1/jobs/{id}/story.json");
        let back: Value = server.json(&path).await;
        assert_eq!(back["entries"], story["entries"]);
        if text == &json_text {
            assert_eq!(back, story);
        }
        // The log goes on from there.
        let path = format!("/api/v1/jobs/{id}/evidence");
        let (status, next) = server.post(&path, &heard("silent")).await;
        assert_eq!(status, 200);
        assert!(next["sequence"].as_i64().unwrap() > 4);
    }

    let bring = |text: &str| json!({"id": Uuid::now_v7(), "revision_id": revision, "text": text, "by": "Ilse"});
    let wrong_unit = json_text.replace("\"key\"\n", "\"sail\"\n");
    let other = json_text.replace("kelvok-story-1", "kelvok-story-9");
    for text in ["{", "a;b\n1;2\n", &wrong_unit, &other, &json_text.replace("pedal", "sail")] {
        let (status, problem) = server.post("/api/v1/jobs/stories", &bring(text)).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{text}");
        assert_eq!(problem["errors"][0]["field"], "text");
    }
    assert_eq!(server.json("/api/v1/jobs").await["total"], 3);
}

/// The shop's own closed jobs shift what is suspected: one a little, ten more.
#[tokio::test]
async fn closed_jobs_shift_the_next_one() {
    let server = Server::start().await;
    let store = Store::connect(&server.database.url()).await.unwrap();
    let suspected = async |job: Uuid| {
        let diagnosis = server.json(&format!("/api/v1/jobs/{job}/diagnosis")).await;
        let rows = diagnosis["suspects"].as_array().unwrap();
        let brake = rows.iter().find(|r| r["units"][0]["id"] == "brake").expect("a row");
        brake["probability"].as_f64().unwrap()
    };
    server.record(&heard("silent")).await;
    let by_the_table = suspected(server.job).await;

    for (red, typed) in [("brake-plug.A", "12.56"), ("brake-plug.B", "0.02")] {
        let mut read = entry(json!({"kind": "reading", "instrument": "voltmeter", "red": red,
            "black": "battery.-", "typed": typed}));
        read["condition"] = json!({"key": "start", "pedal": "down"});
        assert_eq!(server.record(&read).await.0, 200);
    }
    let by_hand = json!({"id": Uuid::now_v7(), "by": "Maren", "condition": {},
        "set_up": [{"kind": "unplugged", "connector": "brake-plug"},
                   {"kind": "pressed-by-hand", "switch": "brake"}],
        "observed": {"kind": "reading", "instrument": "ohmmeter", "red": "brake.start-in",
                     "black": "brake.start-out", "typed": "OL"}});
    let (status, problem) = server.record(&by_hand).await;
    assert_eq!(status, 200, "{problem}");
    let keep = json!({"id": Uuid::now_v7(), "by": "Maren", "units": ["brake"]});
    assert_eq!(server.post(&server.job_path("/verdicts"), &keep).await.0, 200);
    let verdict = store.verdicts(server.job).await.unwrap().rows.remove(0).body;
    assert_eq!(
        (verdict.confirmed, verdict.kind),
        (true, Some((SiteKind::Switch, FaultMode::Open)))
    );

    let first = store.job(server.job).await.unwrap();
    let open = async |close: Option<&Verdict>| {
        let (id, revision_id) = (Uuid::now_v7(), first.revision_id);
        let new = NewJob { id, revision_id, complaint: "Silent.".to_owned(), ..NewJob::default() };
        let job = store.open_job(new).await.unwrap();
        let path = format!("/api/v1/jobs/{id}/evidence");
        assert_eq!(server.post(&path, &heard("silent")).await.0, 200);
        if let Some(verdict) = close {
            store.append_verdict(id, Uuid::now_v7(), "Maren", verdict).await.unwrap();
            let now = store.job(id).await.unwrap().version;
            store.set_status(id, now.max(job.version), JobStatus::Closed).await.unwrap();
        }
        id
    };
    let still_open = open(None).await;
    assert!((suspected(still_open).await - by_the_table).abs() < 1e-9, "no job is closed yet");
    let before = suspected(server.job).await;
    let version = store.job(server.job).await.unwrap().version;
    store.set_status(server.job, version, JobStatus::Closed).await.unwrap();
    let one = suspected(still_open).await;
    let own = suspected(server.job).await;
    assert!((own - before).abs() < 1e-9, "its own verdict does not speak for it");
    assert!(by_the_table < one && one < 1.25 * by_the_table, "{by_the_table} {one}");
    for _ in 0..9 {
        open(Some(&verdict)).await;
    }
    let ten = suspected(still_open).await;
    assert!(ten > 1.3 * by_the_table, "{by_the_table} {one} {ten}");
}
