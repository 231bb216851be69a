//! What is recorded of a release.

use super::view::{ReleaseView, Releasing};
use crate::app::App;
use crate::http::bodies::{Body, Path};
use crate::http::input;
use crate::http::problem::{FieldProblem, Problem};
use crate::jobs::evidence::VoidRequest;
use crate::views::names::{SetUpView, condition_view};
use crate::work::desk::{Progress, Reply};
use axum::extract::State;
use axum::http::StatusCode;
use kelvok_core::diagnosis::{Entry, Source};
use kelvok_core::release::{PlannedStep, ReleaseEntry, TriedStep};
use kelvok_store::{JobStatus, StoreError};
use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// Something of a release, to be recorded.
#[derive(Deserialize, ToSchema)]
pub struct RecordRelease {
    /// Made by the client (UUIDv7), so that a retry records it once.
    pub id: Uuid,
    pub by: String,
    pub entry: ReleaseEntry,
}

/// What to try before a job's machine goes back, and how far that is.
#[utoipa::path(get, operation_id = "release", path = "/jobs/{id}/release", params(("id" = Uuid, Path)),
    responses((status = 200, body = ReleaseView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem)))]
pub async fn get(
    State(app): State<App>,
    Path(id): Path<Uuid>,
) -> Result<Reply<ReleaseView>, Problem> {
    let releasing = Releasing::get(&app, id).await?;
    let question = releasing.question("view");
    let size = releasing.loaded.size();
    app.ask(question, size, move || Ok(releasing.view())).await
}

/// Records what was seen at a step, read on a fuse, or looked for with the meter; or signs. A step that was not as it
/// should be goes into the job's evidence, too. Whoever signs closes the job.
#[utoipa::path(post, operation_id = "record_release", path = "/jobs/{id}/release/entries",
    params(("id" = Uuid, Path)), request_body = RecordRelease,
    responses((status = 200, body = ReleaseView),
    (status = 202, description = "It is being worked out; send it again as it is", body = Progress),
    (status = 404, body = Problem),
    (status = 409, description = "The job is closed, the drawing changed, or something blocks", body = Problem),
    (status = 422, description = "A name or a figure is wrong", body = Problem)))]
pub async fn record(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(record): Body<RecordRelease>,
) -> Result<Reply<ReleaseView>, Problem> {
    let by = input::person(&record.by)?;
    let releasing = Releasing::get(&app, id).await?;
    let circuit = releasing.loaded.compiled.circuit().clone();
    let entry = trimmed(record.entry)?;
    if let Some((field, sentence)) = entry.problem(&circuit) {
        return Err(Problem::field(field, sentence));
    }
    // What was recorded before is answered with, however it stands by now.
    if !releasing.has(record.id) {
        let size = releasing.loaded.size();
        let (checked, question) = (entry.clone(), releasing.question(("may", &entry)));
        let check = move || releasing.may_be_recorded(&checked);
        let evidence = match app.ask(question, size, check).await? {
            Reply::Done(evidence) => evidence.to_vec(),
            Reply::Working(progress) => return Ok(Reply::Working(progress)),
        };
        // The evidence first: where it is sent again, what is missing of both comes in, and each once.
        for (place, entry) in (1..).zip(&evidence) {
            let own = Uuid::from_u128(record.id.as_u128().wrapping_add(place));
            app.store.append_evidence(id, own, &by, entry).await?;
        }
        app.store.append_release_entry(id, record.id, &by, &entry).await?;
    }
    get(State(app), Path(id)).await
}

