//! `kelvok faults FILE`

use super::check::sound;
use kelvok_core::circuit::Circuit;
use kelvok_core::interlock::{FaultSheet, Spreadsheet};
use std::path::PathBuf;
use std::process::ExitCode;

#[derive(clap::Args)]
pub struct Arguments {
    /// A machine document.
    file: PathBuf,
}

/// Prints the fault-and-effect sheet as comma-separated values.
pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let circuit = Circuit::compile(&sound(&arguments.file)?);
    print!("{}", Spreadsheet::of_sheet(&circuit, &FaultSheet::of(&circuit)).csv());
    Ok(ExitCode::SUCCESS)
}
