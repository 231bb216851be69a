use anyhow::{Context, bail};
use kelvok_database::{Database, Durability, free_port};
use std::path::PathBuf;
use std::process::{Child, Command, Stdio};
use std::sync::Once;
use std::time::{Duration, Instant};
use tempfile::TempDir;

/// The demo workshop, served from a process of its own.
pub struct Workshop {
    pub database: Database,
    server: Option<Child>,
    port: u16,
    /// Where its one meter is, if there is one.
    pub meter: String,
    _directory: TempDir,
}

impl Workshop {
    /// Starts a database and the program on it, and waits until it answers.
    ///
    /// # Errors
    /// MariaDB or the program cannot be started.
    pub fn start() -> anyhow::Result<Self> {
        let directory = tempfile::Builder::new().prefix("kelvok").tempdir()?;
        let database = Database::start(directory.path(), Durability::Full)?;
        let port = free_port()?;
        let meter = format!("127.0.0.1:{}", free_port()?);
        let mut workshop = Self { database, server: None, port, meter, _directory: directory };
        workshop.start_server()?;
        Ok(workshop)
    }

    pub fn address(&self) -> String {
        format!("http://127.0.0.1:{}", self.port)
    }

    /// Starts the program again after [`Workshop::kill_server`].
    ///
    /// # Errors
    /// It does not come up.
    pub fn start_server(&mut self) -> anyhow::Result<()> {
        let mut server = Command::new(program()?)
            .args(["demo", "--listen", &format!("127.0.0.1:{}", self.port), "--meter", &self.meter])
            .env("DATABASE_URL", self.database.url())
            .stdin(Stdio::null())
            .stdout(Stdio::null())
            .spawn()
            .context("cannot start kelvok")?;
        let began = Instant::now();
        while std::net::TcpStream::connect(("127.0.0.1", self.port)).is_err() {
            if let Some(status) = server.try_wait()? {
                bail!("kelvok ended at once: {status}");
            }
            if began.elapsed() > Duration::from_secs(60) {
                bail!("kelvok does not listen");
            }
            std::thread::sleep(Duration::from_millis(50));
        }
        self.server = Some(server);
        Ok(())
    }

    /// Ends the program as kill -9 does.
    pub fn kill_server(&mut self) {
        if let Some(mut server) = self.server.take() {
            let _ = server.kill();
            let _ = server.wait();
        }
    }
}

impl Drop for Workshop {
    fn drop(&mut self) {
        self.kill_server();
    }
}

/// The program, built as it is now, unless `KELVOK_BUILT` says that it is. Tests of one workspace share
/// a target directory.
///
/// # Errors
/// It does not build.
pub fn program() -> anyhow::Result<PathBuf> {
    static BUILT: Once = Once::new();
    let mut built = Ok(true);
    BUILT.call_once(|| {
        if std::env::var_os("KELVOK_BUILT").is_some() {
            return;
        }
        let mut cargo = Command::new(std::env::var("CARGO").unwrap_or_else(|_| "cargo".to_owned()));
        cargo.args(["build", "--quiet", "--locked", "--package", "kelvok"]);
        if !cfg!(debug_assertions) {
            cargo.arg("--release");
        }
        built = cargo.current_dir(env!("CARGO_MANIFEST_DIR")).status().map(|s| s.success());
    });
    if !built? {
        bail!("kelvok does not build");
    }
    // target/debug/deps/story-0123 or target/debug/examples/screenshots
    let own = std::env::current_exe()?;
    let profile = own.parent().and_then(|p| p.parent()).context("no target directory")?;
    Ok(profile.join("kelvok"))
}
