//! The library: every machine at its newest revision, and documents taken in.

use crate::app::App;
use crate::http::bodies::{Path, Query, Text};
use crate::http::lists::Search;
use crate::http::problem::{FieldProblem, Problem};
use crate::machines::conditions::ConditionView;
use crate::machines::revisions::MadeBy;
use crate::views::drawing::CircuitName;
use crate::views::names::FoundView;
use crate::views::unreadable::UnreadableView;
use crate::work::compiled::Compiled;
use crate::work::desk::{Progress, Reply, Size, aside};
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use chrono::{DateTime, Utc};
use kelvok_core::circuit::Circuit;
use kelvok_core::interlock::check;
use kelvok_core::machine::{Control, Machine, MachineDocument, Problem as DocumentProblem};
use kelvok_store::{MachineLine, Made, Revision, RevisionHead};
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
    /// As usual for its kind: described by its looks, nobody has traced it.
    pub usual: bool,
    /// What it came with and its maker never built.
    pub found: Vec<FoundView>,
    pub wires: usize,
    pub revision_id: Uuid,
    pub revision: i32,
}

impl MachineView {
    fn of(name: &str, circuit: &Circuit, revision: &RevisionHead) -> Self {
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
            usual: identity.source.is_usual(),
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
    pub revision: RevisionHead,
    circuit: Arc<Circuit>,
}

impl Known {
    pub async fn get(app: &App, name: &str) -> Result<Self, Problem> {
        let machine = app.store.machine(name).await?;
        let Revision { id, machine_id, revision, .. } = machine.newest;
        let revision = RevisionHead { id, machine_id, revision };
        let circuit = app.circuits.circuit(app, id).await?;
        Ok(Self { name: machine.name, machine_id: machine.id, revision, circuit })
    }

    pub fn circuit(&self) -> &Arc<Circuit> {
        &self.circuit
    }

    /// Its circuit with all that could be wrong with it.
    pub async fn compiled(&self, app: &App) -> Result<Arc<Compiled>, Problem> {
        app.circuits.compiled(app, self.revision.id).await
    }

    /// A question about this revision, by what it is.
    pub fn question(&self, asked: impl std::fmt::Debug) -> String {
        format!("{} {asked:?}", self.revision.id)
    }
}

/// A line of the machine list.
#[derive(Serialize, ToSchema)]
pub struct MachineSummary {
    #[serde(flatten)]
    pub machine: MachineView,
    /// Jobs that it had, at whatever revision.
    pub jobs: i64,
    /// When the last of them was opened.
    pub last_job_at: Option<DateTime<Utc>>,
}

/// A page of machines.
#[derive(Serialize, ToSchema)]
pub struct MachinesPage {
    pub machines: Vec<MachineSummary>,
    /// Machines on all pages.
    pub total: u64,
    /// Machines on a page.
    pub size: u64,
    /// Machines of this page whose document cannot be read.
    pub unreadable: Vec<UnreadableView>,
}

/// Machines that are wanted, at their newest revisions, a page of them by name. One whose document
/// cannot be read is told beside the others.
#[utoipa::path(get, operation_id = "list_machines", path = "/machines", params(Search),
    responses((status = 200, body = MachinesPage)))]
