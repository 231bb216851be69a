//! Meters over TCP: their live reading, and every way in which they fail to give one.

mod server;

use kelvok_core::circuit::Circuit;
use kelvok_core::machine::{LIBRARY, Machine};
use kelvok_core::meter::{Answer, StandIn};
use reqwest::Response;
use serde_json::{Value, json};
use server::Server;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::{TcpListener, TcpStream};

/// A stand-in on a port of its own.
struct Meter {
    address: String,
    inside: Arc<Mutex<StandIn>>,
    dialled: Arc<AtomicBool>,
}

impl Meter {
    async fn start() -> Self {
        let machine = Machine::read(LIBRARY[0].text).expect("sound");
        let inside = Arc::new(Mutex::new(StandIn::new(Circuit::compile(&machine), 3)));
        let listener = TcpListener::bind("127.0.0.1:0").await.expect("a port");
        let address = listener.local_addr().expect("bound").to_string();
        let meter = inside.clone();
        let dialled: Arc<AtomicBool> = Arc::default();
        let was = dialled.clone();
        tokio::spawn(async move {
            while let Ok((stream, _)) = listener.accept().await {
                was.store(true, Ordering::Release);
                tokio::spawn(serve(stream, meter.clone()));
            }
        });
        Self { address, inside, dialled }
    }

    fn was_asked(&self) -> bool {
        self.dialled.load(Ordering::Acquire)
    }

    fn tell(&self, command: &str) {
        self.inside.lock().unwrap().answer(command);
    }
}

async fn serve(stream: TcpStream, meter: Arc<Mutex<StandIn>>) {
    let (read, mut write) = stream.into_split();
    let mut lines = BufReader::new(read).lines();
    while let Ok(Some(line)) = lines.next_line().await {
        let answer = meter.lock().unwrap().answer(&line);
        match answer {
            Answer::Line(text) => {
                if write.write_all(format!("{text}\n").as_bytes()).await.is_err() {
                    return;
                }
            }
            Answer::Nothing | Answer::Silence => {}
            Answer::HangUp => return,
        }
    }
}

/// A stream of events, read one by one.
struct Live {
    response: Response,
    rest: String,
}

impl Live {
    async fn listen(server: &Server, address: &str, range: &str, by: &str) -> Self {
        let body = json!({"address": address, "range": range, "by": by});
        let path = format!("{}/api/v1/meter/live", server.address);
        let response = server.client.post(path).json(&body).send().await.expect("an answer");
        assert_eq!(response.status(), 200);
        Self { response, rest: String::new() }
    }

    /// The first event of which this holds.
    async fn wait_for(&mut self, holds: impl Fn(&Value) -> bool) -> Value {
        let search = async {
            loop {
                while let Some((event, rest)) = self.rest.split_once("\n\n") {
                    let data: Option<Value> = event
                        .lines()
                        .find_map(|l| l.strip_prefix("data: "))
                        .and_then(|d| serde_json::from_str(d).ok());
                    self.rest = rest.to_owned();
                    if let Some(data) = data.filter(|d| holds(d)) {
                        return data;
                    }
                }
                let chunk = self.response.chunk().await.expect("a stream").expect("more of it");
                self.rest.push_str(&String::from_utf8_lossy(&chunk));
            }
        };
        tokio::time::timeout(Duration::from_secs(20), search).await.expect("an event in time")
    }
}

fn bring(meter: &Meter, red: &str) -> Value {
    json!({
        "address": meter.address, "condition": {"key": "start", "pedal": "down"},
        "red": red, "black": "battery.-",
    })
}

#[tokio::test]
async fn a_steady_reading_is_taken_once_and_the_next_after_the_probes_moved() {
    let meter = Meter::start().await;
    let server = Server::with_meters(&[&meter.address, "127.0.0.1:9"]).await;
    meter.tell("SIM:FAULT brake.start=open");
    let mut live = Live::listen(&server, &meter.address, "dc-volts", "Maren").await;
    let first = live.wait_for(|e| e["state"] == "reading").await;
    assert_eq!(
        (&first["stand_in"], &first["identity"]["model"]),
        (&json!(true), &json!("STAND-IN"))
    );
    let path = "/api/v1/meter/stand-in";
    for (red, from, to) in [("brake-plug.A", 12.0, 13.0), ("brake-plug.B", -0.1, 0.3)] {
        assert_eq!(server.post(path, &bring(&meter, red)).await.0, 204);
        let taken = live.wait_for(|e| e["taken"].is_string()).await;
        let figure: f64 = taken["taken"].as_str().unwrap().parse().unwrap();
        assert!((from..to).contains(&figure), "{red}: {figure}");
    }
    let (status, problem) = server.post(path, &bring(&meter, "nowhere.1")).await;
    assert_eq!(status, 422, "{problem}");
    let mut injected = bring(&meter, "brake-plug.A");
    injected["red"] = json!("battery.+\nSIM:FAULT:CLEAR");
    assert_eq!(server.post(path, &injected).await.0, 422);
    let mut injected = bring(&meter, "brake-plug.A");
    injected["set_up"] = json!([{"kind": "unplugged", "connector": "a\nSIM:FAULT:CLEAR"}]);
    assert_eq!(server.post(path, &injected).await.0, 422);
    // The fault is still in: nothing got through.
    assert_eq!(server.post(path, &bring(&meter, "brake-plug.B")).await.0, 204);
    live.wait_for(|e| e["shown"] == "0.00 V" || e["shown"] == "0.01 V").await;
}

