use super::workshop::program;
use anyhow::{Context, bail};
use kelvok_database::free_port;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

/// The bench meter that ships with the program, in a process of its own.
pub struct Meter {
    process: Child,
    pub address: String,
}

impl Meter {
    /// Starts one beside a library machine with a fault.
    ///
    /// # Errors
    /// It does not come up.
    pub fn start(machine: &str, fault: &str) -> anyhow::Result<Self> {
        let address = format!("127.0.0.1:{}", free_port()?);
        let mut process = Command::new(program()?)
            .args(["meter", "--listen", &address, "--machine", machine, "--fault", fault])
            .stdin(Stdio::null())
            .stdout(Stdio::null())
            .spawn()
            .context("cannot start the meter")?;
        let began = Instant::now();
        while std::net::TcpStream::connect(&address).is_err() {
            if let Some(status) = process.try_wait()? {
                bail!("the meter ended at once: {status}");
            }
            if began.elapsed() > Duration::from_secs(20) {
                bail!("the meter does not listen");
            }
            std::thread::sleep(Duration::from_millis(50));
        }
        Ok(Self { process, address })
    }
}

impl Drop for Meter {
    fn drop(&mut self) {
        let _ = self.process.kill();
        let _ = self.process.wait();
    }
}
