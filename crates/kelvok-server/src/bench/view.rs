//! A switch on the bench as it is shown: what was found beside what is expected, and what follows.

use super::loaded::Loaded;
use super::machine::OffTheMachine;
use super::wires::{FitView, WirePlanView, fit_view, wire_plan_view};
use crate::app::App;
use crate::bodies::Path;
use crate::diagnosis::off_the_reactor;
use crate::evidence::VoidedView;
use crate::jobs::Status;
use crate::machines::ShowsView;
use crate::problem::Problem;
use axum::Json;
use axum::extract::State;
use chrono::{DateTime, Utc};
use kelvok_core::bench::{
    Band, Bench, BenchEntry, Cell, Consequence, Expected, FindingKind, Function, Grade, Identity,
    Ignition, LayoutVerdict, LeadsVerdict, LinkageVerdict, MachineEffects, Next, PoleKind, Profile,
    Subject, SwitchVerdict, Terminal, Way, by_logic, ignition_of, layout_verdict, near_misses,
    poles,
};
use kelvok_core::diagnosis::SetUpEntry;
use kelvok_core::interlock::ChangeEffects;
use kelvok_store::LogEntry;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

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
    /// Its plug can be taken off, so that what was read can go to a job as evidence.
    pub unplugs: bool,
}

/// One pair in one position.
#[derive(Serialize, ToSchema)]
pub struct CellView {
    pub position: String,
    pub one: String,
    pub other: String,
    /// Whether it should be joined; none where nothing says.
    pub expected: Option<bool>,
    pub found: Option<Grade>,
    /// Whether it is joined, as far as that follows from the others without a probe.
    pub follows: Option<bool>,
    /// How often it was joined still after the switch sprang back, of how many times.
    pub hung: usize,
    pub let_go: usize,
    pub stand: CellStand,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum CellStand {
    Untried,
    /// Found, and nothing says what it should be.
    Found,
    Fits,
    Differs,
    /// Not the same every time.
    AtTimes,
    /// Made through too much.
    Worn,
    /// Cannot hold together with others.
    Conflict,
}

/// How far one position is.
#[derive(Serialize, ToSchema)]
pub struct ProgressView {
    pub position: String,
    /// Pairs of this position that were tried.
    pub probed: usize,
    /// The fewest that any order could do with.
    pub least: usize,
    pub complete: bool,
}

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
    fn of(circuit: &kelvok_core::circuit::Circuit, effects: &ChangeEffects) -> Self {
        let document = circuit.document();
        let breaks = effects.breaks.iter().map(|d| document.duties[*d].name.clone());
        Self { shows: ShowsView::all(circuit, &effects.shows), breaks: breaks.collect() }
    }
}

/// What springs back, and how often it was operated.
#[derive(Serialize, ToSchema)]
pub struct OperatedView {
    pub held: String,
    pub let_go: String,
    pub one: String,
    pub other: String,
    pub makes: bool,
    pub times: usize,
    pub missed: usize,
    pub hung: usize,
    /// With 95 % confidence fewer than this share of operations fail; none where one did.
    pub below: Option<f64>,
}

#[derive(Serialize, ToSchema)]
pub struct PoleView {
    pub terminals: Vec<String>,
    pub kind: PoleKind,
}

/// A slow stroke of a pair, one way.
#[derive(Serialize, ToSchema)]
pub struct TravelView {
    pub one: String,
    pub other: String,
    pub way: Way,
    pub bands: Vec<Band>,
    pub changes_at: Option<f64>,
    pub dead: Vec<Band>,
    pub late: bool,
    /// Points of it, in percent of the travel.
    pub points: Vec<StrokePoint>,
}

#[derive(Serialize, ToSchema)]
pub struct StrokePoint {
    /// In percent.
    pub travel: f64,
    pub made: bool,
}

/// A kind that it can be.
#[derive(Serialize, ToSchema)]
pub struct IdentityView {
    pub profile: String,
    pub name: String,
    pub ignition: Option<Ignition>,
    pub share: f64,
    /// How many orders of its terminals fit.
    pub count: u64,
    /// Terminal -> those of the profile that it can be.
    pub candidates: BTreeMap<String, Vec<Candidate>>,
}

