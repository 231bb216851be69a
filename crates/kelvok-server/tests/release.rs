//! Before a machine goes back, over the API: what is to be tried, what was seen, what blocks, who signs.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

async fn release(server: &Server) -> Value {
    server.json(&server.job_path("/release")).await
}

async fn enter(server: &Server, id: Uuid, entry: &Value) -> (u16, Value) {
    let body = json!({"id": id, "by": "Maren", "entry": entry});
    let (status, view) = server.post(&server.job_path("/release/entries"), &body).await;
    (status.as_u16(), view)
}

/// What is sent of a step: as it was given, with what was seen.
fn tried(view: &Value, step: usize, saw: &Value) -> Value {
    let mut entry = view["steps"][step]["tried"].clone();
    entry["kind"] = json!("step");
    entry["saw"] = saw.clone();
    entry["revision"] = view["revision"].clone();
    entry
}

/// Every step as it should be, every fuse as called for, everything else good.
async fn all_good(server: &Server) -> Value {
    let mut view = release(server).await;
    for step in 0..view["steps"].as_array().unwrap().len() {
        let saw = view["steps"][step]["answers"][0].clone();
        let (status, answer) = enter(server, Uuid::now_v7(), &tried(&view, step, &saw)).await;
        assert_eq!(status, 200, "{answer:#}");
        view = answer;
    }
    for reading in view["readings"].as_array().unwrap().clone() {
        let how = "plug off, no beep";
        let entry = json!({"kind": "checked", "fault": reading["fault"], "bad": false, "how": how});
        view = enter(server, Uuid::now_v7(), &entry).await.1;
    }
    for fuse in view["fuses"].as_array().unwrap().clone() {
        let entry = json!({"kind": "fuse", "fuse": fuse["fuse"], "amps": fuse["called_for"]});
        view = enter(server, Uuid::now_v7(), &entry).await.1;
    }
    view
}

fn signed() -> Value {
    json!({"kind": "signed", "name": "Maren", "role": "Mechanic",
        "strokes": [[[0.1, 0.5], [0.9, 0.4]]]})
}

#[tokio::test]
async fn a_machine_is_tried_signed_for_and_closed_and_nothing_is_rewritten() {
    let server = Server::start().await;
    let plan = release(&server).await;
    let steps = plan["steps"].as_array().unwrap();
    assert!(steps.len() > 3 && plan["smallest"] == true && plan["next"] == 0, "{plan:#}");
    assert!(steps.iter().all(|s| !s["cautions"].as_array().unwrap().is_empty()), "{plan:#}");
    // Signing with something in the way is refused with all of it.
    let (status, refused) = enter(&server, Uuid::now_v7(), &signed()).await;
    assert_eq!(status, 409);
    let all = refused["errors"].as_array().unwrap();
    assert_eq!(all.len(), plan["blockers"].as_array().unwrap().len(), "{refused:#}");
    assert!(refused["detail"].as_str().unwrap().contains("not done yet"), "{refused:#}");

    let good = all_good(&server).await;
    assert_eq!((&good["blockers"], &good["next"]), (&json!([]), &Value::Null), "{good:#}");
    let id = Uuid::now_v7();
    let (status, view) = enter(&server, id, &signed()).await;
    assert_eq!((status, &view["open"]), (200, &json!(false)), "{view:#}");
    assert_eq!(
        (&view["ended"]["released"], &view["ended"]["name"]),
        (&json!(true), &json!("Maren"))
    );
    let job = server.json(&server.job_path("")).await;
    assert_eq!((&job["status"], &job["went_back"]), (&json!("closed"), &json!("released")));
    // The answer was lost, and it is sent again: it is signed once.
    let (status, again) = enter(&server, id, &signed()).await;
    assert_eq!((status, &again["log"]), (200, &view["log"]));
    // Nothing is changed in it any more.
    let first = view["log"][0]["id"].as_str().unwrap();
    let body = json!({"by": "Maren", "reason": "Undone"});
    let at = server.job_path(&format!("/release/entries/{first}/void"));
    assert_eq!(server.post(&at, &body).await.0.as_u16(), 409);
    let bad = tried(&plan, 0, &plan["steps"][0]["answers"][1]);
    assert_eq!(enter(&server, Uuid::now_v7(), &bad).await.0, 409);
    // Opened again, what was signed stays and says so.
    let body = json!({"version": job["version"], "status": "open"});
    let request = server.client.put(format!("{}{}", server.address, server.job_path("/status")));
    assert!(request.json(&body).send().await.unwrap().status().is_success());
    let view = release(&server).await;
    assert_eq!((&view["ended"]["reopened"], &view["open"]), (&json!(true), &json!(true)));
}

