//! `kelvok identify FILE [--json]`

use anyhow::{Context, bail};
use kelvok_core::bench::{
    Cell, FoundTable, Grade, Identity, MOVE_PROBES, NextProbe, Profile, by_logic, identify,
    next_probe,
};
use serde_json::{Value, json};
use std::collections::BTreeMap;
use std::path::PathBuf;
use std::process::ExitCode;

/// Assignments listed of each profile.
const LISTED: usize = 1000;

#[derive(clap::Args)]
#[command(
    after_help = "FILE has a line each time a pair was tried: position,from,to,reading. A reading \
                  is buzz, silent, or ohms with the leads zeroed. Positions are named as the \
                  profiles name them: off, run, start, released, pressed, ..."
)]
pub struct Arguments {
    /// What was found, as comma-separated values.
    file: PathBuf,
    /// A profile of your own, besides those that ship with Kelvok; may be given more than once.
    #[arg(long, value_name = "FILE")]
    profile: Vec<PathBuf>,
    /// The position in which the switch stands; the last one tried if not given.
    #[arg(long, value_name = "POSITION")]
    at: Option<String>,
    /// Print JSON.
    #[arg(long)]
    json: bool,
}

pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let read = |file: &PathBuf| {
        std::fs::read_to_string(file).with_context(|| format!("cannot read {}", file.display()))
    };
    let (table, left_out) = FoundTable::read_csv(&read(&arguments.file)?);
    if table.cells().next().is_none() {
        let why: Vec<_> = left_out.iter().take(5).map(ToString::to_string).collect();
        bail!("nothing was found in {}\n{}", arguments.file.display(), why.join("\n"));
    }
    let mut profiles = Profile::shipped();
    for file in &arguments.profile {
        match Profile::read(&read(file)?) {
            Ok(profile) => profiles.push(profile),
            Err(problems) => {
                let said: Vec<_> =
                    problems.iter().map(|p| format!("{}: {}", p.path, p.sentence)).collect();
                bail!("{} is no profile\n{}", file.display(), said.join("\n"));
            }
        }
    }
    let at = match &arguments.at {
        Some(name) => {
            let at = table.positions().iter().position(|p| p == name);
            at.with_context(|| format!("nothing was tried in a position \"{name}\""))?
        }
        None => table.cells().last().map_or(0, |(cell, _)| cell.position),
    };
    let bench = Identification {
        identities: identify(&profiles, &table, LISTED),
        next: next_probe(&profiles, &table, at, MOVE_PROBES),
        table,
        profiles,
    };
    if arguments.json {
        let left_out: Vec<_> = left_out.iter().map(ToString::to_string).collect();
        println!("{:#}", bench.json(&left_out));
    } else {
        for line in &left_out {
            println!("left out: {line}");
        }
        print!("{}", bench.words());
    }
    Ok(ExitCode::SUCCESS)
}

/// The terminals of a profile that are in a set, as they are printed.
fn candidates(profile: &Profile, mask: u16) -> Vec<&str> {
    let terminals = profile.terminals().iter().enumerate();
    terminals.filter(|(i, _)| mask >> i & 1 == 1).map(|(_, t)| t.id.as_str()).collect()
}

struct Identification {
    table: FoundTable,
    profiles: Vec<Profile>,
    identities: Vec<Identity>,
    next: Option<NextProbe>,
}

impl Identification {
    fn cell(&self, cell: Cell) -> [&str; 3] {
        let terminal = |t: usize| self.table.terminals()[t].as_str();
        [&self.table.positions()[cell.position], terminal(cell.one), terminal(cell.other)]
    }

    /// Cells that cannot hold together with those before them, in words.
    fn conflicts(&self) -> Vec<String> {
        let positions = 0..self.table.positions().len();
        let all = positions.flat_map(|position| {
            let (_, conflicts) = self.table.joined(position);
            conflicts.into_iter().map(move |conflict| {
                let pair = |(one, other)| {
                    let [_, one, other] = self.cell(Cell { position, one, other });
                    format!("{one}-{other}")
                };
                let against: Vec<_> = conflict.against.iter().map(|p| pair(*p)).collect();
                let said = if conflict.made { "closed" } else { "open" };
                format!(
                    "{}: {} {said} cannot hold together with {}",
                    self.table.positions()[position],
                    pair(conflict.cell),
                    against.join(", ")
                )
            })
        });
        all.collect()
    }

