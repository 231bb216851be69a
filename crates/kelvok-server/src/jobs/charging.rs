//! Whether a job's machine charges its battery: where that is read, what readings come to, what is wrong, and what
//! to read next.

use crate::app::App;
use crate::http::attachment::{CSV, attachment};
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use crate::jobs::drops::ClampView;
use crate::jobs::loaded::Loaded;
use crate::views::names::{PointView, SetUpView, UnitView, condition_view, point_view, point_with};
use crate::views::taken::TakenView;
use crate::work::desk::{Progress, Reply, aside};
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::Response;
use kelvok_core::charging::{
    CHARGING_SOURCE, ChargeKind, ChargePlace, ChargeReading, ChargeSite, ChargeStanding,
    ChargingSystem, GOOD_VOLTS, OVER_VOLTS, charging_csv,
};
use kelvok_core::circuit::{ElementId, Engine, Instrument};
use kelvok_core::diagnosis::{Belief, Caution, Evidence, SetUp, TestAction, Unit};
use kelvok_store::JobStatus;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// How a job's machine charges its battery.
#[derive(Serialize, ToSchema)]
pub struct ChargingView {
    /// Nothing can be recorded in a closed job.
    pub open: bool,
    /// None of a machine that charges nothing, or whose drawing does not say how.
    pub system: Option<ChargingSystemView>,
    /// Where the volts of a good one are from.
    pub source: String,
}

/// What charges, and what its readings come to.
#[derive(Serialize, ToSchema)]
pub struct ChargingSystemView {
    /// The named circuit that it is.
    pub circuit: String,
    /// What is looked at or replaced, place by place.
    pub places: Vec<ChargePlaceView>,
    /// It holds its volts; else its amperes tell.
    pub regulated: bool,
    /// Volts of a good regulated one at full speed, and from where on it overcharges.
    pub low: f64,
    pub high: f64,
    pub over: f64,
    /// Amperes that it is made for, where the drawing says.
    pub rated: Option<f64>,
    pub sites: Vec<ChargeSiteView>,
    pub standing: ChargeStanding,
    /// What was read, in order.
    pub readings: Vec<TakenView>,
}

/// A place in the charging system.
#[derive(Serialize, ToSchema)]
pub struct ChargePlaceView {
    pub place: ChargePlace,
    /// The parts of it; wires go without a name.
    pub units: Vec<UnitView>,
    /// The chance that the trouble is there, 0 to 1.
    pub chance: f64,
}

/// Where something is read.
#[derive(Serialize, ToSchema)]
pub struct ChargeSiteView {
    pub kind: ChargeKind,
    pub condition: BTreeMap<String, String>,
    pub engine: Engine,
    /// The engine idles; else it is at full speed, where it runs.
    pub idle: bool,
    /// What is off while it is read.
    pub set_up: Vec<SetUpView>,
    pub instrument: Instrument,
    pub red: PointView,
    pub black: PointView,
    /// The wire that a clamp goes around.
    pub clamp: Option<ClampView>,
    pub cautions: Vec<Caution>,
}

/// How a job's machine charges its battery, and what its readings come to.
#[utoipa::path(get, operation_id = "charging", path = "/jobs/{id}/charging", params(("id" = Uuid, Path)),
    responses((status = 200, body = ChargingView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem)))]
pub async fn get(
    State(app): State<App>,
    Path(id): Path<Uuid>,
) -> Result<Reply<ChargingView>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let (question, size) = (loaded.question("charging"), loaded.size());
    app.ask(question, size, move || Ok(view(&loaded))).await
}

/// The same as comma-separated values.
#[utoipa::path(get, operation_id = "export_charging_csv", path = "/jobs/{id}/charging.csv",
    params(("id" = Uuid, Path)),
    responses((status = 200, content_type = "text/csv", body = String), (status = 404, body = Problem)))]
pub async fn csv(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let number = loaded.job.number;
    let system = loaded.compiled.model.charging().ok_or_else(|| {
        Problem::new(StatusCode::NOT_FOUND, "Nothing on this machine charges a battery.")
    })?;
    let text = aside(move || {
        let (read, standing) = loaded.compiled.model.charge(&system, &loaded.log());
        let before = read.before.iter().map(|(_, own)| (own, false));
        charging_csv(before.chain(read.now.iter().map(|(_, own)| (own, true))), &standing)
    })
    .await?;
    Ok(attachment(&format!("job {number} charging.csv"), CSV, text))
}

fn view(loaded: &Loaded) -> ChargingView {
    let model = &loaded.compiled.model;
    ChargingView {
        open: loaded.job.status == JobStatus::Open,
        system: model.charging().map(|system| {
            let judged = loaded.compiled.judged(&loaded.log());
            system_view(loaded, &system, (&judged.belief, &judged.log))
        }),
        source: CHARGING_SOURCE.to_owned(),
    }
}

