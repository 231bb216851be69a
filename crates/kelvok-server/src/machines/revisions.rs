//! The revisions of a machine's document: who made them, what each has otherwise than another, and back.

use super::library::{Known, keep_text};
use crate::app::App;
use crate::http::bodies::{Path, Query};
use crate::http::input;
use crate::http::problem::Problem;
use crate::views::names::condition_view;
use crate::work::desk::{Progress, Reply, Size};
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use kelvok_core::circuit::Circuit;
use kelvok_core::interlock::Effect;
use kelvok_core::revision::{
    DecisionChanges, DrawingChange, DrawnThing, DutyChange, How, SentenceChange, drawing_changes,
};
use kelvok_store::{Made, RevisionLine};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Who makes a revision, and what for.
#[derive(Default, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct MadeBy {
    /// Whoever does it, as in the list of people.
    #[param(required = false)]
    #[serde(default)]
    by: String,
    /// What for, in a line; what was done here says so itself if nothing is given.
    #[param(required = false)]
    #[serde(default)]
    reason: String,
}

impl MadeBy {
    /// With what it is for if nothing else is said.
    pub(crate) fn made(&self, usually: &str) -> Result<Made, Problem> {
        let some = |text: String| (!text.is_empty()).then_some(text);
        let reason = some(input::line("reason", &self.reason, 400)?);
        Ok(Made {
            by: some(input::line("by", &self.by, 80)?),
            reason: reason.or_else(|| Some(usually.to_owned())),
        })
    }
}

/// A revision in a machine's list.
#[derive(Serialize, ToSchema)]
pub struct RevisionView {
    pub id: Uuid,
    pub revision: i32,
    pub made_at: DateTime<Utc>,
    pub by: Option<String>,
    pub reason: Option<String>,
    /// Jobs that are on it.
    pub jobs: i64,
}

impl From<RevisionLine> for RevisionView {
    fn from(line: RevisionLine) -> Self {
        Self {
            id: line.head.id,
            revision: line.head.revision,
            made_at: line.made_at,
            by: line.made.by,
            reason: line.made.reason,
            jobs: line.jobs,
        }
    }
}

/// Every revision of a machine, the newest first.
#[utoipa::path(get, operation_id = "list_revisions", path = "/machines/{name}/revisions",
    params(("name" = String, Path)),
    responses((status = 200, body = Vec<RevisionView>), (status = 404, body = Problem)))]
pub async fn list(
    State(app): State<App>,
    Path(name): Path<String>,
) -> Result<Json<Vec<RevisionView>>, Problem> {
    let machine = app.store.machine(&name).await?;
    let lines = app.store.revisions(machine.id).await?;
    Ok(Json(lines.into_iter().map(RevisionView::from).collect()))
}

/// Two revisions of a machine, by number.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct Between {
    /// The one before; 1 is the first.
    from: i32,
    to: i32,
}

/// What one revision has otherwise than another.
#[derive(Serialize, ToSchema)]
pub struct DifferenceView {
    pub from: i32,
    pub to: i32,
    /// What is drawn otherwise, wires first.
    pub drawing: Vec<DrawingChangeView>,
    pub decides: DecidesOtherwise,
}

#[derive(Serialize, ToSchema)]
pub struct DrawingChangeView {
    #[serde(flatten)]
    pub change: DrawingChange,
    /// The whole of it.
    pub sentence: String,
}

/// What it decides otherwise.
#[derive(Serialize, ToSchema)]
pub struct DecidesOtherwise {
    /// A duty is broken, or it cranks, starts or drives where it did not, or no longer stops.
    pub less_safe: bool,
    pub sentences: Vec<SentenceChange>,
    pub duties: Vec<DutyChangeView>,
    /// None where the controls are others.
    pub conditions: Option<Vec<ConditionChangeView>>,
}

#[derive(Serialize, ToSchema)]
pub struct DutyChangeView {
    #[serde(flatten)]
    pub change: DutyChange,
    pub says: String,
}

#[derive(Serialize, ToSchema)]
pub struct ConditionChangeView {
    pub effect: Effect,
    /// It does it now; else it did before.
    pub now: bool,
    /// In how many combinations of the controls.
    pub count: usize,
    /// It cranks, starts or drives where it did not, or no longer stops.
    pub less_safe: bool,
    pub says: String,
    /// The first of them: position by control.
    pub first: BTreeMap<String, String>,
    pub first_says: String,
}

