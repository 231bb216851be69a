//! A made-up machine of as many two-position controls as wanted: all of them in series in its start
//! circuit, two by two on the rungs of its kill circuit.

use kelvok_core::circuit::Circuit;
use kelvok_core::machine::Machine;
use serde_json::{Value, json};

/// Letters that a control may have.
const LETTERS: &str = "abcdefghiklmpqrstvwxy";

pub fn wide(controls: usize) -> Circuit {
    let text = document(controls).to_string();
    Circuit::compile(&Machine::read(&text).unwrap_or_else(|p| panic!("{p:#?}")))
}

fn document(controls: usize) -> Value {
    let id = |i: usize| format!("c{i}");
    let mut parts = vec![
        json!({"id": "battery", "kind": "battery", "name": "Battery", "terminals": ["+", "-"],
               "volts": 12.6, "ohms": 0.01}),
        json!({"id": "frame", "kind": "body", "name": "Frame", "terminals": ["metal"]}),
        json!({"id": "solenoid", "kind": "solenoid", "name": "Solenoid",
               "terminals": ["battery", "motor", "trigger", "base"],
               "coils": [{"id": "coil", "between": ["trigger", "base"], "ohms": 4,
                          "pulls_in": 7, "drops_out": 3}],
               "contacts": [{"id": "contact", "name": "contact", "between": ["battery", "motor"],
                             "normally": "open"}]}),
        json!({"id": "starter", "kind": "starter", "name": "Starter",
               "terminals": ["stud", "case"], "ohms": 0.09, "amps": 100}),
        json!({"id": "module", "kind": "ignition-module", "name": "Module",
               "terminals": ["kill"], "body": "frame"}),
    ];
    let mut wires = vec![
        json!({"id": "main", "from": "battery.+", "to": "solenoid.battery", "ohms": 0.001}),
        json!({"id": "motor", "from": "solenoid.motor", "to": "starter.stud", "ohms": 0.001}),
        json!({"id": "feed", "from": "battery.+", "to": "c0.start-in", "ohms": 0.01}),
    ];
    for i in 0..controls {
        parts.push(json!({
            "id": id(i), "kind": "interlock-switch", "name": format!("Switch {i}"),
            "terminals": ["start-in", "start-out", "kill-in", "kill-out"],
            "plunger": {"pressed_when": format!("{}=on", id(i)), "linkage": "rod"},
            "contacts": [
                {"id": "start", "name": "start contacts", "between": ["start-in", "start-out"],
                 "normally": "open"},
                {"id": "kill", "name": "kill contacts", "between": ["kill-in", "kill-out"],
                 "normally": "closed"},
            ],
        }));
        let next = if i + 1 < controls {
            format!("{}.start-in", id(i + 1))
        } else {
            "solenoid.trigger".to_owned()
        };
        wires.push(json!({"id": format!("s{i}"), "from": format!("{}.start-out", id(i)),
                          "to": next, "ohms": 0.01}));
        // Rungs of two: the even one at the lead, the odd one at ground.
        let (from, to) = match i % 2 {
            0 => ("module.kill".to_owned(), format!("{}.kill-in", id(i))),
            _ => (format!("{}.kill-out", id(i - 1)), format!("{}.kill-in", id(i))),
        };
        wires.push(json!({"id": format!("k{i}"), "from": from, "to": to, "ohms": 0.01}));
        if i % 2 == 1 {
            wires.push(json!({"id": format!("g{i}"), "from": format!("{}.kill-out", id(i)),
                              "to": "frame.metal", "ohms": 0.01}));
        }
    }
    let controls: Vec<_> = (0..controls)
        .map(|i| {
            json!({"id": id(i), "name": format!("Control {i}"), "letter": LETTERS[i..=i],
                   "positions": [{"id": "off", "name": "off"}, {"id": "on", "name": "on"}],
                   "rest": "off"})
        })
        .collect();
    let duties: Vec<_> = (0..controls.len())
        .map(|i| {
            json!({"id": format!("d{i}"), "name": format!("Cranking with control {i} off"),
                   "from": format!("{}=off", id(i)), "shall": "not-crank"})
        })
        .chain((0..controls.len() / 2).map(|i| {
            let (a, b) = (id(2 * i), id(2 * i + 1));
            json!({"id": format!("k{i}"), "name": format!("Control {} let go", 2 * i),
                   "from": format!("{a}=on & {b}=off"), "change": {a: "off"},
                   "shall": "stop-engine"})
        }))
        .collect();
    json!({
        "format": "kelvok-machine/1",
        "identity": {"make": "Wide", "model": "W", "family": "made up"},
        "reference": "frame",
        "controls": controls,
        "parts": parts,
        "wires": wires,
        "splices": [
            {"id": "ground", "terminals":
                ["battery.-", "frame.metal", "solenoid.base", "starter.case"]},
        ],
        "circuits": [
            {"id": "start", "name": "Start", "from": "battery.+", "load": "solenoid.coil",
             "to": "battery.-"},
            {"id": "kill", "name": "Kill", "from": "module.kill", "to": "frame.metal"},
        ],
        "duties": duties,
    })
}
