//! What a job's machine feeds: ohms, volts and amperes of each, what they come to, and what to read next.

use crate::app::App;
use crate::http::attachment::{CSV, attachment};
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use crate::jobs::drops::ClampView;
use crate::jobs::loaded::Loaded;
use crate::views::names::{
    PointView, SetUpView, UnitView, condition_view, full_name, point_view, point_with,
};
use crate::views::taken::TakenView;
use crate::work::desk::{Progress, Reply, aside};
use axum::extract::State;
use axum::response::Response;
use kelvok_core::circuit::{Circuit, Condition, Engine, Instrument};
use kelvok_core::diagnosis::{Belief, Caution, Evidence, SetUp, TestAction, Unit};
use kelvok_core::loads::{
    COPPER_SOURCE, Load, LoadKind, LoadReading, LoadStanding, Probes, loads_csv,
};
use kelvok_store::JobStatus;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// Everything that a job's machine feeds.
#[derive(Serialize, ToSchema)]
pub struct LoadsView {
    /// Nothing can be recorded in a closed job.
    pub open: bool,
    pub loads: Vec<MachineLoadView>,
    /// Where the figure of copper is from.
    pub copper_source: String,
}

/// Something that is fed.
#[derive(Serialize, ToSchema)]
pub struct MachineLoadView {
    /// The element's id.
    pub id: String,
    pub name: String,
    pub unit: UnitView,
    pub kind: LoadKind,
    /// Ohms at 20 °C, and between which a good one is.
    pub ohms: f64,
    pub low: f64,
    pub high: f64,
    pub on: Option<LoadOnView>,
    pub ohms_at: Option<LoadProbesView>,
    pub insulation_at: Option<LoadProbesView>,
    pub standing: LoadStanding,
    /// What was read, in order.
    pub readings: Vec<TakenView>,
}

/// How it is switched on, and where it is read then.
#[derive(Serialize, ToSchema)]
pub struct LoadOnView {
    pub condition: BTreeMap<String, String>,
    pub engine: Engine,
    /// Of a good one, in V and A.
    pub volts: f64,
    pub amps: f64,
    pub red: Option<PointView>,
    pub black: Option<PointView>,
    pub clamp: Option<ClampView>,
    pub cautions: Vec<Caution>,
}

/// Where ohms are read.
#[derive(Serialize, ToSchema)]
pub struct LoadProbesView {
    pub condition: BTreeMap<String, String>,
    /// What is off while they are.
    pub set_up: Vec<SetUpView>,
    pub red: PointView,
    pub black: PointView,
    pub cautions: Vec<Caution>,
}

/// What a job's machine feeds, and what each comes to.
#[utoipa::path(get, operation_id = "loads", path = "/jobs/{id}/loads", params(("id" = Uuid, Path)),
    responses((status = 200, body = LoadsView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem)))]
pub async fn get(
    State(app): State<App>,
    Path(id): Path<Uuid>,
) -> Result<Reply<LoadsView>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let (question, size) = (loaded.question("loads"), loaded.size());
    app.ask(question, size, move || Ok(view(&loaded))).await
}

/// The same as comma-separated values.
#[utoipa::path(get, operation_id = "export_loads_csv", path = "/jobs/{id}/loads.csv", params(("id" = Uuid, Path)),
    responses((status = 200, content_type = "text/csv", body = String), (status = 404, body = Problem)))]
pub async fn csv(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let number = loaded.job.number;
    let text = aside(move || {
        let (model, log) = (&loaded.compiled.model, loaded.log());
        let name = |load: &Load| full_name(model.circuit(), load.element);
        let all = model.loads().iter().map(|load| (load, name(load), model.load(load, &log).1));
        let all: Vec<_> = all.collect();
        loads_csv(all.iter().map(|(load, name, standing)| (*load, name.as_str(), standing)))
    })
    .await?;
    Ok(attachment(&format!("job {number} loads.csv"), CSV, text))
}

fn view(loaded: &Loaded) -> LoadsView {
    let judged = loaded.compiled.judged(&loaded.log());
    let at = (&judged.belief, judged.log.as_slice());
    let loads = loaded.compiled.model.loads().iter();
    LoadsView {
        open: loaded.job.status == JobStatus::Open,
        loads: loads.map(|load| load_view(loaded, load, at)).collect(),
        copper_source: COPPER_SOURCE.to_owned(),
    }
}

fn load_view(
    loaded: &Loaded,
    load: &Load,
    (belief, log): (&Belief, &[Evidence]),
) -> MachineLoadView {
    let model = &loaded.compiled.model;
    let circuit: &Circuit = loaded.compiled.circuit();
    let (read, standing) = model.load(load, log);
    let all =
        read.before.iter().map(|own| (own, false)).chain(read.now.iter().map(|own| (own, true)));
    let readings = all.filter_map(|((sequence, reading), counts)| {
        let entry = loaded.standing().find(|e| e.sequence as u64 == *sequence)?;
        Some(TakenView::new(entry, says(*reading), counts))
    });
    let cautions = |condition: &Condition, off: &[SetUp], instrument: Instrument| {
        let action = TestAction::Measure { instrument, red: 0, black: 0 };
        model.cautions((belief, log), (condition, off), action)
    };
    let probes = |own: Option<Probes>| {
        own.map(|own| {
            let off: Vec<SetUp> = own.unplugged.map(SetUp::Unplugged).into_iter().collect();
            let rest = Condition::at_rest(circuit);
            LoadProbesView {
                condition: condition_view(circuit, &rest),
                red: point_with(circuit, own.red, &off),
                black: point_with(circuit, own.black, &off),
                cautions: cautions(&rest, &off, Instrument::Ohmmeter),
                set_up: SetUpView::all(circuit, &off),
            }
        })
    };
    MachineLoadView {
        id: circuit.element(load.element).id.clone(),
        name: full_name(circuit, load.element),
        unit: UnitView::of(circuit, Unit::Part(load.part)),
        kind: load.kind,
        ohms: load.ohms,
        low: load.ohms * (1.0 - load.tolerance),
        high: load.ohms * (1.0 + load.tolerance),
        on: load.on.as_ref().map(|on| LoadOnView {
            condition: condition_view(circuit, &on.condition),
            engine: on.condition.engine,
            volts: on.volts,
            amps: on.amps,
            red: on.volts_at.map(|(red, _)| point_view(circuit, red)),
            black: on.volts_at.map(|(_, black)| point_view(circuit, black)),
            clamp: on.clamp_at.and_then(|ends| ClampView::around(circuit, ends)),
            cautions: cautions(&on.condition, &[], Instrument::Voltmeter),
        }),
        ohms_at: probes(load.ohms_at),
        insulation_at: probes(load.insulation_at),
        standing,
        readings: readings.collect(),
    }
}

fn says(reading: LoadReading) -> String {
    let ohms = |ohms: Option<f64>| match ohms {
        None => "OL".to_owned(),
        Some(ohms) if ohms < 100.0 => format!("{ohms:.2} ohm"),
        Some(ohms) => format!("{ohms:.0} ohm"),
    };
    match reading {
        LoadReading::Ohms { ohms: shown, celsius: None } => format!("Ohms: {}", ohms(shown)),
        LoadReading::Ohms { ohms: shown, celsius: Some(celsius) } => {
            format!("Ohms: {} at {celsius:.0} °C", ohms(shown))
        }
        LoadReading::Volts(volts) => format!("Across it: {volts:.2} V"),
        LoadReading::Amps(amps) => format!("Draws: {amps:.1} A"),
        LoadReading::Insulation(shown) => format!("To the frame: {}", ohms(shown)),
    }
}
