//! Every operation of the API's description, asked rightly, wrongly and absurdly, from a fixed seed:
//! no answer is a server error, none is undescribed, none takes for ever, and afterwards everything
//! still answers. `KELVOK_FUZZ_REQUESTS=20000` makes it long.

mod server;

use kelvok_core::machine::LIBRARY;
use reqwest::{Client, Method, StatusCode};
use serde_json::{Map, Value, json};
use server::Server;
use std::collections::BTreeMap;
use std::sync::Arc;
use std::time::Duration;
use uuid::Uuid;

/// No request takes longer: what does is answered with how far it is.
const LONGEST: Duration = Duration::from_secs(5);

/// Numbers that look random and are the same at every run (splitmix64).
struct Dice(u64);

impl Dice {
    fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ z >> 30).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ z >> 27).wrapping_mul(0x94d0_49bb_1331_11eb);
        z ^ z >> 31
    }

    fn below(&mut self, n: usize) -> usize {
        (self.next() % n.max(1) as u64) as usize
    }

    fn one_in(&mut self, n: usize) -> bool {
        self.below(n) == 0
    }

    fn of<'a, T>(&mut self, all: &'a [T]) -> &'a T {
        &all[self.below(all.len())]
    }
}

/// What stands in the shop already, so that much of what is asked exists.
struct Shop {
    jobs: Vec<String>,
    switches: Vec<String>,
    revisions: Vec<String>,
    entries: Vec<String>,
}

struct Walker {
    description: Arc<Value>,
    shop: Arc<Shop>,
    dice: Dice,
}

struct Operation {
    path: String,
    method: Method,
    spec: Value,
}

const ODD: [&str; 22] = [
    "",
    " ",
    "0",
    "-1",
    "null",
    "\u{0}",
    "two\nlines",
    "tab\there",
    "\u{202e}backwards",
    "Rødgård 𝄞 🚜",
    "=1+1",
    "@SUM(A1)",
    "'; drop table job; --",
    "<script>alert(1)</script>",
    "../../etc/passwd",
    "%00%0a",
    "\u{feff}bom",
    "NaN",
    "1e999",
    "start",
    "12.4",
    "OL",
];

const NUMBERS: [&str; 14] = [
    "0",
    "-1",
    "1",
    "2.5",
    "1e308",
    "-1e308",
    "9223372036854775807",
    "-9223372036854775808",
    "18446744073709551615",
    "2147483647",
    "2147483648",
    "4294967295",
    "1e-320",
    "99999999999999999999",
];

impl Walker {
    fn resolve<'a>(description: &'a Value, schema: &'a Value) -> &'a Value {
        match schema["$ref"].as_str() {
            Some(name) => {
                let name = name.rsplit('/').next().unwrap_or_default();
                Self::resolve(description, &description["components"]["schemas"][name])
            }
            None => schema,
        }
    }

    /// A value that a schema asks for, named as in its object.
    fn value(&mut self, schema: &Value, name: &str, depth: usize) -> Value {
        if self.dice.one_in(40) {
            return self.absurd(depth);
        }
        let description = self.description.clone();
        let schema = Self::resolve(&description, schema);
        if let Some(known) = self.known(name) {
            return known;
        }
        if depth > 7 {
            return Value::Null;
        }
        for list in ["oneOf", "anyOf"] {
            if let Some(all) = schema[list].as_array() {
                let one = self.dice.of(all).clone();
                return self.value(&one, name, depth + 1);
            }
        }
        if let Some(all) = schema["allOf"].as_array() {
            let mut whole = Map::new();
            for part in all {
                if let Value::Object(fields) = self.value(part, name, depth + 1) {
                    whole.extend(fields);
                }
            }
            return whole.into();
        }
        if let Some(all) = schema["enum"].as_array() {
            return self.dice.of(all).clone();
        }
        let kind = match &schema["type"] {
            Value::Array(kinds) => self.dice.of(kinds).as_str().unwrap_or("null").to_owned(),
            kind => kind.as_str().unwrap_or("object").to_owned(),
        };
        match kind.as_str() {
            "object" => self.object(schema, depth),
            "array" => {
                let most = if self.dice.one_in(30) { 300 } else { 4 };
                let items = schema["items"].clone();
                (0..self.dice.below(most)).map(|_| self.value(&items, "", depth + 1)).collect()
            }
            "string" => self.text(schema["format"].as_str().unwrap_or_default()).into(),
            "integer" => match self.dice.one_in(6) {
                true => self.number(),
                false => json!(self.dice.below(5)),
            },
            "number" => match self.dice.one_in(6) {
                true => self.number(),
                false => json!(self.dice.below(2000) as f64 / 100.0),
            },
            "boolean" => json!(self.dice.one_in(2)),
            _ => Value::Null,
        }
    }

