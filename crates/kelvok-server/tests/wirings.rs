//! What is open of a machine's wiring, and how it is settled, over HTTP.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

/// A job on a machine that was described by its looks.
async fn described(server: &mut Server) -> Value {
    let looked = json!({"answers": {"kind": "lawn-tractor"}, "make": "Stranger", "model": "Rider"});
    let (status, described) = server.post("/api/v1/machines/describe", &looked).await;
    assert_eq!(status, 200, "{described:#}");
    assert!(!described["open"].as_array().unwrap().is_empty());
    let (status, machine) = server.post("/api/v1/machines", &described["document"]).await;
    assert_eq!(status, 200, "{machine:#}");
    server.job = Uuid::now_v7();
    let job = json!({"id": server.job, "revision_id": machine["revision_id"], "tag": "",
        "owner": "", "complaint": "Nothing when I turn the key"});
    assert_eq!(server.post("/api/v1/jobs", &job).await.0, 200);
    machine
}

async fn open(server: &Server) -> Vec<Value> {
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    diagnosis["wiring"]["open"].as_array().cloned().unwrap_or_default()
}

async fn newest(server: &Server) -> Value {
    server.json("/api/v1/machines/stranger-rider").await
}

#[tokio::test]
async fn what_is_open_is_settled_for_the_job_and_for_the_machine_and_taken_back() {
    let mut server = Server::start().await;
    let machine = described(&mut server).await;
    let before = open(&server).await;
    let ways = before[0]["ways"].as_array().unwrap();
    let sum: f64 = ways.iter().map(|w| w["probability"].as_f64().unwrap()).sum();
    assert!((sum - 1.0).abs() < 1e-6, "{before:#?}");
    assert!(before[0]["shown"].is_null(), "nothing was measured yet");

    let settle = json!({"alternative": before[0]["id"], "choice": ways[1]["choice"]});
    let (status, rewired) = server.post(&server.job_path("/wiring"), &settle).await;
    assert_eq!(status, 200, "{rewired:#}");
    assert_eq!(open(&server).await.len(), before.len() - 1);
    assert_eq!(newest(&server).await["revision_id"], rewired["revision_id"]);
    // Twice is once too many.
    let (status, refused) = server.post(&server.job_path("/wiring"), &settle).await;
    assert_eq!(status, 422, "{refused:#}");

    let address = format!("{}{}", server.address, server.job_path("/revision"));
    let back = json!({"revision_id": rewired["before"]});
    let answer = server.client.put(&address).json(&back).send().await.unwrap();
    assert_eq!(answer.status(), 204);
    assert_eq!(open(&server).await.len(), before.len());
    assert_ne!(newest(&server).await["revision_id"], machine["revision_id"], "a third revision");

    // Another machine's drawing is none of this one's.
    let other = server.json("/api/v1/machines/pellwick-gt-46").await["revision_id"].clone();
    let back = json!({"revision_id": other});
    let answer = server.client.put(&address).json(&back).send().await.unwrap();
    assert_eq!(answer.status(), 409);
}

#[tokio::test]
async fn what_is_no_choice_is_refused_and_a_closed_job_keeps_its_drawing() {
    let mut server = Server::start().await;
    described(&mut server).await;
    let at = server.job_path("/wiring");
    for wrong in [
        json!({"alternative": "nothing", "choice": null}),
        json!({"alternative": "start", "choice": "nothing"}),
    ] {
        assert_eq!(server.post(&at, &wrong).await.0, 422, "{wrong}");
    }
    // A drawing is changed only by what the job's readings show.
    let wrong = json!({"change": "seat-switch-plug.A=swapped:seat-switch-plug.B"});
    assert_eq!(server.post(&server.job_path("/drawing"), &wrong).await.0, 409);
    let version = server.json(&server.job_path("")).await["version"].clone();
    let close = json!({"version": version, "status": "closed"});
    let address = format!("{}{}", server.address, server.job_path("/status"));
    assert_eq!(server.client.put(address).json(&close).send().await.unwrap().status(), 200);
    let before = newest(&server).await["revision_id"].clone();
    let settle = json!({"alternative": "start", "choice": null});
    assert_eq!(server.post(&at, &settle).await.0, 409);
    let back = json!({"revision_id": before});
    let address = format!("{}{}", server.address, server.job_path("/revision"));
    assert_eq!(server.client.put(address).json(&back).send().await.unwrap().status(), 409);
    assert_eq!(newest(&server).await["revision_id"], before, "the machine is as it was");
}
