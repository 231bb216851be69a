//! `kelvok describe [ANSWERS]`

use super::check::read;
use anyhow::Context;
use kelvok_core::describe::{Answers, Questions, describe};
use std::path::PathBuf;
use std::process::ExitCode;

#[derive(clap::Args)]
pub struct Arguments {
    /// Answers by question, as JSON: `{"kind": "zero-turn", "seat": "4", "brake": null}`; null where
    /// nobody looked. Without it the questions are printed.
    answers: Option<PathBuf>,
    /// Its make.
    #[arg(long, default_value = "Unknown make")]
    make: String,
    /// Its model, or what the shop calls it.
    #[arg(long, default_value = "Described machine")]
    model: String,
}

/// Prints the document of a machine as described, and on the error stream what its kind usually has
/// and it has not.
pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let Some(file) = &arguments.answers else {
        println!("{}", serde_json::to_string_pretty(Questions::shipped())?);
        return Ok(ExitCode::SUCCESS);
    };
    let answers: Answers = serde_json::from_str(&read(file)?)
        .with_context(|| format!("{} holds no answers", file.display()))?;
    let described = describe(&answers, &arguments.make, &arguments.model)?;
    println!("{}", serde_json::to_string_pretty(&described.document)?);
    for question in answers.asked() {
        if answers.0.get(&question.id).is_none_or(Option::is_none) {
            eprintln!("not looked at: {}", question.asks);
        }
    }
    for duty in &described.missing {
        eprintln!("nothing guards, as described: {}", duty.name);
    }
    Ok(ExitCode::SUCCESS)
}
