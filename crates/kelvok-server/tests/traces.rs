//! A harness traced over HTTP: by two people at once, with slips, into the drawing.

mod server;

use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

const AT: &str = "/api/v1/machines/dunmarrow-z-52/trace";

/// Presses an answer to what the screen shows: a beep, or none.
fn answer(view: &Value, beeps: bool) -> Value {
    let step = &view["step"];
    let ohms = step["instrument"] == "ohmmeter";
    let typed = match (ohms, beeps) {
        (true, true) => "0.2",
        (true, false) => "OL",
        (false, true) => "beep",
        (false, false) => "no beep",
    };
    json!({"kind": "probe", "red": step["red"]["terminal"], "black": step["black"]["terminal"],
        "instrument": step["instrument"], "typed": typed, "off": step["off"]})
}

async fn record(server: &Server, id: Uuid, found: &Value) -> (u16, Value) {
    let body = json!({"id": id, "by": "Maren", "found": found});
    let (status, view) = server.post(&format!("{AT}/entries?circuit=start"), &body).await;
    (status.as_u16(), view)
}

async fn standing(server: &Server) -> Value {
    server.json(&format!("{AT}?circuit=start")).await
}

fn left(view: &Value, circuit: &str) -> u64 {
    let circuits = view["circuits"].as_array().unwrap();
    circuits.iter().find(|c| c["id"] == circuit).unwrap()["left"].as_u64().unwrap()
}

#[tokio::test]
async fn a_circuit_is_traced_step_by_step_and_goes_into_the_drawing() {
    let server = Server::start().await;
    let mut view = standing(&server).await;
    let wires = left(&view, "start");
    assert!(wires > 5 && view["entries"].as_array().unwrap().is_empty(), "{view:#}");
    // Nothing was traced: there is nothing to keep.
    assert_eq!(server.post(&format!("{AT}/keep"), &json!({})).await.0, 409);
    let mut steps = 0;
    while !view["step"].is_null() {
        let (status, next) = record(&server, Uuid::now_v7(), &answer(&view, true)).await;
        assert_eq!(status, 200, "{next:#}");
        view = next;
        steps += 1;
        assert!(steps < 40, "it never ends: {view:#}");
    }
    assert_eq!(left(&view, "start"), 0, "{view:#}");
    assert_eq!(view["findings"], json!([]));
    // Whoever looks from elsewhere sees the same.
    assert_eq!(left(&standing(&server).await, "start"), 0);
    // What was wrong is taken back, and what hung on it is open again.
    let last = view["entries"][0]["id"].as_str().unwrap();
    let why = json!({"by": "Tobias", "reason": "Undone"});
    let (status, undone) =
        server.post(&format!("{AT}/entries/{last}/void?circuit=start"), &why).await;
    assert_eq!(status, 200, "{undone:#}");
    assert!(left(&undone, "start") > 0);
    assert_eq!(undone["entries"][0]["voided"], true);
}

