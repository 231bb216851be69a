//! The fault-and-effect sheet.

use crate::app::App;
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use crate::machines::Known;
use crate::views::names::full_name;
use crate::work::desk::{Progress, Reply};
use axum::extract::State;
use kelvok_core::circuit::{Circuit, FaultMode, fault_notation};
use kelvok_core::interlock::{FaultEffect, FaultRow, FaultSheet, Noticeable};
use serde::Serialize;
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct FaultSheetView {
    pub rows: Vec<FaultRowView>,
}

#[derive(Serialize, ToSchema)]
pub struct FaultRowView {
    /// What fails: "Brake switch, start contacts".
    pub thing: String,
    pub mode: FaultMode,
    /// In the fault notation, a size each.
    pub faults: Vec<String>,
    pub verdict: Noticeable,
    pub shows: Vec<ShowsView>,
    /// Names of the duties that are done without it and not with it.
    pub breaks: Vec<String>,
}

#[derive(Serialize, ToSchema)]
pub struct ShowsView {
    /// What the operator does just then.
    pub when: String,
    /// What differs.
    pub effects: Vec<FaultEffect>,
}

impl ShowsView {
    /// What differs in each of the conditions of normal use.
    pub fn all(circuit: &Circuit, shows: &[(usize, Vec<FaultEffect>)]) -> Vec<Self> {
        let view = |(i, effects): &(usize, Vec<FaultEffect>)| Self {
            when: circuit.document().normal_use[*i].name.clone(),
            effects: effects.clone(),
        };
        shows.iter().map(view).collect()
    }
}

impl FaultSheetView {
    fn of(circuit: &Circuit, sheet: &FaultSheet) -> Self {
        Self { rows: sheet.rows.iter().map(|row| FaultRowView::of(circuit, row)).collect() }
    }
}

impl FaultRowView {
    fn of(circuit: &Circuit, row: &FaultRow) -> Self {
        let document = circuit.document();
        let faults: Vec<_> =
            row.magnitudes.iter().map(|m| fault_notation(circuit, row.fault.at(*m))).collect();
        let named = row.fault.element().map(|id| full_name(circuit, id));
        // What no element stands for, its notation does: a plunger, two terminals, a whole plug.
        let thing = named.unwrap_or_else(|| subject(circuit, &faults[0]));
        Self {
            thing,
            mode: row.fault.mode,
            verdict: row.verdict,
            shows: ShowsView::all(circuit, &row.shows),
            breaks: row.breaks.iter().map(|d| document.duties[*d].name.clone()).collect(),
            faults,
        }
    }
}

/// What a fault's notation speaks of: "Seat switch", "Key switch B to L".
fn subject(circuit: &Circuit, notation: &str) -> String {
    let (first, mode) = notation.split_once('=').unwrap_or((notation, ""));
    let name = |address: &str| {
        let (part, terminal) = address.split_once('.').unwrap_or((address, ""));
        let part = circuit.part_named(part).map_or(part, |p| circuit.part(p).name.as_str());
        format!("{part} {terminal}").trim().to_owned()
    };
    let second = mode.strip_prefix("touches:").or_else(|| mode.strip_prefix("swapped:"));
    match second {
        Some(second) => {
            let end = second.find([':', '@']).unwrap_or(second.len());
            format!("{} to {}", name(first), name(&second[..end]))
        }
        None => name(first),
    }
}

/// Every single fault and what comes of it. The first asking of a revision takes seconds.
#[utoipa::path(get, operation_id = "machine_faults", path = "/machines/{name}/faults", params(("name" = String, Path)),
    responses((status = 200, body = FaultSheetView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem)))]
pub async fn sheet(
    State(app): State<App>,
    Path(name): Path<String>,
) -> Result<Reply<FaultSheetView>, Problem> {
    let known = Known::get(&app, &name).await?;
    let compiled = known.compiled(&app).await?;
    let size = compiled.size();
    let view = move || Ok(FaultSheetView::of(compiled.circuit(), compiled.sheet()));
    app.ask(known.question("fault sheet"), size, view).await
}
