//! What is asked of the shop as a whole.

mod health;
mod people;
mod reference;

use crate::app::App;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(health::health))
        .routes(routes!(people::list))
        .routes(routes!(reference::reference))
}
