//! Fuses against their loads and wires, on every machine of the library.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, Condition, ElementId, Engine, Relays, every_condition, operating_point,
};
use kelvok_core::fuses::{Fitted, FuseRow, FuseSheet, FuseWord, FuseWorkings, WireWord};
use kelvok_core::machine::{LIBRARY, SHORT_OHMS};

fn sheet(circuit: &Circuit, fitted: &[(&str, f64)]) -> FuseSheet {
    let fitted: Vec<_> = fitted
        .iter()
        .map(|(id, amps)| Fitted { part: circuit.part_named(id).expect("a part"), amps: *amps })
        .collect();
    FuseWorkings::new(circuit).sheet(circuit, &fitted)
}

fn fuse<'s>(circuit: &Circuit, sheet: &'s FuseSheet, id: &str) -> &'s FuseRow {
    sheet.fuses.iter().find(|f| circuit.part(f.part).id == id).expect("a fuse")
}

/// The element of a wire, by its index among the document's.
fn wire(circuit: &Circuit, wire: usize) -> ElementId {
    circuit.elements().find(|(_, e)| e.wire == Some(wire)).expect("an element").0
}

fn element_of(circuit: &Circuit, part: usize) -> ElementId {
    circuit.fuses().find(|f| circuit.element(*f).part == Some(part)).expect("a fuse")
}

#[test]
fn a_fuse_of_twice_the_size_is_too_big_for_the_manual_and_for_its_wire() {
    let circuit = library::gt46();
    let own = |amps: f64| {
        let sheet = sheet(&circuit, &[("main-fuse", amps)]);
        let words = fuse(&circuit, &sheet, "main-fuse").words.clone();
        let over = sheet.wires.iter().filter(|w| w.word == WireWord::FuseOver).count();
        (words, over)
    };
    assert_eq!(own(20.0), (vec![], 0));
    let (words, over) = own(30.0);
    assert_eq!(words, [FuseWord::OverCalledFor, FuseWord::OverWire]);
    // The thin ones (16 gauge, 15.6 A): half as much more is 23.4 A. What is thicker stays good.
    let sheet = sheet(&circuit, &[("main-fuse", 30.0)]);
    let thin = sheet.wires.iter().filter(|w| {
        let part = circuit.part_named("main-fuse");
        w.gauge == Some(16) && w.fuse.map(|f| f.0) == part
    });
    assert!(over > 3, "{over}");
    assert!(thin.clone().all(|w| w.word == WireWord::FuseOver));
    assert!(sheet.wires[0].word == WireWord::FuseOver, "what is wrong comes first");
    // A little more than called for is too big all the same, and the wire bears it.
    assert_eq!(own(22.0), (vec![FuseWord::OverCalledFor], 0));
}

#[test]
fn a_fuse_that_is_too_small_is_said_to_be_and_so_is_a_load_near_it() {
    let circuit = library::gt46();
    let words = |amps: f64| {
        let sheet = sheet(&circuit, &[("main-fuse", amps)]);
        fuse(&circuit, &sheet, "main-fuse").words.clone()
    };
    // 8.75 A with the blades on and the lamps lit.
    let lasting =
        fuse(&circuit, &sheet(&circuit, &[]), "main-fuse").carried.lasting.clone().unwrap();
    assert!((8.0..9.5).contains(&lasting.amps), "{lasting:?}");
    assert_eq!(lasting.condition.engine, Engine::Running);
    let on: Vec<_> = lasting.condition.named(&circuit).collect();
    assert!(on.contains(&("blades", "on")) && on.contains(&("key", "run")), "{on:?}");
    assert_eq!(words(15.0), [FuseWord::UnderCalledFor]);
    assert_eq!(words(10.0), [FuseWord::UnderCalledFor, FuseWord::LoadNear]);
    assert_eq!(words(7.5), [FuseWord::UnderCalledFor, FuseWord::LoadOver]);
}

#[test]
fn as_their_makers_built_them_machines_have_the_right_fuses() {
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        let sheet = sheet(&circuit, &[]);
        for f in &sheet.fuses {
            let known = f.called_for.is_some();
            let wrong = f.words.iter().any(|w| w.is_wrong());
            assert!(!wrong, "{}: {f:?}", shipped.name);
            assert_eq!(!known, f.words.contains(&FuseWord::RatingUnknown), "{}", shipped.name);
        }
        for w in &sheet.wires {
            let bad = matches!(w.word, WireWord::FuseOver | WireWord::Overloaded);
            assert!(!bad, "{}: {:?} {w:?}", shipped.name, circuit.document().wires[w.wire].id);
        }
    }
}

#[test]
fn with_its_fuse_out_a_wire_carries_nothing() {
    let mut tried = 0;
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        for w in &sheet(&circuit, &[]).wires {
            let Some((part, _)) = w.fuse else { continue };
            let loads = [&w.carried.lasting, &w.carried.moment];
            for load in loads.into_iter().flatten() {
                if load.condition.engine != Engine::Stopped {
                    continue;
                }
                let out = [Change::Open(element_of(&circuit, part))];
                let point =
                    operating_point(&circuit, &load.condition, Relays::default(), &out, &[]);
                let amps = point.amps[wire(&circuit, w.wire).index()].abs();
                assert!(amps < 0.01 * load.amps, "{}: {w:?} {amps}", shipped.name);
                tried += 1;
            }
        }
    }
    assert!(tried > 60, "{tried}");
}