    fn object(&mut self, schema: &Value, depth: usize) -> Value {
        let mut fields = Map::new();
        let required: Vec<_> = schema["required"].as_array().cloned().unwrap_or_default();
        if let Some(properties) = schema["properties"].as_object() {
            for (name, property) in properties {
                let needed = required.iter().any(|r| r == name);
                let given = if needed { !self.dice.one_in(40) } else { self.dice.one_in(2) };
                if given {
                    fields.insert(name.clone(), self.value(property, name, depth + 1));
                }
            }
        }
        let more = &schema["additionalProperties"];
        if more.is_object() || more == &Value::Bool(true) {
            for _ in 0..self.dice.below(4) {
                let name = self.text("");
                fields.insert(name, self.value(more, "", depth + 1));
            }
        }
        if self.dice.one_in(25) {
            fields.insert(self.text(""), self.absurd(depth));
        }
        fields.into()
    }

    /// What is usual for a field of this name.
    fn known(&mut self, name: &str) -> Option<Value> {
        if self.dice.one_in(5) {
            return None;
        }
        Some(match name {
            "by" => json!(*self.dice.of(&["Maren", "Tobias", "Rødgård 𝄞"])),
            "revision_id" => json!(self.dice.of(&self.shop.revisions).clone()),
            "job" => json!(self.dice.of(&self.shop.jobs).clone()),
            "id" => match self.dice.one_in(4) {
                true => json!(self.dice.of(&self.shop.entries).clone()),
                false => json!(self.fresh_id()),
            },
            "condition" | "set" => {
                json!({"key": *self.dice.of(&["start", "run", "off"]), "pedal": "down"})
            }
            "red" | "from" => json!(*self.dice.of(&["battery.+", "key-plug.S", "1", "B"])),
            "black" | "to" => json!(*self.dice.of(&["battery.-", "key-plug.B", "2", "S"])),
            "typed" => {
                json!(*self.dice.of(&["12.4", "0.3", "OL", "buzz", "silent", "-0", "1e9", "k"]))
            }
            "units" => json!(["key"]),
            "unit" | "part" => json!(*self.dice.of(&["key", "battery", "brake", "w1"])),
            "position" => json!(*self.dice.of(&["off", "run", "start"])),
            "profile" => json!(*self.dice.of(&["key-5-magneto", "interlock-4-no-nc", "x"])),
            "machine" => json!(self.dice.of(&LIBRARY).name),
            "address" => json!(*self.dice.of(&["127.0.0.1:9", "example.org:80"])),
            "complaint" | "reason" | "note" | "name" => json!("Silent at the key."),
            "version" => json!(self.dice.below(4)),
            "text" => self.file(),
            _ => return None,
        })
    }

