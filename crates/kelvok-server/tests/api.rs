//! The API over HTTP, against a real MariaDB.

mod server;

use kelvok_core::machine::LIBRARY;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

fn reading(typed: &str) -> Value {
    json!({
        "id": Uuid::now_v7(), "by": "Maren",
        "condition": {"key": "start", "pedal": "down"},
        "observed": {
            "kind": "reading", "instrument": "voltmeter",
            "red": "key-plug.S", "black": "battery.-", "typed": typed,
        },
    })
}

fn heard() -> Value {
    json!({
        "id": Uuid::now_v7(), "by": "Maren",
        "condition": {"key": "start", "pedal": "down"},
        "observed": {"kind": "heard", "heard": "silent"},
    })
}

#[tokio::test]
async fn names_the_machine_does_not_have_are_named_in_a_422() {
    let server = Server::start().await;
    let with = |key: &str, value: Value| {
        let mut body = reading("12.4");
        body[key] = value;
        body
    };
    for (body, sentence) in [
        (with("condition", json!({"gear": "first"})), "this machine has no control \"gear\"."),
        (
            with("condition", json!({"seat": "sideways"})),
            "the control \"seat\" has no position \"sideways\"; it has empty, on.",
        ),
        (
            with("set_up", json!([{"kind": "unplugged", "connector": "brake"}])),
            "this machine has no connector \"brake\".",
        ),
        (
            with("set_up", json!([{"kind": "pressed-by-hand", "switch": "key"}])),
            "this machine has no plunger switch \"key\".",
        ),
        (with("by", json!(" ")), "Say who you are: pick a name."),
        (
            reading("12,4,5"),
            "\"12,4,5\" is not a reading: type what the meter shows, such as 12.4.",
        ),
        (
            reading("-"),
            "A voltmeter shows OL only on the wrong range: set the dial to 20 V or auto.",
        ),
        (
            reading(&"9".repeat(10_000)),
            "That is too long to be a reading: type what the meter shows, such as 12.4.",
        ),
        (
            reading("12\u{7}.4"),
            "\"12.4\" is not a reading: type what the meter shows, such as 12.4.",
        ),
    ] {
        let (status, problem) = server.record(&body).await;
        assert_eq!(status, 422, "{problem}");
        assert_eq!(problem["errors"][0]["sentence"], sentence);
    }
    let path = server.job_path("/trace/start?set=key:up");
    let response = server.get(&path).await;
    assert_eq!(response.status(), 422);
    assert_eq!(response.headers()["content-type"], "application/problem+json");
    assert_eq!(server.json(&server.job_path("")).await["evidence"], json!([]), "nothing was kept");
}

#[tokio::test]
async fn a_reading_is_understood_as_a_person_means_it() {
    let server = Server::start().await;
    for (typed, volts) in [("12.4", 12.4), ("12,4", 12.4), (" 12.4V ", 12.4), ("340 mV", 0.34)] {
        let (status, entry) = server.record(&reading(typed)).await;
        assert_eq!(status, 200, "{entry}");
        assert_eq!(entry["entry"]["observation"]["reading"]["value"], json!(volts));
    }
}

#[tokio::test]
async fn a_retry_is_one_reading_and_two_browsers_keep_both() {
    let server = Server::start().await;
    let (one, two) = (reading("12.57"), reading("12.56"));
    let (a, b, c) = tokio::join!(server.record(&one), server.record(&two), server.record(&one));
    assert_eq!((a.0, b.0, c.0), (StatusCode::OK, StatusCode::OK, StatusCode::OK));
    assert_eq!(a.1, c.1, "the retry is answered with what was kept");
    let job = server.json(&server.job_path("")).await;
    let sequences: Vec<_> =
        job["evidence"].as_array().unwrap().iter().map(|e| e["sequence"].clone()).collect();
    assert_eq!(sequences, [1, 2]);
}

