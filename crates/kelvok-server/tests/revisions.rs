//! Revisions of a machine over HTTP: who made them, what each has otherwise, back to one, and jobs that follow.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

const AT: &str = "/api/v1/machines/dunmarrow-z-52";

/// The document with the PTO switch bridged, as somebody found it, and a wire of another color.
async fn bridged(server: &Server) -> Value {
    let mut document = server.json(&format!("{AT}/document.json")).await;
    let wires = document["wires"].as_array_mut().unwrap();
    let wire = wires.iter_mut().find(|w| w["from"] == "key-plug.S").unwrap();
    wire["color"] = json!("pink");
    document["as_found"] =
        json!([{"change": "pto-plug.A=touches:pto-plug.B", "note": "PTO switch bridged."}]);
    document
}

/// Opens a job on the machine as it is now.
async fn job(server: &mut Server) {
    let machine = server.json(AT).await;
    server.job = Uuid::now_v7();
    let job = json!({"id": server.job, "revision_id": machine["revision_id"], "tag": "",
        "owner": "", "complaint": "Cranks with the blades on"});
    assert_eq!(server.post("/api/v1/jobs", &job).await.0, 200);
}

async fn save(server: &Server, document: &Value, asked: &str) -> (u16, Value) {
    let (status, kept) = server.post(&format!("/api/v1/machines?{asked}"), document).await;
    (status.as_u16(), kept)
}

#[tokio::test]
async fn a_revision_says_who_and_why_and_what_it_has_otherwise() {
    let mut server = Server::start().await;
    job(&mut server).await;
    let document = bridged(&server).await;
    let (status, kept) = save(&server, &document, "by=Maren&reason=PTO%20switch%20bridged").await;
    assert_eq!((status, &kept["revision"]), (200, &json!(2)), "{kept:#}");
    let all = server.json(&format!("{AT}/revisions")).await;
    let newest = &all[0];
    assert_eq!((&newest["revision"], &newest["by"]), (&json!(2), &json!("Maren")));
    assert_eq!(newest["reason"], "PTO switch bridged");
    assert_eq!((&all[1]["by"], &all[1]["jobs"]), (&Value::Null, &json!(1)), "{all:#}");

    let differs = server.json(&format!("{AT}/difference?from=1&to=2")).await;
    let sentences = differs["drawing"].as_array().unwrap().iter().map(|d| &d["sentence"]);
    let wire = "White wire, key switch plug pin S to PTO switch plug pin A: color pink, not white.";
    let sentences: Vec<_> = sentences.collect();
    assert_eq!(sentences, [&json!(wire), &json!("New: PTO switch bridged.")]);
    let conditions = differs["decides"]["conditions"].as_array().unwrap();
    let cranks = conditions.iter().find(|c| c["effect"] == "cranks").unwrap();
    assert_eq!((&cranks["now"], &cranks["less_safe"]), (&json!(true), &json!(true)));
    assert_eq!(cranks["first"]["blades"], "on", "{cranks:#}");
    let duties = differs["decides"]["duties"].as_array().unwrap();
    assert!(duties.iter().any(|d| d["before"] == "proved" && d["after"] == "broken"));
    // The other way round it is safer again.
    let back = server.json(&format!("{AT}/difference?from=2&to=1")).await;
    let conditions = back["decides"]["conditions"].as_array().unwrap();
    assert!(conditions.iter().all(|c| c["less_safe"] == false), "{conditions:#?}");
    let none = server.json(&format!("{AT}/difference?from=2&to=2")).await;
    assert_eq!((&none["drawing"], &none["decides"]["conditions"]), (&json!([]), &json!([])));
}

#[tokio::test]
async fn a_job_is_told_of_a_newer_revision_and_follows_when_it_is_asked_to() {
    let mut server = Server::start().await;
    job(&mut server).await;
    let before = server.json(&server.job_path("")).await;
    assert_eq!((&before["revision"], &before["newer"]), (&json!(1), &Value::Null));
    save(&server, &bridged(&server).await, "by=Maren").await;
    let told = server.json(&server.job_path("")).await;
    assert_eq!((&told["revision"], &told["newer"]["revision"]), (&json!(1), &json!(2)));
    assert_eq!(told["machine"], "dunmarrow-z-52");
    let address = format!("{}{}", server.address, server.job_path("/revision"));
    let newer = json!({"revision_id": told["newer"]["revision_id"]});
    let moved = server.client.put(&address).json(&newer).send().await.unwrap();
    assert_eq!(moved.status(), 204);
    let after = server.json(&server.job_path("")).await;
    assert_eq!((&after["revision"], &after["newer"]), (&json!(2), &Value::Null));
    let all = server.json(&format!("{AT}/revisions")).await;
    assert_eq!(all.as_array().unwrap().len(), 2, "it makes no revision: {all:#}");
    assert_eq!(all[0]["jobs"], 1);
}

#[tokio::test]
async fn an_earlier_revision_is_the_newest_again_and_nothing_is_lost() {
    let server = Server::start().await;
    save(&server, &bridged(&server).await, "by=Maren").await;
    // The bridge is on the machine whatever is drawn: somebody has to say that it is off.
    let back = format!("{AT}/revisions?revision=1&by=Ilse");
    let (status, asks) = server.post(&back, &Value::Null).await;
    assert_eq!(status.as_u16(), 409, "{asks:#}");
    assert!(asks["detail"].as_str().unwrap().contains("PTO switch bridged"), "{asks:#}");
    let (status, all) = server.post(&format!("{back}&taken_off=true"), &Value::Null).await;
    assert_eq!((status.as_u16(), all.as_array().unwrap().len()), (200, 3), "{all:#}");
    assert_eq!((&all[0]["reason"], &all[0]["by"]), (&json!("Back to revision 1"), &json!("Ilse")));
    let same = server.json(&format!("{AT}/difference?from=1&to=3")).await;
    assert_eq!(same["drawing"], json!([]), "{same:#}");
    // What is not there is named.
    for (asked, status) in [
        (format!("{AT}/difference?from=1&to=9"), 404),
        (format!("{AT}/difference?from=1"), 422),
        ("/api/v1/machines/none/revisions".to_owned(), 404),
    ] {
        assert_eq!(server.get(&asked).await.status(), status, "{asked}");
    }
    let (status, _) = server.post(&format!("{AT}/revisions?revision=9"), &Value::Null).await;
    assert_eq!(status.as_u16(), 404);
    let long = format!("by={}", "x".repeat(81));
    assert_eq!(save(&server, &bridged(&server).await, &long).await.0, 422);
}
