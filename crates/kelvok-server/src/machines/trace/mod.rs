//! A machine's harness traced with a buzzer, by everybody at it together.

mod entries;
mod keep;
mod view;

use crate::app::App;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

/// Everything under `/machines/{name}/trace`.
pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(entries::standing))
        .routes(routes!(entries::record))
        .routes(routes!(entries::void))
        .routes(routes!(keep::keep))
}