#[tokio::test]
async fn one_listens_at_a_time_and_the_other_is_told_who() {
    let meter = Meter::start().await;
    let server = Server::with_meters(&[&meter.address, "127.0.0.1:9"]).await;
    let mut first = Live::listen(&server, &meter.address, "ohms", "Maren").await;
    first.wait_for(|e| e["state"] == "reading").await;
    // On another range one goes on listening, without being told that one has it oneself.
    drop(first);
    let mut first = Live::listen(&server, &meter.address, "dc-volts", "Maren").await;
    let event = first.wait_for(|_| true).await;
    assert_eq!(event["state"], "reading", "{event}");
    let mut second = Live::listen(&server, &meter.address, "ohms", "Tobias").await;
    let held = second.wait_for(|e| e["state"] == "held").await;
    assert_eq!(held["sentence"], "Maren has this meter.");
    drop(first);
    second.wait_for(|e| e["state"] == "reading").await;
}

#[tokio::test]
async fn nonsense_silence_and_hanging_up_are_said_and_survived() {
    let meter = Meter::start().await;
    let server = Server::with_meters(&[&meter.address, "127.0.0.1:9"]).await;
    let mut live = Live::listen(&server, &meter.address, "dc-volts", "Maren").await;
    for (trouble, state) in [("garbage", "garbage"), ("silence", "lost"), ("hangup", "lost")] {
        live.wait_for(|e| e["state"] == "reading").await;
        meter.tell(&format!("SIM:TROU {trouble}"));
        let event = live.wait_for(|e| e["state"] == state).await;
        assert!(event["sentence"].as_str().unwrap().ends_with('.'), "{event}");
        meter.tell("SIM:TROU none");
    }
    live.wait_for(|e| e["state"] == "reading").await;
    let mut nobody = Live::listen(&server, "127.0.0.1:9", "dc-volts", "Maren").await;
    let event = nobody.wait_for(|e| e["state"] == "lost").await;
    assert_eq!(event["sentence"], "Nothing answers at that address.");
}

#[tokio::test]
async fn only_listed_meters_are_dialled_and_never_by_a_get() {
    let meter = Meter::start().await;
    let server = Server::with_meters(&[&meter.address]).await;
    assert_eq!(server.json("/api/v1/meter").await, json!([meter.address]));
    let live = "/api/v1/meter/live";
    let elsewhere = Meter::start().await;
    for address in [elsewhere.address.as_str(), "192.0.2.7:5025", "example.org:80", "127.0.0.1", ""]
    {
        let body = json!({"address": address, "range": "ohms", "by": "Maren"});
        assert_eq!(server.post(live, &body).await.0, 422, "{address}");
        let body = json!({"address": address, "condition": {}, "red": "a", "black": "b"});
        assert_eq!(server.post("/api/v1/meter/stand-in", &body).await.0, 422, "{address}");
    }
    let body = json!({"address": meter.address, "range": "ohms", "by": " "});
    assert_eq!(server.post(live, &body).await.0, 422, "nobody");
    let get = format!("{live}?address={}&range=ohms&by=Maren", meter.address);
    assert_eq!(server.get(&get).await.status(), 405);
    // A page of another site, and one that does not say where it comes from.
    let body = json!({"address": meter.address, "range": "ohms", "by": "Maren"});
    for origin in [None, Some("http://evil.example"), Some("null"), Some("http://127.0.0.1:1")] {
        let request = reqwest::Client::new().post(format!("{}{live}", server.address)).json(&body);
        let request = origin.into_iter().fold(request, |r, o| r.header("origin", o));
        assert_eq!(request.send().await.unwrap().status(), 403, "{origin:?}");
    }
    assert!(!elsewhere.was_asked() && !meter.was_asked(), "nobody dialled");
}

#[tokio::test]
async fn what_does_not_answer_as_a_meter_is_told_nothing() {
    let listener = TcpListener::bind("127.0.0.1:0").await.expect("a port");
    let address = listener.local_addr().expect("bound").to_string();
    let heard = tokio::spawn(async move {
        let (mut stream, _) = listener.accept().await.expect("dialled");
        stream.write_all(b"220 mail.example ready\r\n").await.expect("a greeting");
        let mut lines = BufReader::new(stream).lines();
        let mut heard = Vec::new();
        while let Ok(Some(line)) = lines.next_line().await {
            heard.push(line);
        }
        heard
    });
    let server = Server::with_meters(&[&address]).await;
    let mut live = Live::listen(&server, &address, "ohms", "Maren").await;
    live.wait_for(|e| e["state"] == "garbage").await;
    assert_eq!(heard.await.expect("it ends"), ["*IDN?"]);
}

#[tokio::test]
async fn one_client_listens_to_so_many_meters_and_no_more() {
    let meter = Meter::start().await;
    let server = Server::with_meters(&[&meter.address]).await;
    let body = json!({"address": meter.address, "range": "ohms", "by": "Maren"});
    let mut open = Vec::new();
    let refused = loop {
        let path = format!("{}/api/v1/meter/live", server.address);
        let response = server.client.post(path).json(&body).send().await.expect("an answer");
        if response.status() != 200 {
            break response;
        }
        open.push(response);
        assert!(open.len() < 50, "no limit");
    };
    assert_eq!(refused.status(), 429);
    assert_eq!(refused.headers()["content-type"], "application/problem+json");
}
