//! A job's story out and in.

mod library;

use expect_test::expect_file;
use kelvok_core::circuit::Engine;
use kelvok_core::circuit::Instrument;
use kelvok_core::diagnosis::{
    BatteryEvent, Entry, Heard, LookEntry, ObservationEntry, Repair, STORY_FORMAT, SetUpEntry,
    Signed, Source, StoryDocument, StoryEntry, StoryVerdict, Work, parse_reading, story_schema,
};
use std::collections::BTreeMap;

fn entry(observation: ObservationEntry) -> StoryEntry {
    StoryEntry {
        entry: Entry {
            condition: BTreeMap::from([
                ("key".to_owned(), "start".to_owned()),
                ("pedal".to_owned(), "down".to_owned()),
            ]),
            engine: Engine::Stopped,
            set_up: vec![],
            observation,
            repeats: 1,
            source: Source::Tested,
            at_times: false,
            times_an_hour: None,
            celsius: None,
            idle: false,
        },
        recorded: Signed {
            by: "Maren".to_owned(),
            at: "2026-11-25T10:00:00Z".to_owned(),
            reason: String::new(),
        },
        voided: None,
    }
}

/// An entry of every kind.
fn story() -> StoryDocument {
    let mut told = entry(ObservationEntry::Heard { heard: Heard::Silent });
    told.entry.source = Source::Told;
    told.entry.at_times = true;
    told.entry.times_an_hour = Some(2.5);
    let mut voided = entry(ObservationEntry::Reading {
        instrument: Instrument::Ohmmeter,
        red: "brake.start-in".to_owned(),
        black: "brake.start-out".to_owned(),
        reading: parse_reading(Instrument::Ohmmeter, "OL").unwrap(),
        typed: "OL".to_owned(),
    });
    voided.entry.set_up = vec![
        SetUpEntry::Unplugged { connector: "brake-plug".to_owned() },
        SetUpEntry::PressedByHand { switch: "brake".to_owned() },
    ];
    voided.entry.repeats = 3;
    voided.entry.celsius = Some(60.0);
    voided.voided = Some(Signed {
        by: "Ilse".to_owned(),
        at: "2026-11-25T10:05:00Z".to_owned(),
        reason: "Wrong point, \"dash\"; twice".to_owned(),
    });
    let mut idling = entry(ObservationEntry::Reading {
        instrument: Instrument::Voltmeter,
        red: "battery.+".to_owned(),
        black: "battery.-".to_owned(),
        reading: parse_reading(Instrument::Voltmeter, "12.6").unwrap(),
        typed: "12.6".to_owned(),
    });
    idling.entry.condition = BTreeMap::from([("key".to_owned(), "run".to_owned())]);
    idling.entry.engine = Engine::Running;
    idling.entry.idle = true;
    let mut ran = entry(ObservationEntry::Ran { minutes: 42.5 });
    ran.entry.engine = Engine::Running;
    let look = LookEntry::Plug { connector: "brake-plug".to_owned() };
    StoryDocument {
        format: STORY_FORMAT.to_owned(),
        machine: "Pellwick GT-46".to_owned(),
        complaint: "Dead at the key.".to_owned(),
        hours: Some(612.5),
        entries: vec![
            told,
            voided,
            idling,
            entry(ObservationEntry::Looked { at: look, bad: false }),
            entry(ObservationEntry::WorkedOn { unit: "seat".to_owned(), work: Work::Jumped }),
            entry(ObservationEntry::Battery { event: BatteryEvent::JumperOn }),
            entry(ObservationEntry::Note { text: "Deck belt, frayed;\nnot ours".to_owned() }),
            entry(ObservationEntry::Repaired {
                unit: "brake:linkage".to_owned(),
                how: Some(Repair::Adjusted),
                note: "Bracket had slipped".to_owned(),
            }),
            ran,
        ],
        verdicts: vec![StoryVerdict {
            units: vec!["brake".to_owned()],
            probability: 0.991,
            confirmed: true,
            note: String::new(),
            recorded: Signed::default(),
            voided: None,
        }],
        ..StoryDocument::default()
    }
}

#[test]
fn json_comes_back_as_it_went_out() {
    let text = serde_json::to_string_pretty(&story()).unwrap();
    assert_eq!(StoryDocument::read(&text).unwrap(), story());
    assert_eq!(StoryDocument::read(&format!("\u{feff}{text}")).unwrap(), story());
}

#[test]
fn csv_comes_back_as_it_went_out_entry_for_entry() {
    let csv = story().to_csv();
    assert_eq!(csv.lines().next().unwrap().split(',').count(), 15);
    let back = StoryDocument::read_csv(&csv).unwrap();
    assert_eq!(back.entries, story().entries);
    let with_blanks = csv.replacen('\n', "\n,,,,,,,,,,,,,,\n", 1);
    let back = StoryDocument::read_csv(&format!("\u{feff}{with_blanks}")).unwrap();
    assert_eq!(back.entries, story().entries);
}

#[test]
fn every_entry_means_something_on_its_machine() {
    let circuit = library::gt46();
    for (i, line) in story().entries.iter().enumerate() {
        let evidence = line.entry.resolve(&circuit, i as u64 + 1).unwrap();
        assert_eq!(evidence.at_times, line.entry.at_times);
    }
}

#[test]
fn what_is_wrong_with_a_file_is_named_with_its_place() {
    let wrong = |text: &str| StoryDocument::read(text).unwrap_err().to_string();
    assert!(wrong("{").contains("EOF"));
    assert!(wrong(r#"{"format": "other", "entries": []}"#).contains("other"));
    let bad = r#"{"format": "kelvok-story-1", "entries": [{"observation": {"kind": "heard", "heard": "sings"}}]}"#;
    assert!(wrong(bad).starts_with("entries"), "{}", wrong(bad));
    let csv = |text: &str| StoryDocument::read_csv(text).unwrap_err().to_string();
    assert!(csv("a,b\n1,2\n").contains("observation"));
    let header = story().to_csv().lines().next().unwrap().to_owned();
    let line = csv(&format!("{header}\nkey,stopped,,\"{{}}\",1,,,,,,,,\n"));
    assert!(line.starts_with("line 2: condition"), "{line}");
    let line = csv(&format!("{header}\n,stopped,,nonsense,1,,,,,,,,\n"));
    assert!(line.starts_with("line 2: observation"), "{line}");
}

#[test]
fn the_published_schema_is_the_one_the_code_has() {
    let text = serde_json::to_string_pretty(&story_schema()).unwrap();
    expect_file!["../../../docs/story.schema.json"].assert_eq(&format!("{text}\n"));
}

#[test]
fn the_published_example_is_a_story() {
    let text = include_str!("../../../docs/examples/gt-46-no-crank.json");
    let story = StoryDocument::read(text).unwrap();
    let circuit = library::gt46();
    assert!(story.entries.iter().all(|e| e.entry.resolve(&circuit, 1).is_ok()));
}
