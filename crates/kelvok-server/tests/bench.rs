//! The switch bench over HTTP: a switch tested through, told, compared with its plug, handed over.

mod server;

use reqwest::StatusCode;
use serde_json::{Value, json};
use server::Server;
use uuid::Uuid;

const MACHINE: &str = "pellwick-gt-46";

/// Lays a switch on the bench; its address and its view.
async fn lay(server: &Server, is: Value, terminals: &[&str]) -> (String, Value) {
    let id = Uuid::now_v7();
    let body = json!({"id": id, "by": "Maren", "name": "Key switch", "is": is,
        "terminals": terminals});
    let (status, view) = server.post("/api/v1/bench", &body).await;
    assert_eq!(status, StatusCode::OK, "{view}");
    (format!("/api/v1/bench/{id}"), view)
}

fn of_machine(part: &str) -> Value {
    json!({"kind": "of-machine", "machine": MACHINE, "part": part})
}

async fn record(server: &Server, at: &str, seen: Value) -> (StatusCode, Value) {
    let body = json!({"id": Uuid::now_v7(), "by": "Maren", "seen": seen});
    server.post(&format!("{at}/entries"), &body).await
}

/// Does what is asked until nothing more is; `made` answers for a position and a pair.
async fn follow(
    server: &Server,
    at: &str,
    view: Value,
    made: impl Fn(&str, &str, &str) -> bool,
) -> Value {
    let mut view = view;
    for _ in 0..200 {
        let next = view["next"].clone();
        let word = |field: &str| next[field].as_str().unwrap_or_default().to_owned();
        let seen = match next["kind"].as_str().unwrap() {
            "finished" => return view,
            "leads" => json!({"kind": "leads", "touching": "0.2", "apart": "OL"}),
            _ => {
                let made = made(&word("position"), &word("from"), &word("to"));
                json!({"kind": "probe", "position": next["position"], "from": next["from"],
                    "to": next["to"], "typed": if made { "buzz" } else { "silent" },
                    "sprung_from": next["sprung_from"]})
            }
        };
        let (status, after) = record(server, at, seen).await;
        assert_eq!(status, StatusCode::OK, "{after}");
        view = after;
    }
    panic!("the plan has an end");
}

/// Whether a profile's document joins two of its terminals.
fn joined(profile: &Value, position: &str, one: &str, other: &str) -> bool {
    let groups = profile["made"][position].as_array().cloned().unwrap_or_default();
    groups.iter().any(|g| {
        let has = |t: &str| g.as_array().unwrap().iter().any(|x| x == t);
        has(one) && has(other)
    })
}

async fn profile(server: &Server, id: &str) -> Value {
    server.json(&format!("/api/v1/switch-profiles/{id}")).await
}

