//! Request bodies and queries whose rejections are problems like any other.

use super::problem::Problem;
use axum::extract::rejection::{JsonRejection, PathRejection};
use axum::extract::{FromRequest, FromRequestParts, Request};
use axum::http::StatusCode;
use axum::http::request::Parts;
use serde::de::DeserializeOwned;

/// A JSON body.
pub struct Body<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned> FromRequest<S> for Body<T> {
    type Rejection = Problem;

    async fn from_request(request: Request, state: &S) -> Result<Self, Problem> {
        match axum::Json::from_request(request, state).await {
            Ok(axum::Json(body)) => Ok(Self(body)),
            Err(rejection) => Err(explain(&rejection)),
        }
    }
}

fn explain(rejection: &JsonRejection) -> Problem {
    match rejection.status() {
        StatusCode::PAYLOAD_TOO_LARGE => {
            Problem::new(StatusCode::PAYLOAD_TOO_LARGE, "That is larger than is taken here.")
        }
        status => Problem::new(status, rejection.body_text()),
    }
}

/// Path parameters.
pub struct Path<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned + Send> FromRequestParts<S> for Path<T> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        let path = axum::extract::Path::from_request_parts(parts, state).await;
        path.map(|axum::extract::Path(value)| Self(value)).map_err(|rejection: PathRejection| {
            Problem::new(StatusCode::NOT_FOUND, rejection.body_text())
        })
    }
}

/// The controls named in a query: `set=key:start&set=pedal:down`.
pub struct ControlsSet(pub Vec<(String, String)>);

impl<S: Send + Sync> FromRequestParts<S> for ControlsSet {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        let pairs = axum::extract::Query::<Vec<(String, String)>>::from_request_parts(parts, state);
        let axum::extract::Query(pairs) =
            pairs.await.map_err(|e| Problem::field("set", e.body_text()))?;
        pairs
            .into_iter()
            .filter(|(name, _)| name == "set")
            .map(|(_, value)| match value.split_once(':') {
                Some((control, position)) => Ok((control.to_owned(), position.to_owned())),
                None => Err(Problem::field("set", format!("\"{value}\" is not control:position."))),
            })
            .collect::<Result<_, _>>()
            .map(Self)
    }
}
