//! The program as a process, started, asked and ended from outside.

use anyhow::{Context, bail};
use reqwest::header::{HeaderValue, ORIGIN};
use reqwest::{Client, StatusCode};
use serde_json::Value;
use std::fs::File;
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::sync::atomic::{AtomicU16, Ordering};
use std::time::{Duration, Instant};

/// A start takes no longer, and no wait for an answer.
const PATIENCE: Duration = Duration::from_secs(90);

/// The next program's port.
static NEXT: AtomicU16 = AtomicU16::new(0);

pub struct Program {
    process: Child,
    /// What it says of errors.
    says: PathBuf,
    pub address: String,
    pub client: Client,
}

/// Where a program keeps what it keeps.
#[derive(Clone, Copy)]
pub enum On<'a> {
    Directory(&'a Path),
    Database(&'a str),
}

impl Program {
    /// Starts it and does not wait.
    pub fn spawn(on: On<'_>) -> anyhow::Result<Self> {
        // Below what the system gives away by itself: a first start takes seconds until it listens.
        let port = 20_000 + NEXT.fetch_add(1, Ordering::Relaxed) % 10_000;
        let address = format!("127.0.0.1:{port}");
        let says = std::env::temp_dir().join(format!("kelvok-hard-day-{port}.log"));
        let mut command = Command::new(kelvok_e2e::program()?);
        command.args(["serve", "--listen", &address]).env_remove("DATABASE_URL");
        match on {
            On::Directory(directory) => command.arg("--directory").arg(directory),
            On::Database(url) => command.args(["--database-url", url]),
        };
        let quiet = command.stdin(Stdio::null()).stdout(Stdio::null()).stderr(File::create(&says)?);
        let process = quiet.spawn().context("cannot start kelvok")?;
        let address = format!("http://{address}");
        let own = HeaderValue::from_str(&address)?;
        let client = Client::builder()
            .default_headers([(ORIGIN, own)].into_iter().collect())
            .pool_max_idle_per_host(0)
            .timeout(Duration::from_secs(20))
            .build()?;
        Ok(Self { process, address, client, says })
    }

    /// Starts it and waits until it answers.
    pub async fn start(on: On<'_>) -> anyhow::Result<Self> {
        let mut program = Self::spawn(on)?;
        program.ready().await?;
        Ok(program)
    }

    pub async fn ready(&mut self) -> anyhow::Result<()> {
        let began = Instant::now();
        let health = format!("{}/api/v1/health", self.address);
        loop {
            let answer = self.client.get(&health).send().await;
            if answer.is_ok_and(|a| a.status() == StatusCode::OK) {
                return Ok(());
            }
            if let Some(status) = self.process.try_wait()? {
                let says = std::fs::read_to_string(&self.says).unwrap_or_default();
                bail!("it ended: {status}: {says}");
            }
            if began.elapsed() > PATIENCE {
                bail!("it does not answer");
            }
            tokio::time::sleep(Duration::from_millis(40)).await;
        }
    }

    /// Asks again for as long as the answer is being worked out.
    pub async fn get(&self, path: &str) -> anyhow::Result<Value> {
        let began = Instant::now();
        loop {
            let answer = self.client.get(format!("{}/api/v1{path}", self.address)).send().await?;
            match answer.status() {
                StatusCode::ACCEPTED => {}
                StatusCode::OK => return Ok(answer.json().await?),
                status => bail!("{path}: {status} {}", answer.text().await?),
            }
            if began.elapsed() > 5 * PATIENCE {
                bail!("{path} comes to no end");
            }
        }
    }

    pub async fn post(&self, path: &str, body: &Value) -> anyhow::Result<(StatusCode, Value)> {
        loop {
            let request = self.client.post(format!("{}/api/v1{path}", self.address)).json(body);
            let answer = request.send().await?;
            if answer.status() != StatusCode::ACCEPTED {
                return Ok((answer.status(), answer.json().await?));
            }
        }
    }

    pub fn signal(&self, signal: &str) -> anyhow::Result<()> {
        let process = self.process.id().to_string();
        Command::new("kill").args([&format!("-{signal}"), &process]).status()?;
        Ok(())
    }

    /// Ends it as kill -9 does.
    pub fn kill(&mut self) -> anyhow::Result<()> {
        self.process.kill()?;
        self.process.wait()?;
        Ok(())
    }

    /// Asks it to end, and says how long that took.
    pub fn terminate(&mut self) -> anyhow::Result<Duration> {
        let began = Instant::now();
        self.signal("TERM")?;
        while self.process.try_wait()?.is_none() {
            if began.elapsed() > PATIENCE {
                bail!("it does not end");
            }
            std::thread::sleep(Duration::from_millis(10));
        }
        Ok(began.elapsed())
    }

    /// Megabytes that it holds now, and the most that it ever held.
    pub fn memory(&self) -> anyhow::Result<(f64, f64)> {
        let status = std::fs::read_to_string(format!("/proc/{}/status", self.process.id()))?;
        let of = |name: &str| -> Option<f64> {
            let line = status.lines().find(|l| l.starts_with(name))?;
            Some(line.split_whitespace().nth(1)?.parse::<f64>().ok()? / 1000.0)
        };
        Ok((of("VmRSS").context("no figure")?, of("VmHWM").context("no figure")?))
    }
}

impl Drop for Program {
    fn drop(&mut self) {
        let _ = self.kill();
        let _ = std::fs::remove_file(&self.says);
    }
}

/// Numbers that look random and are the same at every run.
pub struct Dice(pub u64);

impl Dice {
    pub fn below(&mut self, n: u64) -> u64 {
        self.0 =
            self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) % n
    }
}