#[tokio::test]
async fn what_is_not_as_drawn_is_said_kept_and_the_next_trace_begins_from_there() {
    let server = Server::start().await;
    let probe = |red: &str, black: &str, typed: &str| {
        json!({"kind": "probe", "red": red, "black": black, "instrument": "buzzer", "typed": typed,
            "off": ["seat-switch-plug", "key-plug", "presence-relay-plug", "pto-plug",
                "clutch-plug", "brake-switch-plug", "fuel-plug"]})
    };
    let found = [
        probe("seat-switch-plug.A", "key-plug.A", "no beep"),
        probe("seat-switch-plug.A", "key-plug.A", "no beep"),
        probe("seat-switch-plug.C", "pto-plug.F", "no beep"),
        probe("seat-switch-plug.C", "pto-plug.F", "no beep"),
        probe("seat-switch-plug.C", "key-plug.A", "beep"),
        probe("seat-switch-plug.A", "pto-plug.F", "beep"),
        json!({"kind": "color", "at": "seat-switch-plug.B", "color": "pink"}),
    ];
    let mut view = Value::Null;
    for entry in &found {
        let id = Uuid::now_v7();
        let (status, next) = record(&server, id, entry).await;
        assert_eq!(status, 200, "{next:#}");
        // Sent again, it is kept once.
        assert_eq!(record(&server, id, entry).await.0, 200);
        view = next;
    }
    assert_eq!(view["entries"].as_array().unwrap().len(), found.len());
    assert_eq!(view["findings"][0]["kind"], "swapped", "{:#}", view["findings"]);
    assert_eq!(view["to_keep"], true);
    let (status, kept) = server.post(&format!("{AT}/keep"), &json!({})).await;
    assert_eq!((status.as_u16(), &kept["revision"]), (200, &json!(2)), "{kept:#}");
    let document = server.json("/api/v1/machines/dunmarrow-z-52/document.json").await;
    let wires = document["wires"].as_array().unwrap();
    let moved = wires.iter().find(|w| w["id"] == "w16").unwrap();
    assert_eq!((&moved["to"], &moved["source"]), (&json!("seat-switch-plug.C"), &json!("traced")));
    assert!(wires.iter().any(|w| w["color"] == "pink"));
    let next = standing(&server).await;
    assert_eq!((&next["findings"], &next["entries"]), (&json!([]), &json!([])));
    assert_eq!(server.post(&format!("{AT}/keep"), &json!({})).await.0, 409, "ended");
}

#[tokio::test]
async fn bad_input_is_named_and_a_short_is_not_written() {
    let server = Server::start().await;
    let probe = |red: &str, black: &str, instrument: &str, typed: &str| {
        json!({"kind": "probe", "red": red, "black": black, "instrument": instrument,
            "typed": typed, "off": []})
    };
    for (wrong, field) in [
        (probe("seat-switch-plug.Z", "frame.metal", "buzzer", "beep"), "red"),
        (probe("key-plug.A", "key-plug.A", "buzzer", "beep"), "red"),
        (probe("key-plug.A", "key-plug.B", "voltmeter", "12.4"), "instrument"),
        (json!({"kind": "color", "at": "key-plug.A", "color": " "}), "color"),
        (
            json!({"kind": "probe", "red": "key-plug.A", "black": "key-plug.B",
            "instrument": "buzzer", "typed": "beep", "off": ["seat"]}),
            "off",
        ),
    ] {
        let (status, problem) = record(&server, Uuid::now_v7(), &wrong).await;
        assert_eq!((status, &problem["errors"][0]["field"]), (422, &json!(field)), "{problem:#}");
    }
    let (status, problem) =
        record(&server, Uuid::now_v7(), &probe("key-plug.A", "key-plug.B", "buzzer", "loud")).await;
    assert_eq!(status, 422, "{problem:#}");
    assert_eq!(server.get(&format!("{AT}?circuit=nothing")).await.status(), 422);
    assert_eq!(standing(&server).await["entries"], json!([]), "nothing of it was kept");

    let short = json!({"kind": "probe", "red": "pos-clamp.lug", "black": "frame.metal",
        "instrument": "buzzer", "typed": "beep",
        "off": ["pos-clamp", "neg-clamp", "main-fuse", "charge-fuse"]});
    let mut view = Value::Null;
    for _ in 0..3 {
        view = record(&server, Uuid::now_v7(), &short).await.1;
    }
    assert_eq!(view["supply_grounded"], true, "{view:#}");
    let (status, problem) = server.post(&format!("{AT}/keep"), &json!({})).await;
    assert_eq!(status, 409, "{problem:#}");
    assert!(problem["detail"].as_str().unwrap().contains("straight to ground"), "{problem:#}");
}

