//! What a machine can be complained of.

use crate::app::App;
use crate::http::bodies::Body;
use crate::http::bodies::Path;
use crate::http::input;
use crate::http::problem::Problem;
use crate::machines::Known;
use crate::views::names::UnitView;
use crate::work::desk::aside;
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::{Circuit, Condition};
use kelvok_core::complaint::{Offer, Symptom, Telling, Understood, When, menu, read};
use kelvok_core::diagnosis::{Entry, ObservationEntry, Work};
use kelvok_core::machine::Control;
use serde::{Deserialize, Serialize};
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

/// What a customer says, in their own words.
#[derive(Deserialize, ToSchema)]
pub struct CustomerSays {
    /// At most 5,000 letters.
    pub said: String,
}

/// What a sentence comes to.
#[derive(Serialize, ToSchema)]
pub struct UnderstoodView {
    /// What it complains of, each sure (one) or with what it may be.
    pub complaints: Vec<ComplaintView>,
    /// Two of them cannot both be.
    pub clash: bool,
    /// A good machine does that too, set like that.
    pub normal: bool,
    pub at_times: bool,
    pub times_an_hour: Option<f64>,
    /// Since when, in its own words.
    pub since: Option<String>,
    /// What still works, as entries.
    pub works: Vec<Entry>,
    pub worked_on: Vec<WorkedOnView>,
    /// What nothing was made of.
    pub left: Vec<String>,
}

/// One thing complained of.
#[derive(Serialize, ToSchema)]
pub struct ComplaintView {
    /// What it may be; one if the words leave nothing open.
    pub may_be: Vec<ToldView>,
}

/// A symptom with when, and what goes into the log.
#[derive(Serialize, ToSchema)]
pub struct ToldView {
    pub symptom: Symptom,
    #[serde(flatten)]
    pub telling: TellingView,
}

/// What was done to a unit before.
#[derive(Serialize, ToSchema)]
pub struct WorkedOnView {
    pub unit: UnitView,
    pub work: Work,
    /// As it goes into the log.
    pub entry: Entry,
}

impl UnderstoodView {
    fn of(circuit: &Circuit, read: Understood) -> Self {
        let told = |(symptom, t): (Symptom, Telling)| ToldView {
            symptom,
            telling: TellingView { when: t.when, entries: t.entries },
        };
        let rest = Condition::at_rest(circuit);
        let worked_on = read.worked_on.into_iter().map(|(unit, work)| WorkedOnView {
            unit: UnitView::of(circuit, unit),
            work,
            entry: Entry::told(
                circuit,
                &rest,
                ObservationEntry::WorkedOn { unit: unit.id(circuit), work },
            ),
        });
        Self {
            complaints: read
                .complaints
                .into_iter()
                .map(|c| ComplaintView { may_be: c.may_be.into_iter().map(told).collect() })
                .collect(),
            clash: read.clash,
            normal: read.normal,
            at_times: read.at_times,
            times_an_hour: read.times_an_hour,
            since: read.since,
            works: read.works,
            worked_on: worked_on.collect(),
            left: read.left,
        }
    }
}

/// Reads a customer's sentence, on a machine. Nothing is recorded.
#[utoipa::path(post, operation_id = "read_sentence", path = "/machines/{name}/read",
    params(("name" = String, Path)), request_body = CustomerSays,
    responses((status = 200, body = UnderstoodView), (status = 404, body = Problem),
        (status = 422, body = Problem)))]
pub async fn read_sentence(
    State(app): State<App>,
    Path(name): Path<String>,
    Body(CustomerSays { said }): Body<CustomerSays>,
) -> Result<Json<UnderstoodView>, Problem> {
    let said = input::words("said", &said, 5000)?;
    let known = Known::get(&app, &name).await?;
    let circuit = known.circuit().clone();
    Ok(Json(aside(move || UnderstoodView::of(&circuit, read(&circuit, &said))).await?))
}