#[tokio::test]
async fn a_key_with_a_dead_kill_pole_is_found_and_goes_to_the_job_as_evidence() {
    let server = Server::start().await;
    let (at, view) = lay(&server, of_machine("key"), &[]).await;
    assert_eq!(view["next"]["kind"], "leads");
    assert_eq!(view["machine"]["unplugs"], true);
    let own = view["subject"]["profile"].clone();
    let bad = |p: &str, a: &str, b: &str| {
        joined(&own, p, a, b) && !(p == "off" && (a == "M" || b == "M"))
    };
    let view = follow(&server, &at, view, bad).await;
    assert_eq!(view["verdict"], "bad");
    let finding = &view["findings"][0];
    assert_eq!(finding["consequences"], json!(["never-stops"]), "{finding}");
    let shows = finding["on_machine"]["shows"].to_string();
    assert!(shows.contains("spark-stays"), "{shows}");
    let start = &view["operated"][0];
    assert_eq!((&start["times"], &start["missed"]), (&json!(5), &json!(0)));
    assert!((start["below"].as_f64().unwrap() - 0.451).abs() < 0.01);
    for progress in view["progress"].as_array().unwrap() {
        assert_eq!(progress["complete"], true);
        let (probed, least) = (progress["probed"].as_u64(), progress["least"].as_u64());
        // The starter's contact is read again where it springs back to.
        assert!(probed >= least && probed <= least.map(|l| l + 3), "{progress}");
    }

    let body = json!({"id": Uuid::now_v7(), "by": "Maren", "job": server.job,
        "note": "Key switch on the bench: M not grounded in off."});
    let (status, closed) = server.post(&format!("{at}/attach"), &body).await;
    assert_eq!((status.as_u16(), &closed["status"]), (200, &json!("closed")), "{closed}");
    let (status, _) = server.post(&format!("{at}/attach"), &body).await;
    assert_eq!(status, 200, "sent again it is there already");
    let job = server.json(&server.job_path("")).await;
    let evidence = job["evidence"].as_array().unwrap();
    let last = &evidence.last().unwrap()["entry"]["observation"];
    assert_eq!(last["text"], "Key switch on the bench: M not grounded in off.");
    assert!(evidence.len() > 20, "{}", evidence.len());
    let kill = evidence.iter().find(|e| {
        let o = &e["entry"]["observation"];
        e["entry"]["condition"]["key"] == "off" && o["red"] == "key.M" && o["black"] == "key.G"
    });
    let kill = &kill.expect("the pair that is open")["entry"];
    assert_eq!(kill["observation"]["reading"], json!({"kind": "buzz", "value": false}));
    assert_eq!(kill["set_up"], json!([{"kind": "unplugged", "connector": "key-plug"}]));
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    let first = &diagnosis["suspects"][0];
    assert_eq!(first["units"][0]["id"], "key", "{first}");
    assert!(first["probability"].as_f64().unwrap() > 0.9, "{first}");

    let more = json!({"kind": "probe", "position": "off", "from": "M", "to": "G", "typed": "buzz"});
    assert_eq!(record(&server, &at, more).await.0, 409, "it is closed");
}

