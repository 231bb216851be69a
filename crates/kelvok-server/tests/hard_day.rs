//! What a shop's server goes through: damaged rows, odd imports, foreign pages, silent connections,
//! long lists, large documents and askers that leave.

#[path = "../../kelvok-core/tests/library/large.rs"]
mod large;
mod server;

use kelvok_server::Settings;
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use server::Server;
use std::time::Duration;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;
use uuid::Uuid;

fn heard() -> Value {
    json!({"id": Uuid::now_v7(), "by": "Maren", "condition": {"key": "start", "pedal": "down"},
        "observed": {"kind": "heard", "heard": "silent"}})
}

async fn revision(server: &Server) -> Value {
    server.json("/api/v1/machines/pellwick-gt-46").await["revision_id"].clone()
}

#[tokio::test]
async fn a_story_with_odd_times_comes_in_whole_or_not_at_all_and_every_list_still_answers() {
    let server = Server::start().await;
    let revision = revision(&server).await;
    let story = |at: &str| {
        let signed = json!({"by": "Ilse", "at": at, "reason": "Slipped"});
        let text = json!({
            "format": "kelvok-story-1", "machine": "x", "complaint": "Silent.",
            "verdicts": [{"units": ["key"], "probability": 0.9, "confirmed": true, "note": "",
                "recorded": signed, "voided": null}],
            "entries": [{"condition": {"key": "start"}, "engine": "stopped",
                "observation": {"kind": "heard", "heard": "silent"},
                "recorded": signed, "voided": signed}],
        });
        json!({"id": Uuid::now_v7(), "revision_id": revision, "text": text.to_string(), "by": "Ilse"})
    };
    for (at, wanted) in [
        ("2016-12-31T23:59:60Z", 200),
        ("2026-02-03T04:05:06.1234567+05:45", 200),
        ("1969-12-31T23:59:59Z", 200),
        ("+12026-01-01T00:00:00Z", 422),
        ("0000-01-01T00:00:00Z", 422),
        ("9999-12-31T23:59:59-23:59", 422),
        ("yesterday", 422),
    ] {
        let body = story(at);
        let (status, answer) = server.post("/api/v1/jobs/stories", &body).await;
        assert_eq!(status, wanted, "{at}: {answer}");
        let job = server.get(&format!("/api/v1/jobs/{}", body["id"].as_str().unwrap())).await;
        assert_eq!(
            job.status(),
            if wanted == 200 { 200 } else { 404 },
            "{at}: whole or not at all"
        );
        if wanted == 200 {
            let job: Value = job.json().await.unwrap();
            assert!(
                job["evidence"][0]["voided"]["at"].is_string(),
                "{at}: a void is a void: {job}"
            );
        }
        assert_eq!(server.get("/api/v1/jobs").await.status(), 200, "{at}");
    }
}

