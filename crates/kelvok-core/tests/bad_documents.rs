//! Documents that nobody should have sent: each gets a clear sentence, soon.

mod library;

use kelvok_core::circuit::Circuit;
use kelvok_core::interlock::check;
use kelvok_core::machine::{Machine, Problem};
use serde_json::{Value, json};

fn gt46() -> Value {
    serde_json::from_str(library::text("pellwick-gt-46")).expect("JSON")
}

fn refusal(document: &Value) -> Vec<Problem> {
    Machine::read(&document.to_string()).expect_err("a refusal")
}

fn says(problems: &[Problem], sentence: &str) {
    assert!(problems.iter().any(|p| p.sentence.contains(sentence)), "{problems:#?}");
}

#[test]
fn five_thousand_parts_are_refused_in_one_sentence() {
    let mut document = gt46();
    let one = document["parts"][0].clone();
    let parts = document["parts"].as_array_mut().unwrap();
    for i in 0..5000 {
        let mut part = one.clone();
        part["id"] = json!(format!("more-{i}"));
        parts.push(part);
    }
    says(&refusal(&document), "5042 parts are too many: at most 500.");
}

#[test]
fn more_combinations_than_can_be_tabled_are_refused() {
    let mut document = gt46();
    let seat = document["controls"][1].clone();
    let controls = document["controls"].as_array_mut().unwrap();
    for (i, letter) in ('a'..='z').filter(|c| !"oznujktbpl".contains(*c)).enumerate() {
        let mut control = seat.clone();
        control["id"] = json!(format!("more-{i}"));
        control["letter"] = json!(letter.to_string());
        controls.push(control);
    }
    says(&refusal(&document), "combinations: at most 32768.");
}

#[test]
fn figures_of_no_machine_are_refused() {
    for (value, sentence) in [
        (json!(1e308), "Ohms of 1e308 are no real machine's."),
        (json!(1e-300), "Ohms of 1e-300 are no real machine's."),
        (json!(0), "Ohms must be more than zero, not 0."),
        (json!(-3.0), "Ohms must be more than zero, not -3."),
        (json!("NaN"), "expected a number"),
        (json!(null), ""),
    ] {
        let mut document = gt46();
        document["wires"][0]["ohms"] = value.clone();
        match Machine::read(&document.to_string()) {
            Ok(_) => assert!(value.is_null(), "{value} was taken"),
            Err(problems) => says(&problems, sentence),
        }
    }
    // What JSON itself cannot hold.
    let text = gt46().to_string().replacen("12.65", "1e999", 1);
    says(&Machine::read(&text).unwrap_err(), "This is not JSON");
    let text = gt46().to_string().replacen("12.65", "NaN", 1);
    says(&Machine::read(&text).unwrap_err(), "This is not JSON");
}

#[test]
fn names_that_stand_twice_are_found_in_every_list() {
    let mut document = gt46();
    for list in ["controls", "parts", "wires", "splices", "places", "circuits", "duties"] {
        let first = document[list][0].clone();
        document[list].as_array_mut().unwrap().push(first);
    }
    let problems = refusal(&document);
    for list in ["controls", "parts", "wires", "splices", "places", "circuits", "duties"] {
        let twice = |p: &&Problem| {
            p.path.starts_with(&format!("/{list}/")) && p.sentence.contains("is taken")
        };
        assert_eq!(problems.iter().filter(twice).count(), 1, "{list}: {problems:#?}");
    }
}

#[test]
fn another_version_of_the_format_is_named() {
    let mut document = gt46();
    document["format"] = json!("kelvok-machine/9");
    says(&refusal(&document), "must be \"kelvok-machine/1\", not \"kelvok-machine/9\"");
}

#[test]
fn what_can_be_read_of_a_broken_head_still_counts() {
    let mut document = gt46();
    document["identity"] = json!({"make": "Pellwick"});
    let problems = refusal(&document);
    let said: Vec<_> = problems.iter().map(|p| (p.path.as_str(), p.sentence.as_str())).collect();
    // The wrong identity is named; format and reference, which are right, are not complained of.
    assert!(said.contains(&("/identity", "Missing field `model`.")), "{said:?}");
    assert!(said.iter().all(|(path, _)| *path != "/format" && *path != "/reference"), "{said:?}");
}

/// Turns are counted against another winding's, and there must be some.
#[test]
fn turns_without_a_coil_to_assist_are_named() {
    let mut document: Value = serde_json::from_str(library::text("tarnbeck-t-40")).unwrap();
    let parts = document["parts"].as_array_mut().unwrap();
    let at = parts.iter().position(|p| p["id"] == "solenoid").expect("a solenoid");
    parts[at]["coils"][0]["turns"] = json!(1);
    parts[at]["coils"][1]["turns"] = json!(-2);
    let problems = refusal(&document);
    let said: Vec<_> = problems.iter().map(|p| (p.path.as_str(), p.sentence.as_str())).collect();
    let path = |coil| format!("/parts/{at}/coils/{coil}/turns");
    let alone = "Turns are counted against those of the coil that it assists.";
    let negative = "Turns must be more than zero, not -2.";
    assert_eq!(said, [(path(0).as_str(), alone), (path(1).as_str(), negative)]);
}

/// Two relays that each break the other's feed: nothing rests, and it is said, not waited for.
#[test]
fn relays_that_undo_each_other_chatter() {
    let mut document: Value = serde_json::from_str(library::text("kelvok-r1")).unwrap();
    let parts = document["parts"].as_array_mut().unwrap();
    for id in ["one", "two"] {
        parts.push(json!({
            "id": id, "kind": "relay", "name": id, "terminals": ["85", "86", "30", "87a"],
            "coils": [{"id": "coil", "between": ["86", "85"], "ohms": 90,
                       "pulls_in": 7.5, "drops_out": 2}],
            "contacts": [{"id": "rest", "name": "rest", "between": ["30", "87a"],
                          "normally": "closed"}],
        }));
    }
    let wires = document["wires"].as_array_mut().unwrap();
    let mut wire = |id: &str, from: &str, to: &str| {
        wires.push(json!({"id": id, "from": from, "to": to, "ohms": 0.01}));
    };
    wire("r1", "battery.+", "one.30");
    wire("r2", "one.87a", "two.86");
    wire("r3", "two.85", "battery.-");
    wire("r4", "battery.+", "two.30");
    wire("r5", "two.87a", "one.86");
    wire("r6", "one.85", "battery.-");
    let machine = Machine::read(&document.to_string()).expect("sound as a document");
    let circuit = Circuit::compile(&machine);
    assert!(check(&circuit).iter().all(|p| p.warning), "{:#?}", check(&circuit));
    let parked = kelvok_core::circuit::Condition::at_rest(&circuit);
    let point = kelvok_core::circuit::operating_point(
        &circuit,
        &parked,
        kelvok_core::circuit::Relays::default(),
        &[],
        &[],
    );
    assert!(!point.chatter.is_empty(), "{:?}", point.outcome);
}
