//! A job's story out and in: JSON with a schema, and comma-separated values.

use crate::app::App;
use crate::http::attachment::{CSV, attachment};
use crate::http::bodies::{Body, Path};
use crate::http::input;
use crate::http::problem::Problem;
use crate::jobs::evidence::VoidedView;
use crate::jobs::job::{JobView, view};
use crate::jobs::loaded::Loaded;
use crate::views::names::UnitView;
use axum::Json;
use axum::extract::State;
use axum::response::Response;
use chrono::{DateTime, SecondsFormat, Utc};
use kelvok_core::circuit::Circuit;
use kelvok_core::diagnosis::{
    Entry, ObservationEntry, STORY_FORMAT, Signed, StoryDocument, StoryEntry, StoryError,
    StoryVerdict, Unit,
};
use kelvok_store::{LogEntry, NewJob, Story, Verdict, Voided, recordable};
use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// The whole story of a job, as JSON.
#[utoipa::path(get, operation_id = "export_story", path = "/jobs/{id}/story.json", params(("id" = Uuid, Path)),
    responses((status = 200, body = StoryDocument), (status = 404, body = Problem)))]
pub async fn json(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    let (number, story) = story(&app, id).await?;
    let text = serde_json::to_string_pretty(&story).map_err(|_| Problem::internal())?;
    Ok(attachment(&format!("job {number}.json"), "application/json", text + "\n"))
}

/// The entries of a job, a line each.
#[utoipa::path(get, operation_id = "export_story_csv", path = "/jobs/{id}/story.csv", params(("id" = Uuid, Path)),
    responses((status = 200, content_type = "text/csv", body = String), (status = 404, body = Problem)))]
pub async fn csv(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    let (number, story) = story(&app, id).await?;
    Ok(attachment(&format!("job {number}.csv"), CSV, story.to_csv()))
}

/// Nothing where the time that was kept is none.
fn time(at: Option<DateTime<Utc>>) -> String {
    at.map(|at| at.to_rfc3339_opts(SecondsFormat::Micros, true)).unwrap_or_default()
}

fn signed(by: &str, at: Option<DateTime<Utc>>) -> Signed {
    Signed { by: by.to_owned(), at: time(at), reason: String::new() }
}

fn taken_back(voided: VoidedView) -> Signed {
    Signed { by: voided.by, at: time(voided.at), reason: voided.reason }
}

async fn story(app: &App, id: Uuid) -> Result<(i64, StoryDocument), Problem> {
    let loaded = Loaded::get(app, id).await?;
    let identity = &loaded.compiled.circuit().document().identity;
    let verdicts = app.store.verdicts(id).await?.into_iter().map(|v| StoryVerdict {
        units: v.body.units,
        probability: v.body.probability,
        confirmed: v.body.confirmed,
        note: v.body.note,
        recorded: signed(&v.recorded_by, v.recorded_at),
        voided: v.voided.map(|v| taken_back(v.into())),
    });
    let story = StoryDocument {
        format: STORY_FORMAT.to_owned(),
        machine: format!("{} {}", identity.make, identity.model),
        tag: loaded.job.tag.clone(),
        owner: loaded.job.owner.clone(),
        complaint: loaded.job.complaint.clone(),
        serial: loaded.job.serial.clone(),
        hours: loaded.job.hours,
        verdicts: verdicts.collect(),
        entries: loaded
            .evidence
            .iter()
            .map(|e| StoryEntry {
                entry: e.body.clone(),
                recorded: signed(&e.recorded_by, e.recorded_at),
                voided: e.voided.clone().map(|v| taken_back(v.into())),
            })
            .collect(),
    };
    Ok((loaded.job.number, story))
}

#[derive(Deserialize, ToSchema)]
pub struct BringIn {
    /// Made by the client (UUIDv7), so that a retry brings it in once.
    pub id: Uuid,
    pub revision_id: Uuid,
    /// The story: its JSON, or its comma-separated values.
    pub text: String,
    /// Who brings it in; signs what nobody signed.
    pub by: String,
}

/// Opens a job from a story, on a machine it fits.
#[utoipa::path(post, operation_id = "bring_in_story", path = "/jobs/stories", request_body = BringIn,
    responses((status = 200, body = JobView), (status = 422, body = Problem)))]
