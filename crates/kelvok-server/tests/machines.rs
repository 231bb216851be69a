//! Machines over HTTP: what is asked of them, what leaves, what comes in.

mod server;

use kelvok_core::machine::LIBRARY;
use reqwest::StatusCode;
use reqwest::header::CONTENT_DISPOSITION;
use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

const GT46: &str = "/api/v1/machines/pellwick-gt-46";

fn text(name: &str) -> &'static str {
    LIBRARY.iter().find(|m| m.name == name).expect("shipped").text
}

impl Server {
    async fn send(&self, path: &str, text: &str) -> (StatusCode, Value) {
        let request = self.client.post(format!("{}{path}", self.address));
        let request = request.header("content-type", "application/json").body(text.to_owned());
        let response = request.send().await.expect("an answer");
        (response.status(), response.json().await.unwrap_or(Value::Null))
    }

    async fn text(&self, path: &str) -> String {
        let response = self.get(path).await;
        assert_eq!(response.status(), StatusCode::OK, "{path}");
        assert!(response.headers().contains_key(CONTENT_DISPOSITION), "{path} is a file");
        response.text().await.expect("text")
    }

    async fn machines(&self) -> usize {
        self.json("/api/v1/machines").await["machines"].as_array().expect("a list").len()
    }
}

#[tokio::test]
async fn every_machine_answers_everything_that_is_asked_of_it() {
    let server = Server::start().await;
    assert_eq!(server.machines().await, LIBRARY.len());
    for machine in LIBRARY {
        let base = format!("/api/v1/machines/{}", machine.name);
        let detail = server.json(&base).await;
        assert!(!detail["conditions"].as_array().unwrap().is_empty(), "{base}");
        for circuit in detail["circuits"].as_array().unwrap() {
            let path = format!("{base}/circuits/{}", circuit["id"].as_str().unwrap());
            let view = server.json(&path).await;
            assert_eq!(view["shape"], circuit["shape"], "{path}");
        }
        let logic = server.json(&format!("{base}/logic")).await;
        let duties = logic["found"]["duties"].as_array().unwrap();
        let built = &logic["built"];
        for (i, duty) in duties.iter().enumerate() {
            // What is broken as found is done as built: that is what makes it found.
            let as_built = built["duties"][i]["broken"].as_u64().unwrap_or(0);
            let broken = duty["broken"].as_u64().unwrap();
            assert!(broken == 0 || (built.is_object() && as_built == 0), "{base}: {duty}");
        }
        assert_eq!(built.is_object(), !detail["found"].as_array().unwrap().is_empty());
        let harness = server.json(&format!("{base}/harness")).await;
        let snapshot = server.json(&format!("{base}/snapshot?engine=running")).await;
        let wires = harness["wires"].as_array().unwrap().len();
        assert_eq!(snapshot["wires"].as_array().unwrap().len(), wires);
        for wire in harness["wires"].as_array().unwrap() {
            for end in ["from", "to"] {
                let part = &wire[end]["port"]["part"];
                let shown = harness["parts"].as_array().unwrap();
                assert!(shown.iter().any(|p| p["id"] == *part), "{base}: {wire}");
            }
        }
    }
}

#[tokio::test]
async fn a_kill_ladder_shows_the_rung_that_stops_the_engine() {
    let server = Server::start().await;
    let path = format!("{GT46}/circuits/kill?set=key:run&set=seat:empty&engine=running");
    let ladder = server.json(&path).await;
    let lit: Vec<_> =
        ladder["rungs"].as_array().unwrap().iter().filter(|r| r["lit"] == true).collect();
    assert_eq!(lit.len(), 1);
    let gates: Vec<_> = lit[0]["elements"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|e| e["role"] == "gate")
        .map(|e| e["id"].as_str().unwrap())
        .collect();
    assert_eq!(gates, ["seat.kill", "brake.kill"]);
    assert_eq!(ladder["fires_grounded"], false);
    // A module that fires grounded runs by what would stop any other.
    let walk = "/api/v1/machines/hexley-walk-50/circuits/fire?set=switch:on&set=bail:held";
    let walk = server.json(walk).await;
    assert_eq!(walk["fires_grounded"], true);
    assert_eq!(walk["rungs"][0]["lit"], true);
    // The same for a job, with what was heard.
    let job = server.json(&server.job_path("/trace/kill?set=key:run&set=seat:empty")).await;
    assert_eq!(job["shape"], "ladder");
    assert!(job["terminals"].as_array().unwrap().contains(&json!("module-1.kill")));
}

