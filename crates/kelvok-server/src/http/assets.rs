//! The web application, embedded in the program.

use crate::http::problem::Problem;
use axum::http::{HeaderValue, Method, StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rust_embed::RustEmbed;
use uuid::Uuid;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
struct Assets;

/// Stands in the page where the style nonce of each answer goes.
const NONCE: &str = "__NONCE__";

/// A file of the web application; any other path is a screen, and gets the page.
pub async fn asset(method: Method, uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    if path.starts_with("api/") {
        return Problem::new(StatusCode::NOT_FOUND, format!("There is no /{path}."))
            .into_response();
    }
    if !matches!(method, Method::GET | Method::HEAD) {
        let mut response = not_allowed().await.into_response();
        response.headers_mut().insert(header::ALLOW, HeaderValue::from_static("GET,HEAD"));
        return response;
    }
    match Assets::get(path) {
        Some(file) if path != "index.html" => {
            let kind = mime_guess::from_path(path).first_or_octet_stream();
            // Built names carry a hash of what is in them.
            let keep = if path.starts_with("assets/") {
                "public, max-age=31536000, immutable"
            } else {
                "no-cache"
            };
            ([(header::CONTENT_TYPE, kind.as_ref()), (header::CACHE_CONTROL, keep)], file.data)
                .into_response()
        }
        None if path.starts_with("assets/") => StatusCode::NOT_FOUND.into_response(),
        _ => page(),
    }
}

/// What is there, but not for this method.
pub async fn not_allowed() -> Problem {
    Problem::new(StatusCode::METHOD_NOT_ALLOWED, "That cannot be done here.")
}

fn page() -> Response {
    let Some(file) = Assets::get("index.html") else {
        let sentence = "The web application was not built: run npm ci && npm run build in web/.";
        return (StatusCode::NOT_FOUND, sentence).into_response();
    };
    let nonce = Uuid::new_v4().simple().to_string();
    let page = String::from_utf8_lossy(&file.data).replace(NONCE, &nonce);
    let policy = format!(
        "default-src 'self'; style-src 'self' 'nonce-{nonce}'; object-src 'none'; \
         base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
    );
    let mut response = (
        [(header::CONTENT_TYPE, "text/html; charset=utf-8"), (header::CACHE_CONTROL, "no-cache")],
        page,
    )
        .into_response();
    if let Ok(policy) = HeaderValue::from_str(&policy) {
        response.headers_mut().insert(header::CONTENT_SECURITY_POLICY, policy);
    }
    response
}