#[tokio::test]
async fn an_unknown_switch_is_told_kept_as_a_profile_and_its_wires_are_moved() {
    let server = Server::start().await;
    let positions = json!([{"id": "off", "name": "off"}, {"id": "run", "name": "run"},
        {"id": "start", "name": "start", "returns_to": "run"}]);
    let unknown = json!({"kind": "unknown", "switch": "key-switch", "positions": positions});
    let (at, view) = lay(&server, unknown, &["1", "2", "3", "4", "5"]).await;
    let own = profile(&server, "key-5-lettered-magneto").await;
    let real = |name: &str| ["M", "S", "A", "G", "B"][name.parse::<usize>().unwrap() - 1];
    let view = follow(&server, &at, view, |p, a, b| joined(&own, p, real(a), real(b))).await;
    assert_eq!(view["verdict"], "kind-unknown");
    let identities = view["identities"].as_array().unwrap();
    assert_eq!(identities.len(), 2, "lettered and numbered are one in their contacts");
    assert_eq!(identities[0]["count"], 4, "M and G, B and A either way round");
    assert_eq!(identities[0]["candidates"]["2"], json!([{"terminal": "S", "function": "starter"}]));
    assert_eq!(view["ignitions"], json!(["magneto"]));
    let all = server.json(&format!("{at}/assignments")).await;
    assert_eq!(all[0]["first"].as_array().unwrap().len(), 4);

    // Its own profile is a draft to be looked over; kept once, and not under a name that is taken.
    let mut draft = server.json(&format!("{at}/profile")).await;
    assert_eq!(draft["made"]["run"], json!([["3", "5"]]));
    draft["name"] = json!("The one from the drawer");
    let keep = |document: &Value| json!({"by": "Maren", "document": document.to_string()});
    let (status, _) = server.post("/api/v1/switch-profiles", &keep(&draft)).await;
    assert_eq!(status, 200);
    let (status, _) = server.post("/api/v1/switch-profiles", &keep(&draft)).await;
    assert_eq!(status, 200, "the same again is the same");
    let mut other = draft.clone();
    other["notes"] = json!("another");
    assert_eq!(server.post("/api/v1/switch-profiles", &keep(&other)).await.0, 409);
    other["id"] = json!("key-5-lettered-magneto");
    assert_eq!(server.post("/api/v1/switch-profiles", &keep(&other)).await.0, 409);
    other["made"]["run"] = json!([["3", "9"], ["x"]]);
    let (status, problem) = server.post("/api/v1/switch-profiles", &keep(&other)).await;
    assert_eq!((status.as_u16(), problem["errors"].as_array().unwrap().len()), (422, 3));
    let listed = server.json("/api/v1/switch-profiles").await;
    let kept = listed.as_array().unwrap().iter().find(|p| p["kept_by"] == "Maren");
    assert_eq!(kept.unwrap()["document"]["name"], "The one from the drawer");

    // Against the plug of a machine with five numbered terminals.
    let fresh = server.json(&at).await;
    let change = |version: &Value, plug: Value| {
        json!({"version": version, "name": "Spare key switch", "subject": fresh["subject"],
            "new_part": true, "plug": plug,
            "machine": {"machine": "dunmarrow-z-52", "part": "key"}})
    };
    let path = at.clone();
    let put = async |body: Value| {
        let request = server.client.put(format!("{}{path}", server.address)).json(&body);
        let answer = request.send().await.expect("an answer");
        (answer.status(), answer.json::<Value>().await.expect("JSON"))
    };
    let plug = json!({"1": "B", "2": "S", "3": "A", "4": "G", "5": "M"});
    let (status, view) = put(change(&fresh["version"], plug.clone())).await;
    assert_eq!(status, 200, "{view}");
    let (status, problem) = put(change(&fresh["version"], plug)).await;
    assert_eq!(status, 409, "{problem}");
    let twice = put(change(&view["version"], json!({"1": "B", "2": "B"}))).await;
    assert_eq!(twice.0, 422);
    let moves = view["wires"]["moves"].as_array().unwrap();
    // B and M are the wrong way round: one is held aside.
    assert_eq!(moves.len(), 3, "{moves:?}");
    assert_eq!(view["fit"]["against"][0]["kind"], "wires-to-move", "{}", view["fit"]);
    let mut view = view;
    while let Some(step) = view["wires"]["moves"].as_array().unwrap().first().cloned() {
        let moved = json!({"kind": "wire-moved", "wire": step["wire"], "to": step["to"]});
        let (status, after) = record(&server, &at, moved).await;
        assert_eq!(status, 200, "{after}");
        view = after;
    }
    assert_eq!(view["wires"]["moved"], 3);
    let checks = view["wires"]["check"].as_array().unwrap().clone();
    assert!(!checks.is_empty() && checks.iter().all(|c| c["found"].is_null()));
    for check in checks {
        let seen = json!({"kind": "wire-checked", "position": check["position"],
            "from": check["one"], "to": check["other"], "made": check["made"]});
        view = record(&server, &at, seen).await.1;
    }
    let checks = view["wires"]["check"].as_array().unwrap();
    assert!(checks.iter().all(|c| c["found"] == c["made"]));
}

#[tokio::test]
async fn a_drawings_layout_is_entered_and_contradicted() {
    let server = Server::start().await;
    let is = json!({"kind": "of-profile", "profile": "key-5-lettered-magneto"});
    let (at, view) = lay(&server, is, &["1", "2", "3", "4", "5"]).await;
    assert_eq!(view["identities"][0]["count"], 120, "nothing is said of its terminals");
    let mut subject = view["subject"].clone();
    subject["layout"] = json!({"1": "B", "2": "S", "3": "M", "4": "G", "5": "A"});
    let body = json!({"version": view["version"], "name": "Key switch", "subject": subject});
    let request = server.client.put(format!("{}{at}", server.address)).json(&body);
    let view: Value = request.send().await.unwrap().json().await.unwrap();
    assert_eq!(view["layout"]["stand"], "open");
    let own = profile(&server, "key-5-lettered-magneto").await;
    let real = |name: &str| ["S", "B", "M", "G", "A"][name.parse::<usize>().unwrap() - 1];
    let view = follow(&server, &at, view, |p, a, b| joined(&own, p, real(a), real(b))).await;
    assert_eq!(view["layout"]["stand"], "contradicted");
    assert_eq!(view["layout"]["fit"], 4);
    assert!(!view["layout"]["against"].as_array().unwrap().is_empty());
}

