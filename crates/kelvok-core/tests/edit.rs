//! A machine's document changed by hand: every step does what it says, and what is wrong is said beside the thing.

use kelvok_core::circuit::Circuit;
use kelvok_core::describe::{Answers, describe};
use kelvok_core::edit::{Edit, MOST_ROWS, Review, wire_list_edits};
use kelvok_core::interlock::Spreadsheet;
use kelvok_core::machine::{LIBRARY, Machine, MachineDocument, Provenance};
use kelvok_core::revision::{DrawnThing, How, drawing_changes};

fn library(name: &str) -> MachineDocument {
    let shipped = LIBRARY.iter().find(|m| m.name == name).expect("shipped");
    Machine::read(shipped.text).expect("sound").document().clone()
}

fn gt46() -> MachineDocument {
    library("pellwick-gt-46")
}

fn edited(document: &MachineDocument, steps: &[Edit]) -> MachineDocument {
    Edit::all(document, steps, Provenance::Traced).expect("can be done")
}

fn text(of: &str) -> String {
    of.to_owned()
}

#[test]
fn every_library_machine_is_as_sound_after_no_step_as_before() {
    for shipped in LIBRARY {
        let document = library(shipped.name);
        let review = Review::of(&edited(&document, &[]));
        assert!(review.circuit.is_some(), "{}: {:?}", shipped.name, review.problems);
        assert!(drawing_changes(&document, &edited(&document, &[])).is_empty());
    }
}

#[test]
fn a_wire_is_put_in_moved_painted_and_taken_out() {
    let document = gt46();
    let add = Edit::AddWire {
        from: text("seat-plug.A"),
        to: text("dash-plug.4"),
        color: Some(text(" blue ")),
        gauge: Some(16),
    };
    let with = edited(&document, std::slice::from_ref(&add));
    let new = with.wires.last().expect("a wire");
    assert_eq!(new.color.as_deref(), Some("blue"));
    assert_eq!((new.gauge, new.source), (Some(16), Some(Provenance::Traced)));
    let changes = drawing_changes(&document, &with);
    assert_eq!(changes.len(), 1);
    assert_eq!((changes[0].thing, changes[0].how), (DrawnThing::Wire, How::New));

    let change = Edit::ChangeWire {
        wire: new.id.clone(),
        from: Some(text("seat-plug.B")),
        to: None,
        color: Some(String::new()),
        gauge: None,
        length_m: Some(0.4),
    };
    let moved = edited(&document, &[add.clone(), change]);
    let moved = moved.wires.last().expect("a wire");
    assert_eq!((moved.from.as_str(), moved.to.as_str()), ("seat-plug.B", "dash-plug.4"));
    assert_eq!((moved.color.as_deref(), moved.length_m), (None, Some(0.4)));
    assert_eq!(moved.gauge, Some(16), "what is not given stays");

    let out = Edit::TakeOutWire { wire: new.id.clone() };
    assert!(drawing_changes(&document, &edited(&document, &[add, out])).is_empty());
}

#[test]
fn two_pins_swapped_twice_are_as_they_were_but_for_the_mark() {
    let document = library("dunmarrow-z-52");
    let swap =
        Edit::SwapPins { one: text("seat-switch-plug.A"), other: text("seat-switch-plug.C") };
    let once = drawing_changes(&document, &edited(&document, std::slice::from_ref(&swap)));
    assert_eq!(once.len(), 2, "{once:?}");
    assert!(once.iter().all(|c| c.thing == DrawnThing::Wire && !c.only_source));
    let twice = drawing_changes(&document, &edited(&document, &[swap.clone(), swap]));
    assert!(twice.iter().all(|c| c.only_source), "{twice:?}");
}

#[test]
fn a_contact_of_the_other_kind_breaks_its_duty_and_the_duty_says_so() {
    let turn = Edit::TurnContact { contact: text("brake.start") };
    let review = Review::of(&edited(&gt46(), &[turn]));
    assert!(review.circuit.is_none());
    let first = &review.problems[0];
    assert!(!first.warning && first.thing == Some(DrawnThing::Duty), "{first:?}");
}

#[test]
fn a_part_taken_out_takes_its_plug_its_wires_and_its_points_and_what_needs_it_says_so() {
    let document = gt46();
    let out = edited(&document, &[Edit::TakeOutPart { part: text("seat") }]);
    let mentions = |address: &str| {
        let part = address.split('.').next().unwrap_or(address);
        part == "seat" || part == "seat-plug"
    };
    assert!(!out.parts.iter().any(|p| mentions(&p.id)));
    assert!(!out.wires.iter().any(|w| mentions(&w.from) || mentions(&w.to)));
    assert!(!out.test_points.iter().any(|p| mentions(&p.terminal)));
    assert!(out.wires.len() < document.wires.len());
    let review = Review::of(&out);
    assert!(review.circuit.is_none());
    assert!(review.problems.iter().all(|p| !p.sentence.is_empty()));
}

