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
    // Of a machine whose document begins with another, the start circuit is shown first.
    let state = server.json(&format!("/api/v1/jobs/{id}/state")).await;
    assert_eq!(state["follows"]["drawn"]["circuit"], "start");
    let diagnosis = server.json(&format!("/api/v1/jobs/{id}/diagnosis")).await;
    // No "turn the key and listen" for a machine that starts well: have it die first.
    let first = &diagnosis["reproduce"];
    assert_eq!(
        (&first["action"]["kind"], &first["action"]["attend"]),
        (&json!("try"), &json!("engine"))
    );
    assert_eq!((&first["engine"], &first["why"]), (&json!("running"), &json!("reproduce")));
    assert_eq!(first["condition"]["seat"], "empty");
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
