//! A machine's drawing changed by hand: steps looked through, kept, or read from a wire list.

use super::harness::when_words;
use super::library::{Known, keep_document};
use super::revisions::{DifferenceView, difference_view};
use crate::app::App;
use crate::http::bodies::{Body, Path, Query, Text};
use crate::http::problem::{FieldProblem, Problem};
use crate::machines::MadeBy;
use crate::work::desk::{Progress, Reply, Size, aside};
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use kelvok_core::edit::{Edit, EditError, MOST_EDITS, PlacedProblem, Review, wire_list_edits};
use kelvok_core::machine::{Contact, MachineDocument, Normally, PartKind, Provenance, Wire, lower};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// Where what is edited is known from.
#[derive(Clone, Copy, Debug, Default, Deserialize, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum EditedFrom {
    /// Seen on the machine itself.
    #[default]
    Traced,
    Drawing,
    Manual,
}

impl EditedFrom {
    fn provenance(self) -> Provenance {
        match self {
            Self::Traced => Provenance::Traced,
            Self::Drawing => Provenance::Drawing,
            Self::Manual => Provenance::Manual,
        }
    }
}

/// Steps on top of a revision, in order.
#[derive(Debug, Deserialize, ToSchema)]
pub struct Edits {
    /// The revision that they were made on, by number.
    pub revision: i32,
    #[serde(default)]
    pub source: EditedFrom,
    /// At most 500.
    pub steps: Vec<Edit>,
}

/// The drawing with the steps taken, to be edited on.
#[derive(Serialize, ToSchema)]
pub struct EditedView {
    /// The steps in words.
    pub told: Vec<String>,
    pub wires: Vec<EditedWire>,
    pub parts: Vec<EditedPart>,
    /// Everywhere a wire may end, in the order of the parts.
    pub terminals: Vec<EditedTerminal>,
    /// What is wrong, errors first.
    pub problems: Vec<PlacedProblem>,
    /// It can be kept: nothing is wrong but warnings.
    pub sound: bool,
    /// What it has otherwise than the revision; null while something is wrong.
    pub difference: Option<DifferenceView>,
}

#[derive(Serialize, ToSchema)]
pub struct EditedWire {
    pub id: String,
    pub name: String,
    pub color: Option<String>,
    pub from: String,
    pub to: String,
    pub gauge: Option<u8>,
    pub length_m: Option<f64>,
    pub source: String,
    /// A step put it in or changed it.
    pub edited: bool,
}

#[derive(Serialize, ToSchema)]
pub struct EditedPart {
    pub id: String,
    pub name: String,
    pub kind: PartKind,
    /// Those that a hand or a linkage works.
    pub contacts: Vec<EditedContact>,
    pub wires: usize,
    /// Another one like it can be added.
    pub copies: bool,
}

#[derive(Serialize, ToSchema)]
pub struct EditedContact {
    /// With its part: "seat.start".
    pub address: String,
    pub name: String,
    /// Open with nothing pushing the plunger; null where a hand turns it.
    pub open_at_rest: Option<bool>,
    /// Of what a hand turns, when it closes: "key at run or start".
    pub closed_when: Option<String>,
}

#[derive(Serialize, ToSchema)]
pub struct EditedTerminal {
    pub address: String,
    pub name: String,
}

/// A drawing that was edited, kept.
#[derive(Serialize, ToSchema)]
pub struct EditKept {
    pub revision_id: Uuid,
    pub revision: i32,
}

impl Edits {
    /// The document with the steps taken.
    fn applied(&self, base: &MachineDocument) -> Result<MachineDocument, Problem> {
        if self.steps.len() > MOST_EDITS {
            let sentence = format!("At most {MOST_EDITS} changes at once: keep what you have.");
            return Err(Problem::field("/steps", sentence));
        }
        let wrong = |e: EditError| Problem::field(&format!("/steps/{}", e.step), e.sentence);
        Edit::all(base, &self.steps, self.source.provenance()).map_err(wrong)
    }

    /// Refused where somebody kept a newer drawing meanwhile.
    fn is_current(&self, known: &Known) -> Result<(), Problem> {
        if self.revision == known.revision.revision {
            return Ok(());
        }
        let sentence = format!(
            "Somebody changed this drawing meanwhile: it is at revision {}, and you began at {}. \
             Your changes are kept.",
            known.revision.revision, self.revision
        );
        Err(Problem::new(StatusCode::CONFLICT, sentence))
    }
}

/// Looks through what steps make of a machine's drawing, and keeps nothing.
#[utoipa::path(post, operation_id = "review_edit", path = "/machines/{name}/edit/review",
    params(("name" = String, Path)), request_body = Edits,
    responses((status = 200, body = EditedView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem),
    (status = 409, description = "Somebody kept a newer drawing meanwhile", body = Problem),
    (status = 422, description = "A step cannot be taken; its field says which", body = Problem)))]
pub async fn review(
    State(app): State<App>,
    Path(name): Path<String>,
    Body(edits): Body<Edits>,
) -> Result<Reply<EditedView>, Problem> {
    let known = Known::get(&app, &name).await?;
    edits.is_current(&known)?;
    let question = known.question(&edits);
    app.ask(question, Size::Ordinary, move || looked_through(&known, &edits)).await
}

