//! Rows as every version that shipped wrote them, letter by letter, and what is read of them today. A new
//! form is added at the end; nothing that stands here ever changes.

mod bench;

use bench::Workbench;
use kelvok_core::bench::BenchEntry;
use kelvok_core::circuit::{FaultMode, Instrument, LampState, Reading};
use kelvok_core::diagnosis::{
    EngineDoes, Heard, LookEntry, ObservationEntry, SetUpEntry, Source, Work,
};
use kelvok_core::machine::SiteKind;
use kelvok_core::release::{Act, ReleaseEntry, Saw, TriedStep};
use kelvok_core::soak::{SoakEntry, Told, Trigger};
use kelvok_core::trace::TraceEntry;
use kelvok_database::Durability;
use kelvok_store::{Migrator, Store};
use sea_orm_migration::MigratorTrait;
use sea_orm_migration::sea_orm::{ConnectionTrait, Database, DatabaseConnection};
use uuid::Uuid;

/// The first form shipped with these migrations; its rows said nothing of a form.
const FIRST: u32 = 5;

const EVIDENCE_1: [&str; 12] = [
    r#"{"condition":{"key":"start","pedal":"down"},"engine":"stopped","set_up":[],"observation":{"kind":"heard","heard":"silent"},"repeats":1,"source":"told"}"#,
    r#"{"condition":{},"engine":"running","set_up":[],"observation":{"kind":"engine","does":"runs-rough"},"repeats":2,"at_times":true,"times_an_hour":3.5}"#,
    r#"{"condition":{},"engine":"stopped","set_up":[],"observation":{"kind":"blades","turn":false},"repeats":1}"#,
    r#"{"condition":{},"engine":"running-hot","set_up":[],"observation":{"kind":"lamp","lamp":"headlamp","burns":"dim"},"repeats":1}"#,
    r#"{"condition":{},"engine":"stopped","set_up":[{"kind":"battery-off"}],"observation":{"kind":"looked","at":{"kind":"fuse","fuse":"main-fuse"},"bad":true},"repeats":1}"#,
    r#"{"condition":{},"engine":"stopped","set_up":[],"observation":{"kind":"repaired","unit":"brake:linkage"},"repeats":1}"#,
    r#"{"condition":{},"engine":"stopped","set_up":[],"observation":{"kind":"worked-on","unit":"main-fuse","work":"fuse-changed"},"repeats":1}"#,
    r#"{"condition":{},"engine":"running","set_up":[],"observation":{"kind":"ran","minutes":12.5},"repeats":1}"#,
    r#"{"condition":{},"engine":"stopped","set_up":[],"observation":{"kind":"note","text":"Seat cracked."},"repeats":1}"#,
    r#"{"condition":{"key":"start"},"engine":"stopped","set_up":[],"observation":{"kind":"reading","instrument":"voltmeter","red":"key.S","black":"battery.-","reading":{"kind":"volts","value":12.57},"typed":"12.57"},"repeats":1}"#,
    r#"{"condition":{},"engine":"stopped","set_up":[{"kind":"unplugged","connector":"brake-plug"},{"kind":"pressed-by-hand","switch":"brake"}],"observation":{"kind":"reading","instrument":"ohmmeter","red":"brake.1","black":"brake.2","reading":{"kind":"ohms","value":null}},"repeats":1}"#,
    r#"{"observation":{"kind":"reading","instrument":"test-lamp","red":"key.B","black":"battery.-","reading":{"kind":"lamp","value":"bright"}}}"#,
];

const VERDICT_1: [&str; 2] = [
    r#"{"units":["brake"],"probability":0.991,"confirmed":true,"note":"Plug re-seated.","names":["Brake switch"],"kind":["switch","open"]}"#,
    r#"{"units":["seat","seat:linkage"],"probability":0.5,"confirmed":false,"note":""}"#,
];

const SWITCH_1: &str = r#"{"subject":{"kind":"interlock-switch","terminals":["1","2"],"positions":[{"id":"released","name":"released"},{"id":"pressed","name":"pressed","returns_to":"released"}],"profile":null,"layout":{},"operations":3,"move_probes":1.0},"new_part":true,"machine":null,"replaces":null,"plug":{"1":"seat.1"},"wires":[]}"#;

const BENCH_1: [&str; 5] = [
    r#"{"kind":"leads","touching":"0.3","apart":"OL"}"#,
    r#"{"kind":"probe","position":"pressed","from":"1","to":"2","reading":{"kind":"ohms","value":0.4},"typed":"0.4"}"#,
    r#"{"kind":"stroke","from":"1","to":"2","way":"in","travel":40.0,"made":true}"#,
    r#"{"kind":"wire-moved","wire":"w1","to":null}"#,
    r#"{"kind":"wire-checked","position":"pressed","from":"w1","to":"w2","made":false}"#,
];

