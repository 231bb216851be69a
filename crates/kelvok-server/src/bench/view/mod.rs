//! A switch on the bench as it is shown: what was found beside what is expected, and what follows.

mod findings;
mod next;
mod table;
pub mod which;

use crate::bench::loaded::Loaded;
use crate::bench::machine::OffTheMachine;
use crate::bench::wires::{FitView, WirePlanView, fit_view, wire_plan_view};
use crate::jobs::evidence::VoidedView;
use crate::jobs::job::Status;
use chrono::{DateTime, Utc};
use findings::{FindingView, LeadsView, finding_views};
use kelvok_core::bench::{
    Bench, BenchEntry, Function, Identity, Ignition, LinkageVerdict, Profile, Subject,
    SwitchVerdict, Terminal, by_logic, ignition_of, near_misses,
};
use kelvok_store::LogEntry;
use next::{NextView, next_view};
use serde::Serialize;
use std::collections::BTreeMap;
use table::{CellView, Names, OperatedView, PoleView, ProgressView, TravelView};
use utoipa::ToSchema;
use uuid::Uuid;
use which::{IdentityView, LayoutView, NearMissView, identity_view, layout_view, near_miss_views};

#[derive(Serialize, ToSchema)]
pub struct BenchView {
    pub id: Uuid,
    pub name: String,
    pub subject: Subject,
    pub new_part: bool,
    pub status: Status,
    pub version: i32,
    pub job_id: Option<Uuid>,
    pub opened_by: String,
    pub opened_at: DateTime<Utc>,
    /// The machine that it comes from or goes into: "Pellwick GT-46", and its part's id.
    pub machine: Option<OnMachine>,
    /// Every pair in every position.
    pub cells: Vec<CellView>,
    pub progress: Vec<ProgressView>,
    pub next: NextView,
    pub leads: Option<LeadsView>,
    pub verdict: SwitchVerdict,
    pub findings: Vec<FindingView>,
    /// Readings that cannot hold together, a sentence each.
    pub conflicts: Vec<String>,
    /// Names that differ in case or blanks only.
    pub alike: Vec<AlikeView>,
    pub operated: Vec<OperatedView>,
    pub linkage: LinkageVerdict,
    pub poles: Vec<PoleView>,
    pub travels: Vec<TravelView>,
    /// The kinds that it can be; empty where its kind is said, or none fits.
    pub identities: Vec<IdentityView>,
    /// What each terminal may be for by the logic of the positions, where no kind fits.
    pub by_logic: BTreeMap<String, Vec<Function>>,
    /// Kinds that would fit but for one cell, where none does.
    pub near_misses: Vec<NearMissView>,
    pub layout: Option<LayoutView>,
    /// What can still be stopped by it: a magneto, a battery coil, or either.
    pub ignitions: Vec<Ignition>,
    /// Terminal -> the machine's terminal whose wire sits there when the plug is pushed on.
    pub plug: BTreeMap<String, String>,
    /// The machine's own terminals, and what each is for.
    pub wants: Vec<Terminal>,
    pub wires: Option<WirePlanView>,
    pub fit: Option<FitView>,
    /// What was written down, in order.
    pub log: Vec<BenchLogView>,
    /// Entries of the log; those before the ones that are shown.
    pub entries: usize,
}

/// Two terminals whose names differ in case or blanks only.
#[derive(Serialize, ToSchema)]
pub struct AlikeView {
    pub one: String,
    pub other: String,
}

#[derive(Serialize, ToSchema)]
pub struct OnMachine {
    pub machine: String,
    pub part: String,
    pub ignition: Option<Ignition>,
    /// It is the machine's own and its plug can be taken off, so that what was read can go to a job as
    /// evidence.
    pub unplugs: bool,
    /// Position -> the controls to move from rest, in words, so that the machine works it so; none
    /// where it is so as parked.
    pub works: BTreeMap<String, Vec<String>>,
}

#[derive(Serialize, ToSchema)]
pub struct BenchLogView {
    pub id: Uuid,
    pub sequence: i64,
    pub entry: BenchEntry,
    pub recorded_by: String,
    /// None where the time that was kept is none.
    pub recorded_at: Option<DateTime<Utc>>,
    pub voided: Option<VoidedView>,
}