#[tokio::test]
async fn two_conditions_are_compared_wire_by_wire() {
    let server = Server::start().await;
    let path = format!("{GT46}/compare?set=key:off&to_set=key:start&to_set=pedal:down");
    let compared = server.json(&path).await;
    assert_eq!(compared["before"]["cranks"], false);
    assert_eq!(compared["after"]["cranks"], true);
    let wires = compared["wires"].as_array().unwrap();
    let w7 = wires.iter().find(|w| w["id"] == "w7").expect("w7 changes");
    assert_eq!(w7["color"], "white");
    let contacts = compared["contacts"].as_array().unwrap();
    assert!(contacts.iter().any(|c| c["id"] == "key.start" && c["made"] == true));
    let same = server.json(&format!("{GT46}/compare")).await;
    assert_eq!(same["wires"], json!([]));
}

#[tokio::test]
async fn ways_say_what_blocks_and_the_fewest_moves() {
    let server = Server::start().await;
    let ids = |contacts: &Value| -> Vec<String> {
        let list = contacts.as_array().unwrap().iter();
        list.map(|c| c["id"].as_str().unwrap().to_owned()).collect()
    };
    let parked = server.json(&format!("{GT46}/ways?circuit=start")).await;
    assert_eq!(parked["way"], "blocked");
    assert_eq!(ids(&parked["contacts"]), ["key.start", "brake.start"]);
    assert_eq!(parked["nearest"]["key"], "start");
    assert_eq!(parked["nearest"]["pedal"], "down");
    let two = "from=battery.%2B&to=solenoid.trigger&set=key:start&set=pedal:down";
    let start = server.json(&format!("{GT46}/ways?{two}")).await;
    assert_eq!(start["way"], "complete");
    assert_eq!(start["contacts"].as_array().unwrap().len(), 1, "one gate of a row parts it");
    let kill = server.json(&format!("{GT46}/ways?circuit=kill&set=key:run&set=seat:empty")).await;
    assert_eq!(kill["way"], "complete");
    assert_eq!(kill["ways"].as_array().unwrap().len(), 4, "rungs");
    let refused = server.get(&format!("{GT46}/ways?from=battery.%2B")).await;
    assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn a_machine_goes_out_and_comes_back_as_it_was() {
    let server = Server::start().await;
    for machine in LIBRARY {
        let path = format!("/api/v1/machines/{}/document.json", machine.name);
        let document = server.text(&path).await;
        assert_eq!(document, machine.text, "{path}");
        // Taken in again it is no new revision.
        let (status, kept) = server.send("/api/v1/machines", &document).await;
        assert_eq!((status, &kept["revision"]), (StatusCode::OK, &json!(1)), "{kept}");
    }
    assert_eq!(server.machines().await, LIBRARY.len());
}

#[tokio::test]
async fn tables_leave_as_csv_and_conditions_as_netlists() {
    let server = Server::start().await;
    let table = server.text(&format!("{GT46}/table.csv")).await;
    assert!(table.starts_with("Key,Seat,Pedal,Blades,Lever,cranks,would start,"), "{table}");
    assert_eq!(table.lines().count(), 97, "96 combinations and a header");
    let wires = server.text(&format!("{GT46}/wires.csv")).await;
    assert!(wires.contains("w7,white,16,"), "{wires}");
    let faults = server.text("/api/v1/machines/kelvok-r1/faults.csv").await;
    let welded = faults.lines().find(|l| l.starts_with("brake.start=made")).expect("a row");
    assert!(welded.contains(",hidden,"), "{welded}");
    let netlist = server.text(&format!("{GT46}/netlist.cir?set=key:run&engine=running")).await;
    assert!(netlist.contains("engine running") && netlist.ends_with(".end\n"));
}

#[tokio::test]
async fn the_fault_sheet_says_what_nobody_would_notice() {
    let server = Server::start().await;
    let sheet = server.json("/api/v1/machines/kelvok-r1/faults").await;
    let rows = sheet["rows"].as_array().unwrap();
    let silent: Vec<_> = rows.iter().filter(|r| r["verdict"] == "silent").collect();
    assert_eq!(silent.len(), 16);
    assert!(silent.iter().all(|r| !r["breaks"].as_array().unwrap().is_empty()));
    let pole = silent.iter().find(|r| r["thing"] == "Pedal switch, start contacts").expect("a row");
    assert_eq!(pole["mode"], "stuck-made");
}

#[tokio::test]
async fn a_document_is_taken_in_whole_or_not_at_all() {
    let server = Server::start().await;
    let before = server.machines().await;
    let mut document: Value = serde_json::from_str(text("pellwick-r-30")).unwrap();
    document["identity"]["model"] = json!("R-31 / mk 2");
    document["wires"][0]["to"] = json!("nowhere.x");
    document["duties"][0]["from"] = json!("key=sideways");
    document["parts"][0]["ohms"] = json!(-1);
    for path in ["/api/v1/machines/check", "/api/v1/machines"] {
        let (status, problem) = server.send(path, &document.to_string()).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
        let errors = problem["errors"].as_array().unwrap();
        for pointer in ["/wires/0/to", "/duties/0/from", "/parts/0/ohms"] {
            assert!(errors.iter().any(|e| e["field"] == pointer), "{pointer}: {problem}");
        }
    }
    let (status, problem) = server.send("/api/v1/machines/check", "{\"format\": ").await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(problem["errors"][0]["sentence"].as_str().unwrap().contains("line 1"), "{problem}");
    assert_eq!(server.machines().await, before, "nothing was kept");

    let mut document: Value = serde_json::from_str(text("pellwick-r-30")).unwrap();
    document["identity"]["model"] = json!("R-31 / mk 2");
    let (status, checked) = server.send("/api/v1/machines/check", &document.to_string()).await;
    assert_eq!(status, StatusCode::OK, "{checked}");
    assert_eq!((&checked["name"], &checked["revision"]), (&json!("pellwick-r-31-mk-2"), &json!(1)));
    assert_eq!(server.machines().await, before, "a check keeps nothing");
    let (status, _) = server.send("/api/v1/machines", &document.to_string()).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(server.machines().await, before + 1);
    assert!(server.json("/api/v1/machines/pellwick-r-31-mk-2").await["controls"].is_array());
}

#[tokio::test]
async fn conditions_are_kept_by_name_and_forgotten() {
    let server = Server::start().await;
    let path = format!("{GT46}/conditions");
    let id = Uuid::now_v7();
    let body = |name: &str, id: Uuid| {
        json!({"id": id, "name": name, "set": {"key": "run", "seat": "empty"},
               "engine": "running", "by": "Maren"})
    };
    for _ in 0..2 {
        // A retry keeps it once.
        let (status, all) = server.post(&path, &body("rises to look", id)).await;
        assert_eq!(status, StatusCode::OK, "{all}");
        let kept: Vec<_> =
            all.as_array().unwrap().iter().filter(|c| c["name"] == "rises to look").collect();
        assert_eq!(kept.len(), 1);
        assert_eq!(kept[0]["set"]["pedal"], "up", "every control, those at rest too");
        assert_eq!(kept[0]["kept_by"], "Maren");
    }
    for (name, sentence) in [
        ("rises to look", "There is a condition"),
        ("parked", "There is a condition"),
        (" ", "Give the condition a name."),
    ] {
        let (status, problem) = server.post(&path, &body(name, Uuid::now_v7())).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(problem["detail"].as_str().unwrap().contains(sentence), "{problem}");
    }
    let wrong = json!({"id": Uuid::now_v7(), "name": "x", "set": {"key": "sideways"}, "by": ""});
    assert_eq!(server.post(&path, &wrong).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let forget = |id: Uuid| {
        let request = server.client.delete(format!("{}{path}/{id}", server.address));
        async move { request.send().await.expect("an answer").status() }
    };
    assert_eq!(forget(id).await, StatusCode::OK);
    assert_eq!(forget(id).await, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn what_a_machine_does_not_have_is_named() {
    let server = Server::start().await;
    for (path, status, sentence) in [
        ("/api/v1/machines/nobody", 404, "There is no machine nobody"),
        (&format!("{GT46}/circuits/steering"), 422, "no circuit \"steering\""),
        (&format!("{GT46}/snapshot?set=gear:first"), 422, "no control \"gear\""),
        (&format!("{GT46}/snapshot?set=key"), 422, "is not control:position"),
        (&format!("{GT46}/snapshot?engine=flying"), 422, "The engine is never \"flying\""),
        (&format!("{GT46}/compare?to_set=key:x"), 422, "no position \"x\""),
    ] {
        let response = server.get(path).await;
        assert_eq!(response.status().as_u16(), status, "{path}");
        let problem: Value = response.json().await.unwrap();
        assert!(problem["detail"].as_str().unwrap().contains(sentence), "{path}: {problem}");
    }
}

#[tokio::test]
async fn a_job_on_a_machine_without_a_starter_is_diagnosed_by_its_engine() {
    let server = Server::start().await;
    let walk = server.json("/api/v1/machines/hexley-walk-50").await;
    let id = Uuid::now_v7();
    let body = json!({"id": id, "revision_id": walk["revision_id"], "complaint": "Runs on."});
    assert_eq!(server.post("/api/v1/jobs", &body).await.0, StatusCode::OK);
    let diagnosis = server.json(&format!("/api/v1/jobs/{id}/diagnosis")).await;
    assert_eq!(diagnosis["has_starter"], false);
    assert!(!diagnosis["suspects"].as_array().unwrap().is_empty());
    assert!(!diagnosis["tests"].as_array().unwrap().is_empty());
    assert_eq!((&diagnosis["conclusion"], &diagnosis["reproduce"]), (&Value::Null, &Value::Null));
    // The engine goes on when the bail is let go: what should ground its lead does not.
    let runs_on = json!({
        "id": Uuid::now_v7(), "by": "Ada", "condition": {"switch": "on", "bail": "released"},
        "engine": "running", "observed": {"kind": "engine", "does": "runs"}, "source": "told",
    });
    let told = server.post(&format!("/api/v1/jobs/{id}/evidence"), &runs_on).await;
    assert_eq!(told.0, StatusCode::OK, "{}", told.1);
    let after = server.json(&format!("/api/v1/jobs/{id}/diagnosis")).await;
    assert_ne!(after["suspects"][0], diagnosis["suspects"][0]);
    assert_eq!(after["condition"]["bail"], "released");
    let ladder = server.json(&format!("/api/v1/jobs/{id}/trace/fire")).await;
    assert_eq!(ladder["fires_grounded"], true);
}

#[tokio::test]
async fn the_reference_names_every_instrument_and_every_way_to_fail() {
    let server = Server::start().await;
    let reference = server.json("/api/v1/reference").await;
    let instruments = reference["instruments"].as_array().unwrap();
    assert_eq!(instruments.len(), 8);
    assert!(instruments.iter().any(|i| i["instrument"] == "clamp"), "{instruments:#?}");
    assert!(instruments[0]["cannot_see"].as_str().unwrap().contains("200 ohm"));
    let faults = reference["faults"].as_array().unwrap();
    let welded = faults.iter().find(|f| f["mode"] == "stuck-made").expect("a mode");
    assert!(welded["applies_to"].as_str().unwrap().contains("contact"), "{welded}");
    assert!(faults.iter().all(|f| !f["applies_to"].as_str().unwrap().is_empty()));
}