pub async fn bring_in(
    State(app): State<App>,
    Body(asked): Body<BringIn>,
) -> Result<Json<JobView>, Problem> {
    let by = input::person(&asked.by)?;
    let story = read(&asked.text)?;
    let circuit = &*app.circuits.circuit(&app, asked.revision_id).await?;
    let now = Utc::now();
    let mut evidence = Vec::new();
    for (i, line) in story.entries.into_iter().enumerate() {
        let at = |sentence: String| Problem::field("text", format!("Entry {}: {sentence}", i + 1));
        line.entry.resolve(circuit, i as u64 + 1).map_err(|e| at(format!("{e}.")))?;
        plain(&line.entry).map_err(|p| at(p.detail))?;
        evidence.push(LogEntry {
            id: Uuid::now_v7(),
            sequence: i as i64 + 1,
            body: line.entry,
            recorded_by: signer(&line.recorded, &by),
            recorded_at: Some(moment(&line.recorded.at, now).map_err(at)?),
            voided: voided(line.voided, &by, now).map_err(at)?,
        });
    }
    let first = evidence.len() as i64 + 1;
    let mut verdicts = Vec::new();
    for (i, verdict) in story.verdicts.into_iter().enumerate() {
        let at =
            |sentence: String| Problem::field("text", format!("Verdict {}: {sentence}", i + 1));
        known(circuit, &verdict.units).map_err(at)?;
        verdicts.push(LogEntry {
            id: Uuid::now_v7(),
            sequence: first + i as i64,
            recorded_by: signer(&verdict.recorded, &by),
            recorded_at: Some(moment(&verdict.recorded.at, now).map_err(at)?),
            voided: voided(verdict.voided, &by, now).map_err(at)?,
            body: Verdict {
                names: named(circuit, &verdict.units),
                units: verdict.units,
                probability: verdict.probability,
                confirmed: verdict.confirmed,
                note: input::fitted_words(&verdict.note, 2000),
                kind: None,
            },
        });
    }
    let complaint = match input::fitted_words(&story.complaint, 2000) {
        complaint if complaint.is_empty() => "Brought in from a file.".to_owned(),
        complaint => complaint,
    };
    let job = NewJob {
        id: asked.id,
        revision_id: asked.revision_id,
        tag: input::fitted(&story.tag, 80),
        owner: input::fitted(&story.owner, 120),
        complaint,
        serial: input::fitted(&story.serial, 80),
        hours: story.hours.filter(|h| (0.0..=1e6).contains(h)),
    };
    app.store.bring_in(Story { job, evidence, verdicts }).await?;
    Ok(Json(view(&app, asked.id).await?))
}

/// Reads a story of either kind.
fn read(text: &str) -> Result<StoryDocument, Problem> {
    let json = text.trim_start_matches('\u{feff}').trim_start().starts_with('{');
    let story = if json { StoryDocument::read(text) } else { StoryDocument::read_csv(text) };
    story.map_err(|error| {
        let sentence = match &error {
            StoryError::Shape { .. } | StoryError::Line { .. } => format!("At {error}."),
            StoryError::Format(_) => format!("{error}."),
        };
        Problem::field("text", sentence)
    })
}

/// Whether what was typed in an entry is text as a person would be let type it.
fn plain(entry: &Entry) -> Result<(), Problem> {
    match &entry.observation {
        ObservationEntry::Reading { typed, .. } => input::line("typed", typed, 40).map(|_| ()),
        ObservationEntry::Note { text } => input::words("text", text, 2000).map(|_| ()),
        _ => Ok(()),
    }
}

/// What units that are known are called.
fn named(circuit: &Circuit, units: &[String]) -> Vec<String> {
    let units = units.iter().filter_map(|u| Unit::named(circuit, u).ok());
    units.map(|u| UnitView::of(circuit, u).name).collect()
}

fn known(circuit: &Circuit, units: &[String]) -> Result<(), String> {
    if units.is_empty() {
        return Err("it names no unit.".to_owned());
    }
    units.iter().try_for_each(|u| match Unit::named(circuit, u) {
        Ok(_) => Ok(()),
        Err(_) => Err(format!("this machine has no unit \"{u}\".")),
    })
}

fn signer(recorded: &Signed, by: &str) -> String {
    match input::fitted(&recorded.by, 80) {
        nobody if nobody.is_empty() => by.to_owned(),
        name => name,
    }
}

/// A time as the story has it; now where it has none.
fn moment(at: &str, now: DateTime<Utc>) -> Result<DateTime<Utc>, String> {
    match at.trim() {
        "" => Ok(now),
        at => {
            let parsed = at.parse().map_err(|_| format!("\"{at}\" is no time (RFC 3339)."))?;
            recordable(parsed).map_err(|e| format!("{e}."))
        }
    }
}

fn voided(voided: Option<Signed>, by: &str, now: DateTime<Utc>) -> Result<Option<Voided>, String> {
    let Some(signed) = voided else { return Ok(None) };
    Ok(Some(Voided {
        at: Some(moment(&signed.at, now)?),
        by: signer(&signed, by),
        reason: input::fitted_words(&signed.reason, 400),
    }))
}
