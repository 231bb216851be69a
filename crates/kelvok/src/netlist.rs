//! `kelvok netlist FILE [--set CONTROL=POSITION]... [--engine STATE] [--fault FAULT]...`

use super::check::sound;
use super::solve::Asked;
use kelvok_core::circuit::{Circuit, Netlist};
use std::path::PathBuf;
use std::process::ExitCode;

#[derive(clap::Args)]
pub struct Arguments {
    /// A machine document.
    file: PathBuf,
    #[command(flatten)]
    asked: Asked,
}

/// Prints the machine in a condition as a SPICE netlist.
pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let circuit = Circuit::compile(&sound(&arguments.file)?);
    let (condition, changes) = arguments.asked.of(&circuit)?;
    print!("{}", Netlist::of(&circuit, &condition, &changes).text);
    Ok(ExitCode::SUCCESS)
}
