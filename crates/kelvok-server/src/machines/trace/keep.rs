//! What was traced goes into the machine's drawing.

use super::entries::log;
use super::view::Standing;
use crate::app::App;
use crate::http::bodies::{Path, Query};
use crate::http::problem::Problem;
use crate::machines::{Known, MadeBy, keep_document};
use crate::work::desk::aside;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// A machine's document with what was traced.
#[derive(Serialize, ToSchema)]
pub struct TraceKept {
    pub revision_id: Uuid,
    pub revision: i32,
}

/// Writes what was traced into the machine's drawing, as its newest revision. The trace ends where that says all:
/// a wire that may be broken, or pins of which half a swap was shown, stay to be looked into. What reads as if
/// battery positive went straight to ground is not written.
#[utoipa::path(post, operation_id = "keep_trace", path = "/machines/{name}/trace/keep",
    params(("name" = String, Path), MadeBy),
    responses((status = 200, body = TraceKept), (status = 404, body = Problem),
    (status = 409, description = "Nobody has traced anything, or it would be a short", body = Problem),
    (status = 422, description = "The drawing would have mistakes, a sentence each", body = Problem)))]
pub async fn keep(
    State(app): State<App>,
    Path(name): Path<String>,
    Query(by): Query<MadeBy>,
) -> Result<Json<TraceKept>, Problem> {
    let made = by.made("Traced wire by wire")?;
    let known = Known::get(&app, &name).await?;
    let Some(trace) = app.store.trace_of(known.machine_id).await? else {
        let sentence = "Nothing was traced yet: there is nothing to put into the drawing.";
        return Err(Problem::new(StatusCode::CONFLICT, sentence));
    };
    let entries = log(&app, &known).await?;
    let circuit = known.circuit().clone();
    let written = aside(move || {
        let standing = Standing::new(&circuit, &entries)?;
        let trace = &standing.trace;
        let traced = trace.standing();
        let written = (trace.written(&traced), trace.leaves_nothing(&traced));
        Ok::<_, Problem>((!traced.supply_grounded).then_some(written))
    })
    .await??;
    let Some((document, whole)) = written else {
        let sentence = "Your readings put battery + straight to ground. Measure that again first.";
        return Err(Problem::new(StatusCode::CONFLICT, sentence));
    };
    let kept = keep_document(&app, &known.name, &document, &made).await?;
    if whole {
        app.store.end_trace(trace.id).await?;
    }
    Ok(Json(TraceKept { revision_id: kept.id, revision: kept.revision }))
}
