use crate::app::App;
use crate::http::bodies::{Asked, Body, Path, Query};
use crate::http::input;
use crate::http::problem::Problem;
use crate::jobs::state::{JobState, Wanted, state_soon};
use axum::Json;
use axum::extract::State;
use chrono::{DateTime, Utc};
use kelvok_core::battery::BatteryTest;
use kelvok_core::circuit::{Engine, Instrument, LampState};
use kelvok_core::diagnosis::{
    BatteryEvent, CloseUpEntry, EngineDoes, Entry, Heard, LookEntry, ObservationEntry, Repair,
    SetUpEntry, Source, Work, parse_reading,
};
use kelvok_store::{LogEntry, Void, Voided};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// One entry of a job's evidence log.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct EvidenceView {
    pub id: Uuid,
    /// Its place in the job, given by the server.
    pub sequence: i64,
    pub entry: Entry,
    /// In words, where the page has none of its own: a test of the battery.
    pub says: Option<String>,
    pub recorded_by: String,
    /// None where the time that was kept is none.
    pub recorded_at: Option<DateTime<Utc>>,
    pub voided: Option<VoidedView>,
}

#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct VoidedView {
    pub at: Option<DateTime<Utc>>,
    pub by: String,
    pub reason: String,
}

impl From<Voided> for VoidedView {
    fn from(v: Voided) -> Self {
        Self { at: v.at, by: v.by, reason: v.reason }
    }
}

impl From<LogEntry<Entry>> for EvidenceView {
    fn from(entry: LogEntry<Entry>) -> Self {
        Self {
            id: entry.id,
            sequence: entry.sequence,
            says: match &entry.body.observation {
                ObservationEntry::BatteryTest { test } => Some(test.words()),
                _ => None,
            },
            entry: entry.body,
            recorded_by: entry.recorded_by,
            recorded_at: entry.recorded_at,
            voided: entry.voided.map(Into::into),
        }
    }
}

/// Something observed, to be recorded.
#[derive(Deserialize, ToSchema)]
pub struct Record {
    /// Made by the client (UUIDv7), so that a retry records it once.
    pub id: Uuid,
    pub by: String,
    /// Control id -> position id; a control not named stands at rest.
    pub condition: BTreeMap<String, String>,
    #[serde(default)]
    pub engine: Engine,
    #[serde(default)]
    pub set_up: Vec<SetUpEntry>,
    pub observed: Observed,
    #[serde(default = "once")]
    pub repeats: u32,
    /// Whether it was tested, or told by whoever brought the machine.
    #[serde(default)]
    pub source: Source,
    /// What was noticed comes and goes in this condition.
    #[serde(default)]
    pub at_times: bool,
    /// How often that is, times an hour of running.
    #[serde(default)]
    pub times_an_hour: Option<f64>,
    /// How warm the coil was that ohms were read of, in °C.
    #[serde(default)]
    pub celsius: Option<f64>,
    /// The engine idles while it is read; else it is at full speed, where it runs.
    #[serde(default)]
    pub idle: bool,
}

fn once() -> u32 {
    1
}

#[derive(Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Observed {
    /// The starter, with the engine standing.
    Heard { heard: Heard },
    /// What the engine does while it is cranked, or while it runs.
    Engine { does: EngineDoes },
    /// Whether the clutch has snapped in, or the blades turn.
    Blades { turn: bool },
    /// A lamp or glow plug, by part id.
    Lamp { lamp: String, burns: LampState },
    /// Something was looked at and felt.
    Looked { at: LookEntry, bad: bool },
    /// A unit was replaced or repaired, by its id.
    Repaired {
        unit: String,
        #[serde(default)]
        how: Option<Repair>,
        #[serde(default)]
        note: String,
    },
    /// What shows only to who puts a finger, a tester or a squirt of fuel to it.
    CloseUp { what: CloseUpEntry },
    /// Something was taken off, or a jumper put on, and stays so until it is put back.
    Arranged { what: SetUpEntry },
    /// What had been taken off for a test is back on.
    PutBack { what: SetUpEntry },
    /// Somebody had worked on a unit before the job began.
    WorkedOn { unit: String, work: Work },
    /// The machine worked for so many minutes with the engine running, and did nothing that it
    /// should not.
    Ran { minutes: f64 },
    /// The battery is not what it was: charged, jumped, another.
    Battery { event: BatteryEvent },
    /// The battery was tested by itself, or charged with figures.
    BatteryTest { test: BatteryTest },
    /// Words for people: another fault noticed on the way, who was in there before.
    Note { text: String },
    Reading {
        instrument: Instrument,
        red: String,
        black: String,
        /// As typed: `12.4`, `12,4`, `12.4V`, `OL`, `buzz`.
        typed: String,
    },
}

#[derive(Deserialize, ToSchema)]
pub struct VoidRequest {
    pub by: String,
    pub reason: String,
}