#[tokio::test]
async fn no_bad_row_takes_a_list_or_a_job_down() {
    let server = Server::start().await;
    for _ in 0..3 {
        assert_eq!(server.record(&heard()).await.0, 200);
    }
    let (status, lain) = server
        .post(
            "/api/v1/bench",
            &json!({"id": Uuid::now_v7(), "by": "Maren", "name": "Key",
            "is": {"kind": "of-machine", "machine": "pellwick-gt-46", "part": "key"}}),
        )
        .await;
    assert_eq!(status, 200, "{lain}");
    let other =
        json!({"id": Uuid::now_v7(), "revision_id": revision(&server).await, "complaint": "Dies."});
    assert_eq!(server.post("/api/v1/jobs", &other).await.0, 200);
    for damage in [
        "update evidence set body = 'x' where sequence = 2",
        "update evidence set recorded_at = 0 where sequence = 3",
        "update bench_switch set body = '{}'",
        "update job set opened_at = 0 where complaint = 'Dies.'",
        "update machine_revision r join machine m on m.id = r.machine_id set r.document = '{' \
             where m.name = 'hexley-walk-50'",
    ] {
        let damage = format!("set sql_mode = ''; use kelvok; {damage}");
        server.database.sql(&damage).expect(&damage);
    }
    let jobs = server.json("/api/v1/jobs").await;
    assert_eq!(
        (&jobs["jobs"].as_array().unwrap().len(), jobs["unreadable"].as_array().unwrap().len()),
        (&1, 1)
    );
    let machines = server.json("/api/v1/machines").await;
    assert_eq!(machines["machines"].as_array().unwrap().len(), 11);
    let why = machines["unreadable"][0]["why"].as_str().unwrap();
    assert!(why.starts_with("hexley-walk-50: The document of this machine, revision 1,"), "{why}");
    let bench = server.json("/api/v1/bench").await;
    assert_eq!(bench["unreadable"].as_array().unwrap().len(), 1);
    let job = server.json(&server.job_path("")).await;
    assert_eq!(job["evidence"].as_array().unwrap().len(), 2);
    assert_eq!(job["evidence"][1]["recorded_at"], Value::Null);
    assert_eq!(job["unreadable"][0]["place"], 2);
    // It is judged by what can be read, exported, and goes on.
    for rest in ["/diagnosis", "/story.json", "/story.csv", "/trace/start", "/sweeps"] {
        assert_eq!(server.get(&server.job_path(rest)).await.status(), 200, "{rest}");
    }
    assert_eq!(server.record(&heard()).await.1["sequence"], 4);
    // What is asked of the damaged thing itself says so, and is no bug.
    let machine = server.get("/api/v1/machines/hexley-walk-50").await;
    assert_eq!(machine.status(), 422);
    let path = format!("/api/v1/bench/{}", lain["id"].as_str().unwrap());
    assert_eq!(server.get(&path).await.status(), 409);
}

#[tokio::test]
async fn a_status_change_whose_answer_was_lost_is_sent_again_without_a_conflict() {
    let server = Server::start().await;
    let path = format!("{}{}", server.address, server.job_path("/status"));
    for _ in 0..2 {
        let close = json!({"version": 1, "status": "closed"});
        let answer = server.client.put(&path).json(&close).send().await.expect("an answer");
        assert_eq!(answer.status(), 200);
        assert_eq!(answer.json::<Value>().await.unwrap()["version"], 2);
    }
    let reopen = json!({"version": 1, "status": "open"});
    let stale = server.client.put(&path).json(&reopen).send().await.expect("an answer");
    assert_eq!(stale.status(), 409);
}

#[tokio::test]
async fn what_changes_something_comes_from_our_own_page_or_is_refused() {
    let server = Server::start().await;
    let stranger = Client::new();
    let path = format!("{}{}", server.address, server.job_path("/evidence"));
    let send = |origin: Option<&'static str>| {
        let request = stranger.post(&path).json(&heard());
        origin.into_iter().fold(request, |r, o| r.header("origin", o)).send()
    };
    for origin in
        [None, Some("null"), Some("http://evil.example"), Some("http://127.0.0.1:1"), Some("")]
    {
        let refused = send(origin).await.expect("an answer");
        assert_eq!(refused.status(), 403, "{origin:?}");
        assert_eq!(refused.headers()["content-type"], "application/problem+json");
    }
    assert_eq!(server.json(&server.job_path("")).await["evidence"], json!([]), "nothing was kept");
    // A page elsewhere may not even read.
    let read = stranger.get(format!("{}/api/v1/jobs", server.address));
    let read = read.header("sec-fetch-site", "cross-site").send().await.expect("an answer");
    assert_eq!(read.status(), 403);
    let plain = stranger.get(format!("{}/api/v1/jobs", server.address)).send().await;
    assert_eq!(plain.expect("an answer").status(), 200, "a script that only reads");
}

#[tokio::test]
async fn every_refusal_is_a_problem_also_where_nothing_is() {
    let server = Server::start().await;
    let send = async |method: Method, path: &str| {
        let request = server.client.request(method, format!("{}{path}", server.address));
        request.send().await.expect("an answer")
    };
    for (method, path, status) in [
        (Method::POST, "/", 405),
        (Method::DELETE, "/jobs/17", 405),
        (Method::PUT, "/api/v1/health", 405),
        (Method::GET, "/api/v1/nothing", 404),
        (Method::POST, "/api/v1/nothing", 404),
        (Method::GET, "/api/v1/jobs?page=-1", 422),
        (Method::GET, "/api/v1/jobs?page=0&page=1", 422),
        (Method::GET, "/api/v1/jobs?status=lost", 422),
        (Method::GET, "/api/v1/machines/pellwick-gt-46/snapshot?set=%ff", 422),
        (Method::POST, "/api/v1/jobs", 415),
    ] {
        let answer = send(method.clone(), path).await;
        assert_eq!(answer.status(), status, "{method} {path}");
        assert_eq!(answer.headers()["content-type"], "application/problem+json", "{method} {path}");
        if status == 405 {
            assert!(answer.headers().contains_key("allow"), "{method} {path}");
        }
    }
}