fn looked_through(known: &Known, edits: &Edits) -> Result<EditedView, Problem> {
    let base = known.circuit().document();
    let document = edits.applied(base)?;
    let Review { problems, circuit } = Review::of(&document);
    let number = known.revision.revision;
    let difference = match &circuit {
        Some(new) if !edits.steps.is_empty() => {
            let new = Arc::new(new.clone());
            Some(difference_view((number, known.circuit()), (number + 1, &new))?)
        }
        _ => None,
    };
    Ok(EditedView {
        told: Edit::told(base, &edits.steps, edits.source.provenance()),
        wires: wires(base, &document),
        parts: document.parts.iter().filter_map(|p| part(&document, &p.id)).collect(),
        terminals: terminals(&document),
        problems,
        sound: circuit.is_some(),
        difference,
    })
}

fn wires(base: &MachineDocument, document: &MachineDocument) -> Vec<EditedWire> {
    let as_before = |w: &Wire| {
        let same =
            |b: &&Wire| b.id == w.id && (&b.from, &b.to, &b.color) == (&w.from, &w.to, &w.color);
        base.wires.iter().any(|b| same(&b) && (b.gauge, b.length_m) == (w.gauge, w.length_m))
    };
    let view = |w: &Wire| EditedWire {
        id: w.id.clone(),
        name: document.wire_name(w).to_string(),
        color: w.color.clone(),
        from: w.from.clone(),
        to: w.to.clone(),
        gauge: w.gauge,
        length_m: w.length_m,
        source: w.source.unwrap_or(document.identity.source).plain().to_owned(),
        edited: !as_before(w),
    };
    document.wires.iter().map(view).collect()
}

/// A part as it can be edited; plugs are edited with what they are on.
fn part(document: &MachineDocument, id: &str) -> Option<EditedPart> {
    let part = document.parts.iter().find(|p| p.id == id && p.mates.is_empty())?;
    let contact = |c: &Contact| EditedContact {
        address: format!("{}.{}", part.id, c.id),
        name: c.name.clone(),
        open_at_rest: c.normally.map(|n| n == Normally::Open),
        closed_when: c.made_when.as_deref().map(when_words),
    };
    let lands = |address: &String| document.landing(address).part == part.id;
    let contacts = part.contacts.iter().filter(|_| part.kind.is_switch());
    Some(EditedPart {
        id: part.id.clone(),
        name: part.name.clone(),
        kind: part.kind,
        contacts: contacts.map(contact).collect(),
        wires: document.wires.iter().filter(|w| lands(&w.from) || lands(&w.to)).count(),
        copies: !matches!(part.kind, PartKind::Battery),
    })
}

fn terminals(document: &MachineDocument) -> Vec<EditedTerminal> {
    let ends = document.parts.iter().flat_map(|p| {
        let own = p.mates.keys().chain(&p.terminals);
        let end = |t: &String| EditedTerminal {
            address: format!("{}.{t}", p.id),
            name: format!("{} {t}", lower(&p.name)),
        };
        own.map(end).collect::<Vec<_>>()
    });
    ends.collect()
}

/// Keeps a machine's drawing with the steps taken, as its newest revision.
#[utoipa::path(post, operation_id = "keep_edit", path = "/machines/{name}/edit",
    params(("name" = String, Path), MadeBy), request_body = Edits,
    responses((status = 200, body = EditKept), (status = 404, body = Problem),
    (status = 409, description = "Somebody kept a newer drawing meanwhile", body = Problem),
    (status = 422, description = "A step cannot be taken, or the drawing would have mistakes", body = Problem)))]
pub async fn keep(
    State(app): State<App>,
    Path(name): Path<String>,
    Query(by): Query<MadeBy>,
    Body(edits): Body<Edits>,
) -> Result<Json<EditKept>, Problem> {
    let made = by.made("Edited by hand")?;
    let known = Known::get(&app, &name).await?;
    edits.is_current(&known)?;
    if edits.steps.is_empty() {
        return Err(Problem::field("/steps", "Nothing was changed: there is nothing to keep."));
    }
    let base = known.circuit().clone();
    let document = aside(move || edits.applied(base.document())).await??;
    let kept = keep_document(&app, &known.name, &document, &made).await?;
    Ok(Json(EditKept { revision_id: kept.id, revision: kept.revision }))
}

/// Reads a wire list (comma-separated, as `wires.csv` is) and says which steps it comes to; keeps nothing.
#[utoipa::path(post, operation_id = "read_wire_list", path = "/machines/{name}/edit/wire-list",
    params(("name" = String, Path)), request_body(content = String, content_type = "text/csv"),
    responses((status = 200, body = Vec<Edit>), (status = 404, body = Problem),
    (status = 422, description = "Rows that cannot be read; each field is a line", body = Problem)))]
pub async fn wire_list(
    State(app): State<App>,
    Path(name): Path<String>,
    Text(text): Text,
) -> Result<Json<Vec<Edit>>, Problem> {
    let known = Known::get(&app, &name).await?;
    let circuit = known.circuit().clone();
    let read = aside(move || wire_list_edits(circuit.document(), &text)).await?;
    read.map(Json).map_err(|rows| {
        let field = |row: kelvok_core::edit::RowProblem| FieldProblem {
            field: format!("line {}", row.line),
            sentence: row.sentence,
        };
        let mut problem = Problem::new(
            StatusCode::UNPROCESSABLE_ENTITY,
            "This wire list cannot be read. Nothing was changed.",
        );
        problem.errors = rows.into_iter().map(field).collect();
        problem
    })
}