fn positions(view: &Value) -> usize {
    view["subject"]["positions"].as_array().map_or(0, Vec::len)
}

#[tokio::test]
async fn a_table_is_brought_in_with_all_its_oddities_named() {
    let server = Server::start().await;
    let is = json!({"kind": "of-profile", "profile": "interlock-2-open"});
    let (at, _) = lay(&server, is, &[]).await;
    let text = "\u{feff}position;from;to;reading;after;by\n\nreleased;1;2;silent\n\
        pressed;1;2;buzz\npressed;1;2;silent\nhalfway;1;2;buzz\npressed;1;3;buzz\n\
        pressed;1;1;buzz\npressed;1;2;blue\nreleased;1;2;silent;pressed;hand\n\
        pressed;1;2;0.3;;machine\n";
    let id = Uuid::now_v7();
    let body = json!({"id": id, "by": "Maren", "text": text});
    let (status, brought) = server.post(&format!("{at}/table"), &body).await;
    assert_eq!(status, 200, "{brought}");
    assert_eq!(brought["taken"], 6);
    assert_eq!(brought["added"], json!(["position halfway"]));
    let left = brought["left_out"].to_string();
    for words in ["tells nothing", "blue", "has 2, this one 3"] {
        assert!(left.contains(words), "{words}: {left}");
    }
    let again = server.post(&format!("{at}/table"), &body).await.1;
    assert_eq!(again["view"]["entries"], brought["view"]["entries"], "sent again it is there once");
    let cell = |position: &str| {
        let cells = brought["view"]["cells"].as_array().unwrap();
        cells.iter().find(|c| c["position"] == position).unwrap().clone()
    };
    assert_eq!(cell("pressed")["found"], json!({"kind": "at-times", "made": 1, "of": 2}));
    assert_eq!(cell("halfway")["expected"], Value::Null);
    let csv = server.get(&format!("{at}/table.csv")).await.text().await.unwrap();
    assert!(csv.contains("released,1,2,silent,pressed,hand"), "{csv}");
    assert!(csv.contains("pressed,1,2,0.3,,machine"), "{csv}");

    let is = json!({"kind": "of-profile", "profile": "key-5-lettered-magneto"});
    let (at, _) = lay(&server, is, &[]).await;
    let mut many = String::from("position,from,to,reading\n");
    for line in 0..10_000 {
        let reading = if line % 7 == 0 { "silent" } else { "buzz" };
        many += &format!("{},B,S,{reading}\n", ["off", "run", "start"][line % 3]);
    }
    let body = json!({"id": Uuid::now_v7(), "by": "Maren", "text": many});
    let (status, brought) = server.post(&format!("{at}/table"), &body).await;
    assert_eq!((status.as_u16(), &brought["taken"]), (200, &json!(10_000)));

    // Sent by several at once, each widens the switch, and nobody is turned away.
    let tables = ["first", "second", "third"].map(|position| {
        let text = format!("{position},B,S,buzz\n");
        json!({"id": Uuid::now_v7(), "by": "Maren", "text": text})
    });
    let to = format!("{at}/table");
    let [one, two, three] = tables.each_ref().map(|table| server.post(&to, table));
    let (one, two, three) = tokio::join!(one, two, three);
    for (status, brought) in [one, two, three] {
        assert_eq!(status, 200, "{brought}");
    }
    let view: Value = server.get(&at).await.json().await.unwrap();
    assert_eq!(
        (view["entries"].as_u64(), positions(&view)),
        (Some(10_003), 6),
        "{}",
        view["subject"]
    );

    // What cannot hold together is named with what rules it out.
    let (at, _) =
        lay(&server, json!({"kind": "of-profile", "profile": "key-3-lettered-battery-coil"}), &[])
            .await;
    let text = "run,B,I,buzz\nrun,I,S,buzz\nrun,B,S,silent\n";
    let body = json!({"id": Uuid::now_v7(), "by": "Maren", "text": text});
    let brought = server.post(&format!("{at}/table"), &body).await.1;
    let conflict = brought["view"]["conflicts"][0].as_str().unwrap();
    assert_eq!(conflict, "In run, B to S was open, which B to I, I to S rule out.");
}