#[derive(Clone, Serialize, ToSchema)]
pub struct Candidate {
    pub terminal: String,
    pub function: Function,
}

#[derive(Serialize, ToSchema)]
pub struct NearMissView {
    pub profile: String,
    pub name: String,
    pub position: String,
    pub one: String,
    pub other: String,
    pub count: u64,
}

#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LayoutStand {
    Open,
    Confirmed,
    Contradicted,
}

/// What the readings make of a drawing's layout.
#[derive(Serialize, ToSchema)]
pub struct LayoutView {
    pub stand: LayoutStand,
    /// How many orders of its terminals fit what was read.
    pub fit: Option<u64>,
    /// Readings that say otherwise.
    pub against: Vec<PairAt>,
}

/// A pair of terminals in a position.
#[derive(Serialize, ToSchema)]
pub struct PairAt {
    pub position: String,
    pub one: String,
    pub other: String,
}

#[derive(Serialize, ToSchema)]
pub struct BenchLogView {
    pub id: Uuid,
    pub sequence: i64,
    pub entry: BenchEntry,
    pub recorded_by: String,
    pub recorded_at: DateTime<Utc>,
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
        None => loaded.library.clone(),
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
        identities: identities.iter().map(|i| names.identity(&among, i)).collect(),
        by_logic: functions.collect(),
        near_misses: near
            .iter()
            .map(|miss| {
                let document = among[miss.profile].document();
                let [position, one, other] = names.cell(miss.cell);
                let (profile, name) = (document.id.clone(), document.name.clone());
                NearMissView { profile, name, position, one, other, count: miss.count }
            })
            .collect(),
        layout: layout_view(bench, &names),
        plug: head.plug.clone(),
        wants: head.replaces.as_ref().map(|p| p.terminals.clone()).unwrap_or_default(),
        wires: wire_plan_view(loaded),
        fit: fit_view(loaded, &among, &identities),
        log: loaded.log[first..].iter().map(Into::into).collect(),
        entries: loaded.log.len(),
    }
}

/// A bench's cells, terminals and positions, by name.
struct Names<'a> {
    bench: &'a Bench,
}

