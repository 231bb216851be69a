//! A job's fuses and wires: what is fitted, what they carry, what they ought to.

use crate::app::App;
use crate::http::attachment::{CSV, attachment};
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use crate::jobs::loaded::Loaded;
use crate::views::names::condition_view;
use crate::work::desk::{Progress, Reply, aside};
use axum::extract::State;
use axum::response::Response;
use kelvok_core::circuit::{Circuit, Condition, Engine};
use kelvok_core::fuses::{
    BLOW_SOURCE, BlowTime, Carried, FuseRow, FuseSheet, FuseWord, Load, WIRE_SOURCE, WireRow,
    WireWord,
};
use kelvok_store::JobStatus;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// Every fuse and wire of a machine beside what it carries.
#[derive(Serialize, ToSchema)]
pub struct FusesView {
    /// Nothing can be recorded in a closed job.
    pub open: bool,
    pub fuses: Vec<FuseView>,
    /// What needs a look first.
    pub wires: Vec<FusedWireView>,
    /// Where the amperes of wires, and the times of fuses, are from.
    pub wire_source: String,
    pub blow_source: String,
}

/// A fuse or breaker. Amperes.
#[derive(Serialize, ToSchema)]
pub struct FuseView {
    pub fuse: String,
    pub name: String,
    pub breaker: bool,
    pub called_for: Option<f64>,
    /// What was read on it.
    pub read: Option<f64>,
    pub carried: CarriedView,
    /// How many wires hang on it and on no smaller one.
    pub wires: usize,
    /// The thinnest of these.
    pub thinnest: Option<ThinnestView>,
    /// A short at the far end of the wire where it would draw least.
    pub short: Option<ShortView>,
    /// What is wrong with it; nothing where it is fine.
    pub words: Vec<FuseWord>,
    /// Any of that has to be put right.
    pub wrong: bool,
}

/// The thinnest wire that hangs on a fuse, and what it carries all day.
#[derive(Serialize, ToSchema)]
pub struct ThinnestView {
    pub wire: String,
    pub amps: f64,
}

/// A wire shorted to the frame.
#[derive(Serialize, ToSchema)]
pub struct ShortView {
    pub wire: String,
    pub amps: f64,
    /// How long the fuse lasts, in seconds; null where it may never blow, or nobody published it.
    pub blows: Option<BlowTime>,
}

/// The most that something carries.
#[derive(Serialize, ToSchema)]
pub struct CarriedView {
    pub lasting: Option<LoadView>,
    /// While a key is held against its spring.
    pub moment: Option<LoadView>,
}

/// Amperes, and where they are reached.
#[derive(Serialize, ToSchema)]
pub struct LoadView {
    pub amps: f64,
    pub condition: BTreeMap<String, String>,
    pub engine: Engine,
}

/// A wire.
#[derive(Serialize, ToSchema)]
pub struct FusedWireView {
    pub name: String,
    /// American wire gauge, where somebody looked at it.
    pub gauge: Option<u8>,
    pub carries: Option<f64>,
    pub carried: CarriedView,
    /// The fuse that would blow first, and its rating.
    pub fuse: Option<String>,
    pub rating: Option<f64>,
    pub word: WireWord,
}

/// Every fuse and wire of a job's machine, with the fuses that were read.
#[utoipa::path(get, operation_id = "fuses", path = "/jobs/{id}/fuses", params(("id" = Uuid, Path)),
    responses((status = 200, body = FusesView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem)))]
pub async fn get(
    State(app): State<App>,
    Path(id): Path<Uuid>,
) -> Result<Reply<FusesView>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let (question, size) = (loaded.question("fuses"), loaded.size());
    app.ask(question, size, move || Ok(view(&loaded))).await
}

/// The same as comma-separated values.
#[utoipa::path(get, operation_id = "export_fuses_csv", path = "/jobs/{id}/fuses.csv", params(("id" = Uuid, Path)),
    responses((status = 200, content_type = "text/csv", body = String), (status = 404, body = Problem)))]
pub async fn csv(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let number = loaded.job.number;
    let text = aside(move || {
        let circuit: &Circuit = loaded.compiled.circuit();
        sheet(&loaded).to_csv(
            |part| circuit.part(part).name.clone(),
            |wire| wire_name(circuit, wire),
            |load| stands(circuit, &load.condition),
        )
    })
    .await?;
    Ok(attachment(&format!("job {number} fuses.csv"), CSV, text))
}

fn sheet(loaded: &Loaded) -> FuseSheet {
    loaded.compiled.model.fuse_sheet(&loaded.fitted)
}

fn view(loaded: &Loaded) -> FusesView {
    let circuit: &Circuit = loaded.compiled.circuit();
    let FuseSheet { fuses, wires } = sheet(loaded);
    FusesView {
        open: loaded.job.status == JobStatus::Open,
        fuses: fuses.iter().map(|row| fuse_view(circuit, row)).collect(),
        wires: wires.iter().map(|row| wire_view(circuit, row)).collect(),
        wire_source: WIRE_SOURCE.to_owned(),
        blow_source: BLOW_SOURCE.to_owned(),
    }
}

fn fuse_view(circuit: &Circuit, row: &FuseRow) -> FuseView {
    let part = circuit.part(row.part);
    FuseView {
        fuse: part.id.clone(),
        name: part.name.clone(),
        breaker: row.breaker,
        called_for: row.called_for,
        read: row.fitted,
        carried: carried_view(circuit, &row.carried),
        wires: row.wires.len(),
        thinnest: row
            .thinnest
            .map(|(wire, amps)| ThinnestView { wire: wire_name(circuit, wire), amps }),
        short: row.short.map(|short| ShortView {
            wire: wire_name(circuit, short.wire),
            amps: short.amps,
            blows: short.blows.filter(|_| !row.breaker),
        }),
        wrong: row.words.iter().any(|w| w.is_wrong()),
        words: row.words.clone(),
    }
}

fn wire_view(circuit: &Circuit, row: &WireRow) -> FusedWireView {
    FusedWireView {
        name: wire_name(circuit, row.wire),
        gauge: row.gauge,
        carries: row.carries,
        carried: carried_view(circuit, &row.carried),
        fuse: row.fuse.map(|(part, _)| circuit.part(part).name.clone()),
        rating: row.fuse.and_then(|(_, rating)| rating),
        word: row.word,
    }
}

fn wire_name(circuit: &Circuit, wire: usize) -> String {
    let document = circuit.document();
    document.wire_name(&document.wires[wire]).to_string()
}

fn carried_view(circuit: &Circuit, carried: &Carried) -> CarriedView {
    let load = |load: &Load| LoadView {
        amps: load.amps,
        condition: condition_view(circuit, &load.condition),
        engine: load.condition.engine,
    };
    CarriedView {
        lasting: carried.lasting.as_ref().map(load),
        moment: carried.moment.as_ref().map(load),
    }
}

/// "key run, seat on"
fn stands(circuit: &Circuit, condition: &Condition) -> String {
    let all: Vec<_> = condition.named(circuit).map(|(c, at)| format!("{c} {at}")).collect();
    all.join(", ")
}
