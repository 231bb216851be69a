//! What leaves the application as a file.

use axum::http::header;
use axum::response::{IntoResponse, Response};

pub const CSV: &str = "text/csv; charset=utf-8";

/// A file to be saved under a name.
pub fn attachment(name: &str, kind: &'static str, text: String) -> Response {
    // A quote or a line in a name would end the header, a slash would leave the folder.
    let safe = |c: &char| {
        !c.is_control() && !matches!(c, '"' | '\\' | '/' | ':' | '*' | '?' | '<' | '>' | '|')
    };
    let name: String = name.trim_start_matches('.').chars().filter(safe).collect();
    let ascii: String = name.chars().filter(char::is_ascii).collect();
    // RFC 6266: the plain name for old programs, every letter for the others.
    let every: String = name
        .bytes()
        .map(|b| match b {
            b'a'..=b'z' | b'A'..=b'Z' | b'0'..=b'9' | b'-' | b'.' | b'_' => {
                char::from(b).to_string()
            }
            other => format!("%{other:02X}"),
        })
        .collect();
    let disposition = format!("attachment; filename=\"{ascii}\"; filename*=UTF-8''{every}");
    let headers =
        [(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, disposition)];
    (headers, text).into_response()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_ends_no_header_leaves_no_folder_and_keeps_its_letters() {
        let odd = "../..\\a\"b\r\nSet-Cookie: x\u{0}/Rødgård 𝄞.csv";
        let response = attachment(odd, CSV, String::new());
        let header = response.headers()[header::CONTENT_DISPOSITION].to_str().expect("one line");
        assert_eq!(
            header,
            "attachment; filename=\"..abSet-Cookie xRdgrd .csv\"; \
             filename*=UTF-8''..abSet-Cookie%20xR%C3%B8dg%C3%A5rd%20%F0%9D%84%9E.csv"
        );
    }
}
