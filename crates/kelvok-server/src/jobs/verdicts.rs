use crate::app::App;
use crate::http::bodies::{Body, Path};
use crate::http::input;
use crate::http::problem::Problem;
use crate::jobs::evidence::{VoidRequest, VoidedView};
use crate::jobs::loaded::Loaded;
use crate::views::names::UnitView;
use crate::work::desk::aside;
use axum::Json;
use axum::extract::State;
use chrono::{DateTime, Utc};
use kelvok_core::circuit::Circuit;
use kelvok_core::diagnosis::{Unit, before_repair};
use kelvok_store::{LogEntry, Verdict};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// What was decided: one unit, or a group that no test at hand tells apart.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct VerdictView {
    pub id: Uuid,
    pub sequence: i64,
    pub units: Vec<UnitView>,
    /// What the evidence gave them when the verdict was kept, 0 to 1.
    pub probability: f64,
    pub confirmed: bool,
    pub note: String,
    pub recorded_by: String,
    /// None where the time that was kept is none.
    pub recorded_at: Option<DateTime<Utc>>,
    pub voided: Option<VoidedView>,
}

impl VerdictView {
    pub(crate) fn of(circuit: &Circuit, entry: LogEntry<Verdict>) -> Self {
        let named = |id: &String| Unit::named(circuit, id).ok().map(|u| UnitView::of(circuit, u));
        Self {
            id: entry.id,
            sequence: entry.sequence,
            units: entry.body.units.iter().filter_map(named).collect(),
            probability: entry.body.probability,
            confirmed: entry.body.confirmed,
            note: entry.body.note,
            recorded_by: entry.recorded_by,
            recorded_at: entry.recorded_at,
            voided: entry.voided.map(Into::into),
        }
    }
}

#[derive(Deserialize, ToSchema)]
pub struct KeepVerdict {
    /// Made by the client (UUIDv7), so that a retry keeps it once.
    pub id: Uuid,
    pub by: String,
    /// Unit ids, at least one.
    pub units: Vec<String>,
    #[serde(default)]
    pub note: String,
}

/// Keeps a verdict: what the mechanic says it is. Its probability is what the evidence before its repair
/// gives the units, not what the client says.
#[utoipa::path(post, operation_id = "keep_verdict", path = "/jobs/{id}/verdicts", params(("id" = Uuid, Path)),
    request_body = KeepVerdict,
    responses((status = 200, body = VerdictView), (status = 422, body = Problem)))]
pub async fn record(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(keep): Body<KeepVerdict>,
) -> Result<Json<VerdictView>, Problem> {
    let by = input::person(&keep.by)?;
    let note = input::words("note", &keep.note, 2000)?;
    let loaded = Loaded::get(&app, id).await?;
    let circuit = loaded.compiled.circuit();
    if keep.units.is_empty() {
        return Err(Problem::field("units", "A verdict names at least one unit."));
    }
    let mut units = Vec::new();
    for name in &keep.units {
        let sentence = |_| Problem::field("units", format!("This machine has no unit \"{name}\"."));
        units.push(Unit::named(circuit, name).map_err(sentence)?);
    }
    // As it was before what was found was cured.
    let log = loaded.log();
    let log = before_repair(&log, &units).to_vec();
    let compiled = loaded.compiled.clone();
    let verdict = aside(move || {
        let belief = &compiled.judged(&log).belief;
        let held = belief.units(compiled.suspects());
        Verdict {
            probability: held
                .iter()
                .filter(|u| units.contains(&u.unit))
                .map(|u| u.probability)
                .sum::<f64>()
                .min(1.0),
            confirmed: belief.confirmed(compiled.suspects(), &units),
            kind: compiled.model.outcome(belief, &units),
            names: units.iter().map(|u| UnitView::of(compiled.circuit(), *u).name).collect(),
            units: keep.units,
            note,
        }
    })
    .await?;
    let kept = app.store.append_verdict(id, keep.id, &by, &verdict).await?;
    Ok(Json(VerdictView::of(circuit, kept)))
}

/// Takes a verdict back; it stays in the log.
#[utoipa::path(post, operation_id = "void_verdict", path = "/jobs/{id}/verdicts/{verdict}/void",
    params(("id" = Uuid, Path), ("verdict" = Uuid, Path)), request_body = VoidRequest,
    responses((status = 200, body = VerdictView), (status = 409, body = Problem)))]
pub async fn void(
    State(app): State<App>,
    Path((id, verdict)): Path<(Uuid, Uuid)>,
    Body(void): Body<VoidRequest>,
) -> Result<Json<VerdictView>, Problem> {
    let void = void.checked()?;
    let job = app.store.job(id).await?;
    let circuit = app.circuits.circuit(&app, job.revision_id).await?;
    let voided = app.store.void_verdict(id, verdict, &void).await?;
    Ok(Json(VerdictView::of(&circuit, voided)))
}
