//! What is wrong with a switch, and what that makes its machine do.

use crate::bench::loaded::Loaded;
use crate::bench::view::table::Names;
use crate::machines::ShowsView;
use kelvok_core::bench::{
    Cell, Consequence, Expected, FindingKind, Function, LeadsVerdict, MachineEffects,
};
use kelvok_core::circuit::Circuit;
use kelvok_core::interlock::ChangeEffects;
use serde::Serialize;
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct LeadsView {
    /// What the leads themselves have, in ohms; taken off every reading.
    pub ohms: f64,
    pub verdict: LeadsVerdict,
}

#[derive(Serialize, ToSchema)]
pub struct FindingView {
    pub position: String,
    pub one: String,
    pub other: String,
    pub what: FindingKind,
    pub functions: [Function; 2],
    pub consequences: Vec<Consequence>,
    /// What its own machine would do, worked out on its circuit; none where it has none.
    pub on_machine: Option<EffectsView>,
}

#[derive(Serialize, ToSchema)]
pub struct EffectsView {
    pub shows: Vec<ShowsView>,
    /// Names of the duties that are done without it and not with it.
    pub breaks: Vec<String>,
}

impl EffectsView {
    fn of(circuit: &Circuit, effects: &ChangeEffects) -> Self {
        let document = circuit.document();
        let breaks = effects.breaks.iter().map(|d| document.duties[*d].name.clone());
        Self { shows: ShowsView::all(circuit, &effects.shows), breaks: breaks.collect() }
    }
}

pub(crate) fn finding_views(loaded: &Loaded) -> Vec<FindingView> {
    let bench = &loaded.bench;
    let findings = bench.findings();
    let (Some(profile), Some(taken)) = (&bench.profile, bench.taken_for()) else {
        return Vec::new();
    };
    let id = |t: &u8| profile.terminals()[usize::from(*t)].id.clone();
    let machine = loaded.switch.head.machine.as_ref().zip(loaded.circuit.as_ref());
    let machine = machine.filter(|_| loaded.is_the_machines()).and_then(|(at, circuit)| {
        let terminals = taken.iter().map(id).collect();
        let positions = bench.found.positions().to_vec();
        let on = MachineEffects::of(circuit, &at.part, terminals, positions)?;
        Some((on, circuit))
    });
    let expected = Expected { profile, terminals: &taken };
    let apart = |cell: Cell| {
        bench.found.joined(cell.position).0.known(cell.one, cell.other) == Some(false)
            && expected.made(&bench.found, cell) == Some(true)
    };
    let effects: Vec<Option<EffectsView>> = match &machine {
        None => findings.iter().map(|_| None).collect(),
        Some((on, circuit)) => {
            let each = on.each(&findings, apart).into_iter();
            each.map(|e| e.map(|e| EffectsView::of(circuit, &e))).collect()
        }
    };
    let names = Names { bench };
    let function = |t: usize| profile.terminals()[usize::from(taken[t])].function;
    let views = findings.into_iter().zip(effects).map(|(finding, on_machine)| {
        let [position, one, other] = names.cell(finding.cell);
        FindingView {
            position,
            one,
            other,
            what: finding.kind,
            functions: [function(finding.cell.one), function(finding.cell.other)],
            consequences: finding.consequences,
            on_machine,
        }
    });
    views.collect()
}
