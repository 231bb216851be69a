//! `kelvok trial`

mod causes;
mod charging;
mod drops;
mod loads;
mod release;
mod supply;

use super::check::sound;
use anyhow::bail;
use indicatif::{ProgressBar, ProgressStyle};
use kelvok_core::circuit::{Circuit, Wiring};
use kelvok_core::describe::{describe, looks};
use kelvok_core::diagnosis::{Entry, Model, Strategy};
use kelvok_core::machine::{LIBRARY, Machine};
use kelvok_core::trial::{
    Faults, Interval, Known, Misdrawn, Options, Outcome, Reduced, Summary, Surroundings,
    TrialMachine, against_optimum, saving, try_machine, try_misdrawn,
};
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use std::time::{Duration, Instant};

#[derive(clap::Args)]
pub struct Arguments {
    /// A machine of the library, by name, or a machine document, by its file; the whole library if
    /// not given.
    #[arg(long)]
    machine: Vec<String>,
    /// Cases a machine.
    #[arg(long, default_value_t = 500)]
    runs: usize,
    /// The same seed gives the same trial.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// A strategy, or several; all if not given.
    #[arg(long, alias = "school", value_parser = strategy)]
    strategy: Vec<Strategy>,
    /// single, double or intermittent.
    #[arg(long, default_value = "single", value_parser = faults)]
    faults: Faults,
    /// bench, or yard: parts that pull in where they like, sizes from what matters upward, batteries that
    /// drain and are charged, faults that go together, mechanics who begin in an order of their own,
    /// jump, feel and repeat, and slip up to one time in ten.
    #[arg(long, default_value = "bench", value_parser = surroundings)]
    world: Surroundings,
    /// drawn; described: a machine of the library known by its looks alone, and really wired in one of the
    /// ways that these leave open; or wrong-drawing: two pins drawn the other way round, or a contact of
    /// the other kind, besides one fault.
    #[arg(long, default_value = "drawn", value_parser = known)]
    known: Known,
    /// diagnosis; release: machines with nothing, one or two things wrong put through their release plan;
    /// supply: batteries that are not the model's, read as the battery page asks; drops: bad joints in loaded
    /// circuits, walked with a voltmeter; causes: parts that burnt, and what
    /// killed them; loads: clutches, coils and glow plugs by ohms, volts and amperes; or charging: what
    /// keeps a machine from charging its battery.
    #[arg(long, default_value = "diagnosis", value_parser = ["diagnosis", "release", "supply", "drops", "causes", "loads", "charging"])]
    area: String,
    /// Writes every case as comma-separated values.
    #[arg(long)]
    csv: Option<PathBuf>,
    /// Instead: draws as many sets of a few faults each and, without errors of hands or meter,
    /// holds the tests of best split to the fewest there could be.
    #[arg(long, conflicts_with_all = ["strategy", "faults", "world", "csv", "story"])]
    optimum: bool,
    /// Prints how this case of each machine went: a line an entry, with how well the fault itself
    /// and what was named explain it, as shares of the best explanation.
    #[arg(long)]
    story: Option<usize>,
    /// No progress bar.
    #[arg(long)]
    quiet: bool,
}

/// What is known of a machine that is tried.
pub fn known(text: &str) -> Result<Known, String> {
    match text {
        "drawn" => Ok(Known::Drawn),
        "described" => Ok(Known::Described),
        "wrong-drawing" => Ok(Known::WrongDrawing),
        _ => Err("drawn, described or wrong-drawing".to_owned()),
    }
}

pub fn strategy(text: &str) -> Result<Strategy, String> {
    let known = || Strategy::ALL.iter().map(|s| s.name()).collect::<Vec<_>>().join(", ");
    text.parse().map_err(|_| format!("one of {}", known()))
}

fn surroundings(text: &str) -> Result<Surroundings, String> {
    match text {
        "bench" => Ok(Surroundings::Bench),
        "yard" => Ok(Surroundings::Yard),
        _ => Err("bench or yard".to_owned()),
    }
}

fn faults(text: &str) -> Result<Faults, String> {
    match text {
        "single" => Ok(Faults::Single),
        "double" => Ok(Faults::Double),
        "intermittent" => Ok(Faults::Intermittent),
        _ => Err("single, double or intermittent".to_owned()),
    }
}

/// The machine that only serves the engine's reference figures.
const REFERENCE_MACHINE: &str = "kelvok-r1";

