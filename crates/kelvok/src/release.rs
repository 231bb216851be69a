//! `kelvok release FILE`

use super::check::sound;
use kelvok_core::circuit::{Circuit, Condition, fault_notation, parse_change};
use kelvok_core::release::{Act, ExposedFault, PlannedStep, ReleasePlan, Step};
use serde_json::{Value, json};
use std::path::PathBuf;
use std::process::ExitCode;

#[derive(clap::Args)]
pub struct Arguments {
    /// A machine document.
    file: PathBuf,
    /// What the machine has besides, in the fault notation; may be repeated.
    #[arg(long, value_name = "FAULT")]
    as_found: Vec<String>,
    /// Print it as JSON.
    #[arg(long)]
    json: bool,
}

/// Prints the plan, what each step exposes, what nothing exposes, and that no smaller plan does; exit 1 if the machine
/// as it is breaks a duty.
pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let circuit = Circuit::compile(&sound(&arguments.file)?);
    let found = arguments.as_found.iter().map(|f| parse_change(&circuit, f));
    let found: Vec<_> = found.collect::<Result<_, _>>()?;
    let plan = ReleasePlan::of(&circuit, &found);
    if arguments.json {
        println!("{:#}", as_json(&circuit, &plan));
    } else {
        say(&circuit, &plan);
    }
    Ok(if plan.broken.is_empty() { ExitCode::SUCCESS } else { ExitCode::FAILURE })
}

fn say(circuit: &Circuit, plan: &ReleasePlan) {
    for broken in &plan.broken {
        let name = &circuit.document().duties[broken.duty].name;
        println!(
            "NOT FIT TO GO BACK: \"{name}\" is broken in {} conditions\n",
            broken.broken.len()
        );
    }
    let cover = &plan.cover;
    let proof = if cover.proved {
        "no fewer do it (proved)".to_owned()
    } else {
        format!("at least {} are needed", cover.at_least)
    };
    println!(
        "{} of {} steps expose all {} faults that can be exposed; {proof}.",
        plan.steps.len(),
        plan.candidates,
        plan.exposed()
    );
    println!("Engine started {} times, blades turned {} times.\n", plan.starts, plan.blades);
    let mut stands = Condition::at_rest(circuit);
    for (number, planned) in (1..).zip(&plan.steps) {
        let step = &planned.step;
        let set: Vec<_> = step.stand(circuit).into_iter().map(|(_, says)| says).collect();
        println!("{number:>3}. With {}", set.join(", "));
        for line in planned.first(circuit, &stands) {
            println!("     {line}");
        }
        stands = step.to.as_ref().unwrap_or(&step.from).clone();
        println!("     {} {}", step.does(circuit), step.must(circuit));
        let marks =
            [(step.takes_two(circuit), "takes two"), (step.clear_area(circuit), "clear area")];
        let marks: Vec<_> = marks.iter().filter(|(holds, _)| *holds).map(|(_, m)| *m).collect();
        let marks =
            if marks.is_empty() { String::new() } else { format!(" [{}]", marks.join(", ")) };
        println!("     exposes {} faults{marks}", plan.exposed_by(planned));
    }
    let unexposed = plan.unexposed(circuit);
    if !unexposed.is_empty() {
        println!("\nNo step shows these; they take a reading:");
    }
    for fault in unexposed {
        let breaks: Vec<_> =
            fault.breaks.iter().map(|d| circuit.document().duties[*d].name.as_str()).collect();
        println!("  {}: {}", fault.fault, breaks.join("; "));
        println!("    {}", fault.test(circuit));
    }
}

fn notation(circuit: &Circuit, fault: &ExposedFault) -> String {
    fault_notation(circuit, fault.fault.at(fault.size))
}

fn as_json(circuit: &Circuit, plan: &ReleasePlan) -> Value {
    let duty = |index: &usize| circuit.document().duties[*index].id.clone();
    let exposed = |step: &PlannedStep| {
        let faults = step.exposes.iter().map(|f| notation(circuit, &plan.faults[*f]));
        faults.collect::<Vec<_>>()
    };
    let mut stands = Condition::at_rest(circuit);
    let steps = plan.steps.iter().map(|planned| {
        let step: &Step = &planned.step;
        let first = planned.first(circuit, &stands);
        stands = step.to.as_ref().unwrap_or(&step.from).clone();
        let (from, moved) = step.named(circuit);
        let act = match step.act {
            Act::Crank => "crank",
            Act::Move => "move",
            Act::MoveAndBack => "move-and-back",
        };
        json!({
            "act": act,
            "from": from,
            "moved": moved,
            "within_s": step.within,
            "must": step.must(circuit),
            "first": first,
            "does": step.does(circuit),
            "duties": step.duties.iter().map(duty).collect::<Vec<_>>(),
            "takes_two": step.takes_two(circuit),
            "clear_area": step.clear_area(circuit),
            "exposes": exposed(planned),
        })
    });
    let unexposed = plan.unexposed(circuit).into_iter().map(
        |f| json!({"fault": f.fault, "test": f.test(circuit), "breaks": f.breaks.iter().map(duty).collect::<Vec<_>>()}),
    );
    json!({
        "steps": steps.collect::<Vec<_>>(),
        "candidates": plan.candidates,
        "at_least": plan.cover.at_least,
        "proved_smallest": plan.cover.proved,
        "exposed": plan.exposed(),
        "unexposed": unexposed.collect::<Vec<_>>(),
        "broken": plan.broken.iter().map(|b| duty(&b.duty)).collect::<Vec<_>>(),
        "starts": plan.starts,
        "blades": plan.blades,
    })
}
