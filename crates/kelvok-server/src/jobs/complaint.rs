//! A complaint taken by its symptom: both halves of it go into the log, as told.

use crate::app::App;
use crate::http::bodies::{Body, Path};
use crate::http::input;
use crate::http::problem::Problem;
use crate::jobs::job::{JobView, view};
use crate::work::desk::aside;
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::Circuit;
use kelvok_core::complaint::{Symptom, When, menu};
use kelvok_core::diagnosis::{Entry, ObservationEntry, Source};
use serde::Deserialize;
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// A symptom that the customer tells of.
#[derive(Deserialize, ToSchema)]
pub struct Complained {
    /// Made by the client (UUIDv7), so that a retry takes it once; its entries are named after it.
    pub id: Uuid,
    /// Who takes it.
    pub by: String,
    pub symptom: Symptom,
    /// One of those that the machine can have it at.
    pub when: When,
    /// What it comes to, where that was read from a sentence or corrected; else as the machine has it.
    #[serde(default)]
    pub entries: Vec<Entry>,
}

/// Nobody tells more at once.
const MOST_ENTRIES: usize = 40;

/// A complaint that was checked against its machine.
pub(crate) struct Taken {
    id: Uuid,
    by: String,
    entries: Vec<Entry>,
}

impl Taken {
    /// What a complaint comes to on a machine.
    ///
    /// # Errors
    /// The machine cannot have that symptom, or not then.
    pub async fn check(circuit: Arc<Circuit>, said: Complained) -> Result<Self, Problem> {
        let by = input::person(&said.by)?;
        if !said.entries.is_empty() {
            let entries = told(&circuit, said.entries)?;
            return Ok(Self { id: said.id, by, entries });
        }
        let offers = aside(move || menu(&circuit)).await?;
        let offer = offers.into_iter().find(|o| o.symptom == said.symptom);
        let offer = offer.ok_or_else(|| {
            Problem::field("symptom", "This machine cannot be complained of for that.")
        })?;
        let telling = offer.tellings.into_iter().find(|t| t.when == said.when);
        let telling = telling
            .ok_or_else(|| Problem::field("when", "This machine does not do that just then."))?;
        Ok(Self { id: said.id, by, entries: telling.entries })
    }

    /// Records it.
    pub async fn record(&self, app: &App, job: Uuid) -> Result<(), Problem> {
        for (n, entry) in (0u8..).zip(&self.entries) {
            let id = Uuid::new_v5(&self.id, &[n]);
            app.store.append_evidence(job, id, &self.by, entry).await?;
        }
        Ok(())
    }
}

/// Entries as a customer may tell them.
fn told(circuit: &Circuit, entries: Vec<Entry>) -> Result<Vec<Entry>, Problem> {
    if entries.len() > MOST_ENTRIES {
        let sentence = format!("At most {MOST_ENTRIES} things are told at once.");
        return Err(Problem::field("entries", sentence));
    }
    let told = entries.into_iter().map(|entry| {
        let measured = matches!(
            entry.observation,
            ObservationEntry::Reading { .. }
                | ObservationEntry::PutBack { .. }
                | ObservationEntry::Arranged { .. }
        );
        if measured {
            return Err(Problem::field("entries", "A reading is recorded, not told."));
        }
        entry.resolve(circuit, 0)?;
        Ok(Entry { source: Source::Told, ..entry })
    });
    told.collect()
}

/// Takes a complaint by its symptom.
#[utoipa::path(post, operation_id = "complain", path = "/jobs/{id}/complaint",
    params(("id" = Uuid, Path)), request_body = Complained, responses(
    (status = 200, body = JobView),
    (status = 409, description = "The job is closed, or the id was used", body = Problem),
    (status = 422, description = "The machine cannot have that symptom, or not then", body = Problem),
))]
pub async fn complain(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(said): Body<Complained>,
) -> Result<Json<JobView>, Problem> {
    let job = app.store.job(id).await?;
    let circuit = app.circuits.circuit(&app, job.revision_id).await?;
    Taken::check(circuit, said).await?.record(&app, id).await?;
    Ok(Json(view(&app, id).await?))
}