impl VoidRequest {
    /// Checked for being filled in.
    pub(crate) fn checked(self) -> Result<Void, Problem> {
        Ok(Void { by: input::person(&self.by)?, reason: input::reason(&self.reason)? })
    }
}

/// What was recorded or taken back, and what follows from it.
#[derive(Serialize, ToSchema)]
pub struct Recorded {
    #[serde(flatten)]
    pub evidence: EvidenceView,
    /// None where it was not wanted, cannot be said just now, or is still being worked out.
    pub state: Option<JobState>,
}

/// Records a reading, or what was heard; answers with what follows from it where that is wanted.
#[utoipa::path(post, operation_id = "record_evidence", path = "/jobs/{id}/evidence", params(
    ("id" = Uuid, Path),
    ("set" = Vec<String>, Query, description = "`control:position`, once a control"),
    ("engine" = Option<String>, Query, description = "stopped, cranking, running, running-hot"),
    Wanted,
), request_body = Record, responses(
    (status = 200, body = Recorded),
    (status = 409, description = "The job is closed, or the id was used", body = Problem),
    (status = 422, description = "A name or a reading is wrong", body = Problem),
    (status = 503, description = "The database does not answer; send it again", body = Problem),
))]
pub async fn record(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    asked: Asked,
    Query(wanted): Query<Wanted>,
    Body(record): Body<Record>,
) -> Result<Json<Recorded>, Problem> {
    let by = input::person(&record.by)?;
    let observation = match record.observed {
        Observed::Heard { heard } => ObservationEntry::Heard { heard },
        Observed::Engine { does } => ObservationEntry::Engine { does },
        Observed::Blades { turn } => ObservationEntry::Blades { turn },
        Observed::Lamp { lamp, burns } => ObservationEntry::Lamp { lamp, burns },
        Observed::Looked { at, bad } => ObservationEntry::Looked { at, bad },
        Observed::Repaired { unit, how, note } => {
            ObservationEntry::Repaired { unit, how, note: input::words("note", &note, 2000)? }
        }
        Observed::CloseUp { what } => ObservationEntry::CloseUp { what },
        Observed::Arranged { what } => ObservationEntry::Arranged { what },
        Observed::PutBack { what } => ObservationEntry::PutBack { what },
        Observed::WorkedOn { unit, work } => ObservationEntry::WorkedOn { unit, work },
        Observed::Ran { minutes } => ObservationEntry::Ran { minutes },
        Observed::Battery { event } => ObservationEntry::Battery { event },
        Observed::BatteryTest { test } => ObservationEntry::BatteryTest { test },
        Observed::Note { text } => {
            ObservationEntry::Note { text: input::words("text", &text, 2000)? }
        }
        Observed::Reading { instrument, red, black, typed } => ObservationEntry::Reading {
            reading: parse_reading(instrument, &typed)?,
            instrument,
            red,
            black,
            typed: input::line("typed", &typed, 40)?,
        },
    };
    let entry = Entry {
        condition: record.condition,
        engine: record.engine,
        set_up: record.set_up,
        observation,
        repeats: record.repeats.clamp(1, 1000),
        source: record.source,
        at_times: record.at_times,
        times_an_hour: record.times_an_hour.filter(|t| t.is_finite() && *t > 0.0),
        celsius: record.celsius,
        idle: record.idle,
    };
    // No more than the names: recording waits for nothing that has to be worked out.
    let job = app.store.job(id).await?;
    entry.resolve(&*app.circuits.circuit(&app, job.revision_id).await?, 0)?;
    let stored = app.store.append_evidence(id, record.id, &by, &entry).await?;
    Ok(Json(Recorded { evidence: stored.into(), state: state_soon(&app, id, asked, wanted).await }))
}

/// Takes an entry back; it stays in the log, struck through. Answers like recording does.
#[utoipa::path(post, operation_id = "void_evidence", path = "/jobs/{id}/evidence/{entry}/void",
    params(
        ("id" = Uuid, Path), ("entry" = Uuid, Path),
        ("set" = Vec<String>, Query, description = "`control:position`, once a control"),
        ("engine" = Option<String>, Query, description = "stopped, cranking, running, running-hot"),
        Wanted,
    ), request_body = VoidRequest,
    responses((status = 200, body = Recorded), (status = 409, body = Problem)))]
pub async fn void(
    State(app): State<App>,
    Path((id, entry)): Path<(Uuid, Uuid)>,
    asked: Asked,
    Query(wanted): Query<Wanted>,
    Body(void): Body<VoidRequest>,
) -> Result<Json<Recorded>, Problem> {
    let stored = app.store.void_evidence(id, entry, &void.checked()?).await?;
    Ok(Json(Recorded { evidence: stored.into(), state: state_soon(&app, id, asked, wanted).await }))
}