#[tokio::test]
async fn what_cannot_be_is_refused_and_nothing_is_lost() {
    let server = Server::start().await;
    let refused = async |body: Value| {
        let (status, problem) = server.post("/api/v1/bench", &body).await;
        assert!(status.is_client_error(), "{problem}");
        problem["detail"].as_str().unwrap_or_default().to_owned()
    };
    let new = |is: Value, terminals: Value| json!({"id": Uuid::now_v7(), "by": "Maren", "name": "X", "is": is, "terminals": terminals});
    let unknown = json!({"kind": "unknown", "switch": "key-switch",
        "positions": [{"id": "off", "name": "off"}]});
    let said = refused(new(unknown.clone(), json!(["1", "1"]))).await;
    assert!(said.contains("Two terminals are named \"1\""), "{said}");
    let said = refused(new(unknown.clone(), json!([]))).await;
    assert!(said.contains("2 to 16 terminals"), "{said}");
    let nowhere = json!({"kind": "of-profile", "profile": "nothing"});
    assert!(refused(new(nowhere, json!([]))).await.contains("no profile nothing"));
    assert!(refused(new(of_machine("battery"), json!([]))).await.contains("battery"));

    let (at, _) = lay(&server, of_machine("seat"), &[]).await;
    for (seen, field) in [
        (
            json!({"kind": "probe", "position": "up", "from": "kill-in", "to": "kill-out", "typed": "buzz"}),
            "position",
        ),
        (
            json!({"kind": "probe", "position": "pressed", "from": "kill-in", "to": "x", "typed": "buzz"}),
            "to",
        ),
        (
            json!({"kind": "probe", "position": "pressed", "from": "kill-in", "to": "kill-in", "typed": "buzz"}),
            "to",
        ),
        (
            json!({"kind": "probe", "position": "pressed", "from": "kill-in", "to": "kill-out", "typed": "blue"}),
            "typed",
        ),
        (
            json!({"kind": "stroke", "from": "kill-in", "to": "kill-out", "way": "in", "travel": 140, "made": true}),
            "travel",
        ),
        (json!({"kind": "wire-moved", "wire": "Q", "to": null}), "wire"),
        (json!({"kind": "leads", "touching": "green", "apart": "OL"}), "typed"),
    ] {
        let (status, problem) = record(&server, &at, seen.clone()).await;
        assert_eq!(status, 422, "{seen}: {problem}");
        assert_eq!(problem["errors"][0]["field"], field, "{problem}");
    }
    let view = server.json(&at).await;
    assert_eq!(view["entries"], 0);

    // An entry is taken back with a reason, and stays.
    let probe = json!({"kind": "probe", "position": "pressed", "from": "kill-in", "to": "kill-out", "typed": "buzz"});
    let (_, view) = record(&server, &at, probe).await;
    let entry = view["log"][0]["id"].as_str().unwrap().to_owned();
    let void = json!({"by": "Maren", "reason": "Wrong pin"});
    let (status, view) = server.post(&format!("{at}/entries/{entry}/void"), &void).await;
    assert_eq!(status, 200);
    assert_eq!(view["log"][0]["voided"]["reason"], "Wrong pin");
    assert!(view["findings"].as_array().unwrap().is_empty());

    // One of another kind than the machine's own leaves a note, and no reading.
    let is = json!({"kind": "of-profile", "profile": "key-5-numbered-magneto"});
    let (at, view) = lay(&server, is, &[]).await;
    let body = json!({"version": view["version"], "name": "Spare", "subject": view["subject"],
        "machine": {"machine": MACHINE, "part": "key"}});
    let request = server.client.put(format!("{}{at}", server.address)).json(&body);
    let view: Value = request.send().await.unwrap().json().await.unwrap();
    assert_eq!(view["machine"]["unplugs"], false);
    let probe =
        json!({"kind": "probe", "position": "off", "from": "1", "to": "3", "typed": "silent"});
    assert_eq!(record(&server, &at, probe).await.0, 200);
    let body = json!({"id": Uuid::now_v7(), "by": "Maren", "job": server.job, "note": "Spare."});
    assert_eq!(server.post(&format!("{at}/attach"), &body).await.0, 200);
    let job = server.json(&server.job_path("")).await;
    assert_eq!(job["evidence"].as_array().unwrap().len(), 1);

    // A switch of one machine is no evidence on another.
    let other = json!({"kind": "of-machine", "machine": "tarnbeck-t-40", "part": "key"});
    let (at, _) = lay(&server, other, &[]).await;
    let body = json!({"id": Uuid::now_v7(), "by": "Maren", "job": server.job, "note": "x"});
    let (status, problem) = server.post(&format!("{at}/attach"), &body).await;
    assert_eq!((status.as_u16(), &problem["errors"][0]["field"]), (422, &json!("job")));
}

