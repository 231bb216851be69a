//! The router, and the server that runs it.

use super::app::App;
use super::describe::describe_problems;
use super::desk::Progress;
use super::listen::{Limits, listen};
use super::problem::Problem;
use super::{
    assets, bench, diagnosis, evidence, gate, health, jobs, machines, meters, people, reference,
    stories, sweeps, trace, verdicts,
};
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
use utoipa_axum::routes;

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
        .routes(routes!(health::health))
        .routes(routes!(jobs::list, jobs::open))
        .routes(routes!(jobs::get))
        .routes(routes!(jobs::set_status))
        .routes(routes!(evidence::record))
        .routes(routes!(evidence::void))
        .routes(routes!(verdicts::record))
        .routes(routes!(verdicts::void))
        .routes(routes!(trace::trace))
        .routes(routes!(diagnosis::diagnosis))
        .routes(routes!(diagnosis::forecast::get))
        .routes(routes!(diagnosis::own_test::weigh_own_test))
        .routes(routes!(sweeps::list))
        .routes(routes!(meters::list))
        .routes(routes!(meters::live))
        .routes(routes!(meters::bring_about_stand_in))
        .routes(routes!(stories::json))
        .routes(routes!(stories::csv))
        .routes(routes!(stories::bring_in))
        .merge(machines::routes())
        .merge(bench::routes())
        .routes(routes!(people::list))
        .routes(routes!(reference::reference));
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
