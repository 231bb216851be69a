//! What leaves the application as a file.

use crate::app::App;
use crate::http::attachment::{CSV, attachment};
use crate::http::bodies::{Asked, Path};
use crate::http::problem::Problem;
use crate::machines::Known;
use crate::work::desk::{Progress, Size};
use axum::extract::State;
use axum::response::Response;
use kelvok_core::circuit::Netlist;
use kelvok_core::interlock::{InterlockTable, Judge, Spreadsheet};

/// What a table's file is called; of a machine that is not as built it says so.
fn table_name(known: &Known, table: &str) -> String {
    let found = if known.circuit().as_found.is_empty() { "" } else { " as found" };
    format!("{} {table}{found}.csv", known.name)
}

/// The machine document, just as it was taken in.
#[utoipa::path(get, operation_id = "export_machine", path = "/machines/{name}/document.json", params(("name" = String, Path)),
    responses((status = 200, content_type = "application/json", body = Object), (status = 404, body = Problem)))]
pub async fn document(
    State(app): State<App>,
    Path(name): Path<String>,
) -> Result<Response, Problem> {
    let known = Known::get(&app, &name).await?;
    let document = app.store.revision(known.revision.id).await?.document;
    Ok(attachment(&format!("{}.json", known.name), "application/json", document))
}

/// The interlock table.
#[utoipa::path(get, operation_id = "export_table", path = "/machines/{name}/table.csv", params(("name" = String, Path)),
    responses((status = 200, content_type = "text/csv", body = String),
    (status = 202, description = "It is being worked out; ask again", body = Progress), (status = 404, body = Problem)))]
pub async fn table(State(app): State<App>, Path(name): Path<String>) -> Result<Response, Problem> {
    let known = Known::get(&app, &name).await?;
    let named = table_name(&known, "interlock table");
    let question = known.question("table.csv");
    let work = move || {
        let table = InterlockTable::of(&mut Judge::new(known.circuit(), &[]))?;
        Ok(Spreadsheet::of_table(known.circuit(), &table).csv())
    };
    let reply = app.ask(question, Size::Ordinary, work).await?;
    Ok(reply.into_response_with(|text: &String| attachment(&named, CSV, text.clone())))
}

/// The fault-and-effect sheet.
#[utoipa::path(get, operation_id = "export_faults", path = "/machines/{name}/faults.csv", params(("name" = String, Path)),
    responses((status = 200, content_type = "text/csv", body = String),
    (status = 202, description = "It is being worked out; ask again", body = Progress), (status = 404, body = Problem)))]
pub async fn faults(State(app): State<App>, Path(name): Path<String>) -> Result<Response, Problem> {
    let known = Known::get(&app, &name).await?;
    let named = table_name(&known, "fault sheet");
    let compiled = known.compiled(&app).await?;
    let size = compiled.size();
    let work = move || Ok(Spreadsheet::of_sheet(compiled.circuit(), compiled.sheet()).csv());
    let reply = app.ask(known.question("faults.csv"), size, work).await?;
    Ok(reply.into_response_with(|text: &String| attachment(&named, CSV, text.clone())))
}

/// The wire list.
#[utoipa::path(get, operation_id = "export_wires", path = "/machines/{name}/wires.csv", params(("name" = String, Path)),
    responses((status = 200, content_type = "text/csv", body = String), (status = 404, body = Problem)))]
pub async fn wires(State(app): State<App>, Path(name): Path<String>) -> Result<Response, Problem> {
    let known = Known::get(&app, &name).await?;
    let named = table_name(&known, "wires");
    Ok(attachment(&named, CSV, Spreadsheet::of_wires(known.circuit()).csv()))
}

/// The machine in a condition as a SPICE netlist.
#[utoipa::path(get, operation_id = "export_netlist", path = "/machines/{name}/netlist.cir", params(
    ("name" = String, Path),
    ("set" = Vec<String>, Query, description = "`control:position`, once a control"),
    ("engine" = Option<String>, Query, description = "stopped, cranking, running, running-hot"),
), responses((status = 200, content_type = "text/plain", body = String), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn netlist(
    State(app): State<App>,
    Path(name): Path<String>,
    asked: Asked,
) -> Result<Response, Problem> {
    let known = Known::get(&app, &name).await?;
    let condition = asked.condition(known.circuit())?;
    let netlist = Netlist::of(known.circuit(), &condition, &[]);
    Ok(attachment(&format!("{}.cir", known.name), "text/plain; charset=utf-8", netlist.text))
}
