//! What the diagnosis of a machine keeps in memory, and how long its first plan takes:
//! `cargo run --release -p kelvok-core --example room`. Prints, by machine, the document's size, what
//! could be wrong, megabytes kept as the workings count them, the most that the process ever held, and
//! seconds to a first plan.

#[path = "../tests/library/mod.rs"]
mod library;

use kelvok_core::circuit::{Circuit, Condition};
use kelvok_core::diagnosis::{History, Model, Workings};
use kelvok_core::machine::{LIBRARY, Machine};
use std::sync::Arc;
use std::time::Instant;

fn main() {
    let mut machines: Vec<(String, String)> =
        LIBRARY.iter().map(|m| (m.name.to_owned(), m.text.to_owned())).collect();
    for harnesses in [2, 4, 6] {
        machines
            .push((format!("made up, {harnesses} harnesses"), library::large::large(harnesses)));
    }
    let only = std::env::args().nth(1);
    println!(
        "{:24} {:>6} {:>9} {:>8} {:>8} {:>8}",
        "machine", "kB", "scenarios", "kept MB", "peak MB", "plan s"
    );
    for (name, text) in machines {
        if only.as_ref().is_some_and(|only| !name.contains(only.as_str())) {
            continue;
        }
        let machine = Machine::read(&text).unwrap_or_else(|p| panic!("{name}: {:?}", p.first()));
        let circuit = Circuit::compile(&machine);
        let condition = Condition::at_rest(&circuit);
        let began = Instant::now();
        let workings = Arc::new(Workings::default());
        let model = Model::in_shop(circuit, &History::default(), workings.clone());
        let belief = model.judge(&[]);
        let first = model.plan(&belief, &[], &condition);
        let looks = model.walk_round(&belief, &[], &condition);
        assert!(!first.tests.is_empty() && !looks.is_empty());
        println!(
            "{name:24} {:6} {:9} {:8.1} {:8.0} {:8.2}",
            text.len() / 1000,
            model.suspects().scenarios.len(),
            workings.bytes() as f64 / 1e6,
            peak(),
            began.elapsed().as_secs_f64()
        );
    }
}

/// The most that this process held so far, in megabytes.
fn peak() -> f64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find(|l| l.starts_with("VmHWM"));
    let kilobytes = line.and_then(|l| l.split_whitespace().nth(1)?.parse::<f64>().ok());
    kilobytes.unwrap_or(0.0) / 1000.0
}
