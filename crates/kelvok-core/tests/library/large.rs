//! A machine document as large as they come: a library tractor with its switches, relays and lamps
//! several times over, all worked by the same controls.

use serde_json::Value;

/// What there is once.
const SHARED: [&str; 22] = [
    "frame",
    "engine",
    "battery",
    "pos-clamp",
    "neg-clamp",
    "ground-strap",
    "engine-strap",
    "stator",
    "stator-plug",
    "regulator",
    "regulator-plug",
    "starter",
    "key",
    "solenoid",
    "solenoid-plug",
    "fuel-stop",
    "fuel-stop-plug",
    "glow-1",
    "glow-2",
    "glow-3",
    "glow-lamp",
    "work-lamps",
];

/// The text of a machine with so many harnesses; six come to some 280 kB.
pub fn large(harnesses: usize) -> String {
    let text = include_str!("../../../../machines/tarnbeck-c-24d.json");
    let mut whole: Value = serde_json::from_str(text).expect("a library machine");
    let one = whole.clone();
    let parts: Vec<String> = items(&one["parts"]).iter().map(|p| named(p, "id")).collect();
    whole["identity"]["model"] = format!("C-24D x{harnesses}").into();
    for n in 1..harnesses {
        let renamed = |address: &str| {
            let part = address.split('.').next().unwrap_or_default();
            let own = parts.iter().any(|p| p == part) && !SHARED.contains(&part);
            if own { format!("{part}-{n}{}", &address[part.len()..]) } else { address.to_owned() }
        };
        for (list, ids) in
            [("parts", true), ("wires", true), ("splices", true), ("test_points", false)]
        {
            for item in items(&one[list]) {
                if SHARED.contains(&item["id"].as_str().unwrap_or_default()) {
                    continue;
                }
                let mut item = item.clone();
                for field in ["body", "from", "to", "terminal", "unplugged"] {
                    if let Some(address) = item[field].as_str().map(renamed) {
                        item[field] = address.into();
                    }
                }
                if let Some(mates) = item.get_mut("mates").and_then(Value::as_object_mut) {
                    for mate in mates.values_mut() {
                        *mate = renamed(mate.as_str().unwrap_or_default()).into();
                    }
                }
                if list == "splices" {
                    for terminal in item["terminals"].as_array_mut().expect("terminals") {
                        *terminal = renamed(terminal.as_str().unwrap_or_default()).into();
                    }
                }
                if ids {
                    item["id"] = format!("{}-{n}", named(&item, "id")).into();
                }
                let shared_point = list == "test_points"
                    && item["terminal"]
                        .as_str()
                        .is_some_and(|t| SHARED.contains(&t.split('.').next().unwrap_or_default()));
                if !shared_point {
                    whole[list].as_array_mut().expect("a list").push(item);
                }
            }
        }
    }
    whole.to_string()
}

fn items(list: &Value) -> &[Value] {
    list.as_array().map(Vec::as_slice).unwrap_or_default()
}

fn named(item: &Value, field: &str) -> String {
    item[field].as_str().unwrap_or_default().to_owned()
}
