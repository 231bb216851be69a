//! The volts that a job's circuits lose on the way: what was read from point to point, and what to read next.

use crate::app::App;
use crate::http::attachment::{CSV, attachment};
use crate::http::bodies::{Path, Query};
use crate::http::problem::Problem;
use crate::jobs::loaded::Loaded;
use crate::views::names::{NameView, PointView, UnitView, condition_view, point_name, point_view};
use crate::views::taken::TakenView;
use crate::work::desk::{Progress, Reply, aside};
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::Response;
use kelvok_core::circuit::{Circuit, ElementId, Engine, Instrument, NodeId, wires_between};
use kelvok_core::diagnosis::{Caution, TestAction, Unit};
use kelvok_core::drops::{DropReading, DropWalk, LoadPath, Span, TRADE_SOURCE};
use kelvok_core::machine::lower;
use kelvok_store::JobStatus;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// A walk along one loaded circuit.
#[derive(Serialize, ToSchema)]
pub struct DropsView {
    /// Nothing can be recorded in a closed job.
    pub open: bool,
    /// Every circuit that can be walked.
    pub circuits: Vec<NameView>,
    pub circuit: String,
    pub name: String,
    /// How the machine stands while it is read.
    pub condition: BTreeMap<String, String>,
    pub engine: Engine,
    /// The load is the starter.
    pub cranks: bool,
    /// What a good machine draws, in amperes.
    pub sound_amps: f64,
    /// Its points, in order from the + post to the - post.
    pub points: Vec<PointView>,
    /// What lies between each point and the next.
    pub stretches: Vec<StretchView>,
    pub walk: DropWalk,
    /// What was known before something on the way was repaired.
    pub before: Vec<Span>,
    /// Where a clamp goes around all that the load draws.
    pub clamps: Vec<ClampView>,
    pub cautions: Vec<Caution>,
    pub trade_source: String,
    /// What was read, in order.
    pub readings: Vec<TakenView>,
}

/// What lies between two points.
#[derive(Serialize, ToSchema)]
pub struct StretchView {
    pub parts: Vec<UnitView>,
    /// It is meant to take volts: the load, or a ballast in line with it.
    pub uses: bool,
}

/// A wire that a clamp can be put around, the current running from red to black.
#[derive(Serialize, ToSchema)]
pub struct ClampView {
    pub name: String,
    pub red: String,
    pub black: String,
}

#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct OfCircuit {
    /// Which of the machine's circuits; the one in question if not given.
    #[param(required = false)]
    circuit: Option<String>,
}

impl ClampView {
    /// Around the wire that runs between two terminals.
    pub fn around(circuit: &Circuit, (red, black): (NodeId, NodeId)) -> Option<Self> {
        let (wire, _) = wires_between(circuit, (red, black)).next()?;
        let document = circuit.document();
        let wire = &document.wires[circuit.element(wire).wire?];
        Some(Self {
            name: document.wire_name(wire).to_string(),
            red: circuit.node_name(red).to_owned(),
            black: circuit.node_name(black).to_owned(),
        })
    }
}

/// What one of a job's circuits loses on the way, and what to read next.
#[utoipa::path(get, operation_id = "drops", path = "/jobs/{id}/drops", params(("id" = Uuid, Path), OfCircuit),
    responses((status = 200, body = DropsView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, description = "No such job, or no such circuit that carries a current", body = Problem)))]
pub async fn get(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(of): Query<OfCircuit>,
) -> Result<Reply<DropsView>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let (question, size) = (loaded.question(("drops", &of.circuit)), loaded.size());
    app.ask(question, size, move || view(&loaded, of.circuit.as_deref())).await
}

/// The same as comma-separated values.
#[utoipa::path(get, operation_id = "export_drops_csv", path = "/jobs/{id}/drops.csv",
    params(("id" = Uuid, Path), OfCircuit),
    responses((status = 200, content_type = "text/csv", body = String), (status = 404, body = Problem)))]
pub async fn csv(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(of): Query<OfCircuit>,
) -> Result<Response, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let number = loaded.job.number;
    let text = aside(move || {
        let view = view(&loaded, of.circuit.as_deref())?;
        let path = path(&loaded, Some(&view.circuit))?;
        let points: Vec<_> = view.points.iter().map(|p| p.name.clone()).collect();
        let parts = view
            .stretches
            .iter()
            .map(|s| s.parts.iter().map(|p| p.name.as_str()).collect::<Vec<_>>().join(", "));
        let parts: Vec<_> = parts.collect();
        Ok::<_, Problem>((view.circuit, view.walk.to_csv(path, &points, &parts)))
    })
    .await??;
    Ok(attachment(&format!("job {number} drops {}.csv", text.0), CSV, text.1))
}