    /// A story, a table or a document, whole or damaged.
    fn file(&mut self) -> Value {
        let story = json!({"format": "kelvok-story-1", "machine": "x", "complaint": "Silent.", "entries": [{
            "condition": {"key": "start"}, "engine": "stopped",
            "observation": {"kind": "heard", "heard": "silent"},
            "recorded": {"by": "Ilse", "at": *self.dice.of(&["2016-12-31T23:59:60Z", "2026-01-02T03:04:05Z",
                "+99999-01-01T00:00:00Z", "0000-00-00", "yesterday"])}}]})
        .to_string();
        let table = "position,from,to,reading\noff,1,3,buzz\nstart,5,4,0.2\n".to_owned();
        let mut text = self.dice.of(&[story, table]).clone();
        if self.dice.one_in(4) {
            let cut = self.dice.below(text.len());
            text.truncate((0..=cut).rev().find(|at| text.is_char_boundary(*at)).unwrap_or(0));
        }
        text.into()
    }

    fn fresh_id(&mut self) -> String {
        Uuid::from_u64_pair(self.dice.next(), self.dice.next()).to_string()
    }

    fn text(&mut self, format: &str) -> String {
        match format {
            "uuid" if !self.dice.one_in(6) => self.fresh_id(),
            _ if self.dice.one_in(12) => "𝄞x".repeat(self.dice.below(2000)),
            _ => (*self.dice.of(&ODD)).to_owned(),
        }
    }

    fn number(&mut self) -> Value {
        let text = *self.dice.of(&NUMBERS);
        serde_json::from_str(text).unwrap_or(Value::Null)
    }

    fn absurd(&mut self, depth: usize) -> Value {
        match self.dice.below(8) {
            0 => Value::Null,
            1 => json!(true),
            2 => self.number(),
            3 => self.text("").into(),
            4 => json!([]),
            5 => json!({}),
            6 if depth < 6 => json!([self.absurd(depth + 1), self.absurd(depth + 1)]),
            _ => json!({ self.text(""): self.text("") }),
        }
    }

    /// A path with its parameters filled in.
    fn path(&mut self, operation: &Operation) -> String {
        let mut path = operation.path.clone();
        let parameters = operation.spec["parameters"].as_array().cloned().unwrap_or_default();
        let mut query = Vec::new();
        for parameter in &parameters {
            let name = parameter["name"].as_str().unwrap_or_default();
            if parameter["in"] == "path" {
                let value = self.path_value(&operation.path, name);
                path = path.replacen(&format!("{{{name}}}"), &encoded(&value), 1);
                continue;
            }
            let times = match self.dice.below(12) {
                0 => 3,
                1..6 => 0,
                _ => 1,
            };
            for _ in 0..times {
                let value = match name {
                    "set" | "to_set" if !self.dice.one_in(5) => {
                        (*self.dice.of(&["key:start", "key:run", "pedal:down", "seat:empty"]))
                            .to_owned()
                    }
                    "engine" | "to_engine" if !self.dice.one_in(5) => "running".to_owned(),
                    "circuit" if !self.dice.one_in(5) => "start".to_owned(),
                    _ => match self.value(&parameter["schema"], name, 0) {
                        Value::String(text) => text,
                        other => other.to_string(),
                    },
                };
                query.push(format!("{name}={}", encoded(&value)));
            }
        }
        if self.dice.one_in(20) {
            query.push(
                (*self.dice.of(&["%ff%fe", "&&==", "a=b=c", "page=-1", "x=%", "q=%00"])).to_owned(),
            );
        }
        let mut whole = if query.is_empty() { path } else { format!("{path}?{}", query.join("&")) };
        // The client that asks here takes no longer address; it is plain ASCII by now.
        whole.truncate(20_000);
        whole
    }

    fn path_value(&mut self, path: &str, name: &str) -> String {
        if self.dice.one_in(12) {
            return self.text("").chars().take(300).collect();
        }
        match name {
            "id" if path.contains("/bench/") => self.dice.of(&self.shop.switches).clone(),
            "id" if path.contains("/switch-profiles/") => "key-5-magneto".to_owned(),
            "id" if path.contains("/jobs/") => self.dice.of(&self.shop.jobs).clone(),
            "name" => self.dice.of(&LIBRARY).name.to_owned(),
            "circuit" => (*self.dice.of(&["start", "kill", "pto", "charge"])).to_owned(),
            "entry" | "verdict" => self.dice.of(&self.shop.entries).clone(),
            _ => self.fresh_id(),
        }
    }

