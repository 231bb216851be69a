//! The switch bench: switches in the hand, their profiles, and what becomes of the results.

mod attach;
mod entries;
mod loaded;
mod machine;
mod profiles;
mod switches;
mod table;
mod view;
mod wires;

use crate::app::App;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

/// Everything under `/bench` and `/switch-profiles`.
pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(profiles::list, profiles::keep))
        .routes(routes!(profiles::document, profiles::forget))
        .routes(routes!(machine::switches_of))
        .routes(routes!(switches::list, switches::open))
        .routes(routes!(switches::get, switches::change))
        .routes(routes!(switches::set_status))
        .routes(routes!(entries::record))
        .routes(routes!(entries::void))
        .routes(routes!(table::bring_in))
        .routes(routes!(table::csv))
        .routes(routes!(table::found_profile))
        .routes(routes!(view::which::assignments))
        .routes(routes!(attach::attach))
}
