//! What is found of a harness, and what follows from it.

use super::view::{HarnessTraceView, Standing};
use crate::app::App;
use crate::http::bodies::{Body, Path, Query};
use crate::http::input;
use crate::http::problem::Problem;
use crate::jobs::evidence::VoidRequest;
use crate::machines::Known;
use crate::work::desk::aside;
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::Instrument;
use kelvok_core::diagnosis::parse_reading;
use kelvok_core::trace::{Harness, Trace, TraceEntry, TraceError};
use kelvok_store::LogEntry;
use serde::Deserialize;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// What the next step is wanted of.
#[derive(Debug, Default, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct Wanted {
    /// Only this circuit of the machine.
    #[serde(default)]
    circuit: Option<String>,
}

/// Something found, to be recorded.
#[derive(Deserialize, ToSchema)]
pub struct RecordTrace {
    /// Made by the client (UUIDv7), so that a retry records it once.
    pub id: Uuid,
    pub by: String,
    pub found: FoundOfHarness,
}

#[derive(Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum FoundOfHarness {
    Probe {
        /// `part.terminal`, on the harness side.
        red: String,
        black: String,
        instrument: Instrument,
        /// As typed: `beep`, `no beep`, `0.3`, `OL`.
        typed: String,
        /// Plugs and fuses that are off, by part.
        #[serde(default)]
        off: Vec<String>,
    },
    Color {
        at: String,
        color: String,
    },
    /// No wire is in that cavity.
    Empty {
        at: String,
    },
}

impl FoundOfHarness {
    fn entry(self) -> Result<TraceEntry, Problem> {
        Ok(match self {
            Self::Probe { red, black, instrument, typed, off } => {
                if !instrument.feeds() {
                    return Err(refused(&TraceError::Instrument));
                }
                let reading = parse_reading(instrument, &typed)?;
                TraceEntry::Probe { red, black, instrument, reading, off }
            }
            Self::Color { at, color } => {
                TraceEntry::Color { at, color: input::line("color", &color, 30)? }
            }
            Self::Empty { at } => TraceEntry::Empty { at },
        })
    }
}

fn refused(error: &TraceError) -> Problem {
    let field = match error {
        TraceError::NoEnd(_) | TraceError::SameEnd => "red",
        TraceError::NotOff(_) => "off",
        TraceError::Instrument => "instrument",
        TraceError::Reading => "typed",
        TraceError::Color => "color",
    };
    Problem::field(field, error.to_string())
}

/// How far a machine's harness is traced, and where to put the probes next. Where nobody has begun, the first
/// step.
#[utoipa::path(get, operation_id = "harness_trace", path = "/machines/{name}/trace",
    params(("name" = String, Path), Wanted),
    responses((status = 200, body = HarnessTraceView), (status = 404, body = Problem),
    (status = 422, description = "No such circuit", body = Problem)))]
pub async fn standing(
    State(app): State<App>,
    Path(name): Path<String>,
    Query(wanted): Query<Wanted>,
) -> Result<Json<HarnessTraceView>, Problem> {
    let known = Known::get(&app, &name).await?;
    view(&app, &known, wanted).await.map(Json)
}

/// Records what was found. The first entry begins the trace; everybody who traces the machine shares it.
#[utoipa::path(post, operation_id = "record_trace", path = "/machines/{name}/trace/entries",
    params(("name" = String, Path), Wanted), request_body = RecordTrace,
    responses((status = 200, body = HarnessTraceView), (status = 404, body = Problem),
    (status = 409, description = "The id was used, or the trace has ended", body = Problem),
    (status = 422, description = "No such end, or no reading", body = Problem)))]
pub async fn record(
    State(app): State<App>,
    Path(name): Path<String>,
    Query(wanted): Query<Wanted>,
    Body(record): Body<RecordTrace>,
) -> Result<Json<HarnessTraceView>, Problem> {
    let by = input::person(&record.by)?;
    let known = Known::get(&app, &name).await?;
    let entry = record.found.entry()?;
    let (circuit, checked) = (known.circuit().clone(), entry.clone());
    aside(move || Trace::new(Harness::new(&circuit)).check(&checked))
        .await?
        .map_err(|e| refused(&e))?;
    let trace = app.store.begin_trace(known.machine_id, &by).await?;
    app.store.append_trace_entry(trace.id, record.id, &by, &entry).await?;
    view(&app, &known, wanted).await.map(Json)
}

/// Takes an entry back; it stays in the log, struck through.
#[utoipa::path(post, operation_id = "void_trace", path = "/machines/{name}/trace/entries/{entry}/void",
    params(("name" = String, Path), ("entry" = Uuid, Path), Wanted), request_body = VoidRequest,
    responses((status = 200, body = HarnessTraceView), (status = 404, body = Problem),
    (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn void(
    State(app): State<App>,
    Path((name, entry)): Path<(String, Uuid)>,
    Query(wanted): Query<Wanted>,
    Body(void): Body<VoidRequest>,
) -> Result<Json<HarnessTraceView>, Problem> {
    let void = void.checked()?;
    let known = Known::get(&app, &name).await?;
    let Some(trace) = app.store.trace_of(known.machine_id).await? else {
        return Err(kelvok_store::StoreError::TraceEnded.into());
    };
    app.store.void_trace_entry(trace.id, entry, &void).await?;
    view(&app, &known, wanted).await.map(Json)
}

/// The log of a machine's trace that is going on.
pub async fn log(app: &App, known: &Known) -> Result<Vec<LogEntry<TraceEntry>>, Problem> {
    Ok(match app.store.trace_of(known.machine_id).await? {
        Some(trace) => app.store.trace_entries(trace.id).await?.into_iter().collect(),
        None => Vec::new(),
    })
}

async fn view(app: &App, known: &Known, wanted: Wanted) -> Result<HarnessTraceView, Problem> {
    let circuit = known.circuit().clone();
    if let Some(id) = &wanted.circuit
        && !circuit.document().circuits.iter().any(|c| c.id == *id)
    {
        return Err(Problem::field("circuit", format!("This machine has no circuit \"{id}\".")));
    }
    let log = log(app, known).await?;
    let revision = known.revision.revision;
    aside(move || {
        let standing = Standing::new(&circuit, &log)?;
        Ok(standing.view(revision, &log, wanted.circuit.as_deref()))
    })
    .await?
}
