//! What leaves as a file is read back as it was, whatever is in the names: a table, a story, a netlist.

use kelvok_core::bench::{BenchEntry, Cell, FoundTable, TableRow, WorkedBy};
use kelvok_core::circuit::{Circuit, Condition, Engine, Instrument, Netlist, Reading};
use kelvok_core::diagnosis::{Entry, ObservationEntry, Signed, Source, StoryDocument, StoryEntry};
use kelvok_core::interlock::{InterlockTable, Judge, Spreadsheet};
use kelvok_core::machine::{LIBRARY, Machine};
use proptest::prelude::*;
use serde_json::{Value, json};

/// Text with a taste for what is a command somewhere.
fn text() -> impl Strategy<Value = String> {
    let odd = prop_oneof![
        Just("=cmd|' /C calc'!A0".to_owned()),
        Just("@SUM(A1)".to_owned()),
        Just("+".to_owned()),
        Just("-".to_owned()),
        Just("'".to_owned()),
        Just(".control".to_owned()),
        Just("\"quoted\", with; both\ttabs".to_owned()),
        Just("<script>&amp;</script>".to_owned()),
        Just("*.end".to_owned()),
        Just("Rødgård 𝄞".to_owned()),
    ];
    prop_oneof![odd, any::<String>()]
}

/// The same as a name: one line, no blanks at its ends.
fn name() -> impl Strategy<Value = String> {
    let plain = |c: &char| !c.is_control() && !matches!(c, '\u{2028}' | '\u{2029}');
    text().prop_map(move |t| t.chars().filter(plain).take(60).collect::<String>().trim().to_owned())
}

fn rows(csv: &str) -> Vec<Vec<String>> {
    let mut reader =
        csv::ReaderBuilder::new().has_headers(false).flexible(true).from_reader(csv.as_bytes());
    let row = |r: csv::StringRecord| r.iter().map(str::to_owned).collect();
    reader.records().map(|r| r.map(row).expect("a row")).collect()
}

/// A cell that no spreadsheet takes for a formula.
fn harmless(cell: &str) -> bool {
    !cell.starts_with(['=', '+', '-', '@', '\t', '\r']) || cell.parse::<f64>().is_ok()
}

/// A library machine whose names are these, one after the other.
fn named(names: &[String]) -> Value {
    let mut document: Value = serde_json::from_str(LIBRARY[0].text).expect("a library machine");
    let mut next = names.iter().cycle().cloned();
    let mut name = || match next.next() {
        Some(name) if !name.is_empty() => name,
        _ => "x".to_owned(),
    };
    for list in ["parts", "controls", "duties", "normal_use", "test_points"] {
        for item in document[list].as_array_mut().into_iter().flatten() {
            item["name"] = name().into();
        }
    }
    for wire in document["wires"].as_array_mut().into_iter().flatten() {
        wire["color"] = name().into();
        wire["bundle"] = name().into();
    }
    document["identity"]["make"] = name().into();
    document["identity"]["model"] = name().into();
    document["identity"]["notes"] = json!([name()]);
    document
}

