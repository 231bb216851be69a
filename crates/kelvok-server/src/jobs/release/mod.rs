//! A job's release: what to try before the machine goes back, what was seen, what blocks, and who answers for it.

mod entries;
mod killed;
mod view;

pub(crate) use killed::causes_left;
pub(crate) use view::{EndedView, ended_of};

use crate::app::App;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

/// Everything under `/jobs/{id}/release`.
pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(entries::get))
        .routes(routes!(entries::record))
        .routes(routes!(entries::void))
}
