//! Batteries of the yard and what they are taken for, printed.

use super::{Arguments, Known, interval, tried};
use kelvok_core::battery::BatteryState;
use kelvok_core::trial::{BatteryTried, try_batteries, wilson};
use std::process::ExitCode;

/// Prints how batteries are judged, and what a starter does on them.
pub(super) fn print(arguments: &Arguments, machines: &[&str]) -> anyhow::Result<ExitCode> {
    println!(
        "{:<18} {:>5} {:>20} {:>6} {:>9} {:>8} {:>20}",
        "machine", "cases", "right (95 %)", "sure", "readings", "charged", "starter foretold"
    );
    let mut all = Vec::new();
    for given in machines {
        let (name, model) = tried(given, Known::Drawn)?;
        let cases = try_batteries(model.circuit(), arguments.runs, arguments.seed);
        if cases.is_empty() {
            println!("{name:<18} has no battery");
            continue;
        }
        row(&name, &cases);
        all.extend(cases);
    }
    row("all", &all);
    for state in BatteryState::ALL {
        let own: Vec<_> = all.iter().filter(|c| c.truth == *state).collect();
        let named = |as_: &BatteryState| own.iter().filter(|c| c.named == *as_).count();
        let counts: Vec<_> =
            BatteryState::ALL.iter().map(|s| format!("{} {}", named(s), s.words())).collect();
        println!("{:<18} {:>5}: named {}", state.words(), own.len(), counts.join(", "));
    }
    Ok(ExitCode::SUCCESS)
}

fn row(name: &str, cases: &[BatteryTried]) {
    let count = cases.len().max(1) as f64;
    let right = cases.iter().filter(|c| c.named == c.truth).count();
    let foretold: Vec<_> = cases.iter().filter_map(|c| c.turns).collect();
    let told = foretold.iter().filter(|(said, does)| said == does).count();
    println!(
        "{name:<18} {:>5} {:>20} {:>5.1}% {:>9.1} {:>7.0}% {:>20}",
        cases.len(),
        interval(wilson(right, cases.len())),
        100.0 * cases.iter().map(|c| c.sure).sum::<f64>() / count,
        cases.iter().map(|c| c.readings as f64).sum::<f64>() / count,
        100.0 * cases.iter().filter(|c| c.charged).count() as f64 / count,
        interval(wilson(told, foretold.len())),
    );
}
