//! Fills in what there would be to hear and read in a case of the case book: every starter heard and
//! every reading typed as `?` becomes what the machine with the case's truth and set-up does, and the
//! file is written anew. Whoever adds a case writes the rest by hand, and the entries that are wrong.
//!
//! `cargo run -p kelvok-core --example fill_in_readings -- cases/NAME.json...`

#[path = "../tests/case_book/mod.rs"]
mod case_book;

use case_book::{Case, circuit_of};
use kelvok_core::circuit::{
    Change, Circuit, Condition, Engine, Instrument, LampState, Reading, Relays, operating_point,
    read,
};
use kelvok_core::diagnosis::{Heard, SetUpEntry, parse_reading};
use kelvok_core::interlock::Judge;
use serde_json::{Value, json};
use std::collections::BTreeMap;

/// What leads and points of a probe add, in ohms.
const LEADS: f64 = 0.2;
/// A meter that reads a little high.
const SCALE: f64 = 1.002;

fn main() {
    for file in std::env::args().skip(1) {
        let text = std::fs::read_to_string(&file).expect("a file");
        let mut case: Value = serde_json::from_str(&text).expect("JSON");
        let parsed: Case = serde_json::from_str(&text).unwrap_or_else(|e| panic!("{file}: {e}"));
        let circuit = circuit_of(&parsed.machine);
        let truth = parsed.changes(&circuit);
        let entries = case["story"]["entries"].as_array_mut().expect("entries");
        for entry in entries {
            let of = |field: &str| &entry["observation"][field];
            if *of("heard") == "?" {
                fill_in_heard(&circuit, &truth, entry);
            } else if *of("kind") == "reading" && of("reading").is_null() {
                fill_in_reading(&circuit, &truth, entry);
            }
        }
        std::fs::write(&file, format!("{case:#}\n")).expect("written");
    }
}

/// How the machine stands in an entry, and what is changed about it.
fn standing(circuit: &Circuit, truth: &[Change], entry: &Value) -> (Condition, Vec<Change>) {
    let set: BTreeMap<String, String> =
        serde_json::from_value(entry["condition"].clone()).expect("a condition");
    let set = set.iter().map(|(c, p)| (c.as_str(), p.as_str()));
    let mut condition = Condition::with(circuit, set).expect("a condition");
    condition.engine = serde_json::from_value(entry["engine"].clone()).unwrap_or_default();
    let set_up: Vec<SetUpEntry> =
        serde_json::from_value(entry["set_up"].clone()).unwrap_or_default();
    let mut changes = truth.to_vec();
    for entry in set_up {
        changes.extend(entry.resolve(circuit).expect("a set-up").changes(circuit));
    }
    (condition, changes)
}

fn fill_in_heard(circuit: &Circuit, truth: &[Change], entry: &mut Value) {
    let (condition, changes) = standing(circuit, truth, entry);
    let point = operating_point(circuit, &condition, Relays::default(), &changes, &[]);
    entry["observation"]["heard"] = json!(Heard::of(point.outcome.crank));
}

fn fill_in_reading(circuit: &Circuit, truth: &[Change], entry: &mut Value) {
    let (condition, changes) = standing(circuit, truth, entry);
    let relays = match condition.engine >= Engine::Running {
        true => Judge::new(circuit, &changes).running_relays(),
        false => Relays::default(),
    };
    let observation = &mut entry["observation"];
    let instrument: Instrument =
        serde_json::from_value(observation["instrument"].clone()).expect("an instrument");
    let node = |lead: &str| {
        let terminal = observation[lead].as_str().expect("a terminal");
        circuit.terminal(terminal).unwrap_or_else(|e| panic!("{e}"))
    };
    let probes = (node("red"), node("black"));
    let shown = || match read(circuit, &condition, relays, &changes, instrument, probes) {
        Ok(Reading::Volts(volts)) => format!("{:.2}", volts * SCALE + 0.0),
        Ok(Reading::Ohms(Some(ohms))) if ohms > 9e5 => "OL".to_owned(),
        Ok(Reading::Ohms(Some(ohms))) => format!("{:.1}", ohms + LEADS),
        Ok(Reading::Ohms(None) | Reading::Drop(None)) => "OL".to_owned(),
        Ok(Reading::Buzz(beeps)) => (if beeps { "buzz" } else { "silent" }).to_owned(),
        Ok(Reading::Lamp(LampState::Bright)) => "bright".to_owned(),
        Ok(Reading::Lamp(LampState::Dim)) => "dim".to_owned(),
        Ok(Reading::Lamp(LampState::Out)) => "out".to_owned(),
        other => panic!("{instrument:?} at {}: {other:?}", observation["red"]),
    };
    let by_hand = observation["typed"].as_str().filter(|typed| *typed != "?");
    let typed = by_hand.map_or_else(shown, str::to_owned);
    let reading = parse_reading(instrument, &typed).unwrap_or_else(|e| panic!("{typed}: {e}"));
    observation["typed"] = json!(typed);
    observation["reading"] = json!(reading);
}
