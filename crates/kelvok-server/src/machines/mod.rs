//! Machines: the library, one machine, and everything that is asked of it.

mod circuits;
mod conditions;
mod described;
mod edit;
mod exports;
mod harness;
mod library;
mod logic;
mod revisions;
mod sheet;
mod snapshot;
mod symptoms;
mod trace;
mod ways;

use crate::app::App;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

pub use library::Known;
pub(crate) use library::keep_document;
pub use revisions::MadeBy;
pub use sheet::ShowsView;

/// Everything under `/machines`.
pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(library::list, library::save))
        .routes(routes!(library::check_document))
        .routes(routes!(described::describe_machine))
        .routes(routes!(library::get))
        .routes(routes!(logic::logic))
        .routes(routes!(revisions::list, revisions::restore))
        .routes(routes!(revisions::difference))
        .routes(routes!(edit::review))
        .routes(routes!(edit::keep))
        .routes(routes!(edit::wire_list))
        .routes(routes!(circuits::circuit))
        .routes(routes!(ways::ways))
        .routes(routes!(snapshot::snapshot))
        .routes(routes!(snapshot::compare))
        .routes(routes!(harness::harness))
        .routes(routes!(sheet::sheet))
        .routes(routes!(symptoms::symptoms))
        .routes(routes!(symptoms::read_sentence))
        .routes(routes!(conditions::keep))
        .routes(routes!(conditions::forget))
        .routes(routes!(exports::document))
        .routes(routes!(exports::table))
        .routes(routes!(exports::faults))
        .routes(routes!(exports::wires))
        .routes(routes!(exports::netlist))
        .merge(trace::routes())
}
