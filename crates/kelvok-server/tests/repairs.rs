//! What was taken off for a test, repairs, and giving the machine back, over HTTP.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

async fn record(server: &Server, set_up: Value, observed: Value) -> Value {
    let body = json!({"id": Uuid::now_v7(), "by": "Maren", "condition": {}, "set_up": set_up,
        "observed": observed});
    let (status, answer) = server.post(&server.job_path("/evidence"), &body).await;
    assert_eq!(status.as_u16(), 200, "{answer:#}");
    answer
}

async fn close(server: &Server) -> (u16, Value) {
    let version = server.json(&server.job_path("")).await["version"].clone();
    let body = json!({"version": version, "status": "closed"});
    let request = server.client.put(format!("{}{}", server.address, server.job_path("/status")));
    let response = request.json(&body).send().await.expect("an answer");
    (response.status().as_u16(), response.json().await.expect("a body"))
}

/// A plug of the machine that can be taken off, as a set-up.
async fn a_plug(server: &Server) -> Value {
    let job = server.json(&server.job_path("")).await;
    let set_ups = job["set_ups"].as_array().unwrap();
    let plug = set_ups.iter().find(|s| s["entry"]["kind"] == "unplugged").expect("a plug");
    plug["entry"].clone()
}

#[tokio::test]
async fn what_is_off_is_put_back_before_the_next_card_and_before_the_job_is_closed() {
    let server = Server::start().await;
    let plug = a_plug(&server).await;
    record(&server, json!([]), json!({"kind": "heard", "heard": "silent"})).await;
    let looked = json!({"kind": "heard", "heard": "silent"});
    let taken = record(&server, json!([plug]), looked).await;
    let job = server.json(&server.job_path("")).await;
    assert_eq!(job["still_off"][0]["entry"], plug);
    // Whoever looks at the shop's list sees it, with who left it so and since when.
    let listed = async || {
        let page = server.json("/api/v1/jobs").await;
        let own = page["jobs"].as_array().unwrap().iter().find(|j| j["id"] == job["id"]).unwrap();
        own["still_off"].clone()
    };
    let left = listed().await;
    assert_eq!((&left[0]["entry"], &left[0]["by"]), (&plug, &json!("Maren")), "{left:#}");
    assert_eq!(left[0]["since"], job["still_off"][0]["since"]);
    assert!(left[0]["since"].is_string(), "{left:#}");
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    let tests = diagnosis["tests"].as_array().unwrap();
    let mut asked = 0;
    for test in tests {
        let stays = test["set_up"].as_array().unwrap().iter().any(|s| s["entry"] == plug);
        let back = test["put_back"].as_array().unwrap();
        assert_eq!(back.iter().any(|s| s["entry"] == plug), !stays, "{test:#}");
        asked += usize::from(!stays);
    }
    assert!(asked > 0, "some test has the plug on");
    // Taking the entry back plugs nothing in.
    let void = json!({"by": "Maren", "reason": "Mistyped"});
    let at = server.job_path(&format!("/evidence/{}/void", taken["id"].as_str().unwrap()));
    assert_eq!(server.post(&at, &void).await.0, 200);
    let (status, refused) = close(&server).await;
    assert_eq!(status, 422, "{refused:#}");
    let sentence = refused["errors"][0]["sentence"].as_str().unwrap_or_default();
    assert!(sentence.starts_with("To put back: "), "{sentence}");
    record(&server, json!([]), json!({"kind": "put-back", "what": plug})).await;
    assert_eq!(listed().await, json!([]));
    assert_eq!(server.json(&server.job_path("")).await["still_off"], json!([]));
    assert_eq!(close(&server).await.0, 200);
}

#[tokio::test]
async fn a_repair_says_how_and_what_it_was_is_judged_as_before_it() {
    let server = Server::start().await;
    let job = server.json(&server.job_path("")).await;
    let repairs = job["repairs"].as_array().unwrap();
    let switch = repairs.iter().find(|r| r["unit"]["id"] == "brake").expect("a switch");
    assert!(switch["ways"].as_array().unwrap().contains(&json!("replaced")), "{switch}");
    record(&server, json!([]), json!({"kind": "heard", "heard": "silent"})).await;
    let share = |diagnosis: &Value| {
        let rows = diagnosis["suspects"].as_array().unwrap().clone();
        let own = rows.iter().find(|r| r["units"][0]["id"] == "brake");
        own.map_or(0.0, |r| r["probability"].as_f64().unwrap())
    };
    let before = share(&server.json(&server.job_path("/diagnosis")).await);
    let repaired = json!({"kind": "repaired", "unit": "brake", "how": "cleaned", "note": "Green"});
    record(&server, json!([]), repaired).await;
    record(&server, json!([]), json!({"kind": "heard", "heard": "silent"})).await;
    let keep = json!({"id": Uuid::now_v7(), "by": "Maren", "units": ["brake"], "note": "Seen."});
    let (status, kept) = server.post(&server.job_path("/verdicts"), &keep).await;
    assert_eq!(status.as_u16(), 200);
    let held = kept["probability"].as_f64().unwrap();
    assert!((held - before).abs() < 0.02, "{held} as before the cure, {before}");
    let job = server.json(&server.job_path("")).await;
    let entries = job["evidence"].as_array().unwrap();
    let repair = entries.iter().find(|e| e["entry"]["observation"]["kind"] == "repaired");
    let repair = &repair.expect("the repair")["entry"]["observation"];
    assert_eq!((&repair["how"], &repair["note"]), (&json!("cleaned"), &json!("Green")));
}

