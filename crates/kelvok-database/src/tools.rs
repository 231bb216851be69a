use super::error::DatabaseError;
use std::ffi::OsStr;
use std::fmt::Write;
use std::os::unix::ffi::OsStrExt;
use std::path::Path;
use std::process::{Command, Stdio};

/// Runs a program of the system and says what it printed.
pub(super) fn run<S: AsRef<OsStr>>(
    program: &'static str,
    arguments: impl IntoIterator<Item = S>,
) -> Result<String, DatabaseError> {
    let output = Command::new(program)
        .args(arguments)
        .stdin(Stdio::null())
        .output()
        .map_err(|source| DatabaseError::Program { program, source })?;
    let text = |bytes: &[u8]| String::from_utf8_lossy(bytes).trim().to_owned();
    if output.status.success() {
        return Ok(text(&output.stdout));
    }
    Err(DatabaseError::Failed { program, output: text(&output.stderr) })
}

/// A path as a value in a URL's query.
pub(super) fn in_url(path: &Path) -> String {
    let mut url = String::new();
    for byte in path.as_os_str().as_bytes() {
        match byte {
            b'a'..=b'z' | b'A'..=b'Z' | b'0'..=b'9' | b'/' | b'-' | b'_' | b'.' => {
                url.push(char::from(*byte));
            }
            // Writing to a string cannot fail.
            other => _ = write!(url, "%{other:02X}"),
        }
    }
    url
}
