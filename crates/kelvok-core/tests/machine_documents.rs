//! Documents: the library is sound, and everything wrong with one is said at once.

mod library;

use expect_test::{expect, expect_file};
use kelvok_core::circuit::{Circuit, fault_notation, parse_change, single_faults};
use kelvok_core::interlock::check;
use kelvok_core::machine::{LIBRARY, Machine, json_schema};
use serde_json::{Value, json};

#[test]
fn every_shipped_machine_is_sound() {
    for shipped in LIBRARY {
        let machine = Machine::read(shipped.text)
            .unwrap_or_else(|problems| panic!("{}: {problems:#?}", shipped.name));
        assert_eq!(machine.warnings(), [], "{}", shipped.name);
        // What a machine came with is a warning, and nothing else is.
        let problems = check(&Circuit::compile(&machine));
        let found = &machine.document().as_found;
        assert_eq!(problems.len(), found.len(), "{}: {problems:#?}", shipped.name);
        for (i, problem) in problems.iter().enumerate() {
            assert_eq!((problem.path.clone(), problem.warning), (format!("/as_found/{i}"), true));
        }
    }
}

#[test]
fn the_published_schema_is_the_one_the_code_has() {
    let text = serde_json::to_string_pretty(&json_schema()).expect("JSON");
    expect_file!["../../../machines/schema.json"].assert_eq(&format!("{text}\n"));
}

#[test]
fn every_single_fault_can_be_written_and_read_back() {
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        for fault in single_faults(&circuit) {
            for magnitude in fault.magnitudes() {
                let change = fault.at(*magnitude);
                let text = fault_notation(&circuit, change);
                assert_eq!(parse_change(&circuit, &text), Ok(change), "{text}");
            }
        }
    }
}

fn problems(text: &str) -> String {
    let problems = match Machine::read(text) {
        Err(problems) => problems,
        Ok(machine) => check(&Circuit::compile(&machine)),
    };
    problems.iter().map(|p| format!("{}: {}\n", p.path, p.sentence)).collect()
}

#[test]
fn wrong_notation_is_said_to_be_wrong() {
    let circuit = library::r1();
    for (text, message) in [
        ("brake.start", "\"brake.start\" is not SUBJECT=MODE"),
        ("nowhere=open", "this machine has no element \"nowhere\""),
        ("brake.start=blown", "brake.start cannot be \"blown\""),
        ("w-ks=-3ohm", "w-ks cannot be \"-3ohm\""),
        ("w-ks=ground:x", "w-ks cannot be \"ground:x\""),
        ("fuse=pressed", "fuse cannot be \"pressed\""),
    ] {
        assert_eq!(parse_change(&circuit, text).unwrap_err().to_string(), message);
    }
}

/// R1 with something done to it.
fn edited(edit: impl FnOnce(&mut Value)) -> String {
    let mut value: Value = serde_json::from_str(library::text("kelvok-r1")).expect("JSON");
    edit(&mut value);
    value.to_string()
}