#[tokio::test]
async fn names_that_are_too_long_or_not_plain_text_are_refused_with_the_field() {
    let server = Server::start().await;
    let long = "x".repeat(3000);
    let text = kelvok_core::machine::LIBRARY[0].text;
    let mut document: Value = serde_json::from_str(text).unwrap();
    document["identity"]["model"] = json!(long);
    let (status, problem) = server.post("/api/v1/machines", &document).await;
    assert_eq!((status.as_u16(), &problem["errors"][0]["field"]), (422, &json!("/identity/model")));
    document["identity"]["model"] = json!("GT\n.control\nshell touch /tmp/owned");
    let (status, problem) = server.post("/api/v1/machines", &document).await;
    assert_eq!((status.as_u16(), &problem["errors"][0]["field"]), (422, &json!("/identity/model")));
    for name in [long.as_str(), "two\nlines", "a\u{0}b"] {
        let keep = json!({"id": Uuid::now_v7(), "name": "uphill", "set": {}, "by": name});
        let path = "/api/v1/machines/pellwick-gt-46/conditions";
        let (status, problem) = server.post(path, &keep).await;
        assert_eq!(
            (status.as_u16(), &problem["errors"][0]["field"]),
            (422, &json!("by")),
            "{problem}"
        );
        let open = json!({"id": Uuid::now_v7(), "revision_id": revision(&server).await,
            "complaint": "Dies.", "tag": name});
        let (status, problem) = server.post("/api/v1/jobs", &open).await;
        assert_eq!((status.as_u16(), &problem["errors"][0]["field"]), (422, &json!("tag")));
    }
    let every_letter = json!({"id": Uuid::now_v7(), "revision_id": revision(&server).await,
        "complaint": "Quits 🚜 𝄞", "tag": "Rødgård 𝄞"});
    let (status, job) = server.post("/api/v1/jobs", &every_letter).await;
    assert_eq!((status.as_u16(), &job["tag"]), (200, &json!("Rødgård 𝄞")));
}

#[tokio::test]
async fn a_silent_connection_is_closed_and_three_hundred_lock_nobody_out() {
    let server = Server::start().await;
    let address = server.address.trim_start_matches("http://");
    let mut silent = Vec::new();
    for _ in 0..300 {
        let mut stream = TcpStream::connect(address).await.expect("a connection");
        stream.write_all(b"GET /api/v1/health HTTP/1.1\r\nHost: 12").await.expect("half a head");
        silent.push(stream);
        if silent.len() % 60 == 0 {
            assert_eq!(server.get("/api/v1/health").await.status(), 200);
        }
    }
    assert_eq!(server.record(&heard()).await.0, 200);
    let mut last = silent.pop().expect("one");
    let mut rest = Vec::new();
    let closed = tokio::time::timeout(Duration::from_secs(30), last.read_to_end(&mut rest));
    let closed = closed.await.expect("it is closed by itself");
    assert!(closed.is_err() || !String::from_utf8_lossy(&rest).contains("200 OK"));
}

