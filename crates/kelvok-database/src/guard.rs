//! A guard over a database server: a shell that waits for the end of its input, which comes when the
//! program that started it dies, however it dies, and then ends the server.

use super::error::DatabaseError;
use std::os::unix::process::CommandExt;
use std::path::Path;
use std::process::{Child, Command, Stdio};

pub(super) struct Guard {
    shell: Child,
}

/// The process is looked at again before it is asked to end: its number may be another's by then.
const WATCH: &str =
    "is() { case \"$(cat \"/proc/$1/comm\" 2>/dev/null)\" in mariadbd*) ;; *) exit;; esac; }
     while read -r _; do :; done
     is \"$1\"; kill -TERM \"$1\"
     for _ in 1 2 3 4 5 6 7 8; do sleep 1; is \"$1\"; done
     kill -KILL \"$1\"";

impl Guard {
    pub fn over(server: &Child) -> Result<Self, DatabaseError> {
        let shell = Command::new("sh")
            .args(["-c", WATCH, "sh", &server.id().to_string()])
            .process_group(0)
            .stdin(Stdio::piped())
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .map_err(|source| DatabaseError::Program { program: "sh", source })?;
        Ok(Self { shell })
    }
}

impl Drop for Guard {
    fn drop(&mut self) {
        let _ = self.shell.kill();
        let _ = self.shell.wait();
    }
}

/// A server that runs on a data directory. It is told by how it was started: its own file does not
/// name it before it is up, nor while it recovers.
pub(super) fn running_on(data: &Path) -> Option<u32> {
    let wanted = format!("--datadir={}", data.display());
    let processes = std::fs::read_dir("/proc").ok()?.flatten();
    let ids = processes.filter_map(|entry| entry.file_name().to_str()?.parse::<u32>().ok());
    let is_it = |id: &u32| {
        let started = std::fs::read(format!("/proc/{id}/cmdline")).unwrap_or_default();
        let by = started.split(|byte| *byte == 0);
        is_mariadb(*id) && by.into_iter().any(|argument| argument == wanted.as_bytes())
    };
    ids.into_iter().find(is_it)
}

/// Whether a process is a database server that still runs.
pub(super) fn is_mariadb(process: u32) -> bool {
    let read = |file: &str| std::fs::read_to_string(format!("/proc/{process}/{file}"));
    let ended = || read("stat").is_ok_and(|stat| stat.contains(") Z "));
    read("comm").is_ok_and(|name| name.starts_with("mariadbd")) && !ended()
}

/// Asks a server to end in order, or ends it as a power cut would.
pub(super) fn signal(process: u32, signal: &str) {
    let _ = Command::new("kill").args([signal, &process.to_string()]).status();
}
