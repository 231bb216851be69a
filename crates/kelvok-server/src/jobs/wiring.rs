//! How a job's machine is wired: what was open is settled, in its document and for its next jobs.

use crate::app::App;
use crate::http::bodies::{Body, Path, Query};
use crate::http::problem::Problem;
use crate::jobs::loaded::Loaded;
use crate::machines::{MadeBy, keep_document};
use crate::work::compiled::Judged;
use crate::work::desk::aside;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use kelvok_core::diagnosis::WIRING_KNOWN_AT;
use kelvok_core::machine::{MachineDocument, Provenance};
use kelvok_store::{Job, JobStatus, Machine, Made, StoreError};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// How one thing is wired that was open.
#[derive(Deserialize, ToSchema)]
pub struct SettleWiring {
    /// The alternative, by its id in the document.
    pub alternative: String,
    /// The choice, by its id; null where it is as drawn.
    #[serde(default)]
    pub choice: Option<String>,
}

/// A machine's document before and after a change.
#[derive(Serialize, ToSchema)]
pub struct Rewired {
    /// The revision that the job is on now, ...
    pub revision_id: Uuid,
    pub revision: i32,
    /// ... and the one it was on, to go back to.
    pub before: Uuid,
}

/// Settles how the job's machine is wired. Its document gets a new revision without what was open, and the
/// job goes on with that one. Where the job's readings have shown it, it is marked as proved, else as traced.
#[utoipa::path(post, operation_id = "settle_wiring", path = "/jobs/{id}/wiring",
    params(("id" = Uuid, Path), MadeBy), request_body = SettleWiring, responses((status = 200, body = Rewired),
    (status = 404, body = Problem),
    (status = 409, description = "The job is closed", body = Problem),
    (status = 422, description = "It is not open, or there is no such choice", body = Problem)))]
pub async fn settle(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(by): Query<MadeBy>,
    Body(wanted): Body<SettleWiring>,
) -> Result<Json<Rewired>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let judged = judged(&loaded).await?;
    let circuit = loaded.compiled.circuit();
    let shares = judged.belief.alternatives(circuit);
    let of_it = circuit.document().alternatives.iter().zip(shares);
    let of_it = of_it.into_iter().find(|(a, _)| a.id == wanted.alternative);
    let share = of_it.and_then(|(own, shares)| {
        let at = match &wanted.choice {
            Some(choice) => own.choices.iter().position(|c| c.id == *choice)? + 1,
            None => 0,
        };
        shares.get(at).copied()
    });
    let proved = share.is_some_and(|share| share >= WIRING_KNOWN_AT);
    let source = if proved { Provenance::Proved } else { Provenance::Traced };
    let machine = newest(&app, &loaded).await?;
    let settled = document(&machine)?
        .settled(&wanted.alternative, wanted.choice.as_deref(), source)
        .map_err(|e| Problem::field("alternative", e.to_string()))?;
    let made = by.made(&format!("Job {}: how it is wired was settled", loaded.job.number))?;
    rewired(&app, &loaded, (&machine, &settled), &made).await.map(Json)
}

/// What is wrong in a drawing.
#[derive(Deserialize, ToSchema)]
pub struct CorrectDrawing {
    /// As the job's conclusion has it, in the fault notation.
    pub change: String,
}

/// Puts into the machine's drawing what the job's readings have shown to be otherwise: two pins the other way
/// round, a switch of the other kind. It gets a new revision, and the job goes on with that one.
#[utoipa::path(post, operation_id = "correct_drawing", path = "/jobs/{id}/drawing",
    params(("id" = Uuid, Path), MadeBy), request_body = CorrectDrawing, responses((status = 200, body = Rewired),
    (status = 404, body = Problem),
    (status = 409, description = "The job is closed, or its readings do not show that", body = Problem),
    (status = 422, description = "The drawing has no such pins or switch", body = Problem)))]
