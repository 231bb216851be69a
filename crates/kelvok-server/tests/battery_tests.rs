//! A battery tested by itself, over HTTP: what it comes to, what is refused, and what the job makes of it.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

async fn test(server: &Server, test: Value) -> (u16, Value) {
    let entry = json!({"id": Uuid::now_v7(), "by": "Maren", "condition": {},
                       "observed": {"kind": "battery-test", "test": test}});
    let (status, answer) = server.record(&entry).await;
    (status.as_u16(), answer)
}

#[tokio::test]
async fn a_battery_is_read_judged_and_taken_back() {
    let server = Server::start().await;
    let path = server.job_path("/battery");
    let empty = server.json(&path).await;
    assert_eq!(empty["standing"]["word"], "unread");
    assert_eq!((&empty["open"], &empty["nominal"]), (&json!(true), &json!(12.0)));
    assert_eq!(empty["crank"]["key"], "start");
    assert!(empty["own_load"]["amps"].as_f64().is_some_and(|amps| amps > 3.0));
    for one in [
        json!({"kind": "label", "cold_amps": 300}),
        json!({"kind": "rest", "volts": 12.6, "hours": 12, "celsius": 20}),
        json!({"kind": "loaded", "volts": 6.2, "amps": 150, "seconds": 15, "celsius": 20}),
        json!({"kind": "loaded", "volts": 6.1, "amps": 150, "seconds": 15, "celsius": 20}),
    ] {
        let (status, answer) = test(&server, one).await;
        assert_eq!(status, 200, "{answer:#}");
    }
    let read = server.json(&path).await;
    assert_eq!(read["standing"]["word"], "worn", "{}", read["standing"]["chances"]);
    let readings = read["readings"].as_array().expect("readings");
    assert_eq!(readings.len(), 4);
    assert_eq!(
        readings[1]["says"],
        "12.60 V at rest, 12 h after it was charged or driven, battery at 68 °F"
    );
    // The job knows: no second telling.
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    let first = &diagnosis["suspects"][0];
    assert_eq!(first["units"][0]["id"], "battery", "{first:#}");
    assert_eq!(diagnosis["test_battery"], Value::Null, "it was tested");
    let job = server.json(&server.job_path("")).await;
    assert_eq!(job["evidence"][1]["says"], readings[1]["says"]);
    // Taken back, it counts no more.
    for reading in &readings[2..] {
        let void = json!({"by": "Maren", "reason": "Undone"});
        let entry = reading["entry"].as_str().expect("an id");
        let (status, _) =
            server.post(&server.job_path(&format!("/evidence/{entry}/void")), &void).await;
        assert_eq!(status.as_u16(), 200);
    }
    let read = server.json(&path).await;
    assert_ne!(read["standing"]["word"], "worn");
    assert_eq!(read["readings"].as_array().map(Vec::len), Some(2));
}

#[tokio::test]
async fn what_cannot_be_meant_is_refused_at_its_field_and_nothing_is_kept() {
    let server = Server::start().await;
    for (one, field, sentence) in [
        (
            json!({"kind": "rest", "volts": 124.0, "hours": 1}),
            "volts",
            "124 V is not the reading of a 12 V battery.",
        ),
        (
            json!({"kind": "rest", "volts": 12.4, "hours": 1, "celsius": -60}),
            "celsius",
            "Batteries are tested between -40 and 60 °C: is -60 in Fahrenheit?",
        ),
        (
            json!({"kind": "loaded", "volts": 9.6, "amps": -150, "seconds": 15}),
            "amps",
            "Give the amps as a plain figure above 0, up to 2000.",
        ),
        (
            json!({"kind": "loaded", "volts": 9.6, "amps": 150, "seconds": 120}),
            "seconds",
            "A heavy load stays on for 15 s, a minute at the very most: it harms the battery and the reading says nothing.",
        ),
        (
            json!({"kind": "hydrometer", "cells": [1.25, 1.25, 1.25, 1.25, 1.25, 12.5]}),
            "cells",
            "Acid is read as 1.050 to 1.350, cell by cell: 12.5.",
        ),
        (
            json!({"kind": "label"}),
            "cold_amps",
            "A label says 50 to 2000 cold-cranking amps, or 5 to 300 amp-hours.",
        ),
    ] {
        let (status, problem) = test(&server, one).await;
        assert_eq!(status, 422, "{problem:#}");
        assert_eq!(problem["errors"][0]["field"], field, "{problem:#}");
        assert_eq!(problem["errors"][0]["sentence"], sentence);
    }
    let read = server.json(&server.job_path("/battery")).await;
    assert_eq!(read["readings"], json!([]));
}

#[tokio::test]
async fn a_weak_start_asks_for_the_battery_first_and_a_rope_has_none() {
    let server = Server::start().await;
    let heard = json!({"id": Uuid::now_v7(), "by": "Maren", "condition": {"key": "start", "pedal": "down", "seat": "on"},
                       "observed": {"kind": "heard", "heard": "chatter"}});
    assert_eq!(server.record(&heard).await.0.as_u16(), 200);
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    assert!(
        diagnosis["test_battery"].as_f64().is_some_and(|share| share >= 0.15),
        "{}",
        diagnosis["test_battery"]
    );
    let csv = server.get(&server.job_path("/battery.csv")).await.text().await.expect("text");
    assert!(csv.starts_with("seconds,low,middle,high,read\n") && csv.lines().count() > 20, "{csv}");
    let revision = server.json("/api/v1/machines/hexley-walk-50").await["revision_id"].clone();
    let id = Uuid::now_v7();
    let body = json!({"id": id, "revision_id": revision, "complaint": "Won’t start."});
    assert_eq!(server.post("/api/v1/jobs", &body).await.0.as_u16(), 200);
    let none = server.get(&format!("/api/v1/jobs/{id}/battery")).await;
    assert_eq!(none.status().as_u16(), 404);
}