const TRACE_1: [&str; 5] = [
    r#"{"kind":"probe","red":"seat-plug.A","black":"key-plug.M","instrument":"buzzer","reading":{"kind":"buzz","value":true},"off":["seat-plug","key-plug"]}"#,
    r#"{"kind":"probe","red":"seat-plug.A","black":"frame.metal","instrument":"ohmmeter","reading":{"kind":"ohms","value":null}}"#,
    r#"{"kind":"probe","red":"seat-plug.A","black":"module-plug.A","instrument":"diode-range","reading":{"kind":"drop","value":0.6},"off":["module-plug"]}"#,
    r#"{"kind":"color","at":"seat-plug.A","color":"white/black"}"#,
    r#"{"kind":"empty","at":"seat-plug.D"}"#,
];

const RELEASE_1: [&str; 5] = [
    r#"{"kind":"step","act":"move","from":{"key":"run","seat":"on"},"moved":{"seat":"empty"},"within":5.0,"expected":"engine-stops","saw":"runs-on","seconds":6.5,"revision":3}"#,
    r#"{"kind":"fuse","fuse":"main-fuse","amps":20.0}"#,
    r#"{"kind":"checked","fault":"pto.kill=made","bad":false,"how":"Plug off, no beep."}"#,
    r#"{"kind":"signed","name":"Maren","role":"Mechanic","strokes":[[[0.25,0.5],[0.5,0.25]]]}"#,
    r#"{"kind":"returned","name":"Maren","reason":"Owner wants it so."}"#,
];

/// A job and a switch as they lay in the first form, then whatever this Kelvok makes of the schema.
async fn first(url: &str) -> (DatabaseConnection, Store, [Uuid; 2]) {
    let connection = Database::connect(url).await.expect("a connection");
    Migrator::up(&connection, Some(FIRST)).await.expect("the schema of the first form");
    let [machine, revision, job, switch] = [(); 4].map(|()| Uuid::now_v7());
    let hex = |id: Uuid| format!("x'{}'", id.simple());
    let mut inserts = vec![
        format!("insert into machine (id, name) values ({}, 'test')", hex(machine)),
        format!(
            "insert into machine_revision (id, machine_id, revision, document, made_at) \
             values ({}, {}, 1, '{{}}', now())",
            hex(revision),
            hex(machine)
        ),
        format!(
            "insert into job (id, revision_id, tag, owner, complaint, status, version, \
             next_sequence, opened_at) values ({}, {}, '', '', 'Silent.', 'open', 1, 50, now())",
            hex(job),
            hex(revision)
        ),
        format!(
            "insert into bench_switch (id, name, body, status, version, next_sequence, opened_by, \
             opened_at, changed_at) values ({}, 'Seat', '{SWITCH_1}', 'open', 1, 50, 'Maren', \
             now(), now())",
            hex(switch)
        ),
    ];
    let logs: [(&str, &str, Uuid, &[&str]); 3] = [
        ("evidence", "job_id", job, &EVIDENCE_1),
        ("verdict", "job_id", job, &VERDICT_1),
        ("bench_entry", "switch_id", switch, &BENCH_1),
    ];
    for (table, of, owner, bodies) in logs {
        for (i, body) in bodies.iter().enumerate() {
            inserts.push(format!(
                "insert into {table} (id, {of}, sequence, body, recorded_by, recorded_at) \
                 values ({}, {}, {}, '{body}', 'Maren', '2026-01-02 03:04:05')",
                hex(Uuid::now_v7()),
                hex(owner),
                i + 1
            ));
        }
    }
    for insert in inserts {
        connection.execute_unprepared(&insert).await.expect(&insert);
    }
    let store = Store::open(url).await.expect("a store");
    (connection, store, [job, switch])
}

