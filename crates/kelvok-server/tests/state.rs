//! A job's whole state in one answer, by itself and with what was recorded.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

const AT: &str = "set=key:start&set=pedal:down&set=seat:on&engine=stopped";

fn entry(observed: Value) -> Value {
    json!({
        "id": Uuid::now_v7(), "by": "Maren", "observed": observed,
        "condition": {"key": "start", "pedal": "down", "seat": "on"},
    })
}

fn read(red: &str, typed: &str) -> Value {
    entry(json!({"kind": "reading", "instrument": "voltmeter", "red": red, "black": "battery.-",
                 "typed": typed}))
}

#[tokio::test]
async fn one_answer_has_what_was_recorded_and_all_that_follows() {
    let server = Server::start().await;
    server.record(&entry(json!({"kind": "heard", "heard": "silent"}))).await;
    server.record(&read("brake-plug.A", "12.55")).await;
    let path = server.job_path(&format!("/evidence?{AT}&state=true&circuit=start"));
    let (status, answer) = server.post(&path, &read("brake-plug.B", "0.02")).await;
    assert_eq!((status.as_u16(), &answer["sequence"]), (200, &json!(3)));
    let state = &answer["state"];
    assert_eq!(*state, server.json(&server.job_path(&format!("/state?{AT}&circuit=start"))).await);
    assert_eq!(state["job"], server.json(&server.job_path("")).await);
    let follows = &state["follows"];
    assert_eq!(
        follows["drawn"],
        server.json(&server.job_path(&format!("/trace/start?{AT}"))).await
    );
    assert_eq!(
        follows["diagnosis"],
        server.json(&server.job_path(&format!("/diagnosis?{AT}"))).await
    );
    // Where the supply is lost is said by the server, not worked out by a page.
    let lost = &follows["drawn"]["lost"];
    assert_eq!(
        (&lost["before"]["terminal"], &lost["after"]["terminal"]),
        (&json!("brake-plug.A"), &json!("brake-plug.B"))
    );
    assert_eq!(lost["gates"].as_array().map(Vec::len), Some(1), "{lost:#}");
    assert!((lost["volts"].as_f64().unwrap() - 12.53).abs() < 1e-9);
    // Whoever puts a voltmeter to a point of the track is told what to mind.
    assert_eq!(follows["drawn"]["cautions"], json!(["may-crank"]));
    let back = server
        .job_path(&format!("/evidence/{}/void?{AT}&state=true", answer["id"].as_str().unwrap()));
    let (status, undone) = server.post(&back, &json!({"by": "Maren", "reason": "Slip"})).await;
    assert_eq!(status.as_u16(), 200);
    assert_eq!(undone["state"]["follows"]["drawn"]["lost"], Value::Null);
}

#[tokio::test]
async fn it_is_shown_as_the_last_entry_has_it_unless_something_is_asked_for() {
    let server = Server::start().await;
    let at_rest = server.json(&server.job_path("/state")).await;
    assert_eq!(at_rest["follows"]["condition"]["key"], "off");
    assert_eq!(at_rest["follows"]["drawn"]["circuit"], "start");
    server.record(&entry(json!({"kind": "heard", "heard": "silent"}))).await;
    let now = server.json(&server.job_path("/state")).await;
    assert_eq!(now["follows"]["condition"]["key"], "start");
    let asked = server.json(&server.job_path("/state?set=key:run&circuit=kill")).await;
    assert_eq!(asked["follows"]["condition"]["key"], "run");
    assert_eq!(asked["follows"]["drawn"]["shape"], "ladder");
}

#[tokio::test]
async fn what_is_recorded_stays_recorded_whatever_is_wrong_with_what_was_asked_besides() {
    let server = Server::start().await;
    let silent = entry(json!({"kind": "heard", "heard": "silent"}));
    let path = server.job_path("/evidence?state=true&circuit=sails");
    let (status, answer) = server.post(&path, &silent).await;
    assert_eq!((status.as_u16(), &answer["state"]), (200, &Value::Null));
    assert_eq!(server.json(&server.job_path("")).await["evidence"][0]["id"], silent["id"]);
    // What is no address is said in words, not in a parser's.
    let nowhere = server.get("/api/v1/jobs/xyz/state").await;
    assert_eq!(nowhere.status().as_u16(), 404);
    let problem: Value = nowhere.json().await.expect("a problem");
    assert_eq!(problem["detail"], "There is nothing at this address.");
    let refused = server.get(&server.job_path("/state?circuit=sails")).await;
    assert_eq!(refused.status().as_u16(), 422);
    let unwanted = server.record(&entry(json!({"kind": "heard", "heard": "click"}))).await;
    assert_eq!(unwanted.1["state"], Value::Null, "nobody asked for it");
}
