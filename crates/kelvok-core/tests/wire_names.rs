//! A wire is called by its color and its ends, and no two of a machine by the same.

mod library;

use kelvok_core::machine::{LIBRARY, Machine};
use std::collections::BTreeMap;

fn names(machine: &str) -> BTreeMap<String, String> {
    let machine = Machine::read(library::text(machine)).expect("sound");
    let document = machine.document();
    document.wires.iter().map(|w| (w.id.clone(), document.wire_name(w).to_string())).collect()
}

#[test]
fn no_two_wires_of_a_machine_have_one_name_and_none_has_a_number_of_the_drawing() {
    for shipped in LIBRARY {
        let names = names(shipped.name);
        let mut seen = BTreeMap::new();
        for (id, name) in &names {
            let words = || name.split([' ', ',']);
            assert!(words().all(|word| !names.contains_key(word)), "{}: {name}", shipped.name);
            assert!(!name.contains("switch plug"), "{}: by its plug: {name}", shipped.name);
            if let Some(other) = seen.insert(name, id) {
                panic!("{}: {id} and {other} are both “{name}”", shipped.name);
            }
        }
    }
}

#[test]
fn a_wire_is_named_as_one_would_across_a_bench() {
    let gt46 = names("pellwick-gt-46");
    assert_eq!(gt46["w4"], "red wire, starter solenoid to starter motor");
    assert_eq!(gt46["w3"], "bare braid, engine block to engine ground strap bolt");
    let between = |from: &str, to: &str| {
        let all = gt46.values().filter(|name| name.ends_with(&format!(", {from} to {to}")));
        all.cloned().collect::<Vec<_>>()
    };
    assert_eq!(
        between("lever switch", "pedal switch"),
        ["white/black wire, lever switch to pedal switch"]
    );
    // Two of one color between the same two parts: the cavities tell them apart.
    let charging: Vec<_> = gt46.values().filter(|name| name.contains("stator")).collect();
    assert_eq!(
        charging,
        ["yellow wire, stator A to regulator A", "yellow wire, stator B to regulator B"]
    );
    // An abbreviation keeps its capitals.
    assert!(gt46.values().any(|name| name.contains("PTO switch")));
}
