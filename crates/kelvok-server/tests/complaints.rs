//! A complaint taken by its symptom, over HTTP.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

async fn machine(server: &Server, name: &str) -> Value {
    let machines = server.json("/api/v1/machines").await;
    let all = machines["machines"].as_array().unwrap();
    all.iter().find(|m| m["name"] == name).expect("in the library").clone()
}

async fn open(server: &Server, name: &str, complained: Value) -> (Uuid, Value) {
    let id = Uuid::now_v7();
    let revision = machine(server, name).await["revision_id"].clone();
    let body =
        json!({"id": id, "revision_id": revision, "complaint": "Quits", "complained": complained});
    let (status, view) = server.post("/api/v1/jobs", &body).await;
    assert_eq!(status.as_u16(), 200, "{view:#}");
    // Sent again after a lost answer, it is there once.
    assert_eq!(server.post("/api/v1/jobs", &body).await.1["evidence"], view["evidence"]);
    (id, view)
}

fn getting_off(by: &str) -> Value {
    json!({"id": Uuid::now_v7(), "by": by, "symptom": "dies",
           "when": {"kind": "control", "control": "seat", "position": "empty"}})
}

#[tokio::test]
async fn it_dies_when_i_get_off_is_heard_and_the_first_card_fits_it() {
    let server = Server::start().await;
    let menu = server.json("/api/v1/machines/dunmarrow-z-52/symptoms").await;
    let symptoms = menu["symptoms"].as_array().unwrap();
    assert!(symptoms.iter().any(|s| s["symptom"] == "dies"), "{menu:#}");
    let (id, view) = open(&server, "dunmarrow-z-52", getting_off("Ilse")).await;
    let told: Vec<_> = view["evidence"].as_array().unwrap().iter().map(|e| &e["entry"]).collect();
    assert_eq!(told.len(), 2, "both halves");
    assert!(told.iter().all(|e| e["source"] == "told"));
    assert_eq!(
        (&told[0]["condition"]["seat"], &told[1]["condition"]["seat"]),
        (&json!("on"), &json!("empty"))
    );
    // An engine that dies is about the kill wire, not the starter.
    let state = server.json(&format!("/api/v1/jobs/{id}/state")).await;
    assert_eq!(state["follows"]["drawn"]["circuit"], "kill");
    let diagnosis = server.json(&format!("/api/v1/jobs/{id}/diagnosis")).await;
    // No "turn the key and listen" for a machine that starts well: have it die first.
    let first = &diagnosis["reproduce"];
    assert_eq!(
        (&first["action"]["kind"], &first["action"]["attend"]),
        (&json!("try"), &json!("engine"))
    );
    assert_eq!((&first["engine"], &first["why"]), (&json!("running"), &json!("reproduce")));
    assert_eq!(first["condition"]["seat"], "empty");
    assert_eq!(first["comes_from"]["seat"], "on", "started on the seat, then up");
    let cautions = first["cautions"].as_array().unwrap();
    assert!(cautions.contains(&json!("engine-runs")), "{cautions:?}");
    // Seen here, it is not asked for again.
    let seen = json!({"id": Uuid::now_v7(), "by": "Ilse", "condition": first["condition"],
        "engine": "running", "observed": {"kind": "engine", "does": "stops"}});
    let (status, _) = server.post(&format!("/api/v1/jobs/{id}/evidence"), &seen).await;
    assert_eq!(status.as_u16(), 200);
    let after = server.json(&format!("/api/v1/jobs/{id}/diagnosis")).await;
    assert_eq!(after["reproduce"], Value::Null);
    assert!(
        !after["excluded"].as_array().unwrap().is_empty(),
        "it runs on the seat: that rules out some"
    );
}

#[tokio::test]
async fn two_machines_with_different_complaints_are_not_suspected_of_the_same() {
    let server = Server::start().await;
    let suspects = async |complained: Value| {
        let (id, _) = open(&server, "dunmarrow-z-52", complained).await;
        let diagnosis = server.json(&format!("/api/v1/jobs/{id}/diagnosis")).await;
        let rows = diagnosis["suspects"].as_array().unwrap().clone();
        rows.iter().take(4).map(|r| r["units"][0]["id"].clone()).collect::<Vec<_>>()
    };
    let dead =
        json!({"id": Uuid::now_v7(), "by": "Ilse", "symptom": "dead", "when": {"kind": "always"}});
    assert_ne!(suspects(getting_off("Ilse")).await, suspects(dead).await);
}