/// Seeds faults and lets each strategy find them; prints a table.
pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let machines: Vec<_> = match arguments.machine.as_slice() {
        [] if arguments.known == Known::Described => {
            let described = looks();
            let own = |m: &&str| described.contains_key(*m);
            LIBRARY.iter().map(|m| m.name).filter(own).collect()
        }
        [] => LIBRARY.iter().map(|m| m.name).filter(|m| *m != REFERENCE_MACHINE).collect(),
        names => names.iter().map(String::as_str).collect(),
    };
    if arguments.runs == 0 {
        bail!("--runs must be at least 1");
    }
    match arguments.area.as_str() {
        "release" => return release::print(arguments, &machines),
        "charging" => return charging::print(arguments, &machines),
        "loads" => return loads::print(arguments, &machines),
        "causes" => return causes::print(arguments, &machines),
        "drops" => return drops::print(arguments, &machines),
        "supply" => return supply::print(arguments, &machines),
        _ => {}
    }
    if arguments.optimum {
        return optimum(arguments, &machines);
    }
    if arguments.known == Known::WrongDrawing {
        return misdrawn(arguments, &machines);
    }
    let strategies = match arguments.strategy.as_slice() {
        [] => Strategy::ALL.to_vec(),
        some => some.to_vec(),
    };
    let options = Options {
        runs: arguments.runs,
        seed: arguments.seed,
        faults: arguments.faults,
        surroundings: arguments.world,
        strategies: strategies.clone(),
    };
    let mut csv = arguments.csv.as_ref().map(csv::Writer::from_path).transpose()?;
    let bar = ProgressBar::new((machines.len() * arguments.runs) as u64);
    if arguments.quiet {
        bar.set_draw_target(indicatif::ProgressDrawTarget::hidden());
    }
    bar.set_style(ProgressStyle::with_template("{bar:30} {pos}/{len} cases {eta} {msg}")?);
    print_heading();
    let mut all: Vec<Vec<Outcome>> = Vec::new();
    let (mut decisions, mut spent) = (0, Duration::ZERO);
    for given in machines {
        let (name, model) = tried(given, arguments.known)?;
        bar.set_message(name.clone());
        let start = Instant::now();
        let mut cases = Vec::new();
        for (wiring, runs) in shares(&model, arguments.runs) {
            let machine = TrialMachine::wired(&model, wiring);
            let options = Options { runs, seed: arguments.seed + wiring as u64, ..options.clone() };
            cases.extend(try_machine(&machine, &name, &options, &|| bar.inc(1)));
        }
        spent += start.elapsed();
        decisions += cases.iter().flatten().map(|o| o.tests + 1).sum::<usize>();
        if let Some(case) = arguments.story.and_then(|n| cases.get(n)) {
            bar.suspend(|| print_story(model.circuit(), case));
        }
        if let Some(csv) = csv.as_mut() {
            write(csv, &name, &cases)?;
        }
        bar.suspend(|| print_rows(&name, &strategies, &cases));
        all.extend(cases);
    }
    bar.finish_and_clear();
    if let Some(csv) = csv.as_mut() {
        csv.flush()?;
    }
    print_rows("all", &strategies, &all);
    print_besides(&strategies, &all);
    let cores = std::thread::available_parallelism().map_or(1, usize::from);
    println!(
        "\n{decisions} decisions in {:.0} s on {cores} cores: {:.1} ms of one core each",
        spent.as_secs_f64(),
        spent.as_secs_f64() * 1000.0 * cores as f64 / decisions.max(1) as f64
    );
    Ok(ExitCode::SUCCESS)
}

/// Prints the tests made on reduced sets beside the fewest there could be.
fn optimum(arguments: &Arguments, machines: &[&str]) -> anyhow::Result<ExitCode> {
    println!(
        "{:<18} {:>5} {:>7} {:>8} {:>8} {:>6}",
        "machine", "sets", "faults", "optimum", "planned", "ratio"
    );
    let print = |name: &str, sets: &[Reduced]| {
        let mean = |of: fn(&Reduced) -> f64| sets.iter().map(of).sum::<f64>() / sets.len() as f64;
        let (optimum, planned) = (mean(|s| s.optimum), mean(|s| s.planned));
        println!(
            "{name:<18} {:>5} {:>7.1} {optimum:>8.2} {planned:>8.2} {:>6.2}",
            sets.len(),
            mean(|s| s.faults as f64),
            planned / optimum
        );
    };
    let mut all = Vec::new();
    for given in machines {
        let (name, model) = tried(given, Known::Drawn)?;
        let sets =
            against_optimum(&TrialMachine::wired(&model, 0), &name, arguments.runs, arguments.seed);
        print(&name, &sets);
        all.extend(sets);
    }
    print("all", &all);
    Ok(ExitCode::SUCCESS)
}

