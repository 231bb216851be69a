//! Request bodies and queries whose rejections are problems like any other.

use crate::http::problem::Problem;
use axum::extract::rejection::PathRejection;
use axum::extract::{FromRequest, FromRequestParts, Request};
use axum::http::StatusCode;
use axum::http::request::Parts;
use kelvok_core::circuit::{Circuit, Condition, Engine};
use serde::de::DeserializeOwned;

/// A JSON body.
pub struct Body<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned> FromRequest<S> for Body<T> {
    type Rejection = Problem;

    async fn from_request(request: Request, state: &S) -> Result<Self, Problem> {
        match axum::Json::from_request(request, state).await {
            Ok(axum::Json(body)) => Ok(Self(body)),
            Err(rejection) => Err(explain(rejection.status(), rejection.body_text())),
        }
    }
}

fn explain(status: StatusCode, why: String) -> Problem {
    match status {
        StatusCode::PAYLOAD_TOO_LARGE => {
            Problem::new(StatusCode::PAYLOAD_TOO_LARGE, "That is larger than is taken here.")
        }
        status => Problem::new(status, why),
    }
}

/// What is asked for behind the `?`.
pub struct Query<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned + Send> FromRequestParts<S> for Query<T> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        match axum::extract::Query::from_request_parts(parts, state).await {
            Ok(axum::extract::Query(value)) => Ok(Self(value)),
            Err(rejection) => Err(Problem::field("query", rejection.body_text())),
        }
    }
}

/// A body of text, whatever it is meant to be.
pub struct Text(pub String);

impl<S: Send + Sync> FromRequest<S> for Text {
    type Rejection = Problem;

    async fn from_request(request: Request, state: &S) -> Result<Self, Problem> {
        match String::from_request(request, state).await {
            Ok(text) => Ok(Self(text)),
            Err(rejection) => Err(explain(rejection.status(), rejection.body_text())),
        }
    }
}

/// Path parameters.
pub struct Path<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned + Send> FromRequestParts<S> for Path<T> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        let path = axum::extract::Path::from_request_parts(parts, state).await;
        path.map(|axum::extract::Path(value)| Self(value)).map_err(|_: PathRejection| {
            // What a parser has against it says nothing to whoever typed the address.
            Problem::new(StatusCode::NOT_FOUND, "There is nothing at this address.")
        })
    }
}

/// A condition asked about in a query: `set=key:start&set=pedal:down&engine=running`. What is not
/// set stands at rest, the engine stopped.
pub struct Asked {
    set: Vec<(String, String)>,
    engine: Engine,
}

impl Asked {
    /// The condition of this machine; `None` where nothing was set.
    pub fn given(&self, circuit: &Circuit) -> Result<Option<Condition>, Problem> {
        if self.set.is_empty() { Ok(None) } else { self.condition(circuit).map(Some) }
    }

    /// The condition of this machine.
    pub fn condition(&self, circuit: &Circuit) -> Result<Condition, Problem> {
        let set = self.set.iter().map(|(c, p)| (c.as_str(), p.as_str()));
        Ok(Condition { engine: self.engine, ..Condition::with(circuit, set)? })
    }

    fn read(pairs: &[(String, String)], prefix: &str) -> Result<Self, Problem> {
        let named = |wanted: &str| {
            let wanted = format!("{prefix}{wanted}");
            pairs.iter().filter(move |(name, _)| *name == wanted).map(|(_, value)| value)
        };
        let set = named("set").map(|value| match value.split_once(':') {
            Some((control, position)) => Ok((control.to_owned(), position.to_owned())),
            None => Err(Problem::field("set", format!("\"{value}\" is not control:position."))),
        });
        let engine = match named("engine").next_back() {
            None => Engine::Stopped,
            Some(name) => Engine::named(name).ok_or_else(|| {
                Problem::field("engine", format!("The engine is never \"{name}\"."))
            })?,
        };
        Ok(Self { set: set.collect::<Result<_, _>>()?, engine })
    }
}

async fn pairs<S: Send + Sync>(
    parts: &mut Parts,
    state: &S,
) -> Result<Vec<(String, String)>, Problem> {
    let pairs = axum::extract::Query::<Vec<(String, String)>>::from_request_parts(parts, state);
    let axum::extract::Query(pairs) =
        pairs.await.map_err(|e| Problem::field("set", e.body_text()))?;
    Ok(pairs)
}

impl<S: Send + Sync> FromRequestParts<S> for Asked {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        Self::read(&pairs(parts, state).await?, "")
    }
}

/// Two conditions: the second one's names begin with `to_`.
pub struct AskedPair(pub Asked, pub Asked);

impl<S: Send + Sync> FromRequestParts<S> for AskedPair {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        let pairs = pairs(parts, state).await?;
        Ok(Self(Asked::read(&pairs, "")?, Asked::read(&pairs, "to_")?))
    }
}