#[tokio::test]
async fn two_people_at_once_share_one_trace_and_a_changed_machine_sets_aside_what_no_longer_fits() {
    let server = Server::start().await;
    let entry = |red: &str, black: &str| {
        json!({"kind": "probe", "red": red, "black": black, "instrument": "buzzer",
            "typed": "beep", "off": []})
    };
    let (one, other) = (entry("key-plug.S", "pto-plug.A"), entry("key-plug.A", "hour-meter.+"));
    let (a, b) = tokio::join!(
        record(&server, Uuid::now_v7(), &one),
        record(&server, Uuid::now_v7(), &other)
    );
    assert_eq!((a.0, b.0), (200, 200), "{a:#?} {b:#?}");
    assert_eq!(standing(&server).await["entries"].as_array().unwrap().len(), 2);
    // The hour meter is taken out of the drawing by somebody else.
    let mut document = server.json("/api/v1/machines/dunmarrow-z-52/document.json").await;
    for (list, gone) in
        [("parts", "hour-meter"), ("wires", "hour-meter."), ("test_points", "hour-meter.")]
    {
        let kept = document[list].as_array().unwrap().iter().filter(|of| {
            let named = |field: &str| of[field].as_str().is_some_and(|t| t.starts_with(gone));
            !["id", "from", "to", "terminal"].iter().any(|field| named(field))
        });
        document[list] = kept.cloned().collect();
    }
    let (status, saved) = server.post("/api/v1/machines", &document).await;
    assert_eq!(status, 200, "{saved:#}");
    let view = standing(&server).await;
    assert_eq!(view["set_aside"], 1, "{view:#}");
    assert_eq!(view["entries"].as_array().unwrap().len(), 2, "both are kept");
}

#[tokio::test]
async fn a_broken_wire_stays_to_be_looked_into_when_the_rest_is_kept() {
    let server = Server::start().await;
    let probe = |red: &str, typed: &str| {
        json!({"kind": "probe", "red": red, "black": "pto-plug.A", "instrument": "buzzer",
            "typed": typed, "off": ["key-plug", "pto-plug"]})
    };
    for typed in ["no beep"; 3] {
        record(&server, Uuid::now_v7(), &probe("key-plug.S", typed)).await;
    }
    assert_eq!(standing(&server).await["to_keep"], false, "nothing of it goes into the drawing");
    let color = json!({"kind": "color", "at": "key-plug.S", "color": "pink"});
    let view = record(&server, Uuid::now_v7(), &color).await.1;
    assert_eq!(view["to_keep"], true, "a color is something to keep");
    assert_eq!(server.post(&format!("{AT}/keep"), &json!({})).await.0, 200);
    let view = standing(&server).await;
    assert_eq!((&view["revision"], &view["to_keep"]), (&json!(2), &json!(false)));
    assert_eq!(view["findings"][0]["kind"], "not-there", "{:#}", view["findings"]);
    // What a machine has not is not spoken of; a place's own caution is.
    assert_eq!((&view["battery"], &view["key"]), (&json!(true), &json!(true)));
    let walk = server.json("/api/v1/machines/hexley-walk-50/trace").await;
    assert_eq!((&walk["battery"], &walk["key"]), (&json!(false), &json!(false)));
    let at = "/api/v1/machines/dunmarrow-z-60m/trace";
    let mut view = server.json(&format!("{at}?circuit=kill")).await;
    let mut said = Vec::new();
    for _ in 0..12 {
        let step = &view["step"];
        if step.is_null() {
            break;
        }
        said.extend(step["cautions"].as_array().unwrap().iter().cloned());
        let off = &step["off"];
        let found = json!({"kind": "probe", "red": step["red"]["terminal"],
            "black": step["black"]["terminal"],
            "instrument": "ohmmeter", "typed": "0.2", "off": off});
        let body = json!({"id": Uuid::now_v7(), "by": "Maren", "found": found});
        let (status, now) = server.post(&format!("{at}/entries?circuit=kill"), &body).await;
        assert_eq!(status, 200, "{now:#}");
        view = now;
    }
    let fan = json!("Keep clear of the fan and belts; engine cold.");
    assert!(said.contains(&fan), "{said:?}");
}