impl Names<'_> {
    fn cell(&self, cell: Cell) -> [String; 3] {
        let found = &self.bench.found;
        let terminal = |t: usize| found.terminals()[t].clone();
        [found.positions()[cell.position].clone(), terminal(cell.one), terminal(cell.other)]
    }

    fn cells(&self) -> Vec<CellView> {
        let bench = self.bench;
        let found = &bench.found;
        let own = bench.profile.as_ref().zip(bench.taken_for());
        let expected = own.as_ref().map(|(profile, terminals)| Expected { profile, terminals });
        let terminals = found.terminals().len();
        let mut cells = Vec::new();
        for position in 0..found.positions().len() {
            let (joined, conflicts) = found.joined(position);
            for one in 0..terminals {
                for other in one + 1..terminals {
                    let cell = Cell::new(position, one, other);
                    let wanted = expected.and_then(|e| e.made(found, cell));
                    let grade = found.grade(cell);
                    let follows = joined.known(one, other);
                    let (hung, let_go) = found.hang_ups(None, cell);
                    let conflict = conflicts.iter().any(|c| {
                        let (a, b) = c.cell;
                        (a, b) == (one, other) || (b, a) == (one, other)
                    });
                    let stand = match (grade, wanted) {
                        _ if conflict => CellStand::Conflict,
                        (Some(Grade::AtTimes { .. } | Grade::Through { .. }), _) => {
                            CellStand::AtTimes
                        }
                        (Some(Grade::Resistive { .. }), Some(true) | None) => CellStand::Worn,
                        (None, _) if follows.is_none() => CellStand::Untried,
                        (_, None) => CellStand::Found,
                        (_, Some(wanted)) if follows == Some(wanted) => CellStand::Fits,
                        _ => CellStand::Differs,
                    };
                    let [position, one, other] = self.cell(cell);
                    cells.push(CellView {
                        position,
                        one,
                        other,
                        expected: wanted,
                        found: grade,
                        follows,
                        hung,
                        let_go,
                        stand,
                    });
                }
            }
        }
        cells
    }

    fn progress(&self) -> Vec<ProgressView> {
        let found = &self.bench.found;
        let views = found.positions().iter().enumerate().map(|(p, position)| ProgressView {
            position: position.clone(),
            probed: found.cells().filter(|(cell, _)| cell.position == p).count(),
            least: self.bench.certificate(p),
            complete: found.joined(p).0.is_complete(),
        });
        views.collect()
    }

    fn conflicts(&self) -> Vec<String> {
        let found = &self.bench.found;
        let mut all = Vec::new();
        for (p, position) in found.positions().iter().enumerate() {
            for conflict in found.joined(p).1 {
                let pair = |(a, b): (usize, usize)| {
                    format!("{} to {}", found.terminals()[a], found.terminals()[b])
                };
                let says = if conflict.made { "joined" } else { "open" };
                let against: Vec<String> = conflict.against.into_iter().map(pair).collect();
                let cell = pair(conflict.cell);
                let against = against.join(", ");
                all.push(format!("In {position}, {cell} was {says}, which {against} rule out."));
            }
        }
        all
    }

    fn operated(&self) -> Vec<OperatedView> {
        let views = self.bench.operated().into_iter().map(|o| {
            let [held, one, other] = self.cell(o.held);
            let [let_go, ..] = self.cell(o.let_go);
            OperatedView {
                held,
                let_go,
                one,
                other,
                makes: o.makes,
                times: o.times(),
                missed: o.missed,
                hung: o.hung,
                below: o.below(),
            }
        });
        views.collect()
    }

    fn poles(&self) -> Vec<PoleView> {
        let name = |t: &usize| self.bench.found.terminals()[*t].clone();
        let views = poles(&self.bench.found).into_iter().map(|pole| PoleView {
            terminals: pole.terminals.iter().map(name).collect(),
            kind: pole.kind,
        });
        views.collect()
    }

    fn travels(&self) -> Vec<TravelView> {
        let mut all = Vec::new();
        for pair in self.bench.swept() {
            for way in [Way::In, Way::Out] {
                let strokes = self.bench.strokes(pair).iter().filter(|s| s.way == way);
                let points: Vec<_> =
                    strokes.map(|s| StrokePoint { travel: s.travel, made: s.made }).collect();
                if points.is_empty() {
                    continue;
                }
                let travel = self.bench.travel(pair, way);
                let [_, one, other] = self.cell(Cell::new(0, pair.0, pair.1));
                let (bands, changes_at, dead, late) = match travel {
                    Some(t) => (t.bands, t.changes_at, t.dead, t.late),
                    None => (Vec::new(), None, Vec::new(), false),
                };
                all.push(TravelView { one, other, way, bands, changes_at, dead, late, points });
            }
        }
        all
    }

    fn identity(&self, among: &[Profile], identity: &Identity) -> IdentityView {
        let profile = &among[identity.profile];
        let document = profile.document();
        let of = |mask: u16| {
            let own = profile.terminals().iter().enumerate();
            own.filter(|(t, _)| mask >> t & 1 == 1)
                .map(|(_, t)| Candidate { terminal: t.id.clone(), function: t.function })
                .collect::<Vec<_>>()
        };
        let found = self.bench.found.terminals().iter().cloned();
        let candidates = found.zip(identity.fits.candidates.iter().map(|mask| of(*mask)));
        IdentityView {
            profile: document.id.clone(),
            name: document.name.clone(),
            ignition: document.ignition,
            share: identity.share,
            count: identity.fits.count,
            candidates: candidates.collect(),
        }
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
    let circuit = &loaded.compiled.as_ref()?.circuit;
    let identity = &circuit.document().identity;
    Some(OnMachine {
        machine: format!("{} {}", identity.make, identity.model),
        part: part.clone(),
        ignition: ignition_of(circuit),
        unplugs: !OffTheMachine::of(circuit, part).plugs.is_empty(),
    })
}

