//! What a jumper, a plug or a wire off would do, said before it is done.

use crate::app::App;
use crate::http::bodies::{Body, Path};
use crate::http::problem::Problem;
use crate::jobs::loaded::Loaded;
use crate::views::names::SetUpView;
use crate::work::desk::{Progress, Reply};
use axum::extract::State;
use kelvok_core::circuit::Engine;
use kelvok_core::diagnosis::{Caution, Danger, SetUpEntry, resolve_situation};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Deserialize, ToSchema)]
pub struct Intended {
    /// Control id -> position id; a control not named stands at rest.
    pub condition: BTreeMap<String, String>,
    #[serde(default)]
    pub engine: Engine,
    /// What is to be taken off or jumped, beside what is off already.
    pub what: SetUpEntry,
}

#[derive(Serialize, ToSchema)]
pub struct ForewarnedView {
    pub what: SetUpView,
    /// What a jumper would carry, in amperes, on a good machine.
    pub amps: Option<f64>,
    /// The same at most, under any fault that is still believed.
    pub most_amps: Option<f64>,
    pub cautions: Vec<Caution>,
    /// Why it should not be done, or not with the controls so. It counts all the same.
    pub dangers: Vec<Danger>,
}

/// Says what something taken off, or a jumper, would do.
#[utoipa::path(post, operation_id = "forewarn", path = "/jobs/{id}/forewarn",
    params(("id" = Uuid, Path)), request_body = Intended, responses(
    (status = 200, body = ForewarnedView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem),
    (status = 422, description = "What the machine does not have, or what lets go by itself, by name",
     body = Problem),
))]
pub async fn forewarn(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(intended): Body<Intended>,
) -> Result<Reply<ForewarnedView>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let log = loaded.log();
    let compiled = loaded.compiled.clone();
    let Intended { condition, engine, what } = intended;
    let (condition, set_up) =
        resolve_situation(compiled.circuit(), &condition, engine, std::slice::from_ref(&what))?;
    let more = set_up.first().copied().filter(|s| s.stays());
    let more = more.ok_or_else(|| Problem::field("what", "What a hand holds lets go again."))?;
    let off = loaded.still_off();
    let question = loaded.question(("forewarn", (&condition, &off, more)));
    app.ask(question, loaded.size(), move || {
        let judged = compiled.judged(&log);
        let told = compiled.model.forewarn((&judged.belief, &log), &condition, (&off, more));
        Ok(ForewarnedView {
            what: SetUpView::of(compiled.circuit(), more),
            amps: told.amps.map(|[good, _]| good),
            most_amps: told.amps.map(|[_, most]| most),
            cautions: told.cautions,
            dangers: told.dangers,
        })
    })
    .await
}