#[tokio::test]
async fn the_story_over_http_ends_in_a_verdict_that_the_server_weighs() {
    let server = Server::start().await;
    server.record(&heard()).await;
    for (red, volts) in [("brake-plug.A", "12.56"), ("brake-plug.B", "0.02")] {
        let mut body = reading(volts);
        body["observed"]["red"] = json!(red);
        assert_eq!(server.record(&body).await.0, 200);
    }
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    assert_eq!(diagnosis["suspects"][0]["units"][0]["id"], "brake");
    // The meter is put to the switch itself: linkage and switch apart.
    let tests = diagnosis["tests"].as_array().unwrap();
    let by_hand = json!({"kind": "pressed-by-hand", "switch": "brake"});
    let test = &tests[0];
    assert_eq!(test["set_up"][1]["entry"], by_hand);
    assert_eq!(test["condition"]["key"], "off");
    let bench = json!({
        "id": Uuid::now_v7(), "by": "Maren", "condition": test["condition"],
        "set_up": [test["set_up"][0]["entry"], test["set_up"][1]["entry"]],
        "observed": {
            "kind": "reading", "instrument": "ohmmeter", "typed": "OL",
            "red": test["action"]["red"]["terminal"],
            "black": test["action"]["black"]["terminal"],
        },
    });
    assert_eq!(server.record(&bench).await.0, 200);
    let after = server.json(&server.job_path("/diagnosis")).await;
    assert_eq!(after["conclusion"]["confirmed"], true);

    let keep = |units: Value| json!({"id": Uuid::now_v7(), "by": "Maren", "units": units});
    let path = server.job_path("/verdicts");
    let (status, problem) = server.post(&path, &keep(json!(["carburetor"]))).await;
    assert_eq!(
        (status.as_u16(), &problem["detail"]),
        (422, &json!("This machine has no unit \"carburetor\"."))
    );
    assert_eq!(server.post(&path, &keep(json!([]))).await.0, 422);
    // A verdict may name a group; its probability is the evidence's, not the client's.
    let (status, verdict) = server.post(&path, &keep(json!(["brake", "brake:linkage"]))).await;
    assert_eq!(status, 200);
    assert_eq!(verdict["units"][1]["kind"], "linkage");
    assert!(verdict["probability"].as_f64().unwrap() > 0.985);
    let void = json!({"by": "Maren", "reason": "Fitted the wrong switch"});
    let path = format!("{path}/{}/void", verdict["id"].as_str().unwrap());
    assert_eq!(server.post(&path, &void).await.0, 200);
    assert_eq!(server.post(&path, &void).await.0, 200, "sent again after a lost answer");
    let other = json!({"by": "Maren", "reason": "Something else"});
    assert_eq!(server.post(&path, &other).await.0, 409);
}

#[tokio::test]
async fn a_voided_reading_no_longer_counts() {
    let server = Server::start().await;
    server.record(&heard()).await;
    let before = server.json(&server.job_path("/diagnosis")).await;
    let (_, wrong) = server.record(&reading("0.01")).await;
    let during = server.json(&server.job_path("/diagnosis")).await;
    assert_ne!(before["suspects"], during["suspects"]);
    let path = server.job_path(&format!("/evidence/{}/void", wrong["id"].as_str().unwrap()));
    let (status, _) = server.post(&path, &json!({"by": "Maren", "reason": " "})).await;
    assert_eq!(status, 422);
    let (status, _) = server.post(&path, &json!({"by": "Maren", "reason": "Wrong point"})).await;
    assert_eq!(status, 200);
    let after = server.json(&server.job_path("/diagnosis")).await;
    assert_eq!(before["suspects"], after["suspects"]);
}

#[tokio::test]
async fn a_document_with_fifty_mistakes_gets_fifty_sentences_and_a_sound_one_is_kept() {
    let server = Server::start().await;
    let mut document: Value = serde_json::from_str(LIBRARY[1].text).unwrap();
    for i in 0..13 {
        document["test_points"][i]["place"] = json!("moon");
        document["test_points"][i]["terminal"] = json!(format!("nowhere.{i}"));
    }
    for i in 0..12 {
        document["wires"][i]["ohms"] = json!(-1);
        document["wires"][i]["gauge"] = json!("thick");
    }
    let (status, problem) = server.post("/api/v1/machines", &document).await;
    assert_eq!(status, 422);
    assert_eq!(problem["errors"].as_array().unwrap().len(), 50, "{problem:#}");

    let mut sound: Value = serde_json::from_str(LIBRARY[1].text).unwrap();
    sound["identity"]["notes"] = json!(["Revised."]);
    let (status, view) = server.post("/api/v1/machines", &sound).await;
    assert_eq!((status.as_u16(), &view["revision"]), (200, &json!(2)));
}

