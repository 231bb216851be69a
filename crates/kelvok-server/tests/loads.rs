//! What a job's machine feeds, over HTTP: where each is read, what its readings come to.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

async fn load(server: &Server, id: &str) -> Value {
    let view = server.json(&server.job_path("/loads")).await;
    let all = view["loads"].as_array().expect("loads");
    all.iter().find(|l| l["id"] == id).expect("such a load").clone()
}

/// A reading where the page says.
fn reading(at: &Value, engine: &str, instrument: &str, typed: &str) -> Value {
    let end = |end: &str| match &at[end] {
        Value::String(terminal) => terminal.clone(),
        point => point["terminal"].as_str().expect("a terminal").to_owned(),
    };
    let off: Vec<_> = at["set_up"].as_array().into_iter().flatten().map(|s| &s["entry"]).collect();
    json!({"id": Uuid::now_v7(), "by": "Maren", "condition": at["condition"], "engine": engine,
        "set_up": off, "observed": {"kind": "reading", "instrument": instrument,
        "red": end("red"), "black": end("black"), "typed": typed}})
}

#[tokio::test]
async fn a_clutch_is_read_cold_and_on_and_named() {
    let server = Server::start().await;
    let clutch = load(&server, "clutch").await;
    assert_eq!((&clutch["ohms"], &clutch["kind"]), (&json!(2.9), &json!("coil")));
    assert_eq!(
        (&clutch["standing"]["word"], &clutch["standing"]["next"]),
        (&json!("not-read"), &json!("ohms"))
    );
    let on = &clutch["on"];
    assert_eq!(on["condition"]["blades"], "on");
    assert!(on["amps"].as_f64().is_some_and(|a| (3.5..4.5).contains(&a)), "{on:#}");

    let mut cold = reading(&clutch["ohms_at"], "stopped", "ohmmeter", "1.2");
    cold["celsius"] = json!(20);
    assert_eq!(server.record(&cold).await.0.as_u16(), 200);
    let read = load(&server, "clutch").await;
    assert_eq!(read["standing"]["word"], "shorted", "{read:#}");
    assert_eq!(read["readings"][0]["says"], "Ohms: 1.20 ohm at 20 °C");
    // Back on first, then what it draws.
    for off in clutch["ohms_at"]["set_up"].as_array().expect("set up") {
        let back = json!({"id": Uuid::now_v7(), "by": "Maren", "condition": {}, "set_up": [],
            "observed": {"kind": "put-back", "what": off["entry"]}});
        assert_eq!(server.record(&back).await.0.as_u16(), 200);
    }
    let engine = on["engine"].as_str().expect("an engine");
    let mut clamp = on["clamp"].clone();
    clamp["condition"] = on["condition"].clone();
    for entry in [reading(on, engine, "voltmeter", "11.8"), reading(&clamp, engine, "clamp", "9.4")]
    {
        let (status, answer) = server.record(&entry).await;
        assert_eq!(status.as_u16(), 200, "{answer:#}");
    }
    let both = load(&server, "clutch").await;
    let said = &both["standing"];
    assert_eq!((&said["word"], &said["by_amps"]["word"]), (&json!("shorted"), &json!("shorted")));
    assert!((said["watts"].as_f64().expect("watts") - 110.9).abs() < 0.2, "{said:#}");
    let csv = server.get(&server.job_path("/loads.csv")).await.text().await.expect("text");
    let row = csv.lines().find(|l| l.starts_with("Blade clutch,")).expect("a row");
    assert!(row.contains(",11.800,9.400,"), "{row}");
    assert!(row.contains("Shorted inside"), "{row}");

    // One reading undone is one less.
    let last = both["readings"][2]["entry"].as_str().expect("an entry");
    let void = json!({"by": "Maren", "reason": "Undone"});
    let at = server.job_path(&format!("/evidence/{last}/void"));
    assert_eq!(server.post(&at, &void).await.0.as_u16(), 200);
    assert_eq!(load(&server, "clutch").await["readings"].as_array().expect("two").len(), 2);
}

#[tokio::test]
async fn degrees_that_no_coil_has_are_refused_and_nothing_is_recorded() {
    let server = Server::start().await;
    let clutch = load(&server, "clutch").await;
    let mut cold = reading(&clutch["ohms_at"], "stopped", "ohmmeter", "2.9");
    cold["celsius"] = json!(900);
    let (status, refused) = server.record(&cold).await;
    assert_eq!((status.as_u16(), &refused["errors"][0]["field"]), (422, &json!("celsius")));
    assert_eq!(load(&server, "clutch").await["readings"], json!([]));
    let missing = server.get("/api/v1/jobs/01930000-0000-7000-8000-0000000000ff/loads").await;
    assert_eq!(missing.status().as_u16(), 404);
}
