//! `kelvok decide FILE`

use super::check::sound;
use kelvok_core::circuit::Circuit;
use kelvok_core::interlock::{InterlockTable, Judge, prove_duties, sentences};
use std::path::PathBuf;
use std::process::ExitCode;

#[derive(clap::Args)]
pub struct Arguments {
    /// A machine document.
    file: PathBuf,
}

/// Prints how the machine decides and what became of its duties; exit 1 if one is broken.
pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let circuit = Circuit::compile(&sound(&arguments.file)?);
    let found = &circuit.document().as_found;
    for change in found {
        println!("NOT AS BUILT: {} ({})\n", change.note, change.change);
    }
    let done = say(&circuit, &mut Judge::new(&circuit, &[]))?;
    if !found.is_empty() {
        println!("\nAs its maker built it:");
        say(&circuit, &mut Judge::as_built(&circuit, &[]))?;
    }
    Ok(if done { ExitCode::SUCCESS } else { ExitCode::FAILURE })
}

fn say(circuit: &Circuit, judge: &mut Judge<'_>) -> anyhow::Result<bool> {
    let table = InterlockTable::of(judge)?;
    for sentence in sentences(circuit, &table) {
        println!("{}", sentence.says);
    }
    let mut done = true;
    for proof in prove_duties(judge) {
        let name = &circuit.document().duties[proof.duty].name;
        done &= proof.broken.is_empty();
        match (proof.checked, proof.broken.first()) {
            (0, _) => println!("  never comes up  {name}"),
            (checked, None) => println!("  proved in {checked:<5} {name}"),
            (checked, Some(condition)) => {
                let set: Vec<_> =
                    condition.named(circuit).map(|(c, p)| format!("{c}={p}")).collect();
                println!(
                    "  BROKEN in {} of {checked}: {name}, {}",
                    proof.broken.len(),
                    set.join(" ")
                );
            }
        }
    }
    Ok(done)
}