#[tokio::test]
async fn a_step_that_fails_is_evidence_and_taken_back_it_is_none() {
    let server = Server::start().await;
    let plan = release(&server).await;
    let seat = |s: &Value| {
        s["does"].as_str().unwrap().contains("off the seat")
            && s["must"].as_str().unwrap().starts_with("The engine must stop")
    };
    let step = plan["steps"].as_array().unwrap().iter().position(seat).expect("such a step");
    let id = Uuid::now_v7();
    let (status, view) = enter(&server, id, &tried(&plan, step, &json!("runs-on"))).await;
    assert_eq!(status, 200, "{view:#}");
    assert_eq!(view["steps"][step]["result"]["stands"], "bad");
    let blockers = view["blockers"].as_array().unwrap();
    assert!(blockers.iter().any(|b| b["step"] == json!(step)), "{blockers:#?}");
    let evidence = async || {
        let job = server.json(&server.job_path("")).await;
        job["evidence"].as_array().unwrap().clone()
    };
    let seen = evidence().await;
    let entry = &seen[0]["entry"];
    assert_eq!(entry["observation"], json!({"kind": "engine", "does": "runs"}));
    assert_eq!(
        (&entry["condition"]["seat"], &entry["engine"]),
        (&json!("empty"), &json!("running"))
    );
    // Sent again it is there once.
    enter(&server, id, &tried(&plan, step, &json!("runs-on"))).await;
    assert_eq!(evidence().await.len(), seen.len());
    // The diagnosis goes on from it: with the engine running on, the seat switch is suspected.
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    let units = diagnosis["suspects"].to_string();
    assert!(units.contains("seat"), "{units}");
    let body = json!({"by": "Maren", "reason": "Undone"});
    let at = server.job_path(&format!("/release/entries/{id}/void"));
    let (status, view) = server.post(&at, &body).await;
    assert_eq!(
        (status.as_u16(), &view["steps"][step]["result"]["stands"]),
        (200, &json!("untried"))
    );
    assert!(evidence().await.iter().all(|e| !e["voided"].is_null()));
}

#[tokio::test]
async fn nothing_is_tried_while_a_plug_is_off() {
    let server = Server::start().await;
    let plan = release(&server).await;
    let good = tried(&plan, 0, &plan["steps"][0]["answers"][0]);
    let plug = json!({"kind": "unplugged", "connector": "seat-plug"});
    let observed = async |observed: Value| {
        let body =
            json!({"id": Uuid::now_v7(), "by": "Maren", "condition": {}, "observed": observed});
        assert!(server.record(&body).await.0.is_success());
    };
    observed(json!({"kind": "arranged", "what": plug})).await;
    let (status, refused) = enter(&server, Uuid::now_v7(), &good).await;
    assert_eq!(status, 409, "{refused:#}");
    assert!(refused["detail"].as_str().unwrap().contains("put back first"), "{refused:#}");
    observed(json!({"kind": "put-back", "what": plug})).await;
    assert_eq!(enter(&server, Uuid::now_v7(), &good).await.0, 200);
}

#[tokio::test]
async fn a_repair_asks_again_only_what_it_could_have_changed_and_says_why() {
    let server = Server::start().await;
    all_good(&server).await;
    let body = json!({"id": Uuid::now_v7(), "by": "Maren", "condition": {},
        "observed": {"kind": "repaired", "unit": "seat", "how": "replaced"}});
    assert!(server.record(&body).await.0.is_success());
    let view = release(&server).await;
    let again: Vec<_> = view["steps"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|s| s["result"]["stands"] == "again")
        .map(|s| s["result"]["why"].as_str().unwrap().to_owned())
        .collect();
    assert!(!again.is_empty() && again.len() < view["steps"].as_array().unwrap().len());
    assert!(again.iter().all(|why| why.to_lowercase().contains("seat switch")), "{again:?}");
}

#[tokio::test]
async fn what_goes_back_without_a_release_says_so_and_closes_the_job() {
    let server = Server::start().await;
    let entry = json!({"kind": "returned", "name": "Maren", "reason": "Owner wants the seat plug left bridged."});
    let (status, view) = enter(&server, Uuid::now_v7(), &entry).await;
    assert_eq!(status, 200, "{view:#}");
    assert_eq!((&view["ended"]["released"], &view["open"]), (&json!(false), &json!(false)));
    assert!(!view["blockers"].as_array().unwrap().is_empty(), "what does not work is still said");
    let jobs = server.json("/api/v1/jobs").await;
    assert_eq!(jobs["jobs"][0]["went_back"], "returned", "{jobs:#}");
}

#[tokio::test]
async fn what_cannot_be_is_refused_with_its_field_and_nothing_is_kept() {
    let server = Server::start().await;
    let plan = release(&server).await;
    let refused = async |entry: Value| {
        let (status, problem) = enter(&server, Uuid::now_v7(), &entry).await;
        (status, problem["errors"][0]["field"].as_str().unwrap_or_default().to_owned())
    };
    let mut late = tried(&plan, 0, &plan["steps"][0]["answers"][0]);
    late["seconds"] = json!(-1);
    assert_eq!(refused(late).await, (422, "seconds".to_owned()));
    let mut newer = tried(&plan, 0, &plan["steps"][0]["answers"][0]);
    newer["revision"] = json!(7);
    assert_eq!(refused(newer).await.0, 409);
    let mut other = tried(&plan, 0, &plan["steps"][0]["answers"][0]);
    other["from"] = json!({"key": "off"});
    assert_eq!(refused(other).await.0, 409);
    let long = json!({"kind": "signed", "name": "x".repeat(300), "role": ""});
    assert_eq!(refused(long).await.0, 422);
    let fuse = json!({"kind": "fuse", "fuse": "nothing", "amps": 10});
    assert_eq!(refused(fuse).await, (422, "fuse".to_owned()));
    assert_eq!(release(&server).await["log"], json!([]));
}
