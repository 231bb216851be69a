//! What leaves the application as a file.

use axum::http::header;
use axum::response::{IntoResponse, Response};

pub const CSV: &str = "text/csv; charset=utf-8";

/// A file to be saved under a name.
pub fn attachment(name: &str, kind: &'static str, text: String) -> Response {
    // A quote or a line in a name would end the header.
    let name: String =
        name.chars().filter(|c| !c.is_control() && *c != '"' && c.is_ascii()).collect();
    let disposition = format!("attachment; filename=\"{name}\"");
    let headers =
        [(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, disposition)];
    (headers, text).into_response()
}
