//! Two states of a machine held side by side: what is drawn otherwise, in words, and what it decides otherwise.

use kelvok_core::circuit::Circuit;
use kelvok_core::machine::{LIBRARY, Machine, MachineDocument, Provenance};
use kelvok_core::revision::{
    DecisionChanges, DrawingChange, DrawnThing, DutyState, How, drawing_changes,
};

fn document(name: &str) -> MachineDocument {
    let shipped = LIBRARY.iter().find(|m| m.name == name).expect("a library machine");
    Machine::read(shipped.text).expect("a sound machine").document().clone()
}

fn compiled(document: &MachineDocument) -> Circuit {
    let text = serde_json::to_string(document).expect("a document");
    Circuit::compile(&Machine::read(&text).unwrap_or_else(|p| panic!("{p:#?}")))
}

fn decides(before: &MachineDocument, after: &MachineDocument) -> DecisionChanges {
    DecisionChanges::between(&compiled(before), &compiled(after)).expect("few enough conditions")
}

fn sentences(changes: &[DrawingChange]) -> Vec<String> {
    changes.iter().map(DrawingChange::sentence).collect()
}

#[test]
fn a_machine_has_nothing_otherwise_than_itself_in_whatever_order_it_is_written() {
    for shipped in LIBRARY {
        let one = document(shipped.name);
        let mut other = one.clone();
        other.wires.reverse();
        other.parts.reverse();
        other.test_points.reverse();
        for wire in &mut other.wires {
            std::mem::swap(&mut wire.from, &mut wire.to);
        }
        assert_eq!(drawing_changes(&one, &other), [], "{}", shipped.name);
    }
    let one = document("dunmarrow-z-52");
    assert!(decides(&one, &one).is_empty());
}

#[test]
fn two_swapped_pins_are_two_wires_that_end_elsewhere_and_the_duties_that_it_breaks() {
    let before = document("dunmarrow-z-52");
    let change = "brake-switch-plug.A=swapped:brake-switch-plug.C".to_owned();
    let after = before.corrected(&[change], "", Provenance::Proved);
    let changes = drawing_changes(&before, &after);
    assert!(changes.iter().all(|c| c.thing == DrawnThing::Wire && c.how == How::Changed));
    let said = sentences(&changes);
    assert_eq!(said.len(), 2, "{said:#?}");
    let ends = |at: &str, not: &str| {
        let part = format!("ends at brake switch plug pin {at}, not brake switch plug pin {not}");
        said.iter().any(|s| s.contains(&part))
    };
    assert!(ends("A", "C") && ends("C", "A"), "{said:#?}");
    // What it decides otherwise is said by condition, with one to look at.
    let decisions = decides(&before, &after);
    let conditions = decisions.conditions.clone().expect("the same controls");
    assert!(!conditions.is_empty() && !decisions.sentences.is_empty(), "{decisions:#?}");
    for change in &conditions {
        let (old, new) = (compiled(&before), compiled(&after));
        let does = |circuit: &Circuit| {
            let mut judge = kelvok_core::interlock::Judge::new(circuit, &[]);
            change.effect.holds(&judge.behavior_in_each(std::slice::from_ref(&change.first))[0])
        };
        assert_eq!((does(&old), does(&new)), (!change.now, change.now), "{change:?}");
    }
}

#[test]
fn a_bypass_breaks_the_duty_that_it_defeats() {
    let before = document("pellwick-gt-46");
    let after = before.corrected(
        &["neutral-plug.A=touches:neutral-plug.B".to_owned()],
        "bridged",
        Provenance::Traced,
    );
    let changes = drawing_changes(&before, &after);
    assert_eq!(changes.len(), 1, "{changes:#?}");
    assert_eq!(changes[0].how, How::New);
    assert!(changes[0].sentence().starts_with("New: wire, "), "{changes:?}");
    let broken = decides(&before, &after).duties;
    let breaks = |b: &&kelvok_core::revision::DutyChange| b.after == Some(DutyState::Broken);
    let broken: Vec<_> = broken.iter().filter(breaks).collect();
    assert!(!broken.is_empty() && broken.iter().all(|d| d.before == Some(DutyState::Proved)));
}

#[test]
fn what_is_only_better_known_is_told_apart_and_every_other_field_is_said() {
    let before = document("pellwick-r-30");
    let mut after = before.clone();
    let wire = after.wires.first_mut().expect("a wire");
    wire.source = Some(Provenance::Proved);
    let changes = drawing_changes(&before, &after);
    assert!(changes[0].only_source && changes.len() == 1, "{changes:#?}");
    assert!(changes[0].says[0].starts_with("proved by readings now, "), "{changes:#?}");

    let wire = after.wires.first_mut().expect("a wire");
    (wire.color, wire.gauge) = (Some("pink".to_owned()), Some(12));
    let of_a_kind = |p: &&mut kelvok_core::machine::Part| {
        p.contacts.first().is_some_and(|c| c.normally.is_some())
    };
    let switch = after.parts.iter_mut().find(of_a_kind).expect("a switch");
    switch.price = Some(99.5);
    let contact = switch.contacts.first_mut().expect("a contact");
    contact.normally = match contact.normally {
        Some(kelvok_core::machine::Normally::Open) => Some(kelvok_core::machine::Normally::Closed),
        _ => Some(kelvok_core::machine::Normally::Open),
    };
    after.identity.years = Some("1998 to 2003".to_owned());
    let gone = after.test_points.remove(0);
    let duty = after.duties.remove(0);
    let said = sentences(&drawing_changes(&before, &after)).join("\n");
    let wanted = [
        "color pink, not ",
        "gauge 12, not ",
        "price 99.5, not ",
        ": normally ",
        "years 1998 to 2003",
        &format!("Gone: {}.", gone.name),
        &format!("Gone: {}.", duty.name),
    ];
    for part in wanted {
        assert!(said.contains(part), "{part}: {said}");
    }
    let mut after = before.clone();
    after.duties.remove(0);
    let decides = decides(&before, &after);
    let gone = &decides.duties[0];
    assert_eq!((decides.duties.len(), gone.after, gone.says().as_str()), (1, None, "gone"));
    assert!(decides.sentences.is_empty() && !decides.is_empty());
}

#[test]
fn machines_with_other_controls_are_not_held_against_each_other_by_condition() {
    let changes = decides(&document("pellwick-r-30"), &document("tarnbeck-t-40"));
    assert_eq!(changes.conditions, None);
    assert!(!changes.sentences.is_empty() && !changes.duties.is_empty());
    assert!(!drawing_changes(&document("pellwick-r-30"), &document("tarnbeck-t-40")).is_empty());
}