/// Takes an entry back; it stays in the log, struck through. What went into the evidence with it is taken back, too.
#[utoipa::path(post, operation_id = "void_release", path = "/jobs/{id}/release/entries/{entry}/void",
    params(("id" = Uuid, Path), ("entry" = Uuid, Path)), request_body = VoidRequest,
    responses((status = 200, body = ReleaseView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn void(
    State(app): State<App>,
    Path((id, entry)): Path<(Uuid, Uuid)>,
    Body(void): Body<VoidRequest>,
) -> Result<Reply<ReleaseView>, Problem> {
    let void = void.checked()?;
    let job = app.store.job(id).await?;
    if job.status == JobStatus::Closed {
        return Err(StoreError::Closed(job.number).into());
    }
    app.store.void_release_entry(id, entry, &void).await?;
    let evidence = app.store.evidence(id).await?;
    let own = (1..=2).map(|place| Uuid::from_u128(entry.as_u128().wrapping_add(place)));
    for seen in own.filter(|own| evidence.iter().any(|e| e.id == *own)) {
        app.store.void_evidence(id, seen, &void).await?;
    }
    get(State(app), Path(id)).await
}

/// Names and words without what stands around them.
fn trimmed(entry: ReleaseEntry) -> Result<ReleaseEntry, Problem> {
    let line = |field: &str, text: &str| input::line(field, text, 80);
    Ok(match entry {
        ReleaseEntry::Signed { name, role, strokes } => {
            ReleaseEntry::Signed { name: line("name", &name)?, role: line("role", &role)?, strokes }
        }
        ReleaseEntry::Returned { name, reason } => {
            let reason = input::words("reason", &reason, 400)?;
            ReleaseEntry::Returned { name: line("name", &name)?, reason }
        }
        ReleaseEntry::Checked { fault, bad, how } => {
            ReleaseEntry::Checked { fault, bad, how: input::words("how", &how, 400)? }
        }
        ReleaseEntry::Cause { unit, how } => {
            ReleaseEntry::Cause { unit, how: input::words("how", &how, 400)? }
        }
        step_or_fuse => step_or_fuse,
    })
}

impl Releasing {
    fn has(&self, id: Uuid) -> bool {
        self.entries.iter().any(|e| e.id == id)
    }

    /// What goes into the evidence with an entry, if it may be recorded at all.
    fn may_be_recorded(&self, entry: &ReleaseEntry) -> Result<Vec<Entry>, Problem> {
        let conflict = |sentence: String| Problem::new(StatusCode::CONFLICT, sentence);
        if self.loaded.job.status == JobStatus::Closed {
            return Err(StoreError::Closed(self.loaded.job.number).into());
        }
        match entry {
            ReleaseEntry::Step { tried, saw, revision, .. } => {
                let circuit = self.loaded.compiled.circuit();
                let off = SetUpView::all(circuit, &self.loaded.still_off());
                if !off.is_empty() || self.loaded.jumper_on() {
                    let names = off.iter().map(|s| s.name.as_str());
                    let cables = self.loaded.jumper_on().then_some("jumper cables");
                    let names: Vec<_> = names.chain(cables).collect();
                    return Err(conflict(format!(
                        "To put back first: {}. Like that it is another machine.",
                        names.join(", ")
                    )));
                }
                let own = |p: &&PlannedStep| TriedStep::of(circuit, &p.step) == *tried;
                let planned = self.plan().steps.iter().find(own);
                let Some(planned) = planned.filter(|_| *revision == self.revision) else {
                    return Err(conflict(
                        "The drawing was changed meanwhile, and with it what is to be tried. Look \
                         at the step again."
                            .to_owned(),
                    ));
                };
                if *saw == tried.expected {
                    return Ok(Vec::new());
                }
                let seen = planned.step.evidence(*saw).into_iter();
                Ok(seen
                    .map(|(condition, observation)| Entry {
                        condition: condition_view(circuit, &condition),
                        engine: condition.engine,
                        set_up: Vec::new(),
                        observation,
                        repeats: 1,
                        source: Source::Tested,
                        at_times: false,
                        times_an_hour: None,
                        celsius: None,
                        idle: false,
                    })
                    .collect())
            }
            ReleaseEntry::Signed { .. } => {
                let blockers = self.view().blockers;
                if blockers.is_empty() {
                    return Ok(Vec::new());
                }
                let mut problem = conflict(format!(
                    "It can’t be released yet: {}",
                    blockers.iter().map(|b| b.says.as_str()).collect::<Vec<_>>().join(" ")
                ));
                problem.errors = blockers
                    .into_iter()
                    .map(|b| FieldProblem { field: "entry".to_owned(), sentence: b.says })
                    .collect();
                Err(problem)
            }
            _ => Ok(Vec::new()),
        }
    }
}
