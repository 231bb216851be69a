//! `kelvok solve FILE [--set CONTROL=POSITION]... [--engine STATE] [--fault FAULT]... [--json]`

use super::check::sound;
use anyhow::{Context, bail};
use kelvok_core::circuit::{
    Change, Circuit, Condition, Engine, FAULT_FORMS, NodeId, OperatingPoint, Relays,
    fault_notation, operating_point, parse_change, single_faults,
};
use serde_json::{Map, Value, json};
use std::path::PathBuf;
use std::process::ExitCode;

/// A condition, and what differs from the machine as drawn.
#[derive(clap::Args)]
pub struct Asked {
    /// A control at a position, CONTROL=POSITION; what is not set stands at rest.
    #[arg(long, value_name = "CONTROL=POSITION")]
    set: Vec<String>,
    /// What the engine does: stopped, cranking, running, running-hot.
    #[arg(long, value_name = "STATE", default_value = "stopped")]
    engine: String,
    /// A fault or set-up, in the notation that `kelvok solve --help` shows; several may be given.
    #[arg(long, value_name = "FAULT")]
    fault: Vec<String>,
}

impl Asked {
    pub fn of(&self, circuit: &Circuit) -> anyhow::Result<(Condition, Vec<Change>)> {
        let mut condition = Condition::at_rest(circuit);
        for set in &self.set {
            let Some((control, position)) = set.split_once('=') else {
                bail!("\"{set}\" is not CONTROL=POSITION");
            };
            condition.set(circuit, control, position)?;
        }
        let engine = Engine::named(&self.engine);
        condition.engine =
            engine.with_context(|| format!("the engine is never \"{}\"", self.engine))?;
        let changes: Result<Vec<_>, _> =
            self.fault.iter().map(|f| parse_change(circuit, f)).collect();
        Ok((condition, changes.context("in --fault")?))
    }
}

#[derive(clap::Args)]
#[command(after_help = forms())]
pub struct Arguments {
    /// A machine document.
    file: PathBuf,
    #[command(flatten)]
    asked: Asked,
    /// Print JSON.
    #[arg(long)]
    json: bool,
    /// Print every single fault of this machine in the notation, and stop.
    #[arg(long)]
    list_faults: bool,
}

/// The fault notation, a line a form.
fn forms() -> String {
    let widest = FAULT_FORMS.iter().map(|(form, _)| form.len()).max().unwrap_or(0);
    let lines = FAULT_FORMS.iter().map(|(form, is)| format!("\n  {form:widest$}  {is}"));
    format!("Faults, SUBJECT=MODE:{}", lines.collect::<String>())
}

pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let circuit = Circuit::compile(&sound(&arguments.file)?);
    if arguments.list_faults {
        for fault in single_faults(&circuit) {
            for magnitude in fault.magnitudes() {
                println!("{}", fault_notation(&circuit, fault.at(*magnitude)));
            }
        }
        return Ok(ExitCode::SUCCESS);
    }
    let (condition, changes) = arguments.asked.of(&circuit)?;
    let point = operating_point(&circuit, &condition, Relays::default(), &changes, &[]);
    if arguments.json {
        println!("{:#}", as_json(&circuit, &condition, &point));
    } else {
        print(&circuit, &condition, &point);
    }
    Ok(ExitCode::SUCCESS)
}

/// Volts by terminal, `None` where it floats.
fn terminals<'a>(
    circuit: &'a Circuit,
    point: &'a OperatingPoint,
) -> impl Iterator<Item = (&'a str, Option<f64>)> {
    circuit.terminals().map(|(name, node): (&str, NodeId)| (name, point.volts[node.index()]))
}

fn as_json(circuit: &Circuit, condition: &Condition, point: &OperatingPoint) -> Value {
    let volts: Map<_, _> =
        terminals(circuit, point).map(|(n, v)| (n.to_owned(), json!(v))).collect();
    let amps: Map<_, _> =
        circuit.elements().map(|(id, e)| (e.id.clone(), json!(point.amps[id.index()]))).collect();
    let coils: Map<_, _> = coils(circuit, point).map(|(n, s)| (n, json!(s))).collect();
    let set: Map<_, _> = condition.named(circuit).map(|(c, p)| (c.to_owned(), json!(p))).collect();
    let blown: Vec<_> = point.blown.iter().map(|f| &circuit.element(*f).id).collect();
    json!({
        "condition": set, "engine": condition.engine, "volts": volts, "amps": amps, "coils": coils,
        "blown": blown, "outcome": point.outcome,
    })
}

fn coils<'a>(
    circuit: &'a Circuit,
    point: &'a OperatingPoint,
) -> impl Iterator<Item = (String, kelvok_core::circuit::CoilState)> {
    let names = circuit.coils.iter().map(|c| circuit.element(c.element).id.clone());
    names.zip(point.outcome.coils.iter().copied())
}

fn print(circuit: &Circuit, condition: &Condition, point: &OperatingPoint) {
    let set: Vec<_> = condition.named(circuit).map(|(c, p)| format!("{c}={p}")).collect();
    println!("{}\n", set.join(" "));
    println!("{:<24} volts to {}", "terminal", circuit.document().reference);
    for (name, volts) in terminals(circuit, point) {
        match volts {
            // No negative zero for a reader to wonder at.
            Some(v) => println!("{name:<24} {:>9.4}", if v.abs() < 5e-5 { 0.0 } else { v }),
            None => println!("{name:<24}    floats"),
        }
    }
    println!("\n{:<24} amperes", "branch");
    for (id, e) in circuit.elements() {
        let amps = point.amps[id.index()];
        if amps.abs() >= 5e-5 {
            println!("{:<24} {amps:>9.4}", e.id);
        }
    }
    println!();
    for (name, state) in coils(circuit, point) {
        println!("{name:<24} {}", word(&json!(state)));
    }
    for fuse in &point.blown {
        println!("{:<24} blown", circuit.element(*fuse).id);
    }
    let outcome = json!(point.outcome);
    for what in ["crank", "clutch", "fuel", "spark"] {
        if !outcome[what].is_null() {
            println!("{what:<24} {}", word(&outcome[what]));
        }
    }
}

fn word(value: &Value) -> String {
    match value {
        Value::String(s) => s.clone(),
        Value::Bool(true) => "on".to_owned(),
        Value::Bool(false) => "off".to_owned(),
        Value::Array(list) => list.iter().map(word).collect::<Vec<_>>().join(", "),
        other => other.to_string(),
    }
}
