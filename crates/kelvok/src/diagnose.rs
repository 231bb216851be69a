//! `kelvok diagnose MACHINE EVIDENCE [--json]`

use super::check::sound;
use anyhow::Context;
use kelvok_core::circuit::{Circuit, Condition};
use kelvok_core::diagnosis::{
    Because, Belief, Evidence, LookEntry, Model, NextTest, Plan, SetUpEntry, StoryDocument,
    Strategy, TestAction, Unit, Why, contradictions,
};
use serde_json::{Value, json};
use std::path::PathBuf;
use std::process::ExitCode;

/// Suspects below this are not printed.
const LISTED: f64 = 0.004;
/// Rows printed for a person; JSON has them all.
const MOST_ROWS: usize = 12;

#[derive(clap::Args)]
#[command(
    after_help = "EVIDENCE is a story in JSON (schema: `kelvok schema --story`), or a table \
                        of comma-separated values as a job goes out in."
)]
pub struct Arguments {
    /// A machine document.
    machine: PathBuf,
    /// What was said, tried, looked at and measured.
    evidence: PathBuf,
    /// By which strategy to go on.
    #[arg(long, alias = "school", default_value = "best-split", value_parser = super::trial::strategy)]
    strategy: Strategy,
    /// Print JSON.
    #[arg(long)]
    json: bool,
}

pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let circuit = Circuit::compile(&sound(&arguments.machine)?);
    let file = &arguments.evidence;
    let text =
        std::fs::read_to_string(file).with_context(|| format!("cannot read {}", file.display()))?;
    let table = file.extension().is_some_and(|e| e.eq_ignore_ascii_case("csv"));
    let story = if table { StoryDocument::read_csv(&text) } else { StoryDocument::read(&text) };
    let story = story.with_context(|| format!("in {}", file.display()))?;
    let mut log = Vec::new();
    for (i, line) in story.entries.iter().enumerate().filter(|(_, e)| e.voided.is_none()) {
        let entry = line.entry.resolve(&circuit, i as u64 + 1);
        log.push(entry.with_context(|| format!("in entry {}", i + 1))?);
    }
    let model = Model::new(circuit);
    let diagnosis = Diagnosis::of(arguments.strategy, &model, &log);
    if arguments.json {
        println!("{:#}", diagnosis.json(&model));
    } else {
        print!("{}", diagnosis.words(model.circuit()));
    }
    Ok(ExitCode::SUCCESS)
}

struct Diagnosis {
    belief: Belief,
    plan: Plan,
    /// Units with their probabilities, those that nothing tells apart together.
    rows: Vec<(Vec<Unit>, f64)>,
    excluded: Vec<(Unit, String)>,
    contradictions: Vec<(u64, u64)>,
}

impl Diagnosis {
    fn of(strategy: Strategy, model: &Model, log: &[Evidence]) -> Self {
        let condition = model.complained_of(log, &Condition::at_rest(model.circuit()));
        let belief = model.judge(log);
        let plan = model.plan_by(strategy, &belief, log, &condition);
        let rows = plan.groups.iter().map(|group| {
            let sum: f64 = group.iter().map(|u| belief.of_unit(model.suspects(), *u)).sum();
            (group.clone(), sum)
        });
        let rows = rows.filter(|(_, p)| *p > LISTED).collect();
        let excluded =
            model.excluded(&belief, log).into_iter().map(|e| (e.unit, because(&e.because)));
        let excluded = excluded.collect();
        Self { rows, belief, plan, excluded, contradictions: contradictions(log) }
    }

    fn words(&self, circuit: &Circuit) -> String {
        let mut out = String::new();
        let mut line = |text: String| {
            out.push_str(&text);
            out.push('\n');
        };
        for (one, other) in &self.contradictions {
            line(format!("entries {one} and {other} cannot both hold, unless it comes and goes"));
        }
        line("suspects".to_owned());
        for (units, probability) in self.rows.iter().take(MOST_ROWS) {
            let names: Vec<_> = units.iter().map(|u| u.id(circuit)).collect();
            line(format!("  {:5.1} %  {}", probability * 100.0, names.join(" or ")));
        }
        if !self.excluded.is_empty() {
            line("cannot be it".to_owned());
        }
        for (unit, why) in &self.excluded {
            line(format!("  {:<24} {why}", unit.id(circuit)));
        }
        match &self.plan.conclusion {
            Some(found) if found.confirmed => line("found".to_owned()),
            Some(_) => line("nearly sure; one more test would confirm it".to_owned()),
            None => {}
        }
        for test in self.plan.reproduce.iter().chain(&self.plan.tests) {
            let (what, minutes) = (test_words(circuit, test), test.minutes);
            line(match test.why {
                Why::Reproduce => format!("next: see it happen: {what} ({minutes:.1} min)"),
                _ => format!("next: {what} ({minutes:.1} min, {:.2} bits)", test.bits),
            });
            for caution in &test.cautions {
                line(format!("  ! {}", caution.words()));
            }
        }
        out
    }

