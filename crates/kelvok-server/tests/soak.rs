//! A soak over HTTP: the server's clock, what does not fit, and what the job makes of it.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

async fn enter(server: &Server, entry: Value) -> (u16, Value) {
    let body = json!({"id": Uuid::now_v7(), "by": "Maren", "entry": entry});
    let (status, answer) = server.post(&server.job_path("/soak/entries"), &body).await;
    (status.as_u16(), answer)
}

fn began(times: u32, hours: f64) -> Value {
    json!({"kind": "began", "told": {"times": times, "hours": hours, "share": 0.5},
           "needs": ["bumps"], "still": 0.5})
}

async fn soaking(server: &Server) -> bool {
    let page = server.json("/api/v1/jobs").await;
    page["jobs"][0]["soaking"].as_bool().expect("said of every job")
}

#[tokio::test]
async fn the_clock_is_the_server_s_and_the_list_shows_it() {
    let server = Server::start().await;
    let none = server.json(&server.job_path("/soak")).await;
    assert_eq!((&none["standing"], &none["still"]), (&Value::Null, &json!(0.5)));
    assert!(!soaking(&server).await);
    let (status, view) = enter(&server, began(4, 5.0)).await;
    assert_eq!(status, 200, "{view:#}");
    assert!(soaking(&server).await);
    enter(&server, json!({"kind": "trigger", "trigger": "bumps", "on": true})).await;
    tokio::time::sleep(std::time::Duration::from_millis(1200)).await;
    // Another tablet, which knew nothing of it, sees the same clock.
    let view = server.json(&server.job_path("/soak")).await;
    let soak = &view["standing"];
    let minutes = soak["minutes"].as_f64().expect("minutes");
    assert!((0.015..1.0).contains(&minutes), "{soak:#}");
    assert_eq!((&soak["running"], &soak["on"]), (&json!(true), &json!(["bumps"])));
    enter(&server, json!({"kind": "paused"})).await;
    let stood = server.json(&server.job_path("/soak")).await["standing"]["minutes"].clone();
    tokio::time::sleep(std::time::Duration::from_millis(300)).await;
    let later = server.json(&server.job_path("/soak")).await["standing"]["minutes"].clone();
    assert_eq!(stood, later, "it stands");
    let (_, view) = enter(&server, json!({"kind": "failed", "note": "Over the root."})).await;
    assert_eq!(
        (&view["standing"]["still_there"], &view["standing"]["goals"]),
        (&json!(1.0), &json!([]))
    );
    // A slip of the thumb: taken back, it did not happen.
    let last = view["log"].as_array().and_then(|l| l.last()).expect("it")["id"].clone();
    let path = server.job_path(&format!("/soak/entries/{}/void", last.as_str().expect("an id")));
    let (_, view) = server.post(&path, &json!({"by": "Maren", "reason": "Undone"})).await;
    assert_eq!(view["standing"]["failures"], 0);
    let (_, view) = enter(&server, json!({"kind": "ended"})).await;
    assert_eq!(view["standing"]["ended"], true);
    assert!(!soaking(&server).await);
    let evidence = server.json(&server.job_path("")).await["evidence"].clone();
    assert_eq!(evidence, json!([]), "seconds of quiet are no evidence");
}

#[tokio::test]
async fn what_does_not_fit_is_refused_and_a_retry_counts_once() {
    let server = Server::start().await;
    let (status, _) = enter(&server, json!({"kind": "paused"})).await;
    assert_eq!(status, 409, "nothing is under way");
    for (entry, field) in [
        (began(4, 0.0), "hours"),
        (began(20_000, 5.0), "times"),
        (
            json!({"kind": "began", "told": {"times": 1, "hours": 1.0, "share": 0.0}, "still": 0.5}),
            "share",
        ),
        (json!({"kind": "began", "told": {"times": 1, "hours": 1.0}, "still": 1.0}), "still"),
    ] {
        let (status, problem) = enter(&server, entry).await;
        assert_eq!((status, &problem["errors"][0]["field"]), (422, &json!(field)), "{problem:#}");
    }
    let body = json!({"id": Uuid::now_v7(), "by": "Maren", "entry": began(4, 5.0)});
    for _ in 0..2 {
        let (status, view) = server.post(&server.job_path("/soak/entries"), &body).await;
        assert_eq!((status.as_u16(), view["log"].as_array().map(Vec::len)), (200, Some(1)));
    }
    for (entry, status) in [
        (began(4, 5.0), 409),
        (json!({"kind": "resumed"}), 409),
        (json!({"kind": "taken-off", "minutes": 50.0}), 422),
    ] {
        assert_eq!(enter(&server, entry).await.0, status);
    }
    // A closed job takes nothing more.
    let job = server.json(&server.job_path("")).await;
    let at = format!("{}{}", server.address, server.job_path("/status"));
    let close = json!({"version": job["version"], "status": "closed"});
    let closed = server.client.put(at).json(&close).send().await.expect("an answer");
    assert_eq!(closed.status().as_u16(), 200);
    assert_eq!(enter(&server, json!({"kind": "failed"})).await.0, 409);
}

#[tokio::test]
async fn quiet_hours_go_into_the_evidence_once_and_are_taken_back_with_the_end() {
    let server = Server::start().await;
    enter(&server, began(4, 5.0)).await;
    enter(&server, json!({"kind": "trigger", "trigger": "bumps", "on": true})).await;
    let earlier =
        "use kelvok; update soak_entry set recorded_at = recorded_at - interval 96 minute";
    server.database.sql(earlier).expect("96 minutes ago");
    let soak = server.json(&server.job_path("/soak")).await["standing"].clone();
    let says = soak["says"].as_str().expect("a sentence");
    assert!(says.starts_with("Not reproduced in 96 min with what brings it on."), "{says}");
    let job = server.json(&server.job_path("")).await;
    assert_eq!(job["soak"], says, "as it goes on the sheet");
    // The minutes were kept and the end was lost: sent again, they are not kept twice.
    let end = json!({"id": Uuid::now_v7(), "by": "Maren", "entry": {"kind": "ended"}});
    assert_eq!(server.post(&server.job_path("/soak/entries"), &end).await.0.as_u16(), 200);
    server
        .database
        .sql("use kelvok; delete from soak_entry where body like '%ended%'")
        .expect("lost");
    server.database.sql(earlier).expect("later");
    let (status, view) = server.post(&server.job_path("/soak/entries"), &end).await;
    assert_eq!((status.as_u16(), &view["standing"]["ended"]), (200, &json!(true)), "{view:#}");
    let ran = |job: &Value| {
        let all = job["evidence"].as_array().expect("a log").clone();
        let own = all.iter().filter(|e| e["entry"]["observation"]["kind"] == "ran");
        own.map(|e| (e["entry"]["observation"]["minutes"].clone(), e["voided"].is_null()))
            .collect::<Vec<_>>()
    };
    let job = server.json(&server.job_path("")).await;
    assert_eq!(ran(&job), [(json!(96.0), true)]);
    let path =
        server.job_path(&format!("/soak/entries/{}/void", end["id"].as_str().expect("an id")));
    server.post(&path, &json!({"by": "Maren", "reason": "Undone"})).await;
    assert_eq!(ran(&server.json(&server.job_path("")).await), [(json!(96.0), false)]);
}
