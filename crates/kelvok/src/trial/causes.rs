//! Parts that burnt, and whether what killed them is found, printed.

use super::{Arguments, Known, interval, tried};
use kelvok_core::diagnosis::Entry;
use kelvok_core::trial::{CauseTried, TrialMachine, try_causes, wilson};
use std::process::ExitCode;

/// Prints how often what killed a part is found, and how often something good is blamed.
pub(super) fn print(arguments: &Arguments, machines: &[&str]) -> anyhow::Result<ExitCode> {
    println!(
        "{:<18} {:>6} {:>21} {:>9} {:>8} {:>9} {:>9} {:>7} {:>9}",
        "machine",
        "killed",
        "found (95 %)",
        "let go",
        "held up",
        "wore out",
        "blamed",
        "held up",
        "readings"
    );
    let mut all = Vec::new();
    for given in machines {
        let (name, model) = tried(given, Known::Drawn)?;
        let bench = TrialMachine::wired(&model, 0);
        let cases = try_causes(&bench, arguments.runs, arguments.seed);
        if cases.is_empty() {
            println!("{name:<18} has nothing that kills another part");
            continue;
        }
        row(&name, &cases);
        for case in cases.iter().filter(|c| c.killer.is_some() && c.goes && !c.found) {
            println!("  let go: {} with {}", case.burnt, case.killer.as_deref().unwrap_or(""));
        }
        if let Some(case) = arguments.story.and_then(|n| cases.get(n)) {
            println!("  {} with {}", case.burnt, case.killer.as_deref().unwrap_or("nothing"));
            for entry in &case.log {
                let entry = Entry::of(model.circuit(), entry);
                println!("    {}", serde_json::to_string(&entry).unwrap_or_default());
            }
        }
        all.extend(cases);
    }
    row("all", &all);
    Ok(ExitCode::SUCCESS)
}

fn row(name: &str, cases: &[CauseTried]) {
    let (killed, worn): (Vec<_>, Vec<_>) = cases.iter().partition(|c| c.killer.is_some());
    let count =
        |all: &[&CauseTried], of: fn(&CauseTried) -> bool| all.iter().filter(|c| of(c)).count();
    let readings: usize = cases.iter().map(|c| c.readings).sum();
    println!(
        "{name:<18} {:>6} {:>21} {:>9} {:>8} {:>9} {:>9} {:>7} {:>9.1}",
        killed.len(),
        interval(wilson(count(&killed, |c| c.found), killed.len())),
        count(&killed, |c| c.goes && !c.found),
        count(&killed, |c| !c.goes),
        worn.len(),
        count(&worn, |c| c.wrong > 0),
        count(&worn, |c| !c.goes),
        readings as f64 / cases.len().max(1) as f64
    );
}
