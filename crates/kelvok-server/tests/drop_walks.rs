//! Volt drops along a job's circuits, over HTTP: what they come to, what is refused, and what the job makes of
//! them.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

async fn read(
    server: &Server,
    (instrument, typed): (&str, &str),
    ends: (&str, &str),
) -> (u16, Value) {
    let view = server.json(&server.job_path("/drops?circuit=crank")).await;
    let entry = json!({"id": Uuid::now_v7(), "by": "Maren",
        "condition": view["condition"], "engine": view["engine"],
        "observed": {"kind": "reading", "instrument": instrument, "red": ends.0,
                     "black": ends.1, "typed": typed}});
    let (status, answer) = server.record(&entry).await;
    (status.as_u16(), answer)
}

#[tokio::test]
async fn a_clamp_that_eats_the_volts_is_found_and_taken_back() {
    let server = Server::start().await;
    let path = server.job_path("/drops?circuit=crank");
    let empty = server.json(&path).await;
    assert_eq!(empty["walk"]["word"], "nothing-read");
    assert_eq!((&empty["cranks"], &empty["open"]), (&json!(true), &json!(true)));
    assert_eq!(empty["points"][0]["name"], "Battery + post");
    assert!(empty["cautions"].as_array().is_some_and(|c| !c.is_empty()), "{empty:#}");
    let parts = &empty["stretches"][0]["parts"];
    assert_eq!(parts[0]["id"], "pos-clamp", "{parts:#}");

    for (what, ends) in [
        (("voltmeter", "1.19"), ("battery.+", "starter.stud")),
        (("clamp", "112 A"), ("pos-clamp.lug", "solenoid.battery")),
        (("voltmeter", "900 mV"), ("battery.+", "pos-clamp.lug")),
    ] {
        let (status, answer) = read(&server, what, ends).await;
        assert_eq!(status, 200, "{answer:#}");
    }
    let found = server.json(&path).await;
    assert_eq!(found["walk"]["word"], "found");
    let worst = found["walk"]["worst"][0].as_u64().expect("one") as usize;
    let span = &found["walk"]["spans"][worst];
    assert_eq!(span["stretches"], json!([0]));
    assert!((span["watts"].as_f64().expect("watts") - 100.8).abs() < 2.5, "{span:#}");
    assert_eq!(found["walk"]["amps"]["by"], "clamp");
    let says: Vec<_> =
        found["readings"].as_array().expect("readings").iter().map(|r| &r["says"]).collect();
    assert_eq!(says[1], "Clamp: 112 A");
    assert_eq!(says[2], "Battery + post to battery + clamp: 0.90 V");
    // The same readings in the job.
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    assert_eq!(diagnosis["suspects"][0]["units"][0]["id"], "pos-clamp", "{diagnosis:#}");

    let csv = server.get(&server.job_path("/drops.csv?circuit=crank")).await;
    let text = csv.text().await.expect("text");
    assert!(text.starts_with("from,to,parts,volts,"), "{text}");
    let own = text.lines().nth(1).expect("a row");
    assert!(own.starts_with("Battery + post,Battery + clamp,battery + clamp,0.900,"), "{own}");

    let last = found["readings"][2]["entry"].as_str().expect("an id");
    let void = json!({"by": "Maren", "reason": "Undone"});
    let path = server.job_path(&format!("/evidence/{last}/void"));
    assert_eq!(server.post(&path, &void).await.0.as_u16(), 200);
    let left = server.json(&server.job_path("/drops?circuit=crank")).await;
    assert_eq!(left["walk"]["word"], "between");
}

#[tokio::test]
async fn what_cannot_be_meant_is_refused_and_kept_out() {
    let server = Server::start().await;
    for (what, ends, field, sentence) in [
        (
            ("clamp", "68"),
            ("battery.+", "starter.stud"),
            "black",
            "A clamp goes around a wire, and none runs from battery.+ to starter.stud: name both \
             ends of one wire.",
        ),
        (
            ("clamp", "OL"),
            ("pos-clamp.lug", "solenoid.battery"),
            "typed",
            "A clamp shows OL only on too small a range: set it to the next one up.",
        ),
        (
            ("clamp", "68000"),
            ("pos-clamp.lug", "solenoid.battery"),
            "typed",
            "68000 A is more than any starter here draws: check the range and the decimal point.",
        ),
        (
            ("voltmeter", "128"),
            ("battery.+", "pos-clamp.lug"),
            "typed",
            "128 V cannot be on a 12 V machine: check the dial and the decimal point.",
        ),
    ] {
        let (status, answer) = read(&server, what, ends).await;
        assert_eq!(status, 422, "{what:?}: {answer:#}");
        let error = &answer["errors"][0];
        assert_eq!((&error["field"], &error["sentence"]), (&json!(field), &json!(sentence)));
    }
    let empty = server.json(&server.job_path("/drops?circuit=crank")).await;
    assert_eq!(empty["readings"], json!([]));
    for (wanted, sentence) in [
        ("kill", "This machine has no circuit \"kill\" that carries a current."),
        ("nonsense", "This machine has no circuit \"nonsense\" that carries a current."),
    ] {
        let answer = server.get(&server.job_path(&format!("/drops?circuit={wanted}"))).await;
        assert_eq!(answer.status().as_u16(), 404);
        let body: Value = answer.json().await.expect("JSON");
        assert_eq!(body["detail"], sentence, "{body:#}");
    }
}