#[tokio::test]
async fn a_job_has_another_mark_after_whatever_is_done_to_it() {
    let server = Server::start().await;
    let mut marks = Vec::new();
    let mark = async || {
        let mark = server.json(&server.job_path("/mark")).await["mark"].clone();
        assert_eq!(mark, server.json(&server.job_path("")).await["mark"]);
        mark
    };
    marks.push(mark().await);
    assert_eq!(marks[0], mark().await, "nothing was done");
    let heard = json!({"kind": "heard", "heard": "silent"});
    let entry = record(&server, json!([]), heard).await["id"].as_str().unwrap().to_owned();
    marks.push(mark().await);
    let void = json!({"by": "Maren", "reason": "Mistyped"});
    server.post(&server.job_path(&format!("/evidence/{entry}/void")), &void).await;
    marks.push(mark().await);
    let keep = json!({"id": Uuid::now_v7(), "by": "Maren", "units": ["nothing"]});
    server.post(&server.job_path("/verdicts"), &keep).await;
    marks.push(mark().await);
    close(&server).await;
    marks.push(mark().await);
    for (i, one) in marks.iter().enumerate() {
        assert!(!marks[i + 1..].contains(one), "{marks:?}");
    }
}

#[tokio::test]
async fn whose_machine_it_is_can_be_corrected_and_an_empty_job_taken_away() {
    let server = Server::start().await;
    let machines = server.json("/api/v1/machines").await;
    let all = machines["machines"].as_array().unwrap();
    let other = all.iter().find(|m| m["name"] == "dunmarrow-z-52").expect("in the library");
    let put = async |body: Value| {
        let at = format!("{}{}", server.address, server.job_path(""));
        let response = server.client.put(at).json(&body).send().await.expect("an answer");
        let status = response.status().as_u16();
        (status, response.json::<Value>().await.expect("a body"))
    };
    let job = server.json(&server.job_path("")).await;
    let body = |version: &Value| {
        json!({"version": version, "revision_id": other["revision_id"], "tag": "Barn 2",
            "owner": "Ada Quill", "complaint": "Dies.", "serial": "Z-0042", "hours": 312.5})
    };
    let (status, changed) = put(body(&job["version"])).await;
    assert_eq!(status, 200, "{changed:#}");
    let is = |field: &str| changed[field].clone();
    assert_eq!(
        (is("model"), is("tag"), is("serial")),
        (json!("Z-52"), json!("Barn 2"), json!("Z-0042"))
    );
    assert_eq!(put(body(&job["version"])).await.0, 409, "read before it was changed");
    assert_eq!(server.json("/api/v1/jobs?q=Z-0042").await["total"], 1, "found by its serial");
    record(&server, json!([]), json!({"kind": "note", "text": "Seat torn."})).await;
    let first = all.iter().find(|m| m["name"] != "dunmarrow-z-52").expect("another");
    let mut back = body(&changed["version"]);
    back["revision_id"] = first["revision_id"].clone();
    let (status, refused) = put(back).await;
    assert_eq!(status, 409, "{refused:#}");
    let delete = async |id: &str| {
        let at = format!("{}/api/v1/jobs/{id}", server.address);
        server.client.delete(at).send().await.expect("an answer").status().as_u16()
    };
    assert_eq!(delete(&server.job.to_string()).await, 409, "it has an entry");
    let id = Uuid::now_v7();
    let new = json!({"id": id, "revision_id": other["revision_id"], "complaint": "x"});
    assert_eq!(server.post("/api/v1/jobs", &new).await.0, 200);
    assert_eq!(delete(&id.to_string()).await, 204);
    assert_eq!(delete(&id.to_string()).await, 204, "sent again after a lost answer");
    assert_eq!(server.get(&format!("/api/v1/jobs/{id}")).await.status().as_u16(), 404);
}