    /// The body of a request: what is asked for, a document, or rubbish; and what it is said to be.
    fn body(&mut self, operation: &Operation) -> Option<(String, &'static str)> {
        let wanted = &operation.spec["requestBody"]["content"]["application/json"]["schema"];
        if wanted.is_null() {
            return self.dice.one_in(30).then(|| ("{}".to_owned(), "application/json"));
        }
        let kind = match self.dice.below(25) {
            0 => "text/plain",
            1 => "application/xml; charset=\"",
            _ => "application/json",
        };
        let document = operation.path.ends_with("/machines") || operation.path.ends_with("/check");
        let mut text = match document {
            true => self.dice.of(&LIBRARY).text.to_owned(),
            false => self.value(wanted, "", 0).to_string(),
        };
        match self.dice.below(12) {
            0 => {
                let at = self.dice.below(text.len().max(1));
                let at = (0..=at).rev().find(|at| text.is_char_boundary(*at)).unwrap_or(0);
                text.truncate(at);
            }
            1 => {
                let odd: &[&str] = &[",", ":1e999,", ":[", ":\"\\ud800\","];
                let other = *self.dice.of(odd);
                text = text.replacen(':', other, 1);
            }
            2 if document => {
                let other = *self.dice.of(&["\"nome\"", "\"ohms\""]);
                text = text.replacen("\"name\"", other, 3);
            }
            _ => {}
        }
        Some((text, kind))
    }
}

fn encoded(text: &str) -> String {
    let plain = |b: u8| b.is_ascii_alphanumeric() || b"-_.:".contains(&b);
    text.bytes()
        .map(|b| if plain(b) { char::from(b).to_string() } else { format!("%{b:02X}") })
        .collect()
}

/// How often an operation is asked: what has to be worked out less often than what is looked up.
fn often(path: &str) -> usize {
    let heavy = ["/forecast", "/faults", "/stories", "/check"];
    let middling =
        ["/diagnosis", "/sweeps", "/trace", "/own-test", "/machines", "/logic", "/verdicts"];
    if heavy.iter().any(|h| path.contains(h)) {
        1
    } else if middling.iter().any(|m| path.ends_with(m) || path.contains(m)) {
        5
    } else {
        20
    }
}

fn operations(description: &Value) -> Vec<Operation> {
    let mut all = Vec::new();
    for (path, item) in description["paths"].as_object().expect("paths") {
        for (name, method) in [
            ("get", Method::GET),
            ("put", Method::PUT),
            ("post", Method::POST),
            ("delete", Method::DELETE),
        ] {
            if item[name].is_object() {
                for _ in 0..often(path) {
                    let (path, method, spec) = (path.clone(), method.clone(), item[name].clone());
                    all.push(Operation { path, method, spec });
                }
            }
        }
    }
    all
}

async fn shop(server: &Server) -> Shop {
    let revisions = server.json("/api/v1/machines").await;
    let revisions = revisions["machines"].as_array().expect("machines").iter();
    let revisions: Vec<_> =
        revisions.map(|m| m["revision_id"].as_str().expect("an id").to_owned()).collect();
    let mut shop =
        Shop { jobs: vec![server.job.to_string()], switches: vec![], revisions, entries: vec![] };
    for name in ["Key", "Seat"] {
        let id = Uuid::now_v7();
        let is = json!({"kind": "of-machine", "machine": "pellwick-gt-46", "part": "key"});
        let lay = json!({"id": id, "by": "Maren", "name": name, "is": is});
        assert_eq!(server.post("/api/v1/bench", &lay).await.0, StatusCode::OK);
        shop.switches.push(id.to_string());
    }
    for _ in 0..3 {
        let id = Uuid::now_v7();
        let heard = json!({"id": id, "by": "Maren", "condition": {"key": "start", "pedal": "down"},
            "observed": {"kind": "heard", "heard": "silent"}});
        assert_eq!(server.record(&heard).await.0, StatusCode::OK);
        shop.entries.push(id.to_string());
    }
    shop
}