#[tokio::test]
async fn rows_of_the_first_form_say_what_they_said() {
    let bench = Workbench::new(Durability::Relaxed);
    let (_, store, [job, switch]) = first(&bench.database.url()).await;
    let log = store.evidence(job).await.expect("a log");
    assert_eq!(log.unreadable, []);
    let observed: Vec<_> = log.iter().map(|e| e.body.observation.clone()).collect();
    let text = str::to_owned;
    let reading = |instrument, red, black, reading, typed| ObservationEntry::Reading {
        instrument,
        red: text(red),
        black: text(black),
        reading,
        typed: text(typed),
    };
    let fuse = LookEntry::Fuse { fuse: text("main-fuse") };
    assert_eq!(
        observed,
        [
            ObservationEntry::Heard { heard: Heard::Silent },
            ObservationEntry::Engine { does: EngineDoes::RunsRough },
            ObservationEntry::Blades { turn: false },
            ObservationEntry::Lamp { lamp: text("headlamp"), burns: LampState::Dim },
            ObservationEntry::Looked { at: fuse, bad: true },
            ObservationEntry::Repaired {
                unit: text("brake:linkage"),
                how: None,
                note: String::new()
            },
            ObservationEntry::WorkedOn { unit: text("main-fuse"), work: Work::FuseChanged },
            ObservationEntry::Ran { minutes: 12.5 },
            ObservationEntry::Note { text: text("Seat cracked.") },
            reading(Instrument::Voltmeter, "key.S", "battery.-", Reading::Volts(12.57), "12.57"),
            reading(Instrument::Ohmmeter, "brake.1", "brake.2", Reading::Ohms(None), ""),
            reading(
                Instrument::TestLamp,
                "key.B",
                "battery.-",
                Reading::Lamp(LampState::Bright),
                ""
            ),
        ]
    );
    let (first, second) = (&log[0].body, &log[1].body);
    assert_eq!((first.source, first.condition["pedal"].as_str()), (Source::Told, "down"));
    assert_eq!((second.repeats, second.at_times, second.times_an_hour), (2, true, Some(3.5)));
    assert_eq!(log[4].body.set_up, [SetUpEntry::BatteryOff]);
    let verdicts = store.verdicts(job).await.expect("verdicts");
    assert_eq!(verdicts[0].body.kind, Some((SiteKind::Switch, FaultMode::Open)));
    assert_eq!(
        (&*verdicts[0].body.units, verdicts[0].body.probability),
        (&[text("brake")][..], 0.991)
    );
    assert_eq!((verdicts[1].body.units.len(), verdicts[1].body.confirmed), (2, false));
    let head = store.bench_switch(switch).await.expect("a switch").head;
    assert_eq!((head.subject.terminals.len(), head.new_part), (2, true));
    let entries = store.bench_entries(switch).await.expect("its log");
    assert_eq!((entries.len(), entries.unreadable.len()), (BENCH_1.len(), 0));
    assert!(
        matches!(&entries[1].body, BenchEntry::Probe { reading: Reading::Ohms(Some(ohms)), .. } if *ohms == 0.4)
    );
}

#[tokio::test]
async fn rows_of_a_trace_say_what_they_said() {
    let bench = Workbench::new(Durability::Relaxed);
    let (connection, store, _) = first(&bench.database.url()).await;
    let machine = store.machine("test").await.expect("a machine").id;
    let trace = Uuid::now_v7();
    let hex = |id: Uuid| format!("x'{}'", id.simple());
    let mut inserts = vec![format!(
        "insert into harness_trace (id, machine_id, status, next_sequence, opened_by, opened_at, \
         changed_at) values ({}, {}, 'open', 50, 'Maren', now(), now())",
        hex(trace),
        hex(machine)
    )];
    inserts.extend(TRACE_1.iter().enumerate().map(|(i, body)| {
        format!(
            "insert into trace_entry (id, trace_id, sequence, body, recorded_by, recorded_at) \
             values ({}, {}, {}, '{body}', 'Maren', '2026-01-02 03:04:05')",
            hex(Uuid::now_v7()),
            hex(trace),
            i + 1
        )
    }));
    for insert in inserts {
        connection.execute_unprepared(&insert).await.expect(&insert);
    }
    let found = store.trace_of(machine).await.expect("a trace").expect("a trace that goes on");
    let log = store.trace_entries(found.id).await.expect("its log");
    assert_eq!((log.len(), log.unreadable.len()), (TRACE_1.len(), 0));
    let text = str::to_owned;
    let probe = |black, instrument, reading, off: &[&str]| TraceEntry::Probe {
        red: text("seat-plug.A"),
        black: text(black),
        instrument,
        reading,
        off: off.iter().copied().map(text).collect(),
    };
    let bodies: Vec<_> = log.iter().map(|e| e.body.clone()).collect();
    assert_eq!(
        bodies,
        [
            probe(
                "key-plug.M",
                Instrument::Buzzer,
                Reading::Buzz(true),
                &["seat-plug", "key-plug"]
            ),
            probe("frame.metal", Instrument::Ohmmeter, Reading::Ohms(None), &[]),
            probe(
                "module-plug.A",
                Instrument::DiodeRange,
                Reading::Drop(Some(0.6)),
                &["module-plug"]
            ),
            TraceEntry::Color { at: text("seat-plug.A"), color: text("white/black") },
            TraceEntry::Empty { at: text("seat-plug.D") },
        ]
    );
}

/// Entries of a soak, as the first Kelvok that had them wrote them.
const SOAK_1: [&str; 7] = [
    r#"{"kind":"began","told":{"times":4,"hours":5.0,"share":0.5},"needs":["warm","bumps"],"still":0.5}"#,
    r#"{"kind":"trigger","trigger":"bumps","on":true}"#,
    r#"{"kind":"failed","note":"Over the root."}"#,
    r#"{"kind":"paused"}"#,
    r#"{"kind":"resumed"}"#,
    r#"{"kind":"taken-off","minutes":7.5}"#,
    r#"{"kind":"ended"}"#,
];

