//! A machine whose battery is in question: its label, its volts at rest, under a load and after it; and a walk
//! along its starter's circuit.

use super::id;
use kelvok_core::battery::{BatteryTest, Chemistry};
use kelvok_core::circuit::{Instrument, Reading};
use kelvok_core::diagnosis::{Entry, ObservationEntry};
use kelvok_store::{NewJob, Store};
use serde_json::{Value, json};

/// The place of its job among the demo's.
const JOB: usize = 7;

const READ: [BatteryTest; 4] = [
    BatteryTest::Label { cold_amps: Some(300.0), amp_hours: None, chemistry: Chemistry::Flooded },
    BatteryTest::Rest { volts: 12.31, hours: 12.0, surface_off: false, celsius: Some(8.0) },
    BatteryTest::Loaded {
        volts: 10.2,
        amps: 40.0,
        estimated: false,
        seconds: 15.0,
        celsius: Some(8.0),
    },
    BatteryTest::Recovered { volts: 12.1, seconds: 60.0 },
];

/// Read while it cranks: a clamp at the + post eats most of a volt.
const WALKED: [(&str, &str, Reading); 6] = [
    ("battery.+", "battery.-", Reading::Volts(9.62)),
    ("battery.+", "starter.stud", Reading::Volts(1.08)),
    ("pos-clamp.lug", "solenoid.battery", Reading::Amps(103.0)),
    ("battery.+", "pos-clamp.lug", Reading::Volts(0.72)),
    ("starter.stud", "starter.case", Reading::Volts(8.05)),
    ("starter.case", "battery.-", Reading::Volts(0.47)),
];

/// Loads it, once.
pub async fn load(store: &Store, people: &[&str]) -> anyhow::Result<()> {
    if store.job(id(JOB, 0)).await.is_ok() {
        return Ok(());
    }
    let by = people[JOB % people.len()];
    let machine = store.machine("dunmarrow-z-52").await?;
    let new = NewJob {
        id: id(JOB, 0),
        revision_id: machine.newest.id,
        tag: "Verge crew".to_owned(),
        owner: "Ashgrove Bowling Club".to_owned(),
        complaint: "Cranks slow in the morning, jumped twice last week.".to_owned(),
        ..NewJob::default()
    };
    let job = store.open_job(new).await?.id;
    let tests = READ.into_iter().map(|test| {
        let observation = ObservationEntry::BatteryTest { test };
        json!({ "observation": observation })
    });
    let cranking = |observation: ObservationEntry| {
        let condition = json!({"key": "start", "brake": "on", "seat": "on", "blades": "off",
                               "left": "out", "right": "out"});
        json!({ "condition": condition, "engine": "cranking", "observation": observation })
    };
    let walked = WALKED.into_iter().map(|(red, black, reading)| {
        let (red, black) = (red.to_owned(), black.to_owned());
        let (instrument, typed) = match reading {
            Reading::Amps(amps) => (Instrument::Clamp, amps.to_string()),
            Reading::Volts(volts) => (Instrument::Voltmeter, volts.to_string()),
            _ => return Value::Null,
        };
        cranking(ObservationEntry::Reading { instrument, red, black, reading, typed })
    });
    for (e, entry) in tests.chain(walked).enumerate() {
        let entry: Entry = serde_json::from_value(entry)?;
        store.append_evidence(job, id(JOB, 1 + e), by, &entry).await?;
    }
    Ok(())
}
