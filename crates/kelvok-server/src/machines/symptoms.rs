//! What a machine can be complained of.

use crate::app::App;
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use crate::machines::Known;
use crate::work::desk::aside;
use axum::Json;
use axum::extract::State;
use kelvok_core::complaint::{Offer, Symptom, Telling, When, menu};
use kelvok_core::diagnosis::Entry;
use kelvok_core::machine::Control;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Everything that a machine can be complained of, as buttons.
#[derive(Serialize, ToSchema)]
pub struct SymptomsView {
    pub symptoms: Vec<SymptomView>,
    pub controls: Vec<Control>,
    /// What the engine drives, as the trade calls it: blades, PTO shaft.
    pub driven: String,
    /// Part id -> what the trade calls it.
    pub part_names: BTreeMap<String, String>,
}

/// A symptom that the machine can have.
#[derive(Serialize, ToSchema)]
pub struct SymptomView {
    pub symptom: Symptom,
    /// When it does that, the likeliest first; at least one.
    pub tellings: Vec<TellingView>,
}

/// A symptom in full.
#[derive(Serialize, ToSchema)]
pub struct TellingView {
    pub when: When,
    /// What goes into the log, as told: what still works first, what is wrong last.
    pub entries: Vec<Entry>,
}

impl From<Offer> for SymptomView {
    fn from(offer: Offer) -> Self {
        let telling = |t: Telling| TellingView { when: t.when, entries: t.entries };
        Self { symptom: offer.symptom, tellings: offer.tellings.into_iter().map(telling).collect() }
    }
}

/// What a machine can be complained of.
#[utoipa::path(get, operation_id = "machine_symptoms", path = "/machines/{name}/symptoms",
    params(("name" = String, Path)),
    responses((status = 200, body = SymptomsView), (status = 404, body = Problem)))]
pub async fn symptoms(
    State(app): State<App>,
    Path(name): Path<String>,
) -> Result<Json<SymptomsView>, Problem> {
    let known = Known::get(&app, &name).await?;
    let circuit = known.circuit().clone();
    let offers = aside(move || menu(&circuit)).await?;
    let document = known.circuit().document();
    Ok(Json(SymptomsView {
        symptoms: offers.into_iter().map(SymptomView::from).collect(),
        controls: document.controls.clone(),
        driven: document.drive.driven().to_owned(),
        part_names: document.parts.iter().map(|p| (p.id.clone(), p.name.clone())).collect(),
    }))
}