/// What is open about a wire, and what it was spliced to, goes with it: nobody could put that right here.
#[test]
fn what_hung_on_a_wire_or_part_taken_out_is_no_mistake_afterwards() {
    let (mut open, mut spliced) = (0, 0);
    let described: Answers = serde_json::from_str(r#"{"kind": "lawn-tractor"}"#).expect("answers");
    let described = describe(&described, "Quill", "Rider").expect("described").document;
    let library = LIBRARY.iter().map(|m| library(m.name));
    for document in std::iter::once(described).chain(library) {
        open += document.alternatives.len();
        spliced += document.splices.len();
        let wires = document.wires.iter().map(|w| Edit::TakeOutWire { wire: w.id.clone() });
        let parts = document.parts.iter().map(|p| Edit::TakeOutPart { part: p.id.clone() });
        for step in wires.chain(parts) {
            let review = Review::of(&edited(&document, std::slice::from_ref(&step)));
            let hung = review.problems.iter().find(|p| {
                let list = p.path.split('/').nth(1);
                !p.warning && matches!(list, Some("alternatives" | "splices"))
            });
            assert!(hung.is_none(), "{}: {step:?}: {hung:?}", document.identity.model);
        }
    }
    assert!(open > 0 && spliced > 0, "{open} {spliced}");
}

#[test]
fn a_wire_of_the_greatest_number_is_no_trouble() {
    let mut document = gt46();
    document.wires[0].id = format!("w{}", usize::MAX);
    let add = Edit::AddWire {
        from: text("seat-plug.A"),
        to: text("key-plug.B"),
        color: None,
        gauge: None,
    };
    let review = Review::of(&edited(&document, &[add]));
    assert!(review.circuit.is_none(), "two wires of one number");
}

#[test]
fn another_switch_like_one_that_is_there_comes_with_its_plug_and_can_be_wired() {
    let document = gt46();
    let add = Edit::AddPart { like: text("neutral"), name: text("Second neutral switch") };
    let with = edited(&document, std::slice::from_ref(&add));
    let own = with.parts.iter().find(|p| p.name == "Second neutral switch").expect("added");
    assert_eq!(own.id, "second-neutral-switch");
    let plug = with.parts.iter().find(|p| p.name == "Second neutral switch plug").expect("a plug");
    assert!(plug.mates.values().all(|m| m.starts_with("second-neutral-switch.")));
    let points = with.test_points.iter().filter(|p| p.terminal.starts_with("second-neutral"));
    let names: Vec<_> = points.map(|p| p.name.clone()).collect();
    assert!(!names.is_empty(), "it can be measured at");
    let mut all: Vec<_> = with.test_points.iter().map(|p| &p.name).collect();
    all.sort();
    all.dedup();
    assert_eq!(all.len(), with.test_points.len(), "no two points go by one name");

    // In series with the first: the wire that left it leaves the second instead.
    let wire =
        document.wires.iter().find(|w| w.from == "neutral-plug.B" || w.to == "neutral-plug.B");
    let wire = wire.expect("the neutral switch is wired");
    let pin = format!("{}.B", plug.id);
    let (from, to) = match wire.from == "neutral-plug.B" {
        true => (Some(pin), None),
        false => (None, Some(pin)),
    };
    let move_on = Edit::ChangeWire {
        wire: wire.id.clone(),
        from,
        to,
        color: None,
        gauge: None,
        length_m: None,
    };
    let between = Edit::AddWire {
        from: text("neutral-plug.B"),
        to: format!("{}.A", plug.id),
        color: None,
        gauge: None,
    };
    let review = Review::of(&edited(&document, &[add.clone(), move_on, between]));
    assert!(review.circuit.is_some(), "{:?}", review.problems);
    // Twice the same name gets an id of its own.
    let twice = edited(&document, &[add.clone(), add]);
    assert!(twice.parts.iter().any(|p| p.id == "second-neutral-switch-2"));
}

#[test]
fn a_step_that_cannot_be_taken_says_which_and_why() {
    let wire = |from: &str, to: &str| Edit::AddWire {
        from: text(from),
        to: text(to),
        color: None,
        gauge: None,
    };
    let bad = [
        (wire("seat-plug.Z", "key-plug.B"), "seat-plug.Z"),
        (wire("seat-plug", "key-plug.B"), "seat-plug"),
        (wire("seat-plug.A", "seat-plug.A"), "Both ends"),
        (Edit::TakeOutWire { wire: text("w999") }, "w999"),
        (Edit::TurnContact { contact: text("seat.none") }, "seat.none"),
        (Edit::TurnContact { contact: text("seat") }, "seat"),
        (Edit::TakeOutPart { part: text("nothing") }, "nothing"),
        (Edit::RenamePart { part: text("seat"), name: text("  ") }, "name"),
        (Edit::RenamePart { part: text("seat"), name: text("two\nlines") }, "one line"),
        (Edit::AddPart { like: text("battery"), name: text("Another") }, "one battery"),
        (Edit::AddPart { like: text("seat-plug"), name: text("Another") }, "plug"),
    ];
    let good = Edit::RenamePart { part: text("seat"), name: text("Operator seat switch") };
    for (step, says) in bad {
        let error = Edit::all(&gt46(), &[good.clone(), step.clone()], Provenance::Traced);
        let error = error.expect_err("cannot be done");
        assert_eq!(error.step, 1);
        assert!(error.sentence.contains(says), "{step:?}: {}", error.sentence);
    }
}

#[test]
fn steps_are_told_in_words_until_one_cannot_be_taken() {
    let steps = [
        Edit::AddWire {
            from: text("seat-plug.A"),
            to: text("key-plug.B"),
            color: Some(text("blue")),
            gauge: None,
        },
        Edit::SwapPins { one: text("seat-plug.A"), other: text("seat-plug.B") },
        Edit::TurnContact { contact: text("seat.kill") },
        Edit::TakeOutWire { wire: text("w999") },
        Edit::TakeOutPart { part: text("seat") },
    ];
    let told = Edit::told(&gt46(), &steps, Provenance::Traced);
    let wanted = [
        "New blue wire, seat switch plug A to key switch plug B",
        "Swapped: seat switch plug A and seat switch plug B",
        "seat switch, kill contacts: NO for NC",
    ];
    assert_eq!(told, wanted);
}

#[test]
fn steps_are_read_back_as_they_were_written_and_nothing_else_is() {
    let steps = [
        Edit::AddWire { from: text("a.b"), to: text("c.d"), color: None, gauge: Some(14) },
        Edit::TakeOutWire { wire: text("w1") },
        Edit::SwapPins { one: text("a.b"), other: text("a.c") },
    ];
    let written = serde_json::to_string(&steps).expect("JSON");
    assert_eq!(serde_json::from_str::<Vec<Edit>>(&written).expect("read"), steps);
    for odd in [r#"[{"kind":"explode"}]"#, r#"[{"kind":"take-out-wire","wire":"w1","more":1}]"#] {
        assert!(serde_json::from_str::<Vec<Edit>>(odd).is_err(), "{odd}");
    }
}

fn wire_list(document: &MachineDocument) -> String {
    let text = serde_json::to_string(document).expect("JSON");
    Spreadsheet::of_wires(&Circuit::compile(&Machine::read(&text).expect("sound"))).csv()
}

#[test]
fn a_wire_list_that_goes_out_and_comes_in_again_changes_nothing() {
    for shipped in LIBRARY {
        let document = library(shipped.name);
        let edits = wire_list_edits(&document, &wire_list(&document)).expect("reads");
        assert!(edits.is_empty(), "{}: {edits:?}", shipped.name);
    }
}

#[test]
fn what_was_changed_in_a_spreadsheet_is_what_changes() {
    let mut document = gt46();
    document.wires[3].color = Some(text("=sum"));
    let list = wire_list(&document);
    assert!(wire_list_edits(&document, &list).expect("reads").is_empty(), "an apostrophe is none");
    let elsewhere = list.replace(',', ";");
    assert!(wire_list_edits(&document, &elsewhere).expect("reads").is_empty(), "semicolons");
    let mut lines: Vec<String> = list.lines().map(str::to_owned).collect();
    let gone = lines.remove(2);
    let own = document.wires[0].color.clone().expect("colored");
    lines[1] = lines[1].replacen(&own, "pink", 1);
    lines.push(text(",violet,,,seat-plug.A,key-plug.B,,"));
    let edits = wire_list_edits(&document, &lines.join("\r\n")).expect("reads");
    assert_eq!(edits.len(), 3, "{edits:?}");
    let after = edited(&document, &edits);
    assert_eq!(after.wires[0].color.as_deref(), Some("pink"));
    assert!(!after.wires.iter().any(|w| gone.starts_with(&format!("{},", w.id))));
    let new = after.wires.last().expect("a wire");
    assert_eq!((new.color.as_deref(), new.gauge), (Some("violet"), Some(18)));
}

#[test]
fn every_bad_row_of_a_wire_list_is_named_by_its_line() {
    let list = "wire,from,to,gauge (AWG)\nw1,seat-plug.A,nowhere.1,18\n\n,,,\nw2,key-plug.B,seat-plug.A,thick\n\
                w2,key-plug.B,seat-plug.A,18\nw3,key-plug.B,seat-plug.A,16.5\n";
    let problems = wire_list_edits(&gt46(), list).expect_err("four rows are wrong");
    let lines: Vec<_> = problems.iter().map(|p| p.line).collect();
    assert_eq!(lines, [2, 5, 6, 7], "{problems:?}");
    assert!(problems[0].sentence.contains("nowhere.1"));
    assert!(problems[1].sentence.contains("thick"));
    assert!(problems[2].sentence.contains("twice"));
    let header = wire_list_edits(&gt46(), "wire,start,end\nw1,a,b\n").expect_err("no such columns");
    assert!(header[0].sentence.contains("\"from\""), "{header:?}");
    let long = format!("wire,from,to\n{}", "w1,seat-plug.A,key-plug.B\n".repeat(MOST_ROWS + 1));
    let long = wire_list_edits(&gt46(), &long).expect_err("too long");
    assert_eq!(long.len(), 1);
}
