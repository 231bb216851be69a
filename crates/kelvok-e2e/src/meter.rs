use super::workshop::{Workshop, program};
use anyhow::{Context, bail};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

/// The bench meter that ships with the program, in a process of its own.
pub struct Meter {
    process: Child,
}

impl Meter {
    /// Starts one beside a library machine with a fault, where the workshop has its meter listed.
    ///
    /// # Errors
    /// It does not come up.
    pub fn start(workshop: &Workshop, machine: &str, fault: &str) -> anyhow::Result<Self> {
        let address = &workshop.meter;
        let mut process = Command::new(program()?)
            .args(["meter", "--listen", address, "--machine", machine, "--fault", fault])
            .stdin(Stdio::null())
            .stdout(Stdio::null())
            .spawn()
            .context("cannot start the meter")?;
        let began = Instant::now();
        while std::net::TcpStream::connect(address).is_err() {
            if let Some(status) = process.try_wait()? {
                bail!("the meter ended at once: {status}");
            }
            if began.elapsed() > Duration::from_secs(20) {
                bail!("the meter does not listen");
            }
            std::thread::sleep(Duration::from_millis(50));
        }
        Ok(Self { process })
    }
}

impl Drop for Meter {
    fn drop(&mut self) {
        let _ = self.process.kill();
        let _ = self.process.wait();
    }
}
