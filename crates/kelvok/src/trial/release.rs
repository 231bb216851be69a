//! Machines put through their release plan, printed.

use super::{Arguments, Known, tried};
use kelvok_core::trial::{ReleaseTried, try_releases};
use std::process::ExitCode;

/// Prints how many machines that break a duty were let go, and how many sound ones.
pub(super) fn print(arguments: &Arguments, machines: &[&str]) -> anyhow::Result<ExitCode> {
    println!(
        "{:<18} {:>5} {:>17} {:>17} {:>17} {:>17}",
        "machine",
        "cases",
        "nothing wrong",
        "no duty broken",
        "one, duty broken",
        "two, duty broken"
    );
    let row = |name: &str, cases: &[ReleaseTried]| {
        let gone = |of: &dyn Fn(&ReleaseTried) -> bool| {
            let own = cases.iter().filter(|c| of(c));
            let gone = own.clone().filter(|c| c.released).count();
            format!("{gone} of {} go", own.count())
        };
        println!(
            "{name:<18} {:>5} {:>17} {:>17} {:>17} {:>17}",
            cases.len(),
            gone(&|c| c.faults.is_empty()),
            gone(&|c| !c.broken && !c.faults.is_empty()),
            gone(&|c| c.broken && c.faults.len() == 1),
            gone(&|c| c.broken && c.faults.len() > 1),
        );
    };
    let mut all = Vec::new();
    for given in machines {
        let (name, model) = tried(given, Known::Drawn)?;
        let cases = try_releases(model.circuit(), arguments.runs, arguments.seed);
        row(&name, &cases);
        for case in cases.iter().filter(|c| c.broken && c.released) {
            println!("  let go: {}", case.faults.join(", "));
        }
        all.extend(cases);
    }
    row("all", &all);
    Ok(ExitCode::SUCCESS)
}
