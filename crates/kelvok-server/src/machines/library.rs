//! The library: every machine at its newest revision, and documents taken in.

use crate::app::App;
use crate::bodies::{Path, Text};
use crate::circuits::Compiled;
use crate::drawing::CircuitName;
use crate::machines::conditions::ConditionView;
use crate::problem::{FieldProblem, Problem};
use crate::views::FoundView;
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::Circuit;
use kelvok_core::interlock::check;
use kelvok_core::machine::{Control, Machine, Problem as DocumentProblem};
use kelvok_store::Revision;
use serde::Serialize;
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Serialize, ToSchema)]
pub struct MachineView {
    /// Its name in addresses.
    pub name: String,
    pub make: String,
    pub model: String,
    pub family: String,
    pub years: Option<String>,
    pub notes: Vec<String>,
    /// Where the document as a whole comes from: manual, drawing, traced, measured.
    pub source: String,
    /// What it came with and its maker never built.
    pub found: Vec<FoundView>,
    pub wires: usize,
    pub revision_id: Uuid,
    pub revision: i32,
}

impl MachineView {
    fn of(name: &str, circuit: &Circuit, revision: &Revision) -> Self {
        let document = circuit.document();
        let identity = &document.identity;
        Self {
            name: name.to_owned(),
            make: identity.make.clone(),
            model: identity.model.clone(),
            family: identity.family.clone(),
            years: identity.years.clone(),
            notes: identity.notes.clone(),
            source: identity.source.plain().to_owned(),
            found: FoundView::all(circuit),
            wires: document.wires.len(),
            revision_id: revision.id,
            revision: revision.revision,
        }
    }
}

/// One machine, as far as it does not depend on a condition.
#[derive(Serialize, ToSchema)]
pub struct MachineDetail {
    #[serde(flatten)]
    pub machine: MachineView,
    pub controls: Vec<Control>,
    /// What the engine drives, in a sentence: "blades".
    pub driven: String,
    /// Turned over by hand.
    pub recoil: bool,
    pub circuits: Vec<CircuitName>,
    /// Conditions with names: those of its ordinary use, then those kept by people.
    pub conditions: Vec<ConditionView>,
}

/// A machine at its newest revision, for whoever answers a question about it.
pub struct Known {
    pub name: String,
    pub machine_id: Uuid,
    pub revision: Revision,
    pub compiled: Arc<Compiled>,
}

impl Known {
    pub async fn get(app: &App, name: &str) -> Result<Self, Problem> {
        let machine = app.store.machine(name).await?;
        let compiled = app.circuits.of(&machine.newest)?;
        Ok(Self { name: machine.name, machine_id: machine.id, revision: machine.newest, compiled })
    }

    pub fn circuit(&self) -> &Circuit {
        &self.compiled.circuit
    }
}

/// Every machine, at its newest revision.
#[utoipa::path(get, operation_id = "list_machines", path = "/machines", responses((status = 200, body = Vec<MachineView>)))]
pub async fn list(State(app): State<App>) -> Result<Json<Vec<MachineView>>, Problem> {
    let mut views = Vec::new();
    for row in app.store.machines().await? {
        let compiled = app.circuits.of(&row.newest)?;
        views.push(MachineView::of(&row.name, &compiled.circuit, &row.newest));
    }
    Ok(Json(views))
}

/// One machine.
#[utoipa::path(get, operation_id = "get_machine", path = "/machines/{name}", params(("name" = String, Path)), responses(
    (status = 200, body = MachineDetail),
    (status = 404, body = Problem),
))]
pub async fn get(
    State(app): State<App>,
    Path(name): Path<String>,
) -> Result<Json<MachineDetail>, Problem> {
    let known = Known::get(&app, &name).await?;
    let kept = app.store.named_conditions(known.machine_id).await?;
    let circuit = known.circuit();
    let drive = &circuit.document().drive;
    Ok(Json(MachineDetail {
        machine: MachineView::of(&known.name, circuit, &known.revision),
        controls: circuit.controls.clone(),
        driven: drive.called.clone().unwrap_or_else(|| "blades".to_owned()),
        recoil: drive.recoil,
        circuits: CircuitName::all(circuit),
        conditions: ConditionView::all(circuit, kept),
    }))
}

/// What stands in a document, and what is worth a second look.
#[derive(Serialize, ToSchema)]
pub struct CheckedDocument {
    /// The name it would be kept under.
    pub name: String,
    pub make: String,
    pub model: String,
    pub parts: usize,
    pub wires: usize,
    pub duties: usize,
    /// The revision it would become; the first of a new machine.
    pub revision: i32,
    pub warnings: Vec<FieldProblem>,
}

/// A document that was read and found sound.
struct Sound {
    name: String,
    circuit: Circuit,
    problems: Vec<DocumentProblem>,
}

impl Sound {
    fn read(text: &str) -> Result<Self, Problem> {
        let machine = Machine::read(text).map_err(|p| Problem::document(&p))?;
        let circuit = Circuit::compile(&machine);
        let problems = check(&circuit);
        if problems.iter().any(|p| !p.warning) {
            return Err(Problem::document(&problems));
        }
        let identity = &machine.document().identity;
        let name = address(&format!("{} {}", identity.make, identity.model));
        if name.is_empty() {
            return Err(Problem::field("/identity", "Make and model hold no letter or digit."));
        }
        Ok(Self { name, circuit, problems })
    }
}

/// Looks a machine document through and keeps nothing.
#[utoipa::path(post, operation_id = "check_machine", path = "/machines/check", request_body = Object, responses(
    (status = 200, body = CheckedDocument),
    (status = 422, description = "Every mistake in the document, a sentence each", body = Problem),
    (status = 413, body = Problem),
))]
pub async fn check_document(
    State(app): State<App>,
    Text(text): Text,
) -> Result<Json<CheckedDocument>, Problem> {
    let sound = crate::diagnosis::off_the_reactor(move || Sound::read(&text)).await??;
    let before = app.store.machines().await?.into_iter().find(|m| m.name == sound.name);
    let document = sound.circuit.document();
    Ok(Json(CheckedDocument {
        make: document.identity.make.clone(),
        model: document.identity.model.clone(),
        parts: document.parts.len(),
        wires: document.wires.len(),
        duties: document.duties.len(),
        revision: before.map_or(1, |m| m.newest.revision + 1),
        warnings: sound.problems.iter().map(FieldProblem::of).collect(),
        name: sound.name,
    }))
}

/// Stores a machine document, as the newest revision of the machine of its make and model.
#[utoipa::path(post, operation_id = "save_machine", path = "/machines", request_body = Object, responses(
    (status = 200, body = MachineView),
    (status = 422, description = "Every mistake in the document, a sentence each", body = Problem),
    (status = 413, body = Problem),
))]
pub async fn save(State(app): State<App>, Text(text): Text) -> Result<Json<MachineView>, Problem> {
    let kept = text.clone();
    let sound = crate::diagnosis::off_the_reactor(move || Sound::read(&kept)).await??;
    let revision = app.store.save_machine(&sound.name, &text).await?;
    Ok(Json(MachineView::of(&sound.name, &sound.circuit, &revision)))
}

/// A name for addresses: small letters, digits and single dashes.
fn address(name: &str) -> String {
    let plain = |c: char| if c.is_ascii_alphanumeric() { c.to_ascii_lowercase() } else { '-' };
    let dashed: String = name.chars().map(plain).collect();
    dashed.split('-').filter(|word| !word.is_empty()).collect::<Vec<_>>().join("-")
}