#[test]
fn a_document_whose_names_hold_a_line_end_is_refused_with_the_place() {
    for (pointer, text) in [
        ("/identity/model", "GT\n.control\nshell touch /tmp/owned\n.endc"),
        ("/parts/0/name", "Battery\u{0}"),
        ("/wires/3/color", "red\r"),
        ("/identity/notes/0", "one\u{2028}two"),
    ] {
        let mut document: Value = serde_json::from_str(LIBRARY[0].text).expect("a library machine");
        document["identity"]["notes"] = json!(["a note"]);
        *document.pointer_mut(pointer).expect(pointer) = text.into();
        let problems = Machine::read(&document.to_string()).expect_err("refused");
        assert_eq!(problems.iter().map(|p| p.path.as_str()).collect::<Vec<_>>(), [pointer]);
    }
    let mut document: Value = serde_json::from_str(LIBRARY[0].text).expect("a library machine");
    document["parts"][0]["na\u{7}me"] = json!("x");
    let problems = Machine::read(&document.to_string()).expect_err("refused");
    assert_eq!(problems[0].path, "/parts/0/name");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    #[test]
    fn a_netlist_holds_cards_and_comments_and_no_command(names in prop::collection::vec(name(), 1..20)) {
        let text = named(&names).to_string();
        // What no document may say is refused; what one may say leaves harmless.
        let Ok(machine) = Machine::read(&text) else { return Ok(()) };
        let circuit = Circuit::compile(&machine);
        let netlist = Netlist::of(&circuit, &Condition::at_rest(&circuit), &[]).text;
        let lines: Vec<&str> = netlist.lines().collect();
        let (last, rest) = lines.split_last().expect("lines");
        prop_assert_eq!(*last, ".end");
        for line in rest {
            let words: Vec<_> = line.split_whitespace().collect();
            let card = words.len() == 4 && line.starts_with(['R', 'V']) && words[3].parse::<f64>().is_ok();
            prop_assert!(line.is_empty() || line.starts_with("* ") || card || *line == ".op", "{}", line);
        }
    }

    #[test]
    fn machine_tables_leave_harmless_and_whole(names in prop::collection::vec(name(), 1..20)) {
        let Ok(machine) = Machine::read(&named(&names).to_string()) else { return Ok(()) };
        let circuit = Circuit::compile(&machine);
        let table = InterlockTable::of(&mut Judge::new(&circuit, &[])).expect("a table");
        for sheet in [Spreadsheet::of_wires(&circuit), Spreadsheet::of_table(&circuit, &table)] {
            let read = rows(&sheet.csv());
            prop_assert_eq!(read.len(), sheet.rows.len() + 1);
            for (cells, meant) in read[1..].iter().zip(&sheet.rows) {
                prop_assert!(cells.iter().all(|c| harmless(c)));
                let meant_by = |c: &String| match c.strip_prefix('\'') {
                    Some(rest) if !harmless(rest) || rest.starts_with(['\'', '＝', '＋', '－', '＠']) => rest.to_owned(),
                    _ => c.clone(),
                };
                let back: Vec<_> = cells.iter().map(meant_by).collect();
                prop_assert_eq!(&back, meant);
            }
        }
    }

    #[test]
    fn a_story_comes_back_from_its_table(
        by in name(), note in text(), reason in name(), typed in name(), control in "[a-z]{1,8}"
    ) {
        let entry = |observation| Entry {
            condition: [(control.clone(), "start".to_owned())].into(),
            engine: Engine::Stopped,
            set_up: Vec::new(),
            observation,
            repeats: 1,
            source: Source::Tested,
            at_times: false,
            times_an_hour: None,
            celsius: None,
            idle: false,
        };
        let reading = ObservationEntry::Reading {
            instrument: Instrument::Voltmeter,
            red: "key.S".to_owned(),
            black: "battery.-".to_owned(),
            reading: Reading::Volts(12.5),
            typed,
        };
        let signed = |reason: &str| Signed { by: by.clone(), at: String::new(), reason: reason.to_owned() };
        let story = StoryDocument {
            entries: vec![
                StoryEntry { entry: entry(reading), recorded: signed(""), voided: None },
                StoryEntry {
                    entry: entry(ObservationEntry::Note { text: note }),
                    recorded: signed(""),
                    voided: Some(signed(&reason)).filter(|v| !v.by.is_empty()),
                },
            ],
            ..StoryDocument::default()
        };
        let csv = story.to_csv();
        prop_assert!(rows(&csv).iter().flatten().all(|c| harmless(c)));
        prop_assert_eq!(StoryDocument::read_csv(&csv).expect("a story").entries, story.entries);
    }

    #[test]
    fn a_switch_comes_back_from_its_table(
        position in name(), from in name(), to in name(), made in any::<bool>()
    ) {
        prop_assume!(!position.is_empty() && !from.is_empty() && !to.is_empty() && from != to);
        // A first line that names the columns is taken for the header.
        let probe = BenchEntry::Probe {
            position: position.clone(),
            from: from.clone(),
            to: to.clone(),
            reading: Reading::Buzz(made),
            typed: if made { "buzz" } else { "silent" }.to_owned(),
            sprung_from: None,
            worked_by: WorkedBy::Hand,
        };
        let csv = TableRow::to_csv([&probe]);
        prop_assert!(rows(&csv).iter().flatten().all(|c| harmless(c)));
        let (read, errors) = TableRow::read_csv(&csv);
        prop_assert_eq!(errors.len(), 0);
        let row = (&read[0].position, &read[0].from, &read[0].to, read[0].reading);
        prop_assert_eq!(row, (&position, &from, &to, Reading::Buzz(made)));
        let (table, errors) = FoundTable::read_csv(&csv);
        prop_assert_eq!(errors.len(), 0);
        let (again, _) = FoundTable::read_csv(&table.to_csv());
        prop_assert_eq!(again.grade(Cell::new(0, 0, 1)), table.grade(Cell::new(0, 0, 1)));
        prop_assert_eq!(again.terminals(), table.terminals());
    }
}
