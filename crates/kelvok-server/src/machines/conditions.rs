//! Conditions with names: those of a machine's ordinary use, and those that people keep.

use crate::app::App;
use crate::http::bodies::{Body, Path};
use crate::http::input;
use crate::http::problem::Problem;
use crate::machines::Known;
use crate::views::names::condition_view;
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::{Circuit, Condition, Engine};
use kelvok_store::NamedCondition;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// A condition with a name.
#[derive(Serialize, ToSchema)]
pub struct ConditionView {
    /// None of those that the machine's document names.
    pub id: Option<Uuid>,
    pub name: String,
    /// Control id -> position id, every control.
    pub set: BTreeMap<String, String>,
    pub engine: Engine,
    pub kept_by: Option<String>,
}

/// What is kept of a condition.
#[derive(Serialize, Deserialize)]
struct KeptCondition {
    set: BTreeMap<String, String>,
    engine: Engine,
}

impl ConditionView {
    /// Those of ordinary use, then those kept. A kept one that a newer revision of the machine
    /// no longer has the controls for is left out.
    pub fn all(circuit: &Circuit, kept: Vec<NamedCondition>) -> Vec<Self> {
        let uses = circuit.document().normal_use.iter().zip(circuit.normal_use());
        let uses = uses.map(|(named, condition)| Self {
            id: None,
            name: named.name.clone(),
            set: condition_view(circuit, &condition),
            engine: condition.engine,
            kept_by: None,
        });
        let kept = kept.into_iter().filter_map(|row| {
            let body: KeptCondition = serde_json::from_str(&row.body).ok()?;
            let condition = condition(circuit, &body.set).ok()?;
            Some(Self {
                id: Some(row.id),
                name: row.name,
                set: condition_view(circuit, &condition),
                engine: body.engine,
                kept_by: Some(row.kept_by),
            })
        });
        uses.chain(kept).collect()
    }
}

fn condition(circuit: &Circuit, set: &BTreeMap<String, String>) -> Result<Condition, Problem> {
    let set = set.iter().map(|(c, p)| (c.as_str(), p.as_str()));
    Ok(Condition::with(circuit, set)?)
}

#[derive(Deserialize, ToSchema)]
pub struct KeepCondition {
    /// Made by the client (UUIDv7), so that a retry keeps it once.
    pub id: Uuid,
    pub name: String,
    pub set: BTreeMap<String, String>,
    #[serde(default)]
    pub engine: Engine,
    pub by: String,
}

/// Keeps a condition under a name.
#[utoipa::path(post, operation_id = "keep_condition", path = "/machines/{name}/conditions", params(("name" = String, Path)),
    request_body = KeepCondition, responses((status = 200, body = Vec<ConditionView>), (status = 422, body = Problem)))]
pub async fn keep(
    State(app): State<App>,
    Path(name): Path<String>,
    Body(new): Body<KeepCondition>,
) -> Result<Json<Vec<ConditionView>>, Problem> {
    let known = Known::get(&app, &name).await?;
    let called = input::said("name", &new.name, 80, "Give the condition a name.")?;
    let by = input::person(&new.by)?;
    condition(known.circuit(), &new.set)?;
    let taken = |c: &ConditionView| c.name == called && c.id != Some(new.id);
    let rows = app.store.named_conditions(known.machine_id).await?;
    if ConditionView::all(known.circuit(), rows).iter().any(taken) {
        return Err(Problem::field("name", format!("There is a condition \"{called}\" already.")));
    }
    let body = KeptCondition { set: new.set, engine: new.engine };
    let body = serde_json::to_string(&body).map_err(|_| Problem::internal())?;
    app.store
        .keep_condition(NamedCondition {
            id: new.id,
            machine_id: known.machine_id,
            name: called,
            body,
            kept_by: by,
        })
        .await?;
    all(&app, &known).await
}

/// Forgets a kept condition.
#[utoipa::path(delete, operation_id = "forget_condition", path = "/machines/{name}/conditions/{id}",
    params(("name" = String, Path), ("id" = Uuid, Path)),
    responses((status = 200, body = Vec<ConditionView>), (status = 404, body = Problem)))]
pub async fn forget(
    State(app): State<App>,
    Path((name, id)): Path<(String, Uuid)>,
) -> Result<Json<Vec<ConditionView>>, Problem> {
    let known = Known::get(&app, &name).await?;
    app.store.forget_condition(known.machine_id, id).await?;
    all(&app, &known).await
}

async fn all(app: &App, known: &Known) -> Result<Json<Vec<ConditionView>>, Problem> {
    let rows = app.store.named_conditions(known.machine_id).await?;
    Ok(Json(ConditionView::all(known.circuit(), rows)))
}
