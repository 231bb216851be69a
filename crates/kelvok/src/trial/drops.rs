//! Bad joints walked with a voltmeter, printed.

use super::{Arguments, Known, interval, tried};
use kelvok_core::drops::StarterWord;
use kelvok_core::trial::{DropsTried, StarterTried, try_drops, try_starters, wilson};
use std::process::ExitCode;

/// Prints how bad joints are found, and sound circuits left alone.
pub(super) fn print(arguments: &Arguments, machines: &[&str]) -> anyhow::Result<ExitCode> {
    println!(
        "{:<18} {:>5} {:>20} {:>6} {:>5} {:>8} {:>6} {:>20} {:>8}",
        "machine",
        "bad",
        "named right (95 %)",
        "wrong",
        "sound",
        "let be",
        "parts",
        "readings",
        "amps off"
    );
    let mut all = Vec::new();
    for given in machines {
        let (name, model) = tried(given, Known::Drawn)?;
        let cases = try_drops(&model, arguments.runs, arguments.seed);
        if cases.is_empty() {
            println!("{name:<18} has no circuit to walk");
            continue;
        }
        row(&name, &cases);
        all.extend(cases);
    }
    row("all", &all);
    let two: Vec<_> = all.iter().filter(|c| c.bad == 2).collect();
    let both = two.iter().filter(|c| c.right).count();
    println!("two bad joints     {:>5} {:>20}", two.len(), interval(wilson(both, two.len())));
    starters(arguments, machines)?;
    Ok(ExitCode::SUCCESS)
}

/// Prints how starters are judged by their volts and amps.
fn starters(arguments: &Arguments, machines: &[&str]) -> anyhow::Result<()> {
    let mut all = Vec::new();
    for given in machines {
        let (_, model) = tried(given, Known::Drawn)?;
        all.extend(try_starters(&model, arguments.runs, arguments.seed));
    }
    let right = |own: &[&StarterTried]| {
        let right = own.iter().filter(|c| c.named == Some(c.truth)).count();
        interval(wilson(right, own.len()))
    };
    println!("starters           {:>5} {:>20}", all.len(), right(&all.iter().collect::<Vec<_>>()));
    for word in StarterWord::ALL {
        let own: Vec<_> = all.iter().filter(|c| c.truth == *word).collect();
        if !own.is_empty() {
            println!("  {:<16} {:>5} {:>20}", format!("{word:?}"), own.len(), right(&own));
        }
    }
    Ok(())
}

fn row(name: &str, cases: &[DropsTried]) {
    let (bad, sound): (Vec<_>, Vec<_>) = cases.iter().partition(|c| c.bad > 0);
    let mean = |all: &[&DropsTried], of: fn(&DropsTried) -> f64| {
        all.iter().map(|c| of(c)).sum::<f64>() / all.len().max(1) as f64
    };
    let right = bad.iter().filter(|c| c.right).count();
    let wrong = bad.iter().filter(|c| c.wrong).count() as f64 / bad.len().max(1) as f64;
    let quiet = sound.iter().filter(|c| c.right).count() as f64 / sound.len().max(1) as f64;
    println!(
        "{name:<18} {:>5} {:>20} {:>5.1}% {:>5} {:>7.1}% {:>6.1} {:>20} {:>7.0}%",
        bad.len(),
        interval(wilson(right, bad.len())),
        100.0 * wrong,
        sound.len(),
        100.0 * quiet,
        mean(&bad, |c| c.group),
        format!(
            "{:.1}, sound {:.1}",
            mean(&bad, |c| c.readings as f64),
            mean(&sound, |c| c.readings as f64)
        ),
        100.0 * mean(&bad, |c| c.amps_off),
    );
}
