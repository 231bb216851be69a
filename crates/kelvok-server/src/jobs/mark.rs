//! Whether a job has changed: what a page that shows it asks every second or two.

use crate::app::App;
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use axum::Json;
use axum::extract::State;
use kelvok_core::diagnosis::Entry;
use kelvok_store::{Job, LogEntry, Verdict};
use serde::Serialize;
use std::hash::{DefaultHasher, Hash, Hasher};
use utoipa::ToSchema;
use uuid::Uuid;

/// What a job's log and row come to.
#[derive(Serialize, ToSchema)]
pub struct Mark {
    /// Another one means that something was recorded, undone or changed.
    pub mark: String,
}

/// What a job comes to, as it is now.
pub(crate) fn mark_of(
    job: &Job,
    evidence: &[LogEntry<Entry>],
    verdicts: &[LogEntry<Verdict>],
) -> String {
    let mut state = DefaultHasher::new();
    job.version.hash(&mut state);
    for entry in evidence {
        (entry.sequence, entry.voided.is_some()).hash(&mut state);
    }
    for verdict in verdicts {
        (verdict.sequence, verdict.voided.is_some()).hash(&mut state);
    }
    format!("{:016x}", state.finish())
}

/// The mark of a job; the job itself has it too.
#[utoipa::path(get, operation_id = "job_mark", path = "/jobs/{id}/mark", params(("id" = Uuid, Path)),
    responses((status = 200, body = Mark), (status = 404, body = Problem)))]
pub async fn mark(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<Mark>, Problem> {
    let job = app.store.job(id).await?;
    let (evidence, verdicts) = (app.store.evidence(id).await?, app.store.verdicts(id).await?);
    Ok(Json(Mark { mark: mark_of(&job, &evidence, &verdicts) }))
}
