//! A job's fuses and wires over HTTP, and what may have killed a part that burnt.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

async fn read_fuse(server: &Server, fuse: &str, amps: f64) -> (u16, Value) {
    let entry = json!({"id": Uuid::now_v7(), "by": "Maren",
        "entry": {"kind": "fuse", "fuse": fuse, "amps": amps}});
    let (status, answer) = server.post(&server.job_path("/release/entries"), &entry).await;
    (status.as_u16(), answer)
}

fn fuse<'v>(view: &'v Value, id: &str) -> &'v Value {
    let all = view["fuses"].as_array().expect("fuses");
    all.iter().find(|f| f["fuse"] == id).expect("a fuse")
}

#[tokio::test]
async fn a_fuse_that_is_read_counts_here_and_for_the_release() {
    let server = Server::start().await;
    let path = server.job_path("/fuses");
    let unread = server.json(&path).await;
    let own = fuse(&unread, "main-fuse");
    assert_eq!(
        (&own["called_for"], &own["read"], &own["words"]),
        (&json!(20.0), &Value::Null, &json!([]))
    );
    assert_eq!(own["carried"]["lasting"]["engine"], "running");
    assert_eq!(own["carried"]["lasting"]["condition"]["blades"], "on");
    assert_eq!(own["thinnest"]["amps"], 15.6);
    assert!(own["short"]["blows"]["most"].as_f64().is_some_and(|s| s < 2.0), "{own:#}");
    assert!(unread["wire_source"].as_str().is_some_and(|s| s.contains("ABYC")));

    let (status, answer) = read_fuse(&server, "main-fuse", 40.0).await;
    assert_eq!(status, 200, "{answer:#}");
    let wrong = server.json(&path).await;
    let own = fuse(&wrong, "main-fuse");
    assert_eq!((&own["read"], &own["wrong"]), (&json!(40.0), &json!(true)));
    assert_eq!(own["words"], json!(["over-called-for", "over-wire"]));
    assert_eq!(wrong["wires"][0]["word"], "fuse-over");
    let release = server.json(&server.job_path("/release")).await;
    let blocks = release["blockers"].as_array().expect("blockers").iter();
    assert!(
        blocks.clone().any(|b| b["says"].as_str().is_some_and(|s| s.contains("40"))),
        "{release:#}"
    );

    let csv = server.get(&server.job_path("/fuses.csv")).await.text().await.expect("text");
    let row = csv.lines().find(|l| l.starts_with("fuse,main fuse")).expect("a row");
    assert!(row.contains(",20.00,40.00,"), "{row}");

    // The right one: all is well again.
    assert_eq!(read_fuse(&server, "main-fuse", 20.0).await.0, 200);
    assert_eq!(fuse(&server.json(&path).await, "main-fuse")["words"], json!([]));
    for (fuse, amps, field) in [("main-fuse", -1.0, "amps"), ("no-fuse", 20.0, "fuse")] {
        let (status, answer) = read_fuse(&server, fuse, amps).await;
        assert_eq!((status, &answer["errors"][0]["field"]), (422, &json!(field)), "{answer:#}");
    }
}

