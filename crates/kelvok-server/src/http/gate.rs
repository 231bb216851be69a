//! What every request passes: whose it is, how long it may take, what the answer may load.

use crate::app::App;
use crate::http::problem::Problem;
use axum::body::{Body, HttpBody};
use axum::extract::{Request, State};
use axum::http::{HeaderMap, HeaderValue, Method, StatusCode, Uri, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use std::time::Duration;

const PATIENCE: Duration = Duration::from_secs(15);

/// Refuses a foreign Host or Origin: a page of another site, or a name pointed at this machine,
/// gets nothing. What changes something must say that it comes from our own page: a browser says so
/// by itself, a script by an `Origin` header.
pub async fn own_host(State(app): State<App>, request: Request, next: Next) -> Response {
    let allowed = |authority: &str| {
        let host = host_of(authority);
        ["127.0.0.1", "localhost", "[::1]"].contains(&host)
            || app.settings.hosts.iter().any(|h| h == host)
    };
    let headers = request.headers();
    let host = text(headers, header::HOST)
        .or_else(|| request.uri().authority().map(|a| a.as_str().to_owned()));
    if !host.as_deref().is_some_and(allowed) {
        let sentence = "This server does not go by that name.";
        return hang_up(Problem::new(StatusCode::MISDIRECTED_REQUEST, sentence).into_response());
    }
    let asks_only = matches!(*request.method(), Method::GET | Method::HEAD | Method::OPTIONS);
    let from_elsewhere = headers.get("sec-fetch-site").is_some_and(|site| site == "cross-site");
    let to_the_api = request.uri().path().starts_with("/api/");
    if (from_elsewhere && to_the_api) || (!asks_only && !headers.contains_key(header::ORIGIN)) {
        return foreign();
    }
    if let Some(origin) = headers.get(header::ORIGIN) {
        let origin = origin.to_str().unwrap_or_default();
        let own = origin
            .parse::<Uri>()
            .ok()
            .and_then(|u| u.authority().map(|a| a.as_str().to_owned()))
            .is_some_and(|a| allowed(&a) && Some(&a) == host.as_ref());
        if !own {
            return foreign();
        }
    }
    next.run(request).await
}

fn foreign() -> Response {
    let problem = Problem::new(StatusCode::FORBIDDEN, "Requests of other sites are refused.");
    hang_up(problem.into_response())
}

/// Closes the connection after an answer: what the request was going to send is not read.
fn hang_up(mut response: Response) -> Response {
    response.headers_mut().insert(header::CONNECTION, HeaderValue::from_static("close"));
    response
}

/// The largest body taken, in bytes: a machine document with room to spare.
const LARGEST_BODY: usize = 2 * 1024 * 1024;

/// Takes a request's body whole before anything is said to it: an answer that comes before the end of
/// it would leave the connection in the middle of a request, and the next one on it would be lost.
pub async fn whole_body(request: Request, next: Next) -> Response {
    let (parts, body) = request.into_parts();
    let announced = body.size_hint().lower();
    let bytes = match announced > LARGEST_BODY as u64 {
        true => None,
        false => axum::body::to_bytes(body, LARGEST_BODY).await.ok(),
    };
    match bytes {
        Some(bytes) => next.run(Request::from_parts(parts, Body::from(bytes))).await,
        None => {
            let sentence = "That is larger than is taken here, or it did not arrive whole.";
            hang_up(Problem::new(StatusCode::PAYLOAD_TOO_LARGE, sentence).into_response())
        }
    }
}

fn text(headers: &HeaderMap, name: header::HeaderName) -> Option<String> {
    headers.get(name).and_then(|v| v.to_str().ok()).map(str::to_owned)
}

/// The host of `host:port`, brackets of IPv6 kept.
fn host_of(authority: &str) -> &str {
    match authority.rsplit_once(':') {
        Some((host, port)) if port.bytes().all(|b| b.is_ascii_digit()) => host,
        _ => authority,
    }
}

/// Ends a request that takes too long with a problem.
pub async fn in_time(request: Request, next: Next) -> Response {
    match tokio::time::timeout(PATIENCE, next.run(request)).await {
        Ok(response) => response,
        Err(_) => Problem::new(
            StatusCode::SERVICE_UNAVAILABLE,
            "That took too long. Nothing was lost; it will be tried again.",
        )
        .into_response(),
    }
}

/// Headers that every answer has; a page brings its own Content-Security-Policy with a nonce.
pub async fn headers(request: Request, next: Next) -> Response {
    let mut response = next.run(request).await;
    let headers = response.headers_mut();
    for (name, value) in [
        (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
        (header::REFERRER_POLICY, "no-referrer"),
        (header::X_FRAME_OPTIONS, "DENY"),
    ] {
        headers.insert(name, HeaderValue::from_static(value));
    }
    headers
        .entry(header::CONTENT_SECURITY_POLICY)
        .or_insert(HeaderValue::from_static("default-src 'none'; frame-ancestors 'none'"));
    headers.entry(header::CACHE_CONTROL).or_insert(HeaderValue::from_static("no-store"));
    response
}