#[test]
fn a_short_at_the_end_of_the_way_draws_what_the_engine_says() {
    let mut tried = 0;
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        let running = |c: &Condition| Condition { engine: Engine::Running, ..c.clone() };
        let parked = every_condition(&circuit);
        let runs: Vec<_> = parked.iter().map(running).collect();
        for f in &sheet(&circuit, &[]).fuses {
            let (Some(short), Some(rating)) = (f.short, f.called_for) else { continue };
            let fuse = element_of(&circuit, f.part);
            let e = circuit.element(wire(&circuit, short.wire));
            // At either end, in the condition that feeds it least.
            let drawn_in = |conditions: &[Condition], node, rating: f64| {
                // No other fuse gets in the way.
                let held = circuit
                    .fuses()
                    .map(|other| Change::Rating(other, if other == fuse { rating } else { 1e6 }));
                let short = [Change::ShortToGround(node, SHORT_OHMS)];
                let changes: Vec<_> = short.into_iter().chain(held).collect();
                let each = conditions.iter().map(|condition| {
                    let relays = Relays::default();
                    let point = operating_point(&circuit, condition, relays, &changes, &[]);
                    (point.amps[fuse.index()].abs(), point.blown.contains(&fuse))
                });
                let fed = each.filter(|(amps, blown)| *amps > 30.0 || *blown);
                fed.fold(None, |least: Option<(f64, bool)>, now| match least {
                    Some(least) if least.0 <= now.0 => Some(least),
                    _ => Some(now),
                })
            };
            // With the engine running its own current helps: only where nothing else feeds it.
            let drawn = |node, rating: f64| {
                drawn_in(&parked, node, rating).or_else(|| drawn_in(&runs, node, rating))
            };
            let ends = [e.a, e.b].into_iter().filter_map(|node| drawn(node, 1e6));
            let least = ends.map(|(amps, _)| amps).fold(f64::INFINITY, f64::min);
            let ratio = short.amps / least;
            // The way back to the battery is left out, and so is what else it feeds meanwhile.
            assert!((0.8..1.35).contains(&ratio), "{}: {short:?} {least}", shipped.name);
            assert!([e.a, e.b].into_iter().filter_map(|n| drawn(n, rating)).all(|(_, b)| b));
            assert!(short.blows.is_some_and(|t| t.most < 60.0), "{}: {short:?}", shipped.name);
            tried += 1;
        }
    }
    assert!(tried > 12, "{tried}");
}

#[test]
fn wires_that_nobody_looked_at_are_not_condemned() {
    let text = LIBRARY.iter().find(|m| m.name == "pellwick-gt-46").unwrap().text;
    let usual = text.replace("\"traced\"", "\"usual\"");
    assert_ne!(usual, text);
    let machine = kelvok_core::machine::Machine::read(&usual).expect("sound");
    let circuit = Circuit::compile(&machine);
    let sheet = sheet(&circuit, &[("main-fuse", 40.0)]);
    assert!(sheet.wires.iter().all(|w| w.word != WireWord::FuseOver && w.carries.is_none()));
    assert_eq!(fuse(&circuit, &sheet, "main-fuse").words, [FuseWord::OverCalledFor]);
}

#[test]
fn the_sheet_goes_out_as_a_table() {
    let circuit = library::gt46();
    let sheet = sheet(&circuit, &[("main-fuse", 30.0)]);
    let document = circuit.document();
    let csv = sheet.to_csv(
        |part| circuit.part(part).name.clone(),
        |wire| document.wires[wire].id.clone(),
        |load| format!("{:?}", load.condition.engine),
    );
    let lines: Vec<_> = csv.lines().collect();
    assert_eq!(lines.len(), 1 + sheet.fuses.len() + document.wires.len());
    assert!(lines[0].starts_with("kind,name,amps_all_day,when"));
    let main = lines.iter().find(|l| l.starts_with("fuse,main fuse")).unwrap();
    assert!(main.contains("20.00,30.00") && main.contains("Too big"), "{main}");
}

#[test]
fn a_starter_cable_is_no_thin_wire_where_nobody_said_how_the_machine_works() {
    let text = LIBRARY.iter().find(|m| m.name == "pellwick-gt-46").unwrap().text;
    let mut document: serde_json::Value = serde_json::from_str(text).expect("a document");
    document["normal_use"] = serde_json::json!([]);
    let machine = kelvok_core::machine::Machine::read(&document.to_string()).expect("sound");
    let circuit = Circuit::compile(&machine);
    let sheet = sheet(&circuit, &[]);
    assert!(sheet.wires.iter().all(|w| w.word != WireWord::Overloaded));
    let most = |w: &kelvok_core::fuses::WireRow| w.carried.moment.as_ref().map_or(0.0, |l| l.amps);
    assert!(
        sheet.wires.iter().map(most).fold(0.0, f64::max) > 100.0,
        "the starter's is one of them"
    );
}
