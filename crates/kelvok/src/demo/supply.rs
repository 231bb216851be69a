//! A machine whose battery is in question: its label, its volts at rest, under a load and after it.

use super::id;
use kelvok_core::battery::{BatteryTest, Chemistry};
use kelvok_core::diagnosis::{Entry, ObservationEntry};
use kelvok_store::{NewJob, Store};

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
    for (e, test) in READ.into_iter().enumerate() {
        let observation = ObservationEntry::BatteryTest { test };
        let entry: Entry =
            serde_json::from_value(serde_json::json!({ "observation": observation }))?;
        store.append_evidence(job, id(JOB, 1 + e), by, &entry).await?;
    }
    Ok(())
}
