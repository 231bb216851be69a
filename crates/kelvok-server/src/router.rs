//! The router, and the server that runs it.

use crate::app::App;
use crate::http::describe::describe_problems;
use crate::http::listen::{Limits, listen};
use crate::http::problem::Problem;
use crate::http::{assets, gate};
use crate::work::desk::Progress;
use crate::{bench, jobs, machines, meters, shop};
use axum::extract::DefaultBodyLimit;
use axum::response::IntoResponse;
use axum::{Router, middleware};
use std::future::Future;
use tokio::net::TcpListener;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::trace::TraceLayer;
use utoipa::OpenApi;
use utoipa_axum::router::OpenApiRouter;

#[derive(OpenApi)]
#[openapi(
    info(
        title = "Kelvok",
        description = "Diagnosis of 12 V interlock circuits of mowers and tractors. Volts in V, \
                       resistances in ohm, currents in A, times in minutes. Errors are RFC 9457 \
                       problems (`application/problem+json`). Whatever changes something needs an \
                       `Origin` header with the server's own address, as a browser sends it. An answer \
                       that takes long is 202 with how far it is: ask again just as before.",
        license(name = "MIT OR Apache-2.0")
    ),
    components(schemas(Problem, Progress))
)]
struct ApiDoc;

fn api() -> OpenApiRouter<App> {
    let v1 = OpenApiRouter::new()
        .merge(jobs::routes())
        .merge(machines::routes())
        .merge(bench::routes())
        .merge(meters::routes())
        .merge(shop::routes());
    let mut all = OpenApiRouter::with_openapi(ApiDoc::openapi()).nest("/api/v1", v1);
    describe_problems(all.get_openapi_mut());
    all
}

/// The OpenAPI description, as JSON.
pub fn openapi() -> String {
    let (_, doc) = api().split_for_parts();
    doc.to_pretty_json().unwrap_or_default() + "\n"
}

/// Everything the server answers.
fn router(app: App) -> Router {
    let (api, _) = api().split_for_parts();
    let description = openapi();
    api.route(
        "/api/v1/openapi.json",
        axum::routing::get(|| async move {
            ([(axum::http::header::CONTENT_TYPE, "application/json")], description)
        }),
    )
    .fallback(assets::asset)
    .method_not_allowed_fallback(assets::not_allowed)
    .layer(DefaultBodyLimit::disable())
    .layer(middleware::from_fn(gate::whole_body))
    .layer(middleware::from_fn(gate::in_time))
    .layer(CatchPanicLayer::custom(|_| Problem::internal().into_response()))
    .layer(middleware::from_fn_with_state(app.clone(), gate::own_host))
    .layer(middleware::from_fn(gate::headers))
    .layer(CompressionLayer::new())
    .layer(TraceLayer::new_for_http())
    .with_state(app)
}

/// Serves until `stop` resolves, then lets running requests finish. What is being worked out then is
/// stopped.
///
/// # Errors
/// The listener fails.
pub async fn serve(
    app: App,
    listener: TcpListener,
    stop: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    let desk = app.desk.clone();
    let stop = async move {
        stop.await;
        desk.stop();
    };
    listen(router(app), listener, Limits::default(), stop).await
}