    fn json(&self, model: &Model) -> Value {
        let circuit = model.circuit();
        let units =
            |units: &[Unit]| -> Vec<String> { units.iter().map(|u| u.id(circuit)).collect() };
        let rows: Vec<_> = self
            .rows
            .iter()
            .map(|(group, probability)| json!({"units": units(group), "probability": probability}))
            .collect();
        let excluded: Vec<_> = self
            .excluded
            .iter()
            .map(|(unit, why)| json!({"unit": unit.id(circuit), "because": why}))
            .collect();
        let judgements: Vec<_> = self
            .belief
            .judgements
            .iter()
            .map(|j| json!({"entry": j.sequence, "slip": j.slip}))
            .collect();
        let conclusion = self.plan.conclusion.as_ref().map(|c| {
            json!({
                "units": units(&c.units),
                "probability": c.probability,
                "confirmed": c.confirmed,
                "rests_on": self.belief.pointing(model.suspects(), &c.units),
            })
        });
        let tests: Vec<_> = self.plan.tests.iter().map(|t| test_json(circuit, t)).collect();
        json!({
            "suspects": rows,
            "cannot_be": excluded,
            "contradictions": self.contradictions,
            "judgements": judgements,
            "supply_volts": self.belief.supply_volts,
            "reproduce": self.plan.reproduce.as_ref().map(|t| test_json(circuit, t)),
            "tests": tests,
            "conclusion": conclusion,
        })
    }
}

fn because(reasons: &[Because]) -> String {
    let words = reasons.iter().map(|because| match because {
        Because::NotRead { sequence } => format!("not read in the condition of entry {sequence}"),
        Because::WouldShow { sequence, .. } => {
            format!("entry {sequence} would have been otherwise")
        }
    });
    words.collect::<Vec<_>>().join("; ")
}

fn set(circuit: &Circuit, condition: &Condition) -> String {
    let set: Vec<_> = condition.named(circuit).map(|(c, p)| format!("{c}={p}")).collect();
    format!("{}, engine {}", set.join(" "), condition.engine.name())
}

fn point(circuit: &Circuit, point: usize) -> &str {
    &circuit.document().test_points[point].terminal
}

fn test_words(circuit: &Circuit, test: &NextTest) -> String {
    let what = match test.action {
        TestAction::Measure { instrument, red, black } => {
            let with = format!("{instrument:?}").to_lowercase();
            format!("{with} red {} black {}", point(circuit, red), point(circuit, black))
        }
        TestAction::Try(sense) => format!("try {}", format!("{sense:?}").to_lowercase()),
        TestAction::Look(at) => {
            let at = serde_json::to_value(LookEntry::of(circuit, at)).unwrap_or_default();
            let word = |v: &Value| v.as_str().unwrap_or_default().to_owned();
            let words: Vec<_> =
                at.as_object().into_iter().flatten().map(|(_, v)| word(v)).collect();
            format!("look at {}", words.join(" "))
        }
    };
    let off: Vec<_> = test.set_up.iter().map(|s| cell(&SetUpEntry::of(circuit, *s))).collect();
    let with = if off.is_empty() { String::new() } else { format!(", with {}", off.join(", ")) };
    format!("{what} at {}{with}", set(circuit, &test.condition))
}

/// A set-up in words: "battery-off", "unplugged seat-plug".
fn cell(set_up: &SetUpEntry) -> String {
    let value = serde_json::to_value(set_up).unwrap_or_default();
    let words = value.as_object().into_iter().flatten().filter_map(|(_, v)| v.as_str());
    words.collect::<Vec<_>>().join(" ")
}

fn test_json(circuit: &Circuit, test: &NextTest) -> Value {
    let action = match test.action {
        TestAction::Measure { instrument, red, black } => json!({
            "kind": "measure", "instrument": instrument,
            "red": point(circuit, red), "black": point(circuit, black),
        }),
        TestAction::Try(sense) => {
            json!({"kind": "try", "attend": format!("{sense:?}").to_lowercase()})
        }
        TestAction::Look(at) => json!({"kind": "look", "at": LookEntry::of(circuit, at)}),
    };
    let set: serde_json::Map<String, Value> =
        test.condition.named(circuit).map(|(c, p)| (c.to_owned(), json!(p))).collect();
    let set_up: Vec<_> = test.set_up.iter().map(|s| SetUpEntry::of(circuit, *s)).collect();
    json!({
        "condition": set, "engine": test.condition.engine, "set_up": set_up, "action": action,
        "minutes": test.minutes, "bits": test.bits, "why": test.why, "cautions": test.cautions,
    })
}