impl From<&LogEntry<BenchEntry>> for BenchLogView {
    fn from(entry: &LogEntry<BenchEntry>) -> Self {
        Self {
            id: entry.id,
            sequence: entry.sequence,
            entry: entry.body.clone(),
            recorded_by: entry.recorded_by.clone(),
            recorded_at: entry.recorded_at,
            voided: entry.voided.clone().map(Into::into),
        }
    }
}

/// Entries of the log that are shown, the last ones.
const SHOWN: usize = 300;

pub fn view(loaded: &Loaded) -> BenchView {
    let (switch, bench) = (&loaded.switch, &loaded.bench);
    let head = &switch.head;
    let unknown = head.subject.said().is_none();
    let among: Vec<Profile> = match &bench.profile {
        Some(profile) => vec![profile.clone()],
        None => loaded.kinds.clone(),
    };
    let identities = if unknown { bench.identities(&among) } else { Vec::new() };
    let none_fits = unknown && identities.is_empty();
    let names = Names { bench };
    let near = if none_fits { near_misses(&among, &bench.found) } else { Vec::new() };
    let logic = if none_fits { by_logic(&bench.found) } else { Vec::new() };
    let functions = bench.found.terminals().iter().cloned().zip(logic);
    let alike = head.subject.alike().into_iter();
    let first = loaded.log.len().saturating_sub(SHOWN);
    BenchView {
        id: switch.id,
        name: switch.name.clone(),
        subject: head.subject.clone(),
        new_part: head.new_part,
        status: switch.status.into(),
        version: switch.version,
        job_id: switch.job_id,
        opened_by: switch.opened_by.clone(),
        opened_at: switch.opened_at,
        machine: on_machine(loaded),
        cells: names.cells(),
        progress: names.progress(),
        next: next_view(loaded, &among),
        leads: bench.leads.as_ref().map(|l| LeadsView { ohms: l.ohms, verdict: l.verdict }),
        verdict: bench.verdict(),
        findings: finding_views(loaded),
        conflicts: names.conflicts(),
        alike: alike.map(|(one, other)| AlikeView { one, other }).collect(),
        operated: names.operated(),
        linkage: bench.linkage(),
        poles: names.poles(),
        travels: names.travels(),
        ignitions: ignitions(bench, &among, &identities),
        identities: identities.iter().map(|i| identity_view(bench, &among, i)).collect(),
        by_logic: functions.collect(),
        near_misses: near_miss_views(&names, &among, &near),
        layout: layout_view(bench, &names),
        plug: head.plug.clone(),
        wants: head.replaces.as_ref().map(|p| p.terminals.clone()).unwrap_or_default(),
        wires: wire_plan_view(loaded),
        fit: fit_view(loaded, &among, &identities),
        log: loaded.log[first..].iter().map(Into::into).collect(),
        entries: loaded.log.len(),
    }
}

fn ignitions(bench: &Bench, among: &[Profile], identities: &[Identity]) -> Vec<Ignition> {
    let own = bench.profile.as_ref().and_then(|p| p.document().ignition);
    let fits = identities.iter().filter_map(|i| among[i.profile].document().ignition);
    let mut all: Vec<Ignition> = own.into_iter().chain(fits).collect();
    all.dedup();
    all.sort_by_key(|i| *i == Ignition::BatteryCoil);
    all.dedup();
    all
}

fn on_machine(loaded: &Loaded) -> Option<OnMachine> {
    let part = &loaded.switch.head.machine.as_ref()?.part;
    let circuit = loaded.circuit.as_ref()?;
    let identity = &circuit.document().identity;
    let off = OffTheMachine::of(circuit, part);
    let positions = loaded.bench.found.positions().iter();
    let works = positions.filter_map(|p| Some((p.clone(), off.works(p)?)));
    Some(OnMachine {
        machine: format!("{} {}", identity.make, identity.model),
        part: part.clone(),
        ignition: ignition_of(circuit),
        unplugs: loaded.is_the_machines() && !off.plugs.is_empty(),
        works: works.collect(),
    })
}