fn system_view(
    loaded: &Loaded,
    system: &ChargingSystem,
    at: (&Belief, &[Evidence]),
) -> ChargingSystemView {
    let (read, standing) = loaded.compiled.model.charge(system, at.1);
    let all =
        read.before.iter().map(|own| (own, false)).chain(read.now.iter().map(|own| (own, true)));
    let readings = all.filter_map(|((sequence, reading), counts)| {
        let entry = loaded.standing().find(|e| e.sequence as u64 == *sequence)?;
        Some(TakenView::new(entry, says(*reading), counts))
    });
    ChargingSystemView {
        circuit: system.circuit.clone(),
        places: places(loaded, system, &standing),
        regulated: system.regulated,
        low: GOOD_VOLTS.0,
        high: GOOD_VOLTS.1,
        over: OVER_VOLTS,
        rated: system.rated,
        sites: system.sites.iter().map(|site| site_view(loaded, site, at)).collect(),
        readings: readings.collect(),
        standing,
    }
}

fn places(
    loaded: &Loaded,
    system: &ChargingSystem,
    standing: &ChargeStanding,
) -> Vec<ChargePlaceView> {
    let circuit = loaded.compiled.circuit();
    let part = |id: ElementId| circuit.element(id).part;
    let battery = circuit.battery().and_then(part);
    let ways = |all: &[ElementId]| {
        let mut found: Vec<usize> = Vec::new();
        for own in all.iter().filter_map(|id| part(*id)) {
            if !found.contains(&own) && Some(own) != battery {
                found.push(own);
            }
        }
        found
    };
    let of = |place: ChargePlace| match place {
        ChargePlace::Nowhere => None,
        ChargePlace::Stator => system.stator.map(|stator| vec![stator]),
        ChargePlace::Regulator => Some(vec![system.regulator]),
        ChargePlace::Feed => Some(ways(&system.feed)),
        ChargePlace::Ground => Some(ways(&system.back)),
        ChargePlace::Battery => battery.map(|battery| vec![battery]),
    };
    let own = ChargePlace::ALL.iter().filter_map(|place| {
        let units = of(*place)?.into_iter().map(|part| UnitView::of(circuit, Unit::Part(part)));
        let here = standing.causes.iter().filter(|cause| cause.place == *place);
        let chance = here.map(|cause| cause.chance).sum();
        Some(ChargePlaceView { place: *place, units: units.collect(), chance })
    });
    own.collect()
}

fn site_view(loaded: &Loaded, site: &ChargeSite, at: (&Belief, &[Evidence])) -> ChargeSiteView {
    let circuit = loaded.compiled.circuit();
    let off: Vec<SetUp> = site.unplugged.map(SetUp::Unplugged).into_iter().collect();
    let action = TestAction::Measure { instrument: site.instrument, red: 0, black: 0 };
    let clamp = (site.instrument == Instrument::Clamp).then_some((site.red, site.black));
    ChargeSiteView {
        kind: site.kind,
        condition: condition_view(circuit, &site.condition),
        engine: site.condition.engine,
        idle: site.idle,
        instrument: site.instrument,
        red: point_with(circuit, site.red, &off),
        black: match site.kind {
            ChargeKind::Frame => point_view(circuit, site.black),
            _ => point_with(circuit, site.black, &off),
        },
        clamp: clamp.and_then(|ends| ClampView::around(circuit, ends)),
        cautions: loaded.compiled.model.cautions(at, (&site.condition, &off), action),
        set_up: SetUpView::all(circuit, &off),
    }
}

fn says(reading: ChargeReading) -> String {
    let ohms = |shown: Option<f64>| shown.map_or("OL".to_owned(), |ohms| format!("{ohms:.1} ohm"));
    let speed = |idle: bool| if idle { "idle" } else { "full speed" };
    match reading {
        ChargeReading::Rest(volts) => format!("Engine off: {volts:.2} V"),
        ChargeReading::Posts(volts, load) => {
            format!("Battery at {}: {volts:.2} V", speed(load.idle))
        }
        ChargeReading::Amps(amps, load) => format!("Charging at {}: {amps:.1} A", speed(load.idle)),
        ChargeReading::Ripple(volts) => format!("Ripple: {volts:.2} V AC"),
        ChargeReading::Feed(volts, _) => format!("Drop to battery +: {volts:.2} V"),
        ChargeReading::Ground(volts, _) => format!("Drop from battery −: {volts:.2} V"),
        ChargeReading::Stator(volts, idle) => format!("Stator at {}: {volts:.1} V AC", speed(idle)),
        ChargeReading::Winding(shown) => format!("Stator winding: {}", ohms(shown)),
        ChargeReading::Frame(shown) => format!("Stator to engine: {}", ohms(shown)),
        ChargeReading::Charged => "Battery charged".to_owned(),
    }
}