fn next_view(loaded: &Loaded, among: &[Profile]) -> NextView {
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
    let off = OffTheMachine::of(&loaded.compiled.as_ref()?.circuit, part);
    let (condition, set_up) = off.stand(position)?;
    let (red, black) = (off.terminal(from), off.terminal(to));
    Some(StandInAt { condition, set_up, red, black })
}

fn finding_views(loaded: &Loaded) -> Vec<FindingView> {
    let bench = &loaded.bench;
    let findings = bench.findings();
    let (Some(profile), Some(taken)) = (&bench.profile, bench.taken_for()) else {
        return Vec::new();
    };
    let id = |t: &u8| profile.terminals()[usize::from(*t)].id.clone();
    let machine = loaded.switch.head.machine.as_ref().zip(loaded.compiled.as_ref());
    let own = loaded.switch.head.replaces.as_ref() == Some(profile.document());
    let machine = machine.filter(|_| own).and_then(|(at, compiled)| {
        let terminals = taken.iter().map(id).collect();
        let positions = bench.found.positions().to_vec();
        let on = MachineEffects::of(&compiled.circuit, &at.part, terminals, positions)?;
        Some((on, compiled))
    });
    let expected = Expected { profile, terminals: &taken };
    let apart = |cell: Cell| {
        bench.found.joined(cell.position).0.known(cell.one, cell.other) == Some(false)
            && expected.made(&bench.found, cell) == Some(true)
    };
    let effects: Vec<Option<EffectsView>> = match &machine {
        None => findings.iter().map(|_| None).collect(),
        Some((on, compiled)) => {
            let each = on.each(&findings, apart).into_iter();
            each.map(|e| e.map(|e| EffectsView::of(&compiled.circuit, &e))).collect()
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

fn layout_view(bench: &Bench, names: &Names<'_>) -> Option<LayoutView> {
    let profile = bench.profile.as_ref()?;
    let said = bench.subject.said()?;
    if bench.subject.layout.is_empty() {
        return None;
    }
    let (stand, fit, against) = match layout_verdict(profile, &said, &bench.found) {
        LayoutVerdict::Open { fit } => (LayoutStand::Open, Some(fit), Vec::new()),
        LayoutVerdict::Confirmed => (LayoutStand::Confirmed, None, Vec::new()),
        LayoutVerdict::Contradicted { cells, fit } => {
            let named = |cell| {
                let [position, one, other] = names.cell(cell);
                PairAt { position, one, other }
            };
            let cells = cells.into_iter().map(named).collect();
            (LayoutStand::Contradicted, Some(fit), cells)
        }
    };
    Some(LayoutView { stand, fit, against })
}

/// Every order that still fits, of each kind: the first thousand of them.
#[derive(Serialize, ToSchema)]
pub struct AssignmentsView {
    pub profile: String,
    pub name: String,
    pub count: u64,
    /// The switch's own terminals, in the order of each line below.
    pub terminals: Vec<String>,
    /// Which of the profile's each is.
    pub first: Vec<Vec<String>>,
}

/// All the ways in which the terminals can be those of a kind that fits.
#[utoipa::path(get, operation_id = "bench_assignments", path = "/bench/{id}/assignments",
    params(("id" = Uuid, Path)),
    responses((status = 200, body = Vec<AssignmentsView>), (status = 404, body = Problem)))]
pub async fn assignments(
    State(app): State<App>,
    Path(id): Path<Uuid>,
) -> Result<Json<Vec<AssignmentsView>>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let views = off_the_reactor(move || {
        let bench = &loaded.bench;
        let among = match &bench.profile {
            Some(profile) => vec![profile.clone()],
            None => loaded.library,
        };
        let views = bench.identities(&among).into_iter().map(|identity| {
            let profile = &among[identity.profile];
            let id = |t: &u8| profile.terminals()[usize::from(*t)].id.clone();
            AssignmentsView {
                profile: profile.document().id.clone(),
                name: profile.document().name.clone(),
                count: identity.fits.count,
                terminals: bench.found.terminals().to_vec(),
                first: identity.fits.first.iter().map(|f| f.iter().map(id).collect()).collect(),
            }
        });
        views.collect()
    });
    Ok(Json(views.await?))
}
