//! `kelvok diff A B`

use super::check::sound;
use kelvok_core::circuit::Circuit;
use kelvok_core::revision::{DecisionChanges, drawing_changes};
use std::path::PathBuf;
use std::process::ExitCode;

#[derive(clap::Args)]
pub struct Arguments {
    /// A machine document.
    before: PathBuf,
    /// The one to hold against it.
    after: PathBuf,
    /// Leave out what only became better known.
    #[arg(long)]
    no_sources: bool,
}

/// Prints what the second has otherwise; exit 1 if there is anything.
pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let (before, after) = (sound(&arguments.before)?, sound(&arguments.after)?);
    let mut changes = drawing_changes(before.document(), after.document());
    changes.retain(|c| !(arguments.no_sources && c.only_source));
    for change in &changes {
        println!("{}", change.sentence());
    }
    let (before, after) = (Circuit::compile(&before), Circuit::compile(&after));
    let decides = DecisionChanges::between(&before, &after)?;
    for sentence in &decides.sentences {
        let said = |says: &Option<String>| says.clone().unwrap_or_else(|| "(nothing)".to_owned());
        println!("\n- {}\n+ {}", said(&sentence.before), said(&sentence.after));
    }
    if !decides.duties.is_empty() {
        println!();
    }
    for duty in &decides.duties {
        println!("{}: {}", duty.name, duty.says());
    }
    for change in decides.conditions.iter().flatten() {
        let mark = if change.is_less_safe() { "LESS SAFE: " } else { "" };
        println!("\n{mark}{}.", change.says(&after));
        println!("  First: {}.", change.first_says(&after));
    }
    if decides.conditions.is_none() {
        println!("\nThe controls are others: no combination of them can be held against another.");
    }
    if changes.is_empty() && decides.is_empty() {
        println!("Nothing is otherwise.");
        return Ok(ExitCode::SUCCESS);
    }
    if decides.is_empty() {
        println!("It decides as before.");
    }
    Ok(ExitCode::FAILURE)
}