fn path<'l>(loaded: &'l Loaded, wanted: Option<&str>) -> Result<&'l LoadPath, Problem> {
    let paths = loaded.compiled.model.load_paths();
    let found = match wanted {
        Some(id) => paths.iter().find(|p| p.id == id),
        None => paths.iter().find(|p| p.cranks).or(paths.first()),
    };
    let sentence = match wanted {
        Some(id) => format!("This machine has no circuit \"{id}\" that carries a current."),
        None => "No circuit of this machine carries a current worth measuring.".to_owned(),
    };
    found.ok_or_else(|| Problem::new(StatusCode::NOT_FOUND, sentence))
}

fn view(loaded: &Loaded, wanted: Option<&str>) -> Result<DropsView, Problem> {
    let model = &loaded.compiled.model;
    let circuit: &Circuit = loaded.compiled.circuit();
    let judged = loaded.compiled.judged(&loaded.log());
    let (belief, log) = (&judged.belief, judged.log.as_slice());
    let in_question = model.drops_in_question(belief, log).map(|(id, _)| id);
    let path = path(loaded, wanted.or(in_question))?;
    let read = model.drops_read(path, log);
    let walk = model.drop_walk(belief, path, &read.now);
    let before = match read.before.is_empty() {
        true => Vec::new(),
        false => model.drop_walk(belief, path, &read.before).spans,
    };
    let condition = model.loaded_in(path, log);
    let volts = TestAction::Measure { instrument: Instrument::Voltmeter, red: 0, black: 0 };
    let now: BTreeSet<u64> = read.now.iter().map(|(sequence, _)| *sequence).collect();
    let readings = read.before.iter().chain(&read.now).filter_map(|(sequence, reading)| {
        let entry = loaded.standing().find(|e| e.sequence as u64 == *sequence)?;
        let says = says(circuit, path, *reading);
        Some(TakenView::new(entry, says, now.contains(sequence)))
    });
    let circuits = model.load_paths().iter();
    Ok(DropsView {
        open: loaded.job.status == JobStatus::Open,
        circuits: circuits.map(|p| NameView { id: p.id.clone(), name: p.name.clone() }).collect(),
        circuit: path.id.clone(),
        name: path.name.clone(),
        engine: condition.engine,
        cranks: path.cranks,
        sound_amps: path.amps,
        points: path.points.iter().map(|node| point_view(circuit, *node)).collect(),
        stretches: path
            .stretches
            .iter()
            .zip(&path.lost)
            .map(|(own, lost)| StretchView { parts: parts(circuit, own), uses: lost.uses })
            .collect(),
        before,
        clamps: clamps(circuit, path),
        cautions: model.cautions((belief, log), (&condition, &[]), volts),
        trade_source: TRADE_SOURCE.to_owned(),
        readings: readings.collect(),
        condition: condition_view(circuit, &condition),
        walk,
    })
}

fn parts(circuit: &Circuit, stretch: &[ElementId]) -> Vec<UnitView> {
    let mut units: Vec<Unit> = Vec::new();
    for id in stretch {
        let unit = Unit::of_element(circuit.element(*id));
        units.extend(unit.filter(|u| !units.contains(u)));
    }
    units.into_iter().map(|unit| UnitView::of(circuit, unit)).collect()
}

/// The wires that carry all that the load draws and nothing besides, in order.
fn clamps(circuit: &Circuit, path: &LoadPath) -> Vec<ClampView> {
    let each = path.stretches.iter().zip(&path.lost).enumerate().filter(|(_, (_, l))| l.own);
    each.filter_map(|(place, (own, _))| {
        let wire =
            circuit.element(own.iter().copied().find(|e| circuit.element(*e).wire.is_some())?);
        let forth = path.points[place] == wire.a || path.points[place + 1] == wire.b;
        let ends = if forth { (wire.a, wire.b) } else { (wire.b, wire.a) };
        ClampView::around(circuit, ends)
    })
    .collect()
}

fn says(circuit: &Circuit, path: &LoadPath, reading: DropReading) -> String {
    let name = |place: usize| point_name(circuit, path.points[place]);
    match reading {
        DropReading::Volts { red, black, volts } => {
            format!("{} to {}: {volts:.2} V", name(red), lower(name(black)))
        }
        DropReading::Clamp { amps, .. } => format!("Clamp: {amps} A"),
    }
}
