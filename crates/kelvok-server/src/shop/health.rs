use crate::app::App;
use crate::http::problem::Problem;
use axum::Json;
use axum::extract::State;
use serde::Serialize;
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct Health {
    /// `ok` while the database answers.
    pub database: String,
    pub version: String,
    /// Heavy questions that are being worked out or wait for it.
    pub questions: usize,
    /// What is kept of machines so that it is not worked out again, in megabytes.
    pub kept_megabytes: f64,
}

/// Whether the server and its database answer.
#[utoipa::path(get, path = "/health", responses(
    (status = 200, body = Health),
    (status = 503, description = "The database does not answer", body = Problem),
))]
pub async fn health(State(app): State<App>) -> Result<Json<Health>, Problem> {
    app.store.ping().await?;
    Ok(Json(Health {
        database: "ok".to_owned(),
        version: env!("CARGO_PKG_VERSION").to_owned(),
        questions: app.desk.questions(),
        kept_megabytes: app.circuits.bytes() as f64 / 1e6,
    }))
}