#[tokio::test]
async fn too_large_malformed_or_foreign_requests_are_refused() {
    let server = Server::start().await;
    let send = |method: Method, path: &str| {
        server.client.request(method, format!("{}{path}", server.address))
    };
    let large = vec![b' '; 100 * 1024 * 1024];
    let json_body = ("content-type", "application/json");
    let machines = || send(Method::POST, "/api/v1/machines").header(json_body.0, json_body.1);
    let response = machines().body(large).send().await;
    // The server may stop listening to such a body before it was sent whole.
    if let Ok(response) = response {
        assert_eq!(response.status(), 413);
        assert_eq!(response.headers()["content-type"], "application/problem+json");
    }
    // A document that is no JSON is a document with a mistake; any other body is a bad request.
    assert_eq!(machines().body("{").send().await.unwrap().status(), 422);
    let jobs = send(Method::POST, "/api/v1/jobs").header(json_body.0, json_body.1);
    assert_eq!(jobs.body("{").send().await.unwrap().status(), 400);
    let unknown = server.get("/api/v1/nothing").await;
    assert_eq!(unknown.status(), 404);
    let bad_id = server.get("/api/v1/jobs/17").await;
    assert_eq!(bad_id.status(), 404);

    let health = || send(Method::GET, "/api/v1/health");
    let foreign = health().header("host", "evil.example").send().await.unwrap();
    assert_eq!(foreign.status(), 421);
    let foreign = health().header("origin", "http://evil.example").send().await.unwrap();
    assert_eq!(foreign.status(), 403);
    let own = health().header("origin", &server.address).send().await.unwrap();
    assert_eq!(own.status(), 200);
    // Another program on this machine is another site.
    let neighbor = health().header("origin", "http://127.0.0.1:1").send().await.unwrap();
    assert_eq!(neighbor.status(), 403);
}

#[tokio::test]
async fn the_page_may_load_from_its_own_server_only() {
    let server = Server::start().await;
    let page = server.get("/jobs/whatever").await;
    let policy = page.headers()["content-security-policy"].to_str().unwrap().to_owned();
    assert!(policy.starts_with("default-src 'self'; style-src 'self' 'nonce-"), "{policy}");
    assert!(!policy.contains("unsafe"));
    let text = page.text().await.unwrap();
    let nonce = policy.split("'nonce-").nth(1).unwrap().split('\'').next().unwrap();
    assert!(text.contains(&format!("content=\"{nonce}\"")));
    let script = text.split("src=\"").nth(1).unwrap().split('"').next().unwrap();
    let gzip = server.client.get(format!("{}{script}", server.address));
    let asset = gzip.header("accept-encoding", "gzip").send().await.unwrap();
    assert_eq!(asset.headers()["content-encoding"], "gzip");
    assert!(asset.headers()["cache-control"].to_str().unwrap().contains("immutable"));
    let api = server.get("/api/v1/health").await;
    assert_eq!(api.headers()["cache-control"], "no-store");
}

#[tokio::test]
async fn without_its_database_the_server_says_503_and_works_again_after() {
    let mut server = Server::start().await;
    assert_eq!(server.get("/api/v1/health").await.status(), 200);
    server.database.kill();
    let away = server.get("/api/v1/health").await;
    assert_eq!(away.status(), 503);
    assert_eq!(away.headers()["retry-after"], "1");
    let entry = reading("12.57");
    let (status, problem) = server.record(&entry).await;
    assert_eq!(status, 503);
    assert_eq!(
        problem["detail"],
        "The database does not answer. Nothing was lost; it will be tried again."
    );
    server.database.resume().unwrap();
    assert_eq!(server.record(&entry).await.0, 200);
    assert_eq!(server.get("/api/v1/health").await.status(), 200);
}

#[tokio::test]
async fn the_description_served_is_the_one_in_the_file() {
    let server = Server::start().await;
    let served = server.get("/api/v1/openapi.json").await.text().await.unwrap();
    expect_test::expect_file!["../../../docs/openapi.json"].assert_eq(&served);
}