/// Prints how faults are found by drawings that are wrong themselves.
fn misdrawn(arguments: &Arguments, machines: &[&str]) -> anyhow::Result<ExitCode> {
    println!(
        "{:<18} {:>5} {:>21} {:>11} {:>10} {:>13} {:>6} {:>7}",
        "machine",
        "cases",
        "right (95 %)",
        "wrong parts",
        "in the way",
        "of them named",
        "tests",
        "minutes"
    );
    let print = |name: &str, cases: &[Misdrawn]| {
        let outcomes: Vec<&Outcome> = cases.iter().map(|c| &c.outcome).collect();
        if outcomes.is_empty() {
            println!("{name:<18} no fault drawn makes anyone complain");
            return;
        }
        let s = Summary::of(Strategy::BestSplit, &outcomes);
        let in_the_way = cases.iter().filter(|c| c.in_the_way).count();
        let named = cases.iter().filter(|c| c.in_the_way && c.named).count();
        let percent = |share: f64| format!("{:.1}%", share * 100.0);
        println!(
            "{name:<18} {:>5} {:>21} {:>11} {in_the_way:>10} {named:>13} {:>6.1} {:>7.1}",
            cases.len(),
            interval(s.right),
            percent(s.wrong_cases),
            s.tests,
            s.minutes.mean
        );
    };
    let mut all = Vec::new();
    for given in machines {
        let (name, model) = tried(given, Known::Drawn)?;
        let cases = try_misdrawn(model.circuit().document(), arguments.runs, arguments.seed);
        print(&name, &cases);
        if let Some(case) = arguments.story.and_then(|n| cases.get(n)) {
            println!("drawn wrong: {}", case.error);
            print_story(model.circuit(), std::slice::from_ref(&case.outcome));
        }
        all.extend(cases);
    }
    print("all", &all);
    Ok(ExitCode::SUCCESS)
}

/// How many of the cases are of each wiring that a machine may have, by its weight.
fn shares(model: &Model, runs: usize) -> Vec<(usize, usize)> {
    let mut before = 0.0;
    let upto = |share: f64| (share * runs as f64).round() as usize;
    let share = |(wiring, own): (usize, &Wiring)| {
        let first = upto(before);
        before += own.weight;
        (wiring, upto(before) - first)
    };
    let all = model.circuit().wirings.iter().enumerate().map(share);
    all.filter(|(_, runs)| *runs > 0).collect()
}

/// A machine of the library or of a file as it is known, and what it is called in the table.
fn tried(given: &str, known: Known) -> anyhow::Result<(String, Model)> {
    let shipped = LIBRARY.iter().find(|m| m.name == given);
    let machine = match shipped {
        Some(shipped) if known == Known::Described => {
            let answers = looks().remove(given);
            let Some(answers) = answers else { bail!("nobody has described {given} by its looks") };
            let document = describe(&answers, "Described", shipped.name)?.document;
            Machine::read(&serde_json::to_string(&document)?)
                .map_err(|p| anyhow::anyhow!("{}: {} problems", shipped.name, p.len()))?
        }
        Some(shipped) => Machine::read(shipped.text)
            .map_err(|p| anyhow::anyhow!("{}: {} problems", shipped.name, p.len()))?,
        None if Path::new(given).is_file() => sound(Path::new(given))?,
        None => {
            let names: Vec<_> = LIBRARY.iter().map(|m| m.name).collect();
            bail!(
                "no machine \"{given}\" in the library, and no such file; it has {}",
                names.join(", ")
            );
        }
    };
    let of_file = || Path::new(given).file_stem().map_or(given.into(), |s| s.to_string_lossy());
    let name = shipped.map_or_else(|| of_file().into_owned(), |m| m.name.to_owned());
    Ok((name, Model::new(Circuit::compile(&machine))))
}

