//! A line to a meter: one command out, one line back, neither waited for for ever.

use crate::app::Settings;
use kelvok_core::meter::{Garbage, Identity, Range, Shown};
use std::time::Duration;
use tokio::io::{AsyncBufReadExt, AsyncReadExt, AsyncWriteExt, BufReader};
use tokio::net::TcpStream;
use tokio::time::timeout;

const CONNECTS: Duration = Duration::from_secs(2);
const ANSWERS: Duration = Duration::from_millis(1500);
/// No answer is longer than this, in bytes.
const LONGEST: u64 = 256;

/// Why there is no figure.
#[derive(Debug, thiserror::Error)]
pub enum Mute {
    #[error("nothing answers at that address")]
    Unreachable,
    #[error("the meter has gone quiet")]
    Silent,
    #[error("the meter hung up")]
    HungUp,
    #[error(transparent)]
    Garbage(#[from] Garbage),
}

impl From<std::io::Error> for Mute {
    fn from(_: std::io::Error) -> Self {
        Self::HungUp
    }
}

/// Whether a meter may be dialled: the shop listed it in its settings. Whatever answers there is asked
/// who it is, and nothing else until it has answered as a meter does.
pub fn may_dial(settings: &Settings, address: &str) -> bool {
    settings.meters.iter().any(|listed| listed == address)
}

pub struct Link {
    stream: BufReader<TcpStream>,
}

impl Link {
    /// Dials a meter and asks who it is.
    pub async fn dial(address: &str) -> Result<(Self, Identity), Mute> {
        let connected = timeout(CONNECTS, TcpStream::connect(address)).await;
        let stream = connected.map_err(|_| Mute::Unreachable)?.map_err(|_| Mute::Unreachable)?;
        let mut link = Self { stream: BufReader::new(stream) };
        let answer = link.ask("*IDN?").await?;
        let identity = Identity::parse(&answer).ok_or_else(|| Garbage::of(&answer))?;
        Ok((link, identity))
    }

    /// Sends a command that asks nothing.
    pub async fn tell(&mut self, command: &str) -> Result<(), Mute> {
        let line = format!("{command}\n");
        timeout(ANSWERS, self.stream.get_mut().write_all(line.as_bytes()))
            .await
            .map_err(|_| Mute::Silent)??;
        Ok(())
    }

    /// Sends a command and waits for its answer.
    pub async fn ask(&mut self, command: &str) -> Result<String, Mute> {
        self.tell(command).await?;
        let mut line = Vec::new();
        let mut limited = (&mut self.stream).take(LONGEST);
        let read = timeout(ANSWERS, limited.read_until(b'\n', &mut line)).await;
        match read.map_err(|_| Mute::Silent)?? {
            0 => Err(Mute::HungUp),
            _ => {
                let text = String::from_utf8_lossy(&line).into_owned();
                if text.ends_with('\n') { Ok(text) } else { Err(Garbage::of(&text).into()) }
            }
        }
    }

    /// What the display shows on a range.
    pub async fn measure(&mut self, range: Range) -> Result<Shown, Mute> {
        Ok(Shown::parse(&self.ask(range.query()).await?)?)
    }
}
