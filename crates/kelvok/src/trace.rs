//! `kelvok trace`

use super::check::{read, sound};
use anyhow::{Context, bail};
use kelvok_core::circuit::{Circuit, Instrument};
use kelvok_core::describe::{describe, looks};
use kelvok_core::machine::{LIBRARY, Machine, MachineDocument};
use kelvok_core::trace::{Harness, LinkState, Trace, TraceEntry, TraceFinding};
use kelvok_core::trial::{Known, Miswired, TraceOutcome, try_tracing};
use std::path::PathBuf;
use std::process::ExitCode;
use std::time::Instant;

#[derive(clap::Args)]
pub struct Arguments {
    /// A machine document; with --trial the whole library if not given.
    file: Option<PathBuf>,
    /// What was found, as a JSON list: `[{"kind": "probe", "red": "seat-plug.A", "black": "key-plug.M",
    /// "instrument": "buzzer", "reading": {"kind": "buzz", "value": true}, "off": ["seat-plug"]}]`.
    #[arg(long)]
    log: Option<PathBuf>,
    /// Only this circuit of the machine.
    #[arg(long)]
    circuit: Option<String>,
    /// Prints the machine's document with what was traced.
    #[arg(long)]
    write: bool,
    /// Lets a virtual mechanic trace machines, slips and all, and prints how well it went.
    #[arg(long, conflicts_with_all = ["log", "circuit", "write"])]
    trial: bool,
    /// Of a trial: drawn, wrong-drawing or described.
    #[arg(long, default_value = "drawn", value_parser = super::trial::known)]
    known: Known,
    /// Of a trial: how often a machine.
    #[arg(long, default_value_t = 40)]
    runs: usize,
    /// The same seed gives the same trial.
    #[arg(long, default_value_t = 1)]
    seed: u64,
}

/// Prints how far a harness is traced, and what to do next.
pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    if arguments.trial {
        return trial(arguments);
    }
    let Some(file) = &arguments.file else { bail!("name a machine document") };
    let machine = sound(file)?;
    let circuit = Circuit::compile(&machine);
    let log: Vec<TraceEntry> = match &arguments.log {
        Some(log) => serde_json::from_str(&read(log)?)
            .with_context(|| format!("{} is no list of what was found", log.display()))?,
        None => Vec::new(),
    };
    let trace = Trace::with(Harness::new(&circuit), log)
        .map_err(|(index, error)| anyhow::anyhow!("entry {}: {error}", index + 1))?;
    if arguments.write {
        println!("{}", serde_json::to_string_pretty(&trace.written(&trace.standing()))?);
        return Ok(ExitCode::SUCCESS);
    }
    print_standing(&trace);
    print_next(&trace, arguments.circuit.as_deref());
    Ok(ExitCode::SUCCESS)
}

fn print_standing(trace: &Trace<'_>) {
    let harness = trace.harness();
    let end = |end: usize| harness.ends()[end].terminals[0].as_str();
    let document = harness.circuit().document();
    let standing = trace.standing();
    let traced = standing.links.iter().filter(|s| **s == LinkState::Traced).count();
    println!("{traced} of {} wires traced", standing.links.len());
    for circuit in &standing.circuits {
        match circuit.left.len() {
            0 => println!("{} circuit: complete", circuit.name),
            left => println!("{} circuit: {left} of {} left", circuit.name, circuit.links.len()),
        }
    }
    for finding in &standing.findings {
        match finding {
            TraceFinding::Swapped(a, b) => {
                println!("the other way round: {}, {}", end(*a), end(*b))
            }
            TraceFinding::Joined(a, b) => println!("joined: {} to {}", end(*a), end(*b)),
            TraceFinding::NotThere(link) => {
                let (a, b) = harness.links()[*link].ends;
                println!("no beep where a wire is drawn: {} to {}", end(a), end(b));
            }
            TraceFinding::Wired(at, choice) => {
                let own = &document.alternatives[*at];
                let so = choice.map_or(&own.drawn, |c| &own.choices[c].name);
                println!("{}: {so}", own.about);
            }
        }
    }
    if standing.supply_grounded {
        println!(
            "battery + would go straight to ground: measure again before anything is connected"
        );
    }
}