fn print_story(circuit: &Circuit, case: &[Outcome]) {
    for outcome in case {
        println!("{}: {} is", outcome.strategy.name(), outcome.fault);
        for (evidence, (own, named)) in outcome.log.iter().zip(&outcome.fits) {
            let entry = serde_json::to_string(&Entry::of(circuit, evidence)).unwrap_or_default();
            println!("  {own:.3} {named:.3} {entry}");
        }
        println!("  named: {} at {:.3}", outcome.verdict.join(" or "), outcome.probability);
    }
}

fn print_heading() {
    println!(
        "{:<18} {:<17} {:>5} {:>21} {:>6} {:>5} {:>6} {:>6} {:>6} {:>7} {:>6} {:>20}",
        "machine",
        "strategy",
        "runs",
        "right (95 %)",
        "unit",
        "group",
        "wrong",
        "tests",
        "bits/t",
        "calibr.",
        "median",
        "saved by best split"
    );
}

fn print_rows(machine: &str, strategies: &[Strategy], cases: &[Vec<Outcome>]) {
    let by = |strategy: Strategy| -> Vec<&Outcome> {
        cases.iter().flatten().filter(|o| o.strategy == strategy).collect()
    };
    let percent = |share: f64| format!("{:.1}%", share * 100.0);
    for strategy in strategies {
        let outcomes = by(*strategy);
        if outcomes.is_empty() {
            println!("{machine:<18} no fault drawn makes anyone complain");
            return;
        }
        let s = Summary::of(*strategy, &outcomes);
        let pairs: Vec<_> = by(Strategy::BestSplit)
            .iter()
            .zip(&outcomes)
            .map(|(own, other)| (own.minutes, other.minutes))
            .collect();
        let saved = match *strategy {
            Strategy::BestSplit => String::new(),
            _ if pairs.is_empty() => String::new(),
            _ => interval(saving(&pairs)),
        };
        println!(
            "{machine:<18} {:<17} {:>5} {:>21} {:>6} {:>5.2} {:>6} {:>6.1} {:>6.2} {:>7} {:>6.1} {:>20}",
            strategy.name(),
            s.runs,
            interval(s.right),
            percent(s.unit_right),
            s.group,
            percent(s.wrong_parts),
            s.tests,
            s.bits_a_test,
            format!("{:+.1}%", s.calibration * 100.0),
            s.median_minutes,
            saved
        );
    }
}

/// What the table has no room for, over all machines.
fn print_besides(strategies: &[Strategy], cases: &[Vec<Outcome>]) {
    for strategy in strategies {
        let outcomes: Vec<_> = cases.iter().flatten().filter(|o| o.strategy == *strategy).collect();
        if outcomes.is_empty() {
            continue;
        }
        let s = Summary::of(*strategy, &outcomes);
        println!(
            "{}: {:.1}% of cases with a part changed for nothing, {:.1}% of verdicts not confirmed, \
             {:.1}% of cases in which a true entry was called a slip with more than 90%",
            strategy.name(),
            s.wrong_cases * 100.0,
            (1.0 - s.named) * 100.0,
            s.called_slips * 100.0
        );
    }
}

fn interval(of: Interval) -> String {
    format!("{:.1}% ({:.1}-{:.1})", of.mean * 100.0, of.low * 100.0, of.high * 100.0)
}

fn write(
    csv: &mut csv::Writer<std::fs::File>,
    machine: &str,
    cases: &[Vec<Outcome>],
) -> anyhow::Result<()> {
    if csv.get_ref().metadata().is_ok_and(|m| m.len() == 0) {
        csv.write_record([
            "machine",
            "case",
            "strategy",
            "fault",
            "verdict",
            "right",
            "unit_right",
            "group",
            "probability",
            "named",
            "tests",
            "minutes",
            "wrong_parts",
            "bits_before",
            "bits_after",
            "called_slips",
        ])?;
        csv.flush()?;
    }
    for (i, case) in cases.iter().enumerate() {
        for o in case {
            csv.write_record([
                machine.to_owned(),
                i.to_string(),
                o.strategy.name().to_owned(),
                o.fault.clone(),
                o.verdict.join(" "),
                o.right.to_string(),
                o.unit_right.to_string(),
                o.group.to_string(),
                format!("{:.4}", o.probability),
                o.named.to_string(),
                o.tests.to_string(),
                format!("{:.2}", o.minutes),
                o.wrong_parts.to_string(),
                format!("{:.3}", o.bits.0),
                format!("{:.3}", o.bits.1),
                o.called_slips.to_string(),
            ])?;
        }
    }
    Ok(())
}