#[tokio::test]
async fn what_a_machine_cannot_have_is_refused_and_no_job_is_opened() {
    let server = Server::start().await;
    let before = server.json("/api/v1/jobs").await["total"].clone();
    let revision = machine(&server, "hexley-walk-50").await["revision_id"].clone();
    let always = json!({"kind": "always"});
    let off = json!({"kind": "control", "control": "seat", "position": "empty"});
    for (symptom, when, by, field) in [
        ("dead", &always, "Ilse", "symptom"),
        ("dies", &off, "Ilse", "when"),
        ("dies", &always, " ", "by"),
    ] {
        let complained = json!({"id": Uuid::now_v7(), "by": by, "symptom": symptom, "when": when});
        let body = json!({"id": Uuid::now_v7(), "revision_id": revision, "complaint": "x",
                          "complained": complained});
        let (status, problem) = server.post("/api/v1/jobs", &body).await;
        assert_eq!((status.as_u16(), &problem["errors"][0]["field"]), (422, &json!(field)));
    }
    assert_eq!(server.json("/api/v1/jobs").await["total"], before);
    let gone = server.get("/api/v1/machines/nobody-s/symptoms").await;
    assert_eq!(gone.status().as_u16(), 404);
}

#[tokio::test]
async fn a_job_that_is_open_hears_a_complaint_too() {
    let server = Server::start().await;
    let path = server.job_path("/complaint");
    let dead =
        json!({"id": Uuid::now_v7(), "by": "Ilse", "symptom": "dead", "when": {"kind": "always"}});
    let (status, view) = server.post(&path, &dead).await;
    assert_eq!((status.as_u16(), view["evidence"].as_array().map(Vec::len)), (200, Some(1)));
    assert_eq!(server.post(&path, &dead).await.1["evidence"], view["evidence"]);
}

async fn read(server: &Server, machine: &str, said: &str) -> Value {
    let path = format!("/api/v1/machines/{machine}/read");
    let (status, read) = server.post(&path, &json!({"said": said})).await;
    assert_eq!(status.as_u16(), 200, "{read:#}");
    read
}

#[tokio::test]
async fn a_sentence_is_read_and_goes_in_as_it_was_understood() {
    let server = Server::start().await;
    let said =
        "Quits when I hop off even with the brake on, twice an hour. Replaced the seat switch.";
    let read = read(&server, "dunmarrow-z-52", said).await;
    let told = &read["complaints"][0]["may_be"];
    assert_eq!(told.as_array().unwrap().len(), 1, "{read:#}");
    assert_eq!(told[0]["symptom"], "dies");
    assert_eq!(told[0]["when"], json!({"kind": "control", "control": "seat", "position": "empty"}));
    assert_eq!((&read["at_times"], &read["times_an_hour"]), (&json!(true), &json!(2.0)));
    let worked = &read["worked_on"][0];
    assert_eq!(
        (&worked["unit"]["id"], &worked["work"]),
        (&json!("seat-switch"), &json!("replaced"))
    );
    let mut entries = vec![worked["entry"].clone()];
    entries.extend(told[0]["entries"].as_array().unwrap().iter().cloned());
    let mut complained = getting_off("Ilse");
    complained["entries"] = json!(entries);
    let (_, view) = open(&server, "dunmarrow-z-52", complained).await;
    let log = view["evidence"].as_array().unwrap();
    let kinds: Vec<_> = log.iter().map(|e| &e["entry"]["observation"]["kind"]).collect();
    assert_eq!(kinds, [&json!("worked-on"), &json!("engine"), &json!("engine")]);
    assert_eq!(log[2]["entry"]["at_times"], true);
    assert!(log.iter().all(|e| e["entry"]["source"] == "told"));
}

#[tokio::test]
async fn what_nobody_understands_is_said_and_what_is_no_telling_is_refused() {
    let server = Server::start().await;
    let nothing = read(&server, "dunmarrow-z-52", "el motor no arranca \u{1f69c} <b>x</b>").await;
    assert_eq!(nothing["complaints"], json!([]));
    assert!(!nothing["left"].as_array().unwrap().is_empty());
    let clash = read(&server, "dunmarrow-z-52", "It is dead, and it dies after ten minutes").await;
    assert_eq!(clash["clash"], true);
    let path = "/api/v1/machines/dunmarrow-z-52/read";
    let long = "raining ".repeat(624);
    assert_eq!(server.post(path, &json!({"said": long})).await.0, 200);
    let longer = "raining ".repeat(700);
    assert_eq!(server.post(path, &json!({"said": longer})).await.0, 422);
    let revision = machine(&server, "dunmarrow-z-52").await["revision_id"].clone();
    for observation in [
        json!({"kind": "put-back", "what": {"kind": "battery-off"}}),
        json!({"kind": "heard", "heard": "silent"}),
    ] {
        let refused = observation["kind"] == "put-back";
        let mut complained = getting_off("Ilse");
        complained["entries"] = json!([{"condition": {}, "observation": observation}]);
        let body = json!({"id": Uuid::now_v7(), "revision_id": revision, "complaint": "x",
            "complained": complained});
        let (status, answer) = server.post("/api/v1/jobs", &body).await;
        assert_eq!(status.as_u16(), if refused { 422 } else { 200 }, "{answer:#}");
    }
}
