//! `kelvok meter`: a bench multimeter that is not there, over TCP on loopback.

use super::check::sound;
use anyhow::Context;
use kelvok_core::circuit::Circuit;
use kelvok_core::machine::{LIBRARY, Machine};
use kelvok_core::meter::{Answer, StandIn};
use std::net::SocketAddr;
use std::path::PathBuf;
use std::process::ExitCode;
use std::sync::{Arc, Mutex, PoisonError};
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::{TcpListener, TcpStream};

#[derive(clap::Args)]
#[command(after_help = HELP)]
pub struct Arguments {
    /// A machine document, or the name of a library machine.
    #[arg(long, default_value = "pellwick-gt-46")]
    machine: String,
    /// A fault, in the notation of `kelvok solve`; several may be given.
    #[arg(long, value_name = "FAULT")]
    fault: Vec<String>,
    /// Where to listen, on loopback.
    #[arg(long, default_value = "127.0.0.1:5025")]
    listen: SocketAddr,
    /// Scatter as a share of the figure.
    #[arg(long, default_value_t = 0.001)]
    noise: f64,
    /// Decides the noise.
    #[arg(long, default_value_t = 1)]
    seed: u64,
}

const HELP: &str = "\
It understands *IDN?, MEAS:VOLT:DC?, MEAS:VOLT:AC?, MEAS:RES?, MEAS:CONT?, MEAS:DIOD?,
MEAS:CURR:DC? and SYST:ERR?, a line each. Its machine and probes are moved by
  SIM:SET CONTROL=POSITION ...   controls; what is not named stands at rest
  SIM:ENG STATE                  stopped, cranking, running, running-hot
  SIM:SETUP SET-UP ...           battery-off, unplugged=ID, pressed-by-hand=ID, freed-by-hand=ID,
                                 lamp-in-place=ID, wire-off=WIRE, jumper=FROM,TO
  SIM:PROB RED,BLACK             terminals; SIM:PROB:LIFT takes the probes away
  SIM:FAULT FAULT                adds a fault; SIM:FAULT:CLEAR mends all
  SIM:NOIS SHARE                 scatter
  SIM:TROU WHAT                  none, garbage, silence, hangup";

/// No command is longer than this, in bytes.
const LONGEST: usize = 400;

pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    anyhow::ensure!(arguments.listen.ip().is_loopback(), "it listens on loopback only");
    let library = LIBRARY.iter().find(|shipped| shipped.name == arguments.machine);
    let machine = match library {
        Some(shipped) => Machine::read(shipped.text)
            .map_err(|_| anyhow::anyhow!("{} cannot be read", shipped.name))?,
        None => sound(&PathBuf::from(&arguments.machine))?,
    };
    let mut meter = StandIn::new(Circuit::compile(&machine), arguments.seed);
    for fault in &arguments.fault {
        tell(&mut meter, &format!("SIM:FAULT {fault}"))?;
    }
    tell(&mut meter, &format!("SIM:NOIS {}", arguments.noise))?;
    let runtime = tokio::runtime::Runtime::new()?;
    runtime.block_on(listen(arguments.listen, meter))?;
    Ok(ExitCode::SUCCESS)
}

/// Tells the meter something it must understand.
fn tell(meter: &mut StandIn, command: &str) -> anyhow::Result<()> {
    meter.answer(command);
    match meter.answer("SYST:ERR?") {
        Answer::Line(error) if error.starts_with('0') => Ok(()),
        Answer::Line(error) => anyhow::bail!("{command}: {error}"),
        _ => Ok(()),
    }
}

async fn listen(address: SocketAddr, meter: StandIn) -> anyhow::Result<()> {
    let listener =
        TcpListener::bind(address).await.with_context(|| format!("cannot listen on {address}"))?;
    println!("The meter listens on {}", listener.local_addr()?);
    let meter = Arc::new(Mutex::new(meter));
    loop {
        let (stream, _) = tokio::select! {
            accepted = listener.accept() => accepted?,
            _ = tokio::signal::ctrl_c() => return Ok(()),
        };
        let meter = meter.clone();
        tokio::spawn(async move {
            // Whoever hangs up has heard enough.
            let _ = serve(stream, &meter).await;
        });
    }
}

async fn serve(stream: TcpStream, meter: &Mutex<StandIn>) -> std::io::Result<()> {
    let (read, mut write) = stream.into_split();
    let mut lines = BufReader::new(read).lines();
    while let Some(line) = lines.next_line().await? {
        if line.len() > LONGEST {
            return Ok(());
        }
        let answer = meter.lock().unwrap_or_else(PoisonError::into_inner).answer(&line);
        match answer {
            Answer::Line(text) => write.write_all(format!("{text}\n").as_bytes()).await?,
            Answer::Nothing | Answer::Silence => {}
            Answer::HangUp => return Ok(()),
        }
    }
    Ok(())
}
