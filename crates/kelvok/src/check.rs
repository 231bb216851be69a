//! `kelvok check FILE`

use anyhow::Context;
use kelvok_core::circuit::Circuit;
use kelvok_core::interlock::check;
use kelvok_core::machine::Machine;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

#[derive(clap::Args)]
pub struct Arguments {
    /// A machine document.
    file: PathBuf,
}

/// Prints every problem with its path into the document, warnings marked as such.
pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let text = read(&arguments.file)?;
    let problems = match Machine::read(&text) {
        Err(problems) => problems,
        Ok(machine) => {
            let mut problems = machine.warnings();
            problems.extend(check(&Circuit::compile(&machine)));
            problems
        }
    };
    for problem in &problems {
        let mark = if problem.warning { "warning: " } else { "" };
        println!("{}: {mark}{}", problem.path, problem.sentence);
    }
    let wrong = problems.iter().filter(|p| !p.warning).count();
    if wrong > 0 {
        println!("{wrong} problems in {}", arguments.file.display());
        return Ok(ExitCode::FAILURE);
    }
    println!("{}: sound", arguments.file.display());
    Ok(ExitCode::SUCCESS)
}

/// The machine of a file, if it is sound.
pub fn sound(file: &Path) -> anyhow::Result<Machine> {
    Machine::read(&read(file)?).map_err(|problems| {
        let lines: Vec<_> =
            problems.iter().map(|p| format!("  {}: {}", p.path, p.sentence)).collect();
        anyhow::anyhow!("{} is not sound:\n{}", file.display(), lines.join("\n"))
    })
}

/// A file's text.
pub fn read(file: &Path) -> anyhow::Result<String> {
    std::fs::read_to_string(file).with_context(|| format!("cannot read {}", file.display()))
}
