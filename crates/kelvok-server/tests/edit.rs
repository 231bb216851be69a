//! A drawing edited over HTTP: looked through at every step, kept once, and never over somebody else's.

mod server;

use serde_json::{Value, json};
use server::Server;

const AT: &str = "/api/v1/machines/pellwick-gt-46";

fn edits(steps: Value) -> Value {
    json!({"revision": 1, "source": "traced", "steps": steps})
}

async fn review(server: &Server, steps: Value) -> (u16, Value) {
    let (status, view) = server.post(&format!("{AT}/edit/review"), &edits(steps)).await;
    (status.as_u16(), view)
}

fn wire<'v>(view: &'v Value, id: &str) -> &'v Value {
    view["wires"].as_array().unwrap().iter().find(|w| w["id"] == id).unwrap()
}

#[tokio::test]
async fn a_drawing_is_edited_step_by_step_and_kept_with_who_and_why() {
    let server = Server::start().await;
    let (status, plain) = review(&server, json!([])).await;
    assert_eq!((status, &plain["sound"], &plain["difference"]), (200, &json!(true), &Value::Null));
    let first = plain["wires"][0]["id"].as_str().unwrap().to_owned();
    let paint = json!({"kind": "change-wire", "wire": first, "color": "pink"});
    let (_, painted) = review(&server, json!([paint])).await;
    assert_eq!(wire(&painted, &first)["color"], "pink");
    assert_eq!(wire(&painted, &first)["edited"], true);
    let drawn = painted["difference"]["drawing"].as_array().unwrap();
    assert!(drawn.len() == 1 && drawn[0]["sentence"].as_str().unwrap().contains("pink"));
    assert_eq!(painted["difference"]["decides"]["conditions"], json!([]));

    let (status, kept) =
        server.post(&format!("{AT}/edit?by=Maren&reason=Seen"), &edits(json!([paint]))).await;
    assert_eq!((status.as_u16(), &kept["revision"]), (200, &json!(2)), "{kept:#}");
    let all = server.json(&format!("{AT}/revisions")).await;
    assert_eq!((&all[0]["by"], &all[0]["reason"]), (&json!("Maren"), &json!("Seen")));
    let document = server.json(&format!("{AT}/document.json")).await;
    let own = document["wires"].as_array().unwrap().iter().find(|w| w["id"] == first.as_str());
    assert_eq!(
        (&own.unwrap()["color"], &own.unwrap()["source"]),
        (&json!("pink"), &json!("traced"))
    );
}

#[tokio::test]
async fn what_is_wrong_is_said_beside_the_thing_and_is_not_kept() {
    let server = Server::start().await;
    let turn = json!({"kind": "turn-contact", "contact": "brake.start"});
    let (status, view) = review(&server, json!([turn])).await;
    assert_eq!((status, &view["sound"], &view["difference"]), (200, &json!(false), &Value::Null));
    let first = &view["problems"][0];
    assert_eq!((&first["thing"], &first["warning"]), (&json!("duty"), &json!(false)), "{first:#}");
    let (status, refused) = server.post(&format!("{AT}/edit"), &edits(json!([turn]))).await;
    assert_eq!(status.as_u16(), 422, "{refused:#}");
    // A step that cannot be taken says which.
    let paint = json!({"kind": "take-out-wire", "wire": "w999"});
    let (status, refused) = review(&server, json!([turn, paint])).await;
    assert_eq!((status, &refused["errors"][0]["field"]), (422, &json!("/steps/1")), "{refused:#}");
    for odd in [json!([{"kind": "explode"}]), json!("all"), json!([{"kind": "take-out-wire"}])] {
        assert_eq!(review(&server, odd).await.0, 422);
    }
    let many: Vec<_> = (0..501).map(|_| turn.clone()).collect();
    assert_eq!(review(&server, json!(many)).await.0, 422);
    let (status, _) = server.post(&format!("{AT}/edit"), &edits(json!([]))).await;
    assert_eq!(status.as_u16(), 422, "nothing to keep");
    let all = server.json(&format!("{AT}/revisions")).await;
    assert_eq!(all.as_array().unwrap().len(), 1, "nothing was kept");
}

#[tokio::test]
async fn a_drawing_that_is_less_safe_says_so() {
    let server = Server::start().await;
    let at = "/api/v1/machines/dunmarrow-z-52/edit/review";
    let turn = json!([{"kind": "turn-contact", "contact": "seat-switch.presence"}]);
    let (_, view) = server.post(at, &edits(turn)).await;
    assert_eq!(
        (&view["sound"], &view["difference"]["decides"]["less_safe"]),
        (&json!(true), &json!(true))
    );
    let rename = json!([{"kind": "rename-part", "part": "seat-switch", "name": "Seat"}]);
    let (_, view) = server.post(at, &edits(rename)).await;
    assert_eq!(view["difference"]["decides"]["less_safe"], false, "{view:#}");
}

#[tokio::test]
async fn of_two_who_edit_one_drawing_the_second_is_told() {
    let server = Server::start().await;
    let rename = |name: &str| json!([{"kind": "rename-part", "part": "seat", "name": name}]);
    let keep = format!("{AT}/edit");
    assert_eq!(server.post(&keep, &edits(rename("Seat switch, left"))).await.0, 200);
    let (status, told) = server.post(&keep, &edits(rename("Seat switch, right"))).await;
    assert_eq!(status.as_u16(), 409);
    assert!(told["detail"].as_str().unwrap().contains("revision 2"), "{told:#}");
    assert_eq!(review(&server, rename("Seat switch, right")).await.0, 409);
}

#[tokio::test]
async fn a_wire_list_comes_in_as_steps_and_its_bad_rows_by_line() {
    let server = Server::start().await;
    let list = server.client.get(format!("{}{AT}/wires.csv", server.address)).send().await;
    let list = list.unwrap().text().await.unwrap();
    let read = async |text: String| {
        let address = format!("{}{AT}/edit/wire-list", server.address);
        let request = server.client.post(address).header("content-type", "text/csv").body(text);
        let response = request.send().await.unwrap();
        (response.status().as_u16(), response.json::<Value>().await.unwrap())
    };
    assert_eq!(read(list.clone()).await, (200, json!([])));
    let fewer: Vec<&str> = list.lines().take(list.lines().count() - 1).collect();
    let (status, steps) = read(fewer.join("\n")).await;
    assert_eq!((status, &steps[0]["kind"]), (200, &json!("take-out-wire")));
    let (status, told) = read("wire,from,to\nw1,here.1,there.2\n".to_owned()).await;
    assert_eq!((status, &told["errors"][0]["field"]), (422, &json!("line 2")), "{told:#}");
}
