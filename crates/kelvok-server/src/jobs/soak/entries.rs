//! What is recorded of a soak.

use super::view::{SoakView, now, standing};
use crate::app::App;
use crate::http::bodies::{Body, Path};
use crate::http::input;
use crate::http::problem::Problem;
use crate::jobs::evidence::VoidRequest;
use crate::views::names::condition_view;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use kelvok_core::circuit::{Circuit, Engine};
use kelvok_core::diagnosis::{Entry, ObservationEntry, Source};
use kelvok_core::soak::{SoakEntry, SoakError, SoakStanding};
use kelvok_store::{JobStatus, StoreError};
use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// Something of a soak, to be recorded.
#[derive(Deserialize, ToSchema)]
pub struct RecordSoak {
    /// Made by the client (UUIDv7), so that a retry records it once.
    pub id: Uuid,
    pub by: String,
    pub entry: SoakEntry,
}

/// How far a job's soak is, by the server's clock.
#[utoipa::path(get, operation_id = "soak", path = "/jobs/{id}/soak", params(("id" = Uuid, Path)),
    responses((status = 200, body = SoakView), (status = 404, body = Problem)))]
pub async fn get(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<SoakView>, Problem> {
    let job = app.store.job(id).await?;
    let (entries, verdicts) = (app.store.soak_entries(id).await?, app.store.verdicts(id).await?);
    Ok(Json(SoakView::new(&job, &entries, &verdicts)))
}

/// Records that a soak began, that something is there which brings it on, that it happened, a pause, an end. Minutes
/// of quiet go into the job's evidence when it ends.
#[utoipa::path(post, operation_id = "record_soak", path = "/jobs/{id}/soak/entries",
    params(("id" = Uuid, Path)), request_body = RecordSoak,
    responses((status = 200, body = SoakView), (status = 404, body = Problem),
    (status = 409, description = "The job is closed, or the soak does not stand so", body = Problem),
    (status = 422, description = "A figure is wrong", body = Problem)))]
pub async fn record(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(record): Body<RecordSoak>,
) -> Result<Json<SoakView>, Problem> {
    let by = input::person(&record.by)?;
    let entry = match record.entry {
        SoakEntry::Failed { note } => SoakEntry::Failed { note: input::words("note", &note, 400)? },
        entry => entry,
    };
    let job = app.store.job(id).await?;
    let entries = app.store.soak_entries(id).await?;
    // What was recorded before is answered with, however it stands by now.
    if !entries.iter().any(|e| e.id == record.id) {
        if job.status == JobStatus::Closed {
            return Err(StoreError::Closed(job.number).into());
        }
        let standing = standing(&entries);
        SoakStanding::takes(&standing, now(), &entry)?;
        if entry == SoakEntry::Ended
            && let Some(soak) = SoakStanding::of(&standing, now())
            && soak.failures == 0
            // Where the end itself was lost on the way, its minutes are there already.
            && !app.store.evidence(id).await?.iter().any(|e| e.id == next(record.id))
        {
            let circuit = app.circuits.circuit(&app, job.revision_id).await?;
            if let Some(ran) = ran(&circuit, soak.worth) {
                app.store.append_evidence(id, next(record.id), &by, &ran).await?;
            }
        }
        app.store.append_soak_entry(id, record.id, &by, &entry).await?;
    }
    get(State(app), Path(id)).await
}

/// Takes an entry back; it stays in the log, struck through.
#[utoipa::path(post, operation_id = "void_soak", path = "/jobs/{id}/soak/entries/{entry}/void",
    params(("id" = Uuid, Path), ("entry" = Uuid, Path)), request_body = VoidRequest,
    responses((status = 200, body = SoakView), (status = 404, body = Problem),
    (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn void(
    State(app): State<App>,
    Path((id, entry)): Path<(Uuid, Uuid)>,
    Body(void): Body<VoidRequest>,
) -> Result<Json<SoakView>, Problem> {
    let void = void.checked()?;
    let job = app.store.job(id).await?;
    if job.status == JobStatus::Closed {
        return Err(StoreError::Closed(job.number).into());
    }
    app.store.void_soak_entry(id, entry, &void).await?;
    let evidence = app.store.evidence(id).await?;
    if evidence.iter().any(|e| e.id == next(entry) && e.voided.is_none()) {
        app.store.void_evidence(id, next(entry), &void).await?;
    }
    get(State(app), Path(id)).await
}

/// The id of what goes into the evidence with an entry.
fn next(entry: Uuid) -> Uuid {
    Uuid::from_u128(entry.as_u128().wrapping_add(1))
}

/// So many minutes in which it ran as it is worked, and did nothing amiss; none where it was no time, or the
/// drawing does not say how it is worked.
fn ran(circuit: &Circuit, minutes: f64) -> Option<Entry> {
    let worked = circuit.normal_use().into_iter().rev().find(|c| c.engine >= Engine::Running)?;
    (minutes >= 1.0).then(|| Entry {
        condition: condition_view(circuit, &worked),
        engine: worked.engine,
        set_up: Vec::new(),
        observation: ObservationEntry::Ran { minutes: minutes.round() },
        repeats: 1,
        source: Source::Tested,
        at_times: false,
        times_an_hour: None,
        celsius: None,
        idle: false,
    })
}

impl From<SoakError> for Problem {
    fn from(error: SoakError) -> Self {
        let field = match error {
            SoakError::Times => "times",
            SoakError::Hours => "hours",
            SoakError::Share => "share",
            SoakError::Still => "still",
            SoakError::Minutes => "minutes",
            SoakError::NotBegun | SoakError::UnderWay | SoakError::Running | SoakError::Paused => {
                return Self::new(StatusCode::CONFLICT, Self::sentence(&error));
            }
        };
        Self::field(field, Self::sentence(&error))
    }
}