#[tokio::test]
async fn lists_come_in_pages_and_are_found_by_any_word() {
    let server = Server::start().await;
    let revision = revision(&server).await;
    for i in 0..60 {
        let open = json!({"id": Uuid::now_v7(), "revision_id": revision, "complaint": "Dies.",
            "tag": format!("Orchard {i}"), "serial": format!("K-{i}")});
        assert_eq!(server.post("/api/v1/jobs", &open).await.0, 200);
    }
    let first = server.json("/api/v1/jobs?status=open").await;
    let count = |page: &Value| page["jobs"].as_array().unwrap().len();
    assert_eq!((count(&first), &first["total"], &first["size"]), (50, &json!(61), &json!(50)));
    let second = server.json("/api/v1/jobs?status=open&page=1").await;
    assert_eq!(count(&second), 11);
    assert_eq!(count(&server.json("/api/v1/jobs?page=4000000000").await), 0);
    let found = server.json("/api/v1/jobs?q=k-17%20PELLWICK").await;
    assert_eq!((count(&found), &found["jobs"][0]["tag"]), (1, &json!("Orchard 17")));
    assert_eq!(count(&server.json("/api/v1/jobs?status=closed").await), 0);
    let found = server.json("/api/v1/machines?q=gt-46").await;
    assert_eq!(found["machines"].as_array().unwrap().len(), 1);
}

/// A machine of four harnesses: seconds of work for every heavy question.
async fn keep_large(server: &Server) -> String {
    let document: Value = serde_json::from_str(&large::large(4)).unwrap();
    let (status, kept) = server.post("/api/v1/machines", &document).await;
    assert_eq!(status, 200, "{kept}");
    kept["name"].as_str().unwrap().to_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_long_answer_says_how_far_it_is_recording_never_waits_for_it_and_it_ends_with_its_asker()
{
    let server = Server::start().await;
    let large = keep_large(&server).await;
    let sheet = format!("{}/api/v1/machines/{large}/faults", server.address);
    let answer = server.client.get(&sheet).send().await.expect("an answer");
    assert_eq!(answer.status(), StatusCode::ACCEPTED);
    let progress: Value = answer.json().await.unwrap();
    assert!(progress["share"].as_f64().is_some_and(|s| (0.0..=1.0).contains(&s)), "{progress}");
    // Meanwhile what is recorded goes in, and health answers.
    assert_eq!(server.record(&heard()).await.0, 200);
    let health = server.json("/api/v1/health").await;
    assert_eq!(health["questions"], 1, "{health}");
    // Nobody asks again: the work ends.
    let mut left = 1;
    for _ in 0..300 {
        left = server.json("/api/v1/health").await["questions"].as_u64().unwrap();
        if left == 0 {
            break;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    assert_eq!(left, 0, "it goes on for nobody");
}

#[tokio::test(flavor = "multi_thread")]
async fn documents_of_askers_that_leave_keep_nothing_busy() {
    let server = Server::start().await;
    let document = large::large(3);
    let mut askers = Vec::new();
    for i in 0..20 {
        let text = document.replace("C-24D x3", &format!("C-24D {i}"));
        let request = server.client.post(format!("{}/api/v1/machines/check", server.address));
        let request = request.header("content-type", "application/json").body(text);
        askers.push(tokio::spawn(request.send()));
    }
    tokio::time::sleep(Duration::from_millis(1500)).await;
    for asker in &askers {
        asker.abort();
    }
    let mut left = 20;
    for _ in 0..100 {
        left = server.json("/api/v1/health").await["questions"].as_u64().unwrap();
        if left == 0 {
            break;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    assert_eq!(left, 0, "they go on for nobody");
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_kept_of_machines_has_so_much_room_and_the_oldest_goes_first() {
    let server = Server::with(Settings { room: 0, ..Settings::default() }).await;
    let mut kept = Vec::new();
    for n in 0..3 {
        let text = kelvok_core::machine::LIBRARY[0].text;
        let mut document: Value = serde_json::from_str(text).unwrap();
        document["identity"]["model"] = json!(format!("the same, no {n}"));
        let (status, machine) = server.post("/api/v1/machines", &document).await;
        assert_eq!(status, 200, "{machine}");
        let job = json!({"id": Uuid::now_v7(), "revision_id": machine["revision_id"],
            "complaint": "Silent."});
        assert_eq!(server.post("/api/v1/jobs", &job).await.0, 200);
        let path = format!("/api/v1/jobs/{}/diagnosis", job["id"].as_str().unwrap());
        assert_eq!(server.get(&path).await.status(), 200);
        kept.push(server.json("/api/v1/health").await["kept_megabytes"].as_f64().unwrap());
    }
    assert!(kept[0] > 1.0, "what is worked on stays: {kept:?}");
    // One machine's worth, not three.
    assert!(kept[2] < 1.5 * kept[0], "{kept:?}");
}