#[test]
fn not_json_is_one_sentence() {
    expect![[r#"
        : This is not JSON: EOF while parsing an object at line 1 column 9.
    "#]]
    .assert_eq(&problems("{\"format\""));
}

#[test]
fn three_mistakes_in_one_item_are_three_sentences() {
    let text = edited(|v| {
        v["parts"][0] = json!({
            "id": "battery", "kind": "battery", "name": "Battery", "terminals": ["+", "-"],
            "volts": "twelve", "ohms": -0.015, "colour": "red"
        });
    });
    expect![[r#"
        /parts/0/volts: Wrong type: string "twelve", expected a number.
        /parts/0/colour: Unknown field `colour`, expected one of `id`, `kind`, `name`, `terminals`, `place`, `ohms`, `tolerance`, `volts`, `amps`, `contacts`, `coils`, `plunger`, `mates`, `body`, `kill_port`, `fires`, `ignition`, `energized_to`, `codes`, `clamps`, `unit`, `price`, `replace_minutes`, `source`, `note`.
        /parts/0/ohms: Ohms must be more than zero, not -0.015.
    "#]]
    .assert_eq(&problems(&text));
}

#[test]
fn fifty_mistakes_are_fifty_sentences() {
    let text = edited(|v| {
        // 11 wires to nowhere, both ends: 22. Their parts' own terminals stay joined by splices.
        for i in 3..14 {
            v["wires"][i]["from"] = json!("nowhere.a");
            v["wires"][i]["to"] = json!(format!("seat.no{i}"));
        }
        // 3 wires without ohms.
        for i in 0..3 {
            v["wires"][i].as_object_mut().unwrap().remove("ohms");
        }
        // 6 controls with a letter that means something else.
        for (i, letter) in ["o", "z", "n", "u", "j", "4"].into_iter().enumerate() {
            v["controls"][i]["letter"] = json!(letter);
        }
        // 5 places, each getting there from a place that is not.
        for i in 0..5 {
            v["places"][i]["minutes_from"] = json!({ "moon": 1 });
        }
        // 12 test points at a place that is not.
        for i in 0..12 {
            v["test_points"][i]["place"] = json!("moon");
        }
        v["format"] = json!("something/9");
        v["identity"]["make"] = json!(" ");
    });
    let found = Machine::read(&text).unwrap_err();
    let wrong: Vec<_> = found.iter().filter(|p| !p.warning).collect();
    // Taking the wires away leaves parts hanging: those sentences come on top.
    let planted =
        wrong.iter().filter(|p| !p.sentence.ends_with("is connected to nothing.")).count();
    assert_eq!(planted, 50, "{wrong:#?}");
}

#[test]
fn a_shorted_battery_and_a_circuit_nothing_completes_are_found() {
    let text = edited(|v| {
        v["parts"][4]["contacts"][0]["between"] = json!(["B", "G"]);
        v["parts"][9]["plunger"]["pressed_when"] = json!("lever=neutral & lever=reverse");
    });
    expect![[r#"
        /parts/0: Battery is shorted: 218 A with key at run, nobody in the seat, pedal up, blades off, lever in R, lights off.
        /circuits/0: No condition completes this circuit.
        /circuits/1: No condition completes this circuit.
        /circuits/2: no way leads through the PTO circuit.
        /duties/0: This duty never comes up: "The operator leaves the seat with the blades on".
        /duties/1: This duty never comes up: "The operator leaves the seat with the pedal up".
        /duties/2: This duty never comes up: "The lever goes to reverse with the blades on".
        /duties/6: This duty never comes up: "The key is turned off".
        /duties/7: Fails the safety check "It can be started", for example with key at start, operator in the seat, pedal down, blades off, lever in N, lights off.
        /duties/8: This duty never comes up: "With the pedal down and the blades off the operator may leave the engine running".
    "#]]
    .assert_eq(&problems(&text));
}

#[test]
fn names_that_do_not_exist_are_named() {
    let text = edited(|v| {
        v["reference"] = json!("cloud");
        v["parts"][9]["plunger"]["pressed_when"] = json!("lever=sideways & gear=1");
        v["parts"][10]["contacts"][0]["between"][1] = json!("nowhere");
        v["circuits"][0]["load"] = json!("solenoid.coal");
        v["parts"][7]["kind"] = json!("battery-pack");
    });
    expect![[r#"
        /parts/7/kind: Unknown variant `battery-pack`, expected one of `battery`, `fuse`, `key-switch`, `hand-switch`, `interlock-switch`, `solenoid`, `relay`, `starter`, `ignition-module`, `clutch`, `fuel-solenoid`, `lamp`, `hour-meter`, `diode`, `resistance`, `ground`, `body`, `connector`, `socket`, `breaker`, `presence-module`, `ignition-coil`, `breaker-points`, `stator`, `regulator`, `generator`, `glow-plug`, `ammeter`.
        /parts/7: Missing field `kind`.
        /reference: There is no part "cloud".
        /parts/9/plunger/pressed_when: The control "lever" has no position "sideways".
        /parts/9/plunger/pressed_when: There is no control "gear".
        /parts/10/contacts/0/between/1: Pedal switch has no terminal "nowhere".
        /circuits/0/load: There is no load "solenoid.coal".
    "#]]
    .assert_eq(&problems(&text));
}