fn print_next(trace: &Trace<'_>, circuit: Option<&str>) {
    let harness = trace.harness();
    let end = |end: usize| harness.ends()[end].terminals[0].as_str();
    let Some(step) = trace.next(circuit) else {
        println!("nothing left to measure");
        return;
    };
    for part in &step.pull {
        println!("take off: {}", harness.circuit().part(*part).name);
    }
    let with = match step.instrument {
        Instrument::Ohmmeter => "ohms",
        _ => "buzzer",
    };
    println!(
        "next, {with}: red on {}, black on {}; {}",
        end(step.red),
        end(step.black),
        if step.beeps { "should beep" } else { "no beep expected" }
    );
}

fn trial(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    println!(
        "{:<18} {:>5} {:>7} {:>7} {:>6} {:>8} {:>6} {:>7} {:>6} {:>6} {:>6} {:>7} {:>7}",
        "machine",
        "runs",
        "buzzes",
        "fewest",
        "ratio",
        "minutes",
        "pulled",
        "traced",
        "wrong",
        "left",
        "false",
        "named",
        "ms/step"
    );
    let mut all = Vec::new();
    for (name, document) in machines(arguments)? {
        let began = Instant::now();
        let outcomes = try_tracing(&document, arguments.known, arguments.runs, arguments.seed);
        let spent = began.elapsed().as_secs_f64();
        print_row(&name, &outcomes, spent);
        all.push((outcomes, spent));
    }
    if all.len() > 1 {
        let spent = all.iter().map(|(_, s)| s).sum();
        let outcomes: Vec<_> = all.into_iter().flat_map(|(o, _)| o).collect();
        print_row("all", &outcomes, spent);
        print_errors(&outcomes);
    }
    Ok(ExitCode::SUCCESS)
}

fn machines(arguments: &Arguments) -> anyhow::Result<Vec<(String, MachineDocument)>> {
    if let Some(file) = &arguments.file {
        let document = sound(file)?.document().clone();
        return Ok(vec![(document.identity.model.clone(), document)]);
    }
    if arguments.known == Known::Described {
        let described = looks().into_iter();
        return described
            .map(|(name, answers)| {
                let document = describe(&answers, "Described", &name)?.document;
                Ok((name, document))
            })
            .collect();
    }
    let all = LIBRARY.iter().map(|shipped| {
        let machine = Machine::read(shipped.text)
            .map_err(|p| anyhow::anyhow!("{}: {} problems", shipped.name, p.len()))?;
        Ok((shipped.name.to_owned(), machine.document().clone()))
    });
    all.collect()
}

/// How often each error of the drawing was found.
fn print_errors(outcomes: &[TraceOutcome]) {
    for error in Miswired::ERRORS {
        let own: Vec<_> = outcomes.iter().filter(|o| o.error == Some(error)).collect();
        if !own.is_empty() {
            let named = own.iter().filter(|o| o.named).count();
            println!("{error:?}: {named} of {} named", own.len());
        }
    }
}

fn print_row(name: &str, outcomes: &[TraceOutcome], spent: f64) {
    let runs = outcomes.len().max(1) as f64;
    let mean = |of: &dyn Fn(&TraceOutcome) -> f64| outcomes.iter().map(of).sum::<f64>() / runs;
    let total = |of: &dyn Fn(&TraceOutcome) -> usize| outcomes.iter().map(of).sum::<usize>();
    let buzzes = mean(&|o| o.buzzes as f64);
    let fewest = mean(&|o| o.fewest as f64);
    let cores = std::thread::available_parallelism().map_or(1, usize::from) as f64;
    println!(
        "{name:<18} {:>5} {buzzes:>7.1} {fewest:>7.1} {:>6.2} {:>8.1} {:>6.1} {:>7.1} {:>6} {:>6} {:>6} {:>6.1}% {:>7.1}",
        outcomes.len(),
        buzzes / fewest.max(1.0),
        mean(&|o| o.minutes),
        mean(&|o| o.pulled as f64),
        mean(&|o| o.traced as f64),
        total(&|o| o.wrong),
        total(&|o| o.left),
        total(&|o| o.false_findings),
        mean(&|o| f64::from(o.named)) * 100.0,
        spent * 1000.0 * cores / total(&|o| o.buzzes).max(1) as f64
    );
}