#[tokio::test(flavor = "multi_thread")]
async fn no_request_is_answered_by_a_server_error_or_by_what_is_not_described() {
    let wanted = std::env::var("KELVOK_FUZZ_REQUESTS").ok().and_then(|n| n.parse().ok());
    let requests: usize = wanted.unwrap_or(1500);
    let server = Server::with_meters(&["127.0.0.1:9"]).await;
    let description: Arc<Value> = Arc::new(server.json("/api/v1/openapi.json").await);
    let shop = Arc::new(shop(&server).await);
    let client =
        Client::builder().timeout(LONGEST).pool_idle_timeout(LONGEST).build().expect("a client");
    const WALKERS: usize = 3;
    let mut walks = Vec::new();
    for seed in 0..WALKERS {
        let (description, shop) = (description.clone(), shop.clone());
        let (client, address) = (client.clone(), server.address.clone());
        walks.push(tokio::spawn(async move {
            let operations = operations(&description);
            let mut walker = Walker { description, shop, dice: Dice(seed as u64 + 1) };
            let mut statuses: BTreeMap<u16, usize> = BTreeMap::new();
            for _ in 0..requests / WALKERS {
                let operation = walker.dice.of(&operations);
                let (path, body) = (walker.path(operation), walker.body(operation));
                let mut request = client
                    .request(operation.method.clone(), format!("{address}{path}"))
                    .header("origin", &address);
                let shown = format!("{body:?}").chars().take(1000).collect::<String>();
                let at: String = path.chars().take(600).collect();
                let said = format!("{} {at}\n{shown}", operation.method);
                if let Some((text, kind)) = body {
                    request = request.header("content-type", kind).body(text);
                }
                let response = request.send().await.unwrap_or_else(|e| panic!("{said}: {e:?}"));
                let status = response.status();
                *statuses.entry(status.as_u16()).or_default() += 1;
                let kind = response.headers().get("content-type").cloned();
                if path.starts_with("/api/v1/meter/live") && status == 200 {
                    continue;
                }
                let text = response.text().await.unwrap_or_else(|e| panic!("{said}: {e}"));
                assert!(status.as_u16() < 500, "{said}\n{status} {text}");
                let described = &operation.spec["responses"];
                // A parameter that is empty, or has a slash in it, makes it another path.
                let same_path =
                    !path.contains("//") && !path.split('?').next().unwrap().ends_with('/');
                assert!(
                    !same_path || described[status.as_str()].is_object(),
                    "{said}\n{status} is not described: {text}"
                );
                if status.as_u16() >= 400 {
                    assert_eq!(kind.expect("a type"), "application/problem+json", "{said}\n{text}");
                    let problem: Value = serde_json::from_str(&text).expect("a problem");
                    assert_eq!(problem["status"], status.as_u16(), "{said}");
                }
            }
            statuses
        }));
    }
    for walk in walks {
        println!("{:?}", walk.await.expect("every request is answered"));
    }
    // The lists, the job and the bench still answer.
    for path in ["/jobs", "/machines", "/bench", "/switch-profiles", "/people", "/health"] {
        let path = format!("/api/v1{path}");
        assert_eq!(server.get(&path).await.status(), StatusCode::OK, "{path}");
    }
    let id = Uuid::now_v7();
    let new = json!({"id": id, "revision_id": shop.revisions[0], "complaint": "Silent."});
    assert_eq!(server.post("/api/v1/jobs", &new).await.0, StatusCode::OK);
    let path = format!("/api/v1/jobs/{id}/diagnosis");
    assert_eq!(server.get(&path).await.status(), StatusCode::OK);
}
