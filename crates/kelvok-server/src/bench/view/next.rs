//! What to do next at the bench.

use crate::bench::loaded::Loaded;
use crate::bench::machine::OffTheMachine;
use crate::bench::view::table::Names;
use kelvok_core::bench::{Next, Profile};
use kelvok_core::diagnosis::SetUpEntry;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum NextKind {
    Leads,
    Probe,
    /// A probe that tells what kind it is.
    Identify,
    Hold,
    LetGo,
    Finished,
}

/// What to do next.
#[derive(Serialize, ToSchema)]
pub struct NextView {
    pub kind: NextKind,
    pub position: Option<String>,
    pub from: Option<String>,
    pub to: Option<String>,
    /// Whether it should be joined; none where that is what is asked.
    pub expected: Option<bool>,
    /// The chance that it is.
    pub chance: Option<f64>,
    /// The position that it springs back from.
    pub sprung_from: Option<String>,
    pub done: usize,
    pub wanted: usize,
    /// The position that it stands in.
    pub at: String,
    /// Where a stand-in's machine and probes are to be.
    pub stand_in: Option<StandInAt>,
}

#[derive(Serialize, ToSchema)]
pub struct StandInAt {
    pub condition: BTreeMap<String, String>,
    pub set_up: Vec<SetUpEntry>,
    pub red: String,
    pub black: String,
}

pub(crate) fn next_view(loaded: &Loaded, among: &[Profile]) -> NextView {
    let bench = &loaded.bench;
    let names = Names { bench };
    let mut view = NextView {
        kind: NextKind::Finished,
        position: None,
        from: None,
        to: None,
        expected: None,
        chance: None,
        sprung_from: None,
        done: 0,
        wanted: bench.subject.operations as usize,
        at: bench.found.positions().get(bench.at).cloned().unwrap_or_default(),
        stand_in: None,
    };
    let leads = matches!(bench.next(among), Next::Leads);
    let cell = match bench.next_at_switch(among) {
        Next::Leads | Next::Finished => return view,
        Next::Probe { cell, made, identifies } => {
            view.kind = if identifies { NextKind::Identify } else { NextKind::Probe };
            view.chance = Some(made);
            view.expected = match made {
                _ if identifies => None,
                1.0 => Some(true),
                0.0 => Some(false),
                _ => None,
            };
            cell
        }
        Next::Hold { operated } => {
            view.kind = NextKind::Hold;
            view.expected = Some(operated.makes);
            view.done = operated.times();
            operated.held
        }
        Next::LetGo { operated } => {
            view.kind = NextKind::LetGo;
            view.expected = Some(!operated.makes);
            view.done = operated.times();
            view.sprung_from = bench.found.positions().get(operated.held.position).cloned();
            operated.let_go
        }
    };
    if leads {
        // What comes after them is said too, for whoever leaves them as they are.
        view.kind = NextKind::Leads;
    }
    let [position, from, to] = names.cell(cell);
    view.stand_in = stand_in(loaded, &position, &from, &to);
    (view.position, view.from, view.to) = (Some(position), Some(from), Some(to));
    view
}

fn stand_in(loaded: &Loaded, position: &str, from: &str, to: &str) -> Option<StandInAt> {
    let part = &loaded.switch.head.machine.as_ref()?.part;
    let off = OffTheMachine::of(loaded.circuit.as_ref()?, part);
    let (condition, set_up) = off.stand(position)?;
    let (red, black) = (off.terminal(from), off.terminal(to));
    Some(StandInAt { condition, set_up, red, black })
}