    /// Cells that were not plainly the one or the other.
    fn doubtful(&self) -> Vec<String> {
        let cells = self.table.cells().filter_map(|(cell, _)| {
            let grade = self.table.grade(cell)?;
            let [position, one, other] = self.cell(cell);
            let plain = matches!(grade, Grade::Made | Grade::Open);
            (!plain).then(|| format!("{position}: {one}-{other} {}", grade.words()))
        });
        cells.collect()
    }

    /// Terminals that may be more than one of the likeliest profile's, whatever is probed.
    fn never_told_apart(&self) -> Option<String> {
        let candidates = &self.identities.first()?.fits.candidates;
        let names = self.table.terminals().iter().zip(candidates);
        let alike: Vec<_> = names
            .filter(|(_, mask)| mask.count_ones() > 1)
            .map(|(name, _)| name.as_str())
            .collect();
        (!alike.is_empty()).then(|| alike.join(", "))
    }

    fn words(&self) -> String {
        let mut out = String::new();
        let mut line = |text: String| {
            out.push_str(&text);
            out.push('\n');
        };
        for conflict in self.conflicts() {
            line(conflict);
        }
        for doubtful in self.doubtful() {
            line(doubtful);
        }
        if self.identities.is_empty() {
            line("no profile fits; by the logic of the positions".to_owned());
            for (name, functions) in self.table.terminals().iter().zip(by_logic(&self.table)) {
                let functions: Vec<_> = functions.iter().map(|f| f.words()).collect();
                let may_be = if functions.is_empty() { "unknown" } else { &functions.join(" or ") };
                line(format!("         {name} is {may_be}"));
            }
        }
        for identity in &self.identities {
            let profile = &self.profiles[identity.profile];
            let (share, count) = (identity.share * 100.0, identity.fits.count);
            let ways = if count == 1 { "way" } else { "ways" };
            line(format!("{share:5.1} %  {}  {count} {ways}", profile.document().name));
            for (name, mask) in self.table.terminals().iter().zip(&identity.fits.candidates) {
                line(format!("         {name} is {}", candidates(profile, *mask).join(" or ")));
            }
        }
        match &self.next {
            Some(probe) => {
                let [position, one, other] = self.cell(probe.cell);
                line(format!("next: {position}, {one} to {other} ({:.2} bits)", probe.bits));
            }
            None if self.identities.is_empty() => {}
            None => {
                line("no further probe tells more".to_owned());
                if let Some(alike) = self.never_told_apart() {
                    line(format!("nothing at the switch itself tells these apart: {alike}"));
                }
            }
        }
        out
    }

    fn json(&self, left_out: &[String]) -> Value {
        let identities = self.identities.iter().map(|identity| {
            let profile = &self.profiles[identity.profile];
            let named = |t: usize| profile.terminals()[t].id.as_str();
            let found = self.table.terminals().iter().zip(&identity.fits.candidates);
            let can = found.map(|(name, mask)| (name.clone(), candidates(profile, *mask)));
            let assignments = identity.fits.first.iter().map(|fit| {
                let pairs = self.table.terminals().iter().zip(fit);
                pairs.map(|(name, t)| (name.clone(), json!(named(usize::from(*t))))).collect()
            });
            json!({
                "profile": profile.document().id,
                "share": identity.share,
                "count": identity.fits.count,
                "candidates": can.collect::<BTreeMap<_, _>>(),
                "assignments": assignments.map(Value::Object).collect::<Vec<_>>(),
            })
        });
        let next = self.next.as_ref().map(|probe| {
            let [position, from, to] = self.cell(probe.cell);
            json!({
                "position": position, "from": from, "to": to,
                "made": probe.made, "bits": probe.bits, "moves": probe.moves,
            })
        });
        let by_logic = self.table.terminals().iter().zip(by_logic(&self.table));
        let by_logic = by_logic.map(|(name, functions)| (name.clone(), json!(functions)));
        json!({
            "identities": identities.collect::<Vec<_>>(),
            "next": next,
            "by_logic": by_logic.collect::<BTreeMap<_, _>>(),
            "conflicts": self.conflicts(),
            "doubtful": self.doubtful(),
            "left_out": left_out,
        })
    }
}
