//! Charging systems judged by what is read of them, printed.

use super::{Arguments, Known, interval, tried};
use kelvok_core::charging::ChargePlace;
use kelvok_core::trial::{ChargingTried, try_charging, wilson};
use std::process::ExitCode;

/// Prints how they are named.
pub(super) fn print(arguments: &Arguments, machines: &[&str]) -> anyhow::Result<ExitCode> {
    println!(
        "{:<18} {:>5} {:>21} {:>7} {:>7} {:>8}",
        "machine", "cases", "right (95 %)", "wrong", "left", "readings"
    );
    let mut all = Vec::new();
    for given in machines {
        let (name, model) = tried(given, Known::Drawn)?;
        let cases = try_charging(model.circuit(), arguments.runs, arguments.seed);
        if cases.is_empty() {
            println!("{name:<18} has nothing that charges");
            continue;
        }
        row(&name, &cases.iter().collect::<Vec<_>>());
        all.extend(cases);
    }
    row("all", &all.iter().collect::<Vec<_>>());
    for place in ChargePlace::ALL {
        let own: Vec<_> = all.iter().filter(|c| c.truth.place() == *place).collect();
        if !own.is_empty() {
            row(&format!("  {place:?}"), &own);
        }
    }
    let said: Vec<_> = all.iter().filter(|c| c.named.is_some()).collect();
    let sure = said.iter().map(|c| c.sure).sum::<f64>() / said.len().max(1) as f64;
    let right = said.iter().filter(|c| is_right(c)).count() as f64 / said.len().max(1) as f64;
    println!("said {:.1}%, right {:.1}%", 100.0 * sure, 100.0 * right);
    Ok(ExitCode::SUCCESS)
}

fn is_right(case: &ChargingTried) -> bool {
    case.named == Some(case.truth.place())
}

fn row(name: &str, cases: &[&ChargingTried]) {
    let right = cases.iter().filter(|c| is_right(c)).count();
    let left = cases.iter().filter(|c| c.named.is_none()).count();
    let readings = cases.iter().map(|c| c.readings.len()).sum::<usize>();
    println!(
        "{name:<18} {:>5} {:>21} {:>7} {left:>7} {:>8.1}",
        cases.len(),
        interval(wilson(right, cases.len())),
        cases.len() - right - left,
        readings as f64 / cases.len().max(1) as f64
    );
}