#[tokio::test]
async fn what_may_have_burnt_a_switch_is_asked_after_and_checked() {
    let server = Server::start().await;
    assert_eq!(read_fuse(&server, "main-fuse", 40.0).await.0, 200);
    let on = json!({"key": "run", "seat": "on", "pedal": "up", "blades": "on", "lever": "neutral"});
    let read =
        |instrument: &str, red: &str, black: &str, typed: &str, condition: &Value, off: Value| {
            json!({"id": Uuid::now_v7(), "by": "Maren", "condition": condition, "engine": "stopped",
            "set_up": off, "observed": {"kind": "reading", "instrument": instrument, "red": red,
            "black": black, "typed": typed}})
        };
    let volts = |at: &str, typed: &str| read("voltmeter", at, "battery.-", typed, &on, json!([]));
    for entry in [
        volts("pto-plug.E", "12.1"),
        volts("pto-plug.F", "3.2"),
        volts("pto-plug.E", "12.1"),
        volts("pto-plug.F", "3.3"),
    ] {
        let (status, answer) = server.record(&entry).await;
        assert_eq!(status.as_u16(), 200, "{answer:#}");
    }
    let found = server.json(&server.job_path("/diagnosis")).await["conclusion"].clone();
    assert_eq!(found["units"][0]["id"], "pto", "{found:#}");
    let cause = &found["causes"][0];
    assert_eq!((&cause["unit"]["id"], &cause["checked"]), (&json!("clutch"), &json!("not-yet")));
    assert_eq!(cause["by"]["past"]["rating"], 40.0, "{cause:#}");
    let test = &cause["test"];
    assert_eq!(test["action"]["instrument"], "ohmmeter", "{test:#}");
    assert!(cause["good"]["low"].as_f64().is_some_and(|ohms| ohms > 2.0), "{cause:#}");
    // As the test says: the plug off, ohms across the clutch.
    let off: Vec<_> =
        test["set_up"].as_array().expect("set up").iter().map(|s| s["entry"].clone()).collect();
    let end = |end: &str| test["action"][end]["terminal"].as_str().expect("a terminal").to_owned();
    let (red, black) = (end("red"), end("black"));
    let entry = read("ohmmeter", &red, &black, "0.8", &test["condition"], json!(off));
    let (status, answer) = server.record(&entry).await;
    assert_eq!(status.as_u16(), 200, "{answer:#}");
    let after = server.json(&server.job_path("/diagnosis")).await;
    let units: Vec<_> = after["suspects"].as_array().expect("suspects").iter().collect();
    let clutch = units
        .iter()
        .any(|s| s["units"][0]["id"] == "clutch" && s["probability"].as_f64() > Some(0.9));
    let checked = after["conclusion"]["causes"].as_array().is_some_and(|causes| {
        causes.iter().any(|c| c["unit"]["id"] == "clutch" && c["checked"] == "bad")
    });
    assert!(clutch || checked, "{after:#}");

    // Named, it holds up whoever would give the machine back or close the job.
    let verdict = json!({"id": Uuid::now_v7(), "by": "Maren", "units": ["pto"]});
    assert_eq!(server.post(&server.job_path("/verdicts"), &verdict).await.0.as_u16(), 200);
    let killed = |view: &Value| view["killed"][0].clone();
    let view = server.json(&server.job_path("/release")).await;
    let own = killed(&view);
    assert_eq!((&own["unit"]["id"], &own["said"]), (&json!("pto"), &Value::Null), "{own:#}");
    let open = own["open"].as_str().expect("a sentence").to_owned();
    assert!(open.contains("clutch"), "{open}");
    let blocks = |view: &Value| {
        let all = view["blockers"].as_array().expect("blockers").clone();
        all.iter().any(|b| b["says"] == open.as_str())
    };
    assert!(blocks(&view), "{view:#}");
    let close = async |anyway: bool| {
        let version = server.json(&server.job_path("")).await["version"].clone();
        let body = json!({"version": version, "status": "closed", "anyway": anyway});
        let at = format!("{}{}", server.address, server.job_path("/status"));
        let answer = server.client.put(at).json(&body).send().await.expect("an answer");
        (answer.status().as_u16(), answer.json::<Value>().await.expect("a body"))
    };
    for what in &off {
        let (status, answer) =
            server.record(&done(json!({"kind": "put-back", "what": what}))).await;
        assert_eq!(status.as_u16(), 200, "{answer:#}");
    }
    let (status, refused) = close(false).await;
    assert_eq!((status, &refused["errors"][0]["field"]), (422, &json!("anyway")), "{refused:#}");
    assert_eq!(refused["errors"][0]["sentence"], open.as_str());
    // A new clutch is in: what killed the switch is put right, and nothing is left of it.
    let fitted = done(json!({"kind": "repaired", "unit": "clutch"}));
    let (status, answer) = server.record(&fitted).await;
    assert_eq!(status.as_u16(), 200, "{answer:#}");
    let view = server.json(&server.job_path("/release")).await;
    assert_eq!((&killed(&view)["open"], blocks(&view)), (&Value::Null, false), "{view:#}");
    let void = json!({"by": "Maren", "reason": "Undone"});
    let at = server.job_path(&format!("/evidence/{}/void", answer["id"].as_str().expect("an id")));
    assert_eq!(server.post(&at, &void).await.0.as_u16(), 200);
    assert!(blocks(&server.json(&server.job_path("/release")).await));
    assert_eq!(close(true).await.0, 200, "closed all the same, by somebody's word");
}

fn done(observed: Value) -> Value {
    json!({"id": Uuid::now_v7(), "by": "Maren", "condition": {}, "engine": "stopped",
        "set_up": [], "observed": observed})
}