pub async fn correct(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(by): Query<MadeBy>,
    Body(wanted): Body<CorrectDrawing>,
) -> Result<Json<Rewired>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let judged = judged(&loaded).await?;
    let (model, belief) = (&loaded.compiled.model, &judged.belief);
    let units = belief.units(model.suspects());
    let shown = units.first().and_then(|u| model.drawing_error(belief, &[u.unit]));
    if shown.as_ref() != Some(&wanted.change) {
        let sentence = "The readings don’t show that any more. Look at the job again.";
        return Err(Problem::new(StatusCode::CONFLICT, sentence));
    }
    let machine = newest(&app, &loaded).await?;
    let corrected = document(&machine)?.corrected(&[wanted.change], "", Provenance::Proved);
    let made = by.made(&format!("Job {}: the drawing was wrong", loaded.job.number))?;
    rewired(&app, &loaded, (&machine, &corrected), &made).await.map(Json)
}

async fn judged(loaded: &Loaded) -> Result<Arc<Judged>, Problem> {
    let (compiled, log) = (loaded.compiled.clone(), loaded.log());
    aside(move || compiled.judged(&log)).await
}

/// The job's machine at its newest: somebody may have changed its document since the job was opened.
async fn newest(app: &App, loaded: &Loaded) -> Result<Machine, Problem> {
    let head = app.store.revision_head(loaded.job.revision_id).await?;
    Ok(app.store.machine_of(head.machine_id).await?)
}

fn document(machine: &Machine) -> Result<MachineDocument, Problem> {
    serde_json::from_str(&machine.newest.document).map_err(|_| Problem::internal())
}

/// A closed job changes no machine.
fn is_open(job: &Job) -> Result<(), Problem> {
    match job.status {
        JobStatus::Closed => Err(StoreError::Closed(job.number).into()),
        JobStatus::Open => Ok(()),
    }
}

/// Keeps a changed document, and has the job go on with it.
async fn rewired(
    app: &App,
    loaded: &Loaded,
    (machine, document): (&Machine, &MachineDocument),
    made: &Made,
) -> Result<Rewired, Problem> {
    is_open(&loaded.job)?;
    let revision = keep_document(app, &machine.name, document, made).await?;
    app.store.move_job(loaded.job.id, revision.id).await?;
    let before = loaded.job.revision_id;
    Ok(Rewired { revision_id: revision.id, revision: revision.revision, before })
}

/// A revision of the job's machine.
#[derive(Deserialize, ToSchema)]
pub struct BackToRevision {
    pub revision_id: Uuid,
}

/// Goes back to an earlier revision of the job's machine: that document becomes its newest again, and the job
/// goes on with it.
#[utoipa::path(put, operation_id = "go_back_to_revision", path = "/jobs/{id}/revision",
    params(("id" = Uuid, Path), MadeBy), request_body = BackToRevision, responses((status = 204),
    (status = 404, body = Problem),
    (status = 409, description = "The job is closed, or the revision is another machine's",
     body = Problem)))]
pub async fn go_back(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(by): Query<MadeBy>,
    Body(wanted): Body<BackToRevision>,
) -> Result<StatusCode, Problem> {
    let job = app.store.job(id).await?;
    is_open(&job)?;
    let own = app.store.revision_head(job.revision_id).await?;
    let earlier = app.store.revision(wanted.revision_id).await?;
    if earlier.machine_id != own.machine_id {
        let sentence = "That revision is another machine’s.";
        return Err(Problem::new(StatusCode::CONFLICT, sentence));
    }
    let machine = app.store.machine_of(own.machine_id).await?;
    let made = by.made(&format!("Job {}: back to revision {}", job.number, earlier.revision))?;
    let again = app.store.save_revision(&machine.name, &earlier.document, &made).await?;
    app.store.move_job(id, again.id).await?;
    Ok(StatusCode::NO_CONTENT)
}
