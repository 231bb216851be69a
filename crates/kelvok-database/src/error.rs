use std::io;
use std::path::{Path, PathBuf};
use std::process::ExitStatus;

#[derive(Debug, thiserror::Error)]
pub enum DatabaseError {
    #[error(
        "{program} is not installed or will not run: {source}. On Debian: apt-get install mariadb-server"
    )]
    Program { program: &'static str, source: io::Error },
    #[error("{program} failed: {output}")]
    Failed { program: &'static str, output: String },
    #[error("cannot use {path}: {source}")]
    Directory { path: PathBuf, source: io::Error },
    #[error(
        "{path} belongs to somebody else: Kelvok keeps a database only in a directory of your own"
    )]
    NotOwn { path: PathBuf },
    #[error("the name of {0} is too long for a database's socket: choose a shorter one")]
    TooDeep(PathBuf),
    /// Another program runs a database there.
    #[error("Kelvok runs on {directory} already{}", .address.as_ref().map(|a| format!(", at {a}")).unwrap_or_default())]
    Taken { directory: PathBuf, address: Option<String> },
    #[error("MariaDB ended at once ({status}); its log is {log}")]
    Ended { status: ExitStatus, log: PathBuf },
    #[error("MariaDB did not answer within {0} s; its log is {1}")]
    Silent(u64, PathBuf),
    #[error("a database server left from before, process {0}, does not end")]
    StillRuns(u32),
}

/// An error of the file system at a path.
pub(super) fn unusable(path: &Path) -> impl Fn(io::Error) -> DatabaseError + use<> {
    let path = path.to_owned();
    move |source| DatabaseError::Directory { path: path.clone(), source }
}
