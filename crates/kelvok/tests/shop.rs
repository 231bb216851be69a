//! The program over a database of its own: started, asked to end, started twice, backed up and
//! restored.

use std::io::{BufRead, BufReader};
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Output, Stdio};
use std::time::{Duration, Instant};

const KELVOK: &str = env!("CARGO_BIN_EXE_kelvok");

struct Folder(PathBuf);

impl Folder {
    fn new(name: &str) -> Self {
        let path = std::env::temp_dir().join(format!("kelvok-{name}-{}", std::process::id()));
        let _ = std::fs::remove_dir_all(&path);
        std::fs::create_dir_all(&path).expect("a folder");
        Self(path)
    }
}

impl Drop for Folder {
    fn drop(&mut self) {
        let _ = std::fs::remove_dir_all(&self.0);
    }
}

/// A program that serves, and the address it printed.
struct Served(Child, String);

impl Served {
    fn start(command: &str, directory: &Path) -> Self {
        let mut child = Command::new(KELVOK)
            .args([command, "--listen", "127.0.0.1:0", "--directory"])
            .arg(directory)
            .env_remove("DATABASE_URL")
            .stdout(Stdio::piped())
            .spawn()
            .expect("kelvok");
        let mut line = String::new();
        BufReader::new(child.stdout.take().expect("piped")).read_line(&mut line).expect("a line");
        let address = line.trim().rsplit(' ').next().unwrap_or_default().to_owned();
        assert!(address.starts_with("http://127.0.0.1:"), "{line}");
        Self(child, address)
    }

    fn signal(&self, signal: &str) {
        let id = self.0.id().to_string();
        assert!(Command::new("kill").args([signal, &id]).status().expect("kill").success());
    }

    /// Asks it to end; it must.
    fn end(mut self) {
        self.signal("-TERM");
        let began = Instant::now();
        loop {
            if let Some(status) = self.0.try_wait().expect("a child") {
                return assert!(status.success(), "{status}");
            }
            assert!(began.elapsed() < Duration::from_secs(30), "it does not end");
            std::thread::sleep(Duration::from_millis(20));
        }
    }
}

impl Drop for Served {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

fn kelvok(arguments: &[&str], directory: &Path) -> Output {
    Command::new(KELVOK)
        .args(arguments)
        .arg("--directory")
        .arg(directory)
        .env_remove("DATABASE_URL")
        .output()
        .expect("kelvok")
}

fn text(bytes: &[u8]) -> String {
    String::from_utf8_lossy(bytes).into_owned()
}

#[test]
fn a_second_demo_says_where_the_first_one_is_and_the_first_goes_on() {
    let folder = Folder::new("twice");
    let first = Served::start("demo", &folder.0);
    let second = kelvok(&["demo", "--listen", "127.0.0.1:0"], &folder.0);
    assert!(!second.status.success());
    let said = text(&second.stderr);
    assert!(said.contains(&format!("already, at {}", first.1)), "{said}");
    let port = first.1.rsplit(':').next().unwrap();
    std::net::TcpStream::connect(format!("127.0.0.1:{port}")).expect("the first one listens");
    first.end();
    assert!(!folder.0.join("m.pid").exists(), "its database ended with it");
}

#[test]
fn a_backup_is_made_while_it_runs_and_restored_elsewhere() {
    let (folder, other) = (Folder::new("backup"), Folder::new("restore"));
    let file = folder.0.join("shop.backup").display().to_string();
    let shop = folder.0.join("shop");
    let running = Served::start("demo", &shop);
    let kept = kelvok(&["backup", &file], &shop);
    assert!(kept.status.success(), "{}", text(&kept.stderr));
    assert!(text(&kept.stdout).contains("8 jobs"), "{}", text(&kept.stdout));
    running.end();
    // Without the server, too: its database is started for that, and ended.
    let again = kelvok(&["backup", &file], &shop);
    assert!(again.status.success(), "{}", text(&again.stderr));

    let restored = kelvok(&["restore", &file], &other.0);
    assert!(restored.status.success(), "{}", text(&restored.stderr));
    let second = kelvok(&["restore", &file], &other.0);
    assert!(text(&second.stderr).contains("not empty"), "{}", text(&second.stderr));
    Served::start("serve", &other.0).end();

    let missing = kelvok(&["backup", &file], &folder.0.join("nothing"));
    assert!(text(&missing.stderr).contains("there is no database in"), "{}", text(&missing.stderr));
    std::fs::write(&file, "{}").expect("written");
    let third = Folder::new("third");
    let damaged = kelvok(&["restore", &file], &third.0);
    assert!(text(&damaged.stderr).contains("no backup"), "{}", text(&damaged.stderr));
}
