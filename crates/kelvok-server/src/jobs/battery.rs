//! A job's battery: what it is by what was read of it, and what to read next.

use crate::app::App;
use crate::http::attachment::{CSV, attachment};
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use crate::jobs::loaded::Loaded;
use crate::views::names::condition_view;
use crate::views::taken::TakenView;
use crate::work::desk::{Progress, Reply, aside};
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::Response;
use kelvok_core::battery::{BatteryStanding, BatteryTestError, battery_volts, cranked_in};
use kelvok_core::diagnosis::ObservationEntry;
use kelvok_store::JobStatus;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// A machine's battery in a job.
#[derive(Serialize, ToSchema)]
pub struct BatteryView {
    /// Nothing can be recorded in a closed job.
    pub open: bool,
    /// 6 or 12.
    pub nominal: f64,
    pub standing: BatteryStanding,
    /// What can be switched on to load it; none where that is next to nothing.
    pub own_load: Option<OwnLoadView>,
    /// How the controls stand when it cranks; none where nothing electric does.
    pub crank: Option<BTreeMap<String, String>>,
    /// Its posts, as terminals.
    pub positive: String,
    pub negative: String,
    /// What was read of it, in order.
    pub readings: Vec<TakenView>,
}

/// What can be switched on to load the battery with the engine standing.
#[derive(Serialize, ToSchema)]
pub struct OwnLoadView {
    pub amps: f64,
    pub condition: BTreeMap<String, String>,
}

/// What a job's battery comes to, and what to read next.
#[utoipa::path(get, operation_id = "battery", path = "/jobs/{id}/battery", params(("id" = Uuid, Path)),
    responses((status = 200, body = BatteryView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, description = "No such job, or a machine without a battery", body = Problem)))]
pub async fn get(
    State(app): State<App>,
    Path(id): Path<Uuid>,
) -> Result<Reply<BatteryView>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    has_battery(&loaded)?;
    let (question, size) = (loaded.question("battery"), loaded.size());
    app.ask(question, size, move || view(&loaded)).await
}

/// Its volts against time as comma-separated values.
#[utoipa::path(get, operation_id = "export_battery_csv", path = "/jobs/{id}/battery.csv", params(("id" = Uuid, Path)),
    responses((status = 200, content_type = "text/csv", body = String), (status = 404, body = Problem)))]
pub async fn csv(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    has_battery(&loaded)?;
    let number = loaded.job.number;
    let text = aside(move || view(&loaded).map(|v| v.standing.curve.to_csv())).await??;
    Ok(attachment(&format!("job {number} battery.csv"), CSV, text))
}

fn no_battery() -> Problem {
    Problem::new(StatusCode::NOT_FOUND, "This machine has no battery.")
}

fn has_battery(loaded: &Loaded) -> Result<f64, Problem> {
    battery_volts(loaded.compiled.circuit()).map_err(|_: BatteryTestError| no_battery())
}

fn view(loaded: &Loaded) -> Result<BatteryView, Problem> {
    let model = &loaded.compiled.model;
    let circuit = loaded.compiled.circuit();
    let log = loaded.log();
    let standing = model.battery(&log).ok_or_else(no_battery)?;
    let (negative, positive) = circuit.posts().ok_or_else(no_battery)?;
    let seen: BTreeMap<u64, _> = model.seen_of_the_battery(&log).into_iter().collect();
    let readings = loaded.standing().filter_map(|entry| {
        let counted = seen.get(&(entry.sequence as u64));
        let says = match (&entry.body.observation, counted) {
            (_, Some(seen)) => seen.words(),
            (ObservationEntry::BatteryTest { test }, None) => test.words(),
            _ => return None,
        };
        Some(TakenView::new(entry, says, counted.is_some()))
    });
    let own = model.own_load().filter(|_| standing.own_amps > 0.0);
    Ok(BatteryView {
        open: loaded.job.status == JobStatus::Open,
        nominal: has_battery(loaded)?,
        own_load: own.map(|own| OwnLoadView {
            amps: own.amps,
            condition: condition_view(circuit, &own.condition),
        }),
        crank: cranked_in(circuit).map(|c| condition_view(circuit, &c)),
        positive: circuit.node_name(positive).to_owned(),
        negative: circuit.node_name(negative).to_owned(),
        readings: readings.collect(),
        standing,
    })
}
