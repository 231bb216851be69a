//! How a job's machine charges its battery, over HTTP: where that is read, what readings come to, what is refused.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

async fn view(server: &Server) -> Value {
    server.json(&server.job_path("/charging")).await
}

fn site<'v>(view: &'v Value, kind: &str) -> &'v Value {
    let all = view["system"]["sites"].as_array().expect("sites");
    all.iter().find(|site| site["kind"] == kind).expect("read there")
}

/// A reading where the page says.
fn reading(view: &Value, kind: &str, typed: &str) -> Value {
    let at = site(view, kind);
    let end = |end: &str| match &at["clamp"][end] {
        Value::String(terminal) => terminal.clone(),
        _ => at[end]["terminal"].as_str().expect("a terminal").to_owned(),
    };
    let off: Vec<_> = at["set_up"].as_array().into_iter().flatten().map(|s| &s["entry"]).collect();
    json!({"id": Uuid::now_v7(), "by": "Maren", "condition": at["condition"], "engine": at["engine"],
        "idle": at["idle"], "set_up": off, "observed": {"kind": "reading",
        "instrument": at["instrument"], "red": end("red"), "black": end("black"), "typed": typed}})
}

async fn record(server: &Server, kind: &str, typed: &str) -> Value {
    let entry = reading(&view(server).await, kind, typed);
    let (status, answer) = server.record(&entry).await;
    assert_eq!(status.as_u16(), 200, "{kind}: {answer:#}");
    view(server).await
}

/// It does not charge; the fuse and the wires drop nothing, the stator gives its volts: the regulator.
#[tokio::test]
async fn a_dead_regulator_is_found_reading_by_reading() {
    let server = Server::start().await;
    let begun = view(&server).await;
    let system = &begun["system"];
    assert_eq!(system["circuit"], "charge");
    assert_eq!(
        (&system["standing"]["does"], &system["standing"]["next"]),
        (&json!("not-read"), &json!("rest"))
    );
    assert_eq!((&system["low"], &system["high"]), (&json!(13.8), &json!(14.7)));
    let regulator = system["places"].as_array().expect("places").iter();
    let regulator = regulator.clone().find(|p| p["place"] == "regulator").expect("a place");
    assert_eq!(regulator["units"][0]["id"], "regulator");
    assert_eq!(site(&begun, "idle")["idle"], true);
    let stator = site(&begun, "stator");
    assert_eq!(
        (&stator["engine"], &stator["instrument"]),
        (&json!("running"), &json!("ac-voltmeter"))
    );
    assert_eq!(stator["set_up"][0]["entry"]["connector"], "stator-plug");

    record(&server, "rest", "12.40").await;
    let none = record(&server, "full", "12.36").await;
    assert_eq!(none["system"]["standing"]["does"], "no-charge");
    let mut last = none;
    for (kind, typed) in [("feed", "0.00"), ("ground", "0.00"), ("stator", "27.5"), ("frame", "OL")]
    {
        last = record(&server, kind, typed).await;
    }
    let standing = &last["system"]["standing"];
    assert_eq!(standing["says"]["state"], "regulator-dead", "{standing:#}");
    assert_eq!((&standing["rest"], &standing["full"]), (&json!(12.4), &json!(12.36)));
    let said: Vec<_> = last["system"]["readings"]
        .as_array()
        .expect("six")
        .iter()
        .map(|r| r["says"].clone())
        .collect();
    assert_eq!(said[4], "Stator at full speed: 27.5 V AC");
    let csv = server.get(&server.job_path("/charging.csv")).await.text().await.expect("text");
    assert!(csv.contains("stator,27.500,V AC,full,0.0,yes"), "{csv}");
    assert!(csv.contains("Regulator: puts out nothing,"), "{csv}");

    // What is undone counts no more; a new regulator begins anew.
    let entry = last["system"]["readings"][5]["entry"].as_str().expect("an entry");
    let void = json!({"by": "Maren", "reason": "Undone"});
    let at = server.job_path(&format!("/evidence/{entry}/void"));
    assert_eq!(server.post(&at, &void).await.0.as_u16(), 200);
    assert_eq!(view(&server).await["system"]["readings"].as_array().expect("five").len(), 5);
    let fitted = json!({"id": Uuid::now_v7(), "by": "Maren", "condition": {}, "set_up": [],
        "observed": {"kind": "repaired", "unit": "regulator", "how": "replaced"}});
    assert_eq!(server.record(&fitted).await.0.as_u16(), 200);
    let anew = view(&server).await;
    assert_eq!(anew["system"]["standing"]["does"], "not-read");
    assert_eq!(anew["system"]["readings"][0]["counts"], false);
}

#[tokio::test]
async fn idle_is_of_a_running_engine_and_is_kept() {
    let server = Server::start().await;
    let mut standing = reading(&view(&server).await, "rest", "12.4");
    standing["idle"] = json!(true);
    let (status, refused) = server.record(&standing).await;
    assert_eq!((status.as_u16(), &refused["errors"][0]["field"]), (422, &json!("idle")));
    assert_eq!(view(&server).await["system"]["readings"], json!([]));
    record(&server, "rest", "12.4").await;
    let idle = record(&server, "idle", "12.6").await;
    assert_eq!(idle["system"]["standing"]["idle"], 12.6);
    assert_eq!(idle["system"]["readings"][1]["says"], "Battery at idle: 12.60 V");
    let job = server.json(&server.job_path("")).await;
    assert_eq!(job["evidence"][1]["entry"]["idle"], true);
    let missing = server.get("/api/v1/jobs/01930000-0000-7000-8000-0000000000ff/charging").await;
    assert_eq!(missing.status().as_u16(), 404);
}