#[tokio::test]
async fn rows_of_a_soak_say_what_they_said() {
    let bench = Workbench::new(Durability::Relaxed);
    let (connection, store, [job, _]) = first(&bench.database.url()).await;
    let hex = |id: Uuid| format!("x'{}'", id.simple());
    for (i, body) in SOAK_1.iter().enumerate() {
        let insert = format!(
            "insert into soak_entry (id, job_id, sequence, body, recorded_by, recorded_at) \
             values ({}, {}, {}, '{body}', 'Maren', '2026-01-02 03:0{i}:00')",
            hex(Uuid::now_v7()),
            hex(job),
            i + 1
        );
        connection.execute_unprepared(&insert).await.expect(&insert);
    }
    let log = store.soak_entries(job).await.expect("its log");
    assert_eq!((log.len(), log.unreadable.len()), (SOAK_1.len(), 0));
    let bodies: Vec<_> = log.iter().map(|e| e.body.clone()).collect();
    assert_eq!(
        bodies,
        [
            SoakEntry::Began {
                told: Told { times: 4, hours: 5.0, share: 0.5 },
                needs: vec![Trigger::Warm, Trigger::Bumps],
                still: 0.5,
            },
            SoakEntry::Trigger { trigger: Trigger::Bumps, on: true },
            SoakEntry::Failed { note: "Over the root.".to_owned() },
            SoakEntry::Paused,
            SoakEntry::Resumed,
            SoakEntry::TakenOff { minutes: 7.5 },
            SoakEntry::Ended,
        ]
    );
    let soak = store.soaks_of(&[job]).await.expect("soaks").remove(&job).expect("its own");
    let apart: Vec<_> = soak.windows(2).map(|w| w[1].at - w[0].at).collect();
    assert_eq!(apart, [60.0; 6]);
}

#[tokio::test]
async fn rows_of_a_release_say_what_they_said() {
    let bench = Workbench::new(Durability::Relaxed);
    let (connection, store, [job, _]) = first(&bench.database.url()).await;
    let hex = |id: Uuid| format!("x'{}'", id.simple());
    for (i, body) in RELEASE_1.iter().enumerate() {
        let insert = format!(
            "insert into release_entry (id, job_id, sequence, body, recorded_by, recorded_at) \
             values ({}, {}, {}, '{body}', 'Maren', '2026-01-02 03:04:05')",
            hex(Uuid::now_v7()),
            hex(job),
            i + 1
        );
        connection.execute_unprepared(&insert).await.expect(&insert);
    }
    let log = store.release_entries(job).await.expect("its log");
    assert_eq!((log.len(), log.unreadable.len()), (RELEASE_1.len(), 0));
    let bodies: Vec<_> = log.iter().map(|e| e.body.clone()).collect();
    let text = str::to_owned;
    let named = |pairs: &[(&str, &str)]| {
        pairs.iter().map(|(c, p)| (text(c), text(p))).collect::<std::collections::BTreeMap<_, _>>()
    };
    let tried = TriedStep {
        act: Act::Move,
        from: named(&[("key", "run"), ("seat", "on")]),
        moved: named(&[("seat", "empty")]),
        within: Some(5.0),
        expected: Saw::EngineStops,
    };
    let strokes = vec![vec![[0.25, 0.5], [0.5, 0.25]]];
    assert_eq!(
        bodies,
        [
            ReleaseEntry::Step { tried, saw: Saw::RunsOn, seconds: Some(6.5), revision: 3 },
            ReleaseEntry::Fuse { fuse: text("main-fuse"), amps: 20.0 },
            ReleaseEntry::Checked {
                fault: text("pto.kill=made"),
                bad: false,
                how: text("Plug off, no beep.")
            },
            ReleaseEntry::Signed { name: text("Maren"), role: text("Mechanic"), strokes },
            ReleaseEntry::Returned { name: text("Maren"), reason: text("Owner wants it so.") },
        ]
    );
    assert_eq!(store.release_ends(&[job]).await.expect("ends").get(&job), Some(&false));
}

#[tokio::test]
async fn a_row_of_a_newer_form_is_told_and_takes_nothing_else_down() {
    let bench = Workbench::new(Durability::Relaxed);
    let (connection, store, [job, _]) = first(&bench.database.url()).await;
    let newer = "update evidence set format = 7 where sequence = 3";
    connection.execute_unprepared(newer).await.expect(newer);
    let log = store.evidence(job).await.expect("a log");
    assert_eq!((log.len(), log.unreadable[0].place), (EVIDENCE_1.len() - 1, Some(3)));
    assert!(log.unreadable[0].why.contains("newer Kelvok"), "{:?}", log.unreadable);
}
