//! Profiles of switches: those that ship with Kelvok, and the shop's own.

use crate::app::App;
use crate::http::attachment::attachment;
use crate::http::bodies::{Body, Path};
use crate::http::input;
use crate::http::problem::Problem;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::Response;
use kelvok_core::bench::{Profile, ProfileDocument};
use kelvok_store::KeptProfile;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct ProfileView {
    pub document: ProfileDocument,
    /// Who kept it; none where it ships with Kelvok.
    pub kept_by: Option<String>,
}

#[derive(Deserialize, ToSchema)]
pub struct KeepProfile {
    pub by: String,
    /// The document, as text, so that every mistake in it is found where it stands.
    pub document: String,
}

/// Every profile: those that ship with Kelvok, then the shop's own. One that can no longer be read
/// is left out.
pub(crate) async fn library(app: &App) -> Result<Vec<Profile>, Problem> {
    let own = app.store.switch_profiles().await?;
    let own = own.into_iter().filter_map(|kept| Profile::read(&kept.document).ok());
    Ok(Profile::shipped().into_iter().chain(own).collect())
}

/// One profile, by id.
pub(crate) async fn of_id(app: &App, id: &str) -> Result<ProfileDocument, Problem> {
    let found = library(app).await?.into_iter().find(|p| p.document().id == id);
    let found = found.map(|p| p.document().clone());
    found.ok_or_else(|| Problem::new(StatusCode::NOT_FOUND, format!("There is no profile {id}.")))
}

/// Every profile.
#[utoipa::path(get, operation_id = "switch_profiles", path = "/switch-profiles",
    responses((status = 200, body = Vec<ProfileView>)))]
pub async fn list(State(app): State<App>) -> Result<Json<Vec<ProfileView>>, Problem> {
    let own = app.store.switch_profiles().await?.into_iter();
    let own = own.filter_map(|kept| Some((Profile::read(&kept.document).ok()?, kept.kept_by)));
    let shipped = Profile::shipped().into_iter().map(|p| (p, None));
    let all = shipped.chain(own.map(|(p, by)| (p, Some(by))));
    let views = all.map(|(p, kept_by)| ProfileView { document: p.document().clone(), kept_by });
    Ok(Json(views.collect()))
}

/// Keeps a profile of the shop's own. One that is kept is never changed; give a better one an id of
/// its own.
#[utoipa::path(post, operation_id = "keep_switch_profile", path = "/switch-profiles",
    request_body = KeepProfile, responses(
    (status = 200, body = ProfileView),
    (status = 409, description = "Another profile has this id", body = Problem),
    (status = 422, description = "Every mistake in the document, a sentence each", body = Problem),
))]
pub async fn keep(
    State(app): State<App>,
    Body(new): Body<KeepProfile>,
) -> Result<Json<ProfileView>, Problem> {
    let by = input::person(&new.by)?;
    let mistakes = "The profile has mistakes.";
    let profile = Profile::read(&new.document).map_err(|p| Problem::fields(mistakes, &p))?;
    let document = profile.document().clone();
    if document.id.trim().is_empty() || document.id.chars().count() > 80 {
        return Err(Problem::field("/id", "An id has 1 to 80 characters."));
    }
    if Profile::shipped().iter().any(|p| p.document().id == document.id) {
        let sentence = "A profile that ships with Kelvok has this id: give yours one of its own.";
        return Err(Problem::new(StatusCode::CONFLICT, sentence));
    }
    let text = serde_json::to_string_pretty(&document).map_err(|_| Problem::internal())?;
    let kept = KeptProfile { id: document.id.clone(), document: text, kept_by: by.clone() };
    app.store.keep_profile(&kept).await?;
    Ok(Json(ProfileView { document, kept_by: Some(by) }))
}

/// A profile as a document.
#[utoipa::path(get, operation_id = "switch_profile", path = "/switch-profiles/{id}",
    params(("id" = String, Path)), responses((status = 200, body = ProfileDocument),
    (status = 404, body = Problem)))]
pub async fn document(State(app): State<App>, Path(id): Path<String>) -> Result<Response, Problem> {
    let document = of_id(&app, &id).await?;
    let text = serde_json::to_string_pretty(&document).map_err(|_| Problem::internal())? + "\n";
    Ok(attachment(&format!("{id}.json"), "application/json", text))
}

/// Forgets a profile of the shop's own. Switches that were tested against it keep their copy.
#[utoipa::path(delete, operation_id = "forget_switch_profile", path = "/switch-profiles/{id}",
    params(("id" = String, Path)), responses((status = 204), (status = 404, body = Problem)))]
pub async fn forget(State(app): State<App>, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    app.store.forget_profile(&id).await?;
    Ok(StatusCode::NO_CONTENT)
}