pub async fn list(
    State(app): State<App>,
    Query(search): Query<Search>,
) -> Result<Json<MachinesPage>, Problem> {
    let listed = app.store.machines(&search.into()).await?;
    let mut page = MachinesPage {
        machines: Vec::new(),
        total: listed.total,
        size: kelvok_store::PAGE,
        unreadable: listed.found.unreadable.iter().map(UnreadableView::of).collect(),
    };
    for line in listed.found {
        let MachineLine { name, newest, had } = line;
        match app.circuits.circuit(&app, newest.id).await {
            Ok(circuit) => page.machines.push(MachineSummary {
                machine: MachineView::of(&name, &circuit, &newest),
                jobs: had.map_or(0, |h| h.jobs),
                last_job_at: had.map(|h| h.last),
            }),
            Err(problem) if problem.status == 503 => return Err(problem),
            Err(problem) => page
                .unreadable
                .push(UnreadableView { place: None, why: format!("{name}: {}", problem.detail) }),
        }
    }
    Ok(Json(page))
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
        driven: drive.driven().to_owned(),
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

/// Bytes of a document beyond which it is looked through alone.
const LARGE: usize = 100_000;
/// A name in addresses has no more letters and digits than this.
const LONGEST_NAME: usize = 80;

/// A document that was read and found sound.
struct Sound {
    name: String,
    circuit: Circuit,
    problems: Vec<DocumentProblem>,
}

impl Sound {
    async fn ask(app: &App, text: String) -> Result<Reply<Self>, Problem> {
        let size = if text.len() > LARGE { Size::Large } else { Size::Ordinary };
        app.ask(format!("document {text}"), size, move || Self::read(&text)).await
    }

    fn read(text: &str) -> Result<Self, Problem> {
        let machine = Machine::read(text).map_err(|p| Problem::document(&p))?;
        let circuit = Circuit::compile(&machine);
        let problems = check(&circuit);
        if problems.iter().any(|p| !p.warning) {
            return Err(Problem::document(&problems));
        }
        let identity = &machine.document().identity;
        let name = address(&format!("{} {}", identity.make, identity.model));
        if name.len() > LONGEST_NAME {
            let sentence = format!(
                "Make and model together are too long: at most {LONGEST_NAME} letters and digits."
            );
            return Err(Problem::field("/identity/model", sentence));
        }
        if name.is_empty() {
            return Err(Problem::field("/identity", "Make and model hold no letter or digit."));
        }
        Ok(Self { name, circuit, problems })
    }
}

/// Looks a machine document through and keeps nothing.
#[utoipa::path(post, operation_id = "check_machine", path = "/machines/check", request_body = Object, responses(
    (status = 200, body = CheckedDocument),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 422, description = "Every mistake in the document, a sentence each", body = Problem),
    (status = 413, body = Problem),
))]
pub async fn check_document(State(app): State<App>, Text(text): Text) -> Result<Response, Problem> {
    let sound = match Sound::ask(&app, text).await? {
        Reply::Done(sound) => sound,
        working => return Ok(working.into_response_with(|_| StatusCode::OK.into_response())),
    };
    let revision = app.store.next_revision(&sound.name).await?;
    let document = sound.circuit.document();
    let checked = CheckedDocument {
        make: document.identity.make.clone(),
        model: document.identity.model.clone(),
        parts: document.parts.len(),
        wires: document.wires.len(),
        duties: document.duties.len(),
        revision,
        warnings: sound.problems.iter().map(FieldProblem::of).collect(),
        name: sound.name.clone(),
    };
    Ok(Json(checked).into_response())
}

/// Stores a machine document, as the newest revision of the machine of its make and model.
#[utoipa::path(post, operation_id = "save_machine", path = "/machines", params(MadeBy), request_body = Object, responses(
    (status = 200, body = MachineView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 422, description = "Every mistake in the document, a sentence each", body = Problem),
    (status = 413, body = Problem),
))]
pub async fn save(
    State(app): State<App>,
    Query(by): Query<MadeBy>,
    Text(text): Text,
) -> Result<Response, Problem> {
    let made = by.made("Taken in from a file")?;
    let sound = match Sound::ask(&app, text.clone()).await? {
        Reply::Done(sound) => sound,
        working => return Ok(working.into_response_with(|_| StatusCode::OK.into_response())),
    };
    let Revision { id, machine_id, revision, .. } =
        app.store.save_revision(&sound.name, &text, &made).await?;
    let head = RevisionHead { id, machine_id, revision };
    Ok(Json(MachineView::of(&sound.name, &sound.circuit, &head)).into_response())
}

/// Keeps a document that was changed here as the newest revision of its machine.
pub(crate) async fn keep_document(
    app: &App,
    name: &str,
    document: &MachineDocument,
    made: &Made,
) -> Result<Revision, Problem> {
    let text = serde_json::to_string_pretty(document).map_err(|_| Problem::internal())?;
    keep_text(app, name, &text, made).await
}

/// Keeps a document's text as the newest revision of its machine, if it is sound.
pub(crate) async fn keep_text(
    app: &App,
    name: &str,
    text: &str,
    made: &Made,
) -> Result<Revision, Problem> {
    let checked = text.to_owned();
    aside(move || Sound::read(&checked)).await??;
    Ok(app.store.save_revision(name, text, made).await?)
}

/// A name for addresses: small letters, digits and single dashes.
fn address(name: &str) -> String {
    let plain = |c: char| if c.is_ascii_alphanumeric() { c.to_ascii_lowercase() } else { '-' };
    let dashed: String = name.chars().map(plain).collect();
    dashed.split('-').filter(|word| !word.is_empty()).collect::<Vec<_>>().join("-")
}