#[tokio::test]
async fn the_linkage_and_a_slow_stroke_are_judged_apart_from_the_switch() {
    let server = Server::start().await;
    let (at, view) = lay(&server, of_machine("neutral"), &[]).await;
    let own = view["subject"]["profile"].clone();
    let works = &view["machine"]["works"];
    assert_eq!(works, &json!({"pressed": [], "released": ["lever R"]}), "parked in neutral");
    let view = follow(&server, &at, view, |p, a, b| joined(&own, p, a, b)).await;
    assert_eq!((&view["verdict"], &view["linkage"]), (&json!("sound"), &json!("not-tried")));
    let by_machine = |position: &str| {
        json!({"kind": "probe", "position": position, "from": "in", "to": "out",
            "typed": "silent", "worked_by": "machine"})
    };
    record(&server, &at, by_machine("released")).await;
    let (_, view) = record(&server, &at, by_machine("pressed")).await;
    assert_eq!((&view["verdict"], &view["linkage"]), (&json!("sound"), &json!("does-not-reach")));
    for (travel, made) in [(0, false), (20, true), (40, false), (60, true), (100, true)] {
        let stroke = json!({"kind": "stroke", "from": "in", "to": "out", "way": "in",
            "travel": travel, "made": made});
        assert_eq!(record(&server, &at, stroke).await.0, 200);
    }
    let view = server.json(&at).await;
    let travel = &view["travels"][0];
    assert_eq!(travel["changes_at"], 10.0);
    assert_eq!(travel["dead"], json!([{"from": 30.0, "to": 50.0, "made": false}]));
    assert_eq!(view["verdict"], "bad", "a dead spot");
    assert_eq!(view["findings"][0]["what"]["kind"], "dead-spot");

    let body = json!({"id": Uuid::now_v7(), "by": "Maren", "job": server.job, "note": "Linkage."});
    assert_eq!(server.post(&format!("{at}/attach"), &body).await.0, 200);
    let diagnosis = server.json(&server.job_path("/diagnosis")).await;
    let suspects = diagnosis["suspects"].as_array().unwrap();
    let said: Vec<_> =
        suspects.iter().map(|s| (s["units"][0]["id"].clone(), s["probability"].clone())).collect();
    // Both are wrong: the linkage, and the switch that has a dead spot though both its ends read right.
    let share = |unit: &str| {
        said.iter().filter(|(id, _)| id == unit).filter_map(|(_, p)| p.as_f64()).sum::<f64>()
    };
    assert!(share("neutral:linkage") > 0.1 && share("neutral") > 0.5, "{said:?}");
    assert!(said[..2].iter().any(|(unit, _)| unit == "neutral:linkage"), "{said:?}");
}
