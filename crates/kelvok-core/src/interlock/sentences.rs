//! The interlock table said back as the shortest true sentences.

use super::cover::{Cube, Value, minimal_cover};
use super::{Behavior, InterlockTable};
use crate::circuit::Circuit;
use crate::machine::{Control, lower};
use serde::Serialize;

/// What a sentence is about.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Effect {
    Cranks,
    Starts,
    Stops,
    Blades,
}

impl Effect {
    /// All of them, in the order in which they are said.
    pub const ALL: [Self; 4] = [Self::Cranks, Self::Starts, Self::Stops, Self::Blades];

    /// Whether it comes of what the machine does.
    pub fn holds(self, does: &Behavior) -> bool {
        match self {
            Self::Cranks => does.cranks,
            Self::Starts => does.starts,
            Self::Stops => !does.runs,
            Self::Blades => does.coupled,
        }
    }
}

/// One control and the positions that fit, by name.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Clause {
    pub control: String,
    pub positions: Vec<String>,
    /// As it is said: "key at run or start".
    pub says: String,
}

/// When something happens: in any of these ways, each of which needs all of its clauses. No way is
/// never; a way without clauses is always.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Sentence {
    pub effect: Effect,
    pub ways: Vec<Vec<Clause>>,
    /// The whole of it, as a mechanic would say it.
    pub says: String,
}

/// Everything there is to say about a table.
///
/// ```
/// use kelvok_core::circuit::Circuit;
/// use kelvok_core::interlock::{InterlockTable, Judge, sentences};
/// use kelvok_core::machine::{LIBRARY, Machine};
///
/// let machine = Machine::read(LIBRARY[0].text).expect("a library machine");
/// let circuit = Circuit::compile(&machine);
/// let table = InterlockTable::of(&mut Judge::new(&circuit, &[])).expect("few enough conditions");
/// let says = sentences(&circuit, &table);
/// assert!(!says.is_empty());
/// ```
pub fn sentences(circuit: &Circuit, table: &InterlockTable) -> Vec<Sentence> {
    let drive = &circuit.document().drive;
    let values = |effect: Effect| -> Vec<Value> {
        let value = |row: &Option<Behavior>| match row {
            None => Value::Either,
            Some(row) if effect.holds(row) => Value::Yes,
            Some(_) => Value::No,
        };
        table.rows.iter().map(value).collect()
    };
    let mut effects: Vec<(Effect, Vec<Value>)> = Vec::new();
    let (cranks, starts) = (values(Effect::Cranks), values(Effect::Starts));
    if !drive.recoil {
        effects.push((Effect::Cranks, cranks.clone()));
    }
    // What cranks and starts alike is said once.
    if drive.recoil || starts != cranks {
        effects.push((Effect::Starts, starts));
    }
    effects.extend([Effect::Stops, Effect::Blades].map(|effect| (effect, values(effect))));
    effects
        .into_iter()
        .map(|(effect, values)| {
            let cover = minimal_cover(&table.sizes, &values);
            let ways: Vec<_> = cover.iter().map(|cube| clauses(circuit, cube)).collect();
            let says = say(circuit, effect, &ways);
            Sentence { effect, ways, says }
        })
        .collect()
}

fn clauses(circuit: &Circuit, cube: &Cube) -> Vec<Clause> {
    let controls = circuit.controls.iter().zip(&cube.0);
    controls
        .filter_map(|(control, mask)| {
            let fits = control.positions.iter().enumerate().filter(|(i, _)| mask >> i & 1 == 1);
            let fits: Vec<usize> = fits.map(|(i, _)| i).collect();
            (fits.len() < control.positions.len()).then(|| Clause {
                control: control.id.clone(),
                positions: fits.iter().map(|i| control.positions[*i].id.clone()).collect(),
                says: phrase(control, &fits),
            })
        })
        .collect()
}

/// A control at one of some positions, in words.
pub fn phrase(control: &Control, positions: &[usize]) -> String {
    let said: Vec<_> =
        positions.iter().filter_map(|i| control.positions[*i].says.as_deref()).collect();
    if said.len() == positions.len() && !said.is_empty() {
        return said.join(" or ");
    }
    let names: Vec<_> = positions.iter().map(|i| control.positions[*i].name.as_str()).collect();
    let joined_by = control.joined_by.as_deref().map(|j| format!(" {j}")).unwrap_or_default();
    format!("{}{joined_by} {}", lower(&control.name), names.join(" or "))
}

fn say(circuit: &Circuit, effect: Effect, ways: &[Vec<Clause>]) -> String {
    let drive = &circuit.document().drive;
    let driven = drive.called.as_deref().unwrap_or("blades");
    let is = if driven.ends_with('s') { "are" } else { "is" };
    let subject = match effect {
        Effect::Cranks => "Cranks".to_owned(),
        Effect::Starts if drive.recoil => "Starts on the rope".to_owned(),
        Effect::Starts => "Would start".to_owned(),
        Effect::Stops => "A running engine stops".to_owned(),
        Effect::Blades => format!("The {driven} {is} driven"),
    };
    let way = |clauses: &Vec<Clause>| {
        let said: Vec<_> = clauses.iter().map(|c| c.says.as_str()).collect();
        said.join(", ")
    };
    match ways {
        [] => match effect {
            Effect::Cranks => "Never cranks.".to_owned(),
            Effect::Starts => "Never starts.".to_owned(),
            Effect::Stops => "No control stops a running engine.".to_owned(),
            Effect::Blades => format!("Nothing here drives the {driven}."),
        },
        [only] if only.is_empty() => match effect {
            Effect::Stops => "The engine never keeps running.".to_owned(),
            Effect::Blades => format!("The {driven} {is} driven whenever the engine runs."),
            _ => format!("{subject} in every position of the controls."),
        },
        [only] => format!("{subject} when {}.", way(only)),
        several => {
            let said: Vec<_> = several.iter().map(way).collect();
            format!("{subject} when {}.", said.join("; or "))
        }
    }
}
