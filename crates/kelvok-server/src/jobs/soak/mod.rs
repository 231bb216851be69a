//! A job's soak: how long it was run until what comes and goes had shown, or kept quiet. The clock is the
//! server's: it runs on whatever becomes of the tablet.

mod entries;
mod view;

pub(crate) use view::soak_says;

use crate::app::App;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

/// Everything under `/jobs/{id}/soak`.
pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(entries::get))
        .routes(routes!(entries::record))
        .routes(routes!(entries::void))
}
