//! What becomes of a battery in the course of a job, and how great a fault is, over HTTP.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

fn entry(condition: Value, observed: Value) -> Value {
    json!({"id": Uuid::now_v7(), "by": "Maren", "condition": condition, "observed": observed})
}

fn volts(red: &str, black: &str, typed: &str) -> Value {
    json!({"kind": "reading", "instrument": "voltmeter", "red": red, "black": black,
           "typed": typed})
}

async fn record(server: &Server, condition: Value, observed: Value) {
    let (status, answer) = server.record(&entry(condition, observed)).await;
    assert_eq!(status.as_u16(), 200, "{answer:#}");
}

/// How much is held against a unit.
async fn share(server: &Server, unit: &str) -> f64 {
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    let rows = diagnosis["suspects"].as_array().expect("suspects").clone();
    let own = rows.iter().find(|r| r["units"][0]["id"] == unit);
    own.map_or(0.0, |r| r["probability"].as_f64().expect("a share"))
}

#[tokio::test]
async fn a_flat_battery_is_named_charged_and_then_no_more_accused() {
    let server = Server::start().await;
    let start = json!({"key": "start", "pedal": "down", "seat": "on"});
    record(&server, start.clone(), json!({"kind": "heard", "heard": "chatter"})).await;
    record(&server, json!({}), volts("battery.+", "battery.-", "11.05")).await;
    assert!(share(&server, "battery").await > 0.9);
    record(&server, json!({}), json!({"kind": "battery", "event": "charged"})).await;
    record(&server, json!({}), volts("battery.+", "battery.-", "12.70")).await;
    record(&server, start, json!({"kind": "heard", "heard": "cranks"})).await;
    let (battery, nothing) = (share(&server, "battery").await, share(&server, "nothing").await);
    assert!(battery < 0.1 && nothing > 0.5, "{battery} {nothing}");
    // Chatter before it was charged and cranking after it agree.
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    assert_eq!(diagnosis["contradictions"], json!([]));
}

#[tokio::test]
async fn jumper_cables_come_off_before_the_job_is_closed() {
    let server = Server::start().await;
    let path = server.job_path("");
    let job = server.json(&path).await;
    assert_eq!((&job["battery"], &job["jumper_on"]), (&json!(true), &json!(false)));
    record(&server, json!({}), json!({"kind": "battery", "event": "jumper-on"})).await;
    let job = server.json(&path).await;
    assert_eq!(job["jumper_on"], true);
    let close = json!({"version": job["version"], "status": "closed"});
    let put = |body: Value| {
        let at = format!("{}{}", server.address, server.job_path("/status"));
        server.client.put(at).json(&body).send()
    };
    let refused = put(close).await.expect("an answer");
    assert_eq!(refused.status().as_u16(), 422);
    let problem: Value = refused.json().await.expect("a problem");
    let sentence = problem["errors"][0]["sentence"].as_str().unwrap_or_default();
    assert!(sentence.starts_with("The jumper cables are still on."), "{sentence}");
    record(&server, json!({}), json!({"kind": "battery", "event": "jumper-off"})).await;
    let job = server.json(&path).await;
    assert_eq!(job["jumper_on"], false);
    let closed = put(json!({"version": job["version"], "status": "closed"})).await;
    assert_eq!(closed.expect("an answer").status().as_u16(), 200);
}

#[tokio::test]
async fn a_machine_without_a_battery_has_none_to_charge() {
    let server = Server::start().await;
    let revision = server.json("/api/v1/machines/hexley-walk-50").await["revision_id"].clone();
    let id = Uuid::now_v7();
    let body = json!({"id": id, "revision_id": revision, "complaint": "Won’t start."});
    assert_eq!(server.post("/api/v1/jobs", &body).await.0.as_u16(), 200);
    assert_eq!(server.json(&format!("/api/v1/jobs/{id}")).await["battery"], false);
    let charged = entry(json!({}), json!({"kind": "battery", "event": "charged"}));
    let (status, problem) = server.post(&format!("/api/v1/jobs/{id}/evidence"), &charged).await;
    assert_eq!((status.as_u16(), &problem["errors"][0]["field"]), (422, &json!("event")));
}

#[tokio::test]
async fn how_great_a_fault_is_comes_with_it() {
    let server = Server::start().await;
    let start = json!({"key": "start", "pedal": "down", "seat": "on"});
    record(&server, start.clone(), json!({"kind": "heard", "heard": "cranks-slowly"})).await;
    record(&server, json!({}), volts("battery.+", "battery.-", "12.68")).await;
    for (red, black, typed) in [
        ("battery.+", "battery.-", "11.46"),
        ("solenoid.battery", "battery.-", "8.32"),
        ("battery.+", "pos-clamp.lug", "3.03"),
    ] {
        record(&server, start.clone(), volts(red, black, typed)).await;
    }
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    let first = &diagnosis["suspects"][0];
    assert_eq!(first["units"][0]["id"], "pos-clamp");
    for size in [&first["size"], &diagnosis["conclusion"]["size"]] {
        let figure = |name: &str| size[name].as_f64().expect("a figure");
        assert_eq!(size["kind"], "ohms", "{size}");
        assert!(0.022 < figure("low") && figure("high") < 0.042, "{size}");
        assert!(figure("low") < figure("likely") && figure("likely") < figure("high"));
    }
}
