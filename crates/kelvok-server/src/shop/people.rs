use crate::app::App;
use crate::http::problem::Problem;
use axum::Json;
use axum::extract::State;

/// The names that may record.
#[utoipa::path(get, operation_id = "list_people", path = "/people", responses((status = 200, body = Vec<String>)))]
pub async fn list(State(app): State<App>) -> Result<Json<Vec<String>>, Problem> {
    Ok(Json(app.store.people().await?))
}
