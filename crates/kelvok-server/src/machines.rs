use super::app::App;
use super::bodies::Body;
use super::problem::Problem;
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::Circuit;
use kelvok_core::interlock::check;
use kelvok_core::machine::Machine;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Serialize, ToSchema)]
pub struct MachineView {
    pub name: String,
    pub make: String,
    pub model: String,
    pub family: String,
    pub revision_id: Uuid,
    pub revision: i32,
}

impl MachineView {
    fn of(name: &str, machine: &Machine, revision_id: Uuid, revision: i32) -> Self {
        let identity = &machine.document().identity;
        Self {
            name: name.to_owned(),
            make: identity.make.clone(),
            model: identity.model.clone(),
            family: identity.family.clone(),
            revision_id,
            revision,
        }
    }
}

/// Every machine, at its newest revision.
#[utoipa::path(get, operation_id = "list_machines", path = "/machines", responses((status = 200, body = Vec<MachineView>)))]
pub async fn list(State(app): State<App>) -> Result<Json<Vec<MachineView>>, Problem> {
    let mut views = Vec::new();
    for row in app.store.machines().await? {
        let machine = Machine::read(&row.newest.document).map_err(|p| Problem::document(&p))?;
        views.push(MachineView::of(&row.name, &machine, row.newest.id, row.newest.revision));
    }
    Ok(Json(views))
}

/// Stores a machine document, as the newest revision of the machine of its make and model.
#[utoipa::path(post, operation_id = "save_machine", path = "/machines", request_body = Object, responses(
    (status = 200, body = MachineView),
    (status = 422, description = "Every mistake in the document, a sentence each", body = Problem),
    (status = 413, body = Problem),
))]
pub async fn save(
    State(app): State<App>,
    Body(document): Body<serde_json::Value>,
) -> Result<Json<MachineView>, Problem> {
    let text = serde_json::to_string_pretty(&document).map_err(|_| Problem::internal())?;
    let machine = Machine::read(&text).map_err(|p| Problem::document(&p))?;
    let problems = check(&Circuit::compile(&machine));
    if problems.iter().any(|p| !p.warning) {
        return Err(Problem::document(&problems));
    }
    let identity = &machine.document().identity;
    let name = format!("{} {}", identity.make, identity.model).to_lowercase().replace(' ', "-");
    let revision = app.store.save_machine(&name, &text).await?;
    Ok(Json(MachineView::of(&name, &machine, revision.id, revision.revision)))
}
