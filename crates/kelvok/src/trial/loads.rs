//! Loads judged by ohms, volts and amperes, printed.

use super::{Arguments, Known, interval, tried};
use kelvok_core::loads::LoadWord;
use kelvok_core::trial::{LoadTried, try_loads, wilson};
use std::process::ExitCode;

/// Prints how loads are named.
pub(super) fn print(arguments: &Arguments, machines: &[&str]) -> anyhow::Result<ExitCode> {
    println!(
        "{:<18} {:>5} {:>21} {:>7} {:>8}",
        "machine", "loads", "right (95 %)", "left", "readings"
    );
    let mut all = Vec::new();
    for given in machines {
        let (name, model) = tried(given, Known::Drawn)?;
        let cases = try_loads(model.circuit(), arguments.runs, arguments.seed);
        if cases.is_empty() {
            println!("{name:<18} has nothing an ohmmeter reaches alone");
            continue;
        }
        row(&name, &cases.iter().collect::<Vec<_>>());
        all.extend(cases);
    }
    row("all", &all.iter().collect::<Vec<_>>());
    for word in LoadWord::ALL {
        let own: Vec<_> = all.iter().filter(|c| c.truth == *word).collect();
        if !own.is_empty() {
            row(&format!("  {word:?}"), &own);
        }
    }
    let said: Vec<_> = all.iter().filter(|c| !is_open(c)).collect();
    let sure = said.iter().map(|c| c.sure).sum::<f64>() / said.len().max(1) as f64;
    let right = said.iter().filter(|c| c.named == c.truth).count() as f64;
    println!("said {:.1}%, right {:.1}%", 100.0 * sure, 100.0 * right / said.len().max(1) as f64);
    Ok(ExitCode::SUCCESS)
}

/// Nothing was said of it.
fn is_open(case: &LoadTried) -> bool {
    matches!(case.named, LoadWord::Unsure | LoadWord::Disagree | LoadWord::NotRead)
}

fn row(name: &str, cases: &[&LoadTried]) {
    let right = cases.iter().filter(|c| c.named == c.truth).count();
    let left = cases.iter().filter(|c| is_open(c)).count();
    let readings = cases.iter().map(|c| c.readings).sum::<usize>();
    println!(
        "{name:<18} {:>5} {:>21} {left:>7} {:>8.1}",
        cases.len(),
        interval(wilson(right, cases.len())),
        readings as f64 / cases.len().max(1) as f64
    );
}