/// What a revision of a machine has otherwise than another, drawn and decided.
#[utoipa::path(get, operation_id = "difference_of_revisions", path = "/machines/{name}/difference",
    params(("name" = String, Path), Between), responses((status = 200, body = DifferenceView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn difference(
    State(app): State<App>,
    Path(name): Path<String>,
    Query(between): Query<Between>,
) -> Result<Reply<DifferenceView>, Problem> {
    let machine = app.store.machine(&name).await?;
    let before = app.store.revision_numbered(machine.id, between.from).await?;
    let after = app.store.revision_numbered(machine.id, between.to).await?;
    let question = format!("difference {} {}", before.id, after.id);
    let old = app.circuits.circuit(&app, before.id).await?;
    let new = app.circuits.circuit(&app, after.id).await?;
    let (from, to) = (before.revision, after.revision);
    app.ask(question, Size::Ordinary, move || difference_view((from, &old), (to, &new))).await
}

/// What one circuit has otherwise than another, each with the number of its revision.
pub(super) fn difference_view(
    (before, old): (i32, &Arc<Circuit>),
    (after, new): (i32, &Arc<Circuit>),
) -> Result<DifferenceView, Problem> {
    let drawing = drawing_changes(old.document(), new.document()).into_iter();
    let decides = DecisionChanges::between(old, new)?;
    let less_safe = decides.is_less_safe();
    let duties = decides.duties.into_iter();
    let conditions = decides.conditions.map(|all| {
        let seen = all.into_iter().map(|c| ConditionChangeView {
            effect: c.effect,
            now: c.now,
            count: c.count,
            less_safe: c.is_less_safe(),
            says: c.says(new),
            first: condition_view(new, &c.first),
            first_says: c.first_says(new),
        });
        seen.collect()
    });
    Ok(DifferenceView {
        from: before,
        to: after,
        drawing: drawing
            .map(|change| DrawingChangeView { sentence: change.sentence(), change })
            .collect(),
        decides: DecidesOtherwise {
            less_safe,
            sentences: decides.sentences,
            duties: duties.map(|d| DutyChangeView { says: d.says(), change: d }).collect(),
            conditions,
        },
    })
}

/// Which revision is to be the machine's newest again.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct BackTo {
    revision: i32,
    /// Whoever does it.
    #[param(required = false)]
    #[serde(default)]
    by: String,
    /// What it came in with and the earlier drawing does not have, a bridge say, was taken off the machine.
    #[param(required = false)]
    #[serde(default)]
    taken_off: bool,
}

/// Makes an earlier revision's document the machine's newest. Nothing is lost: what came between stays in the list,
/// and jobs stay on the revision that they are on.
#[utoipa::path(post, operation_id = "restore_revision", path = "/machines/{name}/revisions",
    params(("name" = String, Path), BackTo), responses((status = 200, body = Vec<RevisionView>),
    (status = 404, body = Problem),
    (status = 409, description = "What the machine came in with is not in that drawing: was it taken off?", body = Problem),
    (status = 422, description = "Its document is not sound by the rules of today", body = Problem)))]
pub async fn restore(
    State(app): State<App>,
    Path(name): Path<String>,
    Query(wanted): Query<BackTo>,
) -> Result<Json<Vec<RevisionView>>, Problem> {
    let known = Known::get(&app, &name).await?;
    let earlier = app.store.revision_numbered(known.machine_id, wanted.revision).await?;
    if !wanted.taken_off {
        let before = app.circuits.circuit(&app, earlier.id).await?;
        still_on(known.circuit(), &before)?;
    }
    let by = MadeBy { by: wanted.by, reason: String::new() };
    let made = by.made(&format!("Back to revision {}", wanted.revision))?;
    keep_text(&app, &known.name, &earlier.document, &made).await?;
    list(State(app), Path(name)).await
}

/// Refused while something that the machine came in with is nowhere in a drawing: a bridge does not come off a
/// machine by going back to a drawing without it.
fn still_on(now: &Circuit, before: &Circuit) -> Result<(), Problem> {
    let changes = drawing_changes(now.document(), before.document()).into_iter();
    let gone = changes.filter(|c| c.thing == DrawnThing::AsFound && c.how == How::Gone);
    let gone: Vec<String> = gone.map(|c| c.name).collect();
    if gone.is_empty() {
        return Ok(());
    }
    let sentence = format!(
        "This machine came in with: {}. That drawing doesn't have it. Is it off the machine now?",
        gone.join("; ")
    );
    Err(Problem::new(StatusCode::CONFLICT, sentence))
}
