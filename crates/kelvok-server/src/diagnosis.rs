//! What could still be it, and what to do next.

use super::app::App;
use super::bodies::{Asked, Path};
use super::circuits::Compiled;
use super::jobs::Loaded;
use super::problem::Problem;
use super::views::{PointView, SetUpView, UnitView, condition_view, element_name, full_name};
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::{
    Circuit, Condition, ElementId, ElementKind, Engine, FaultMode, Instrument, LampState,
};
use kelvok_core::diagnosis::{
    AnswerRange, Belief, Caution, Doing, EngineDoes, Evidence, Grade, Heard, Inspected, LookEntry,
    NextTest, Plan, Sense, Unit, lamp_part, plan, proofs,
};
use kelvok_core::interlock::nearest_complete;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Serialize, ToSchema)]
pub struct DiagnosisView {
    /// Whether the engine is cranked by a starter; without one there is nothing to listen for.
    pub has_starter: bool,
    /// The condition that is complained of; the plan is for that.
    pub condition: BTreeMap<String, String>,
    pub suspects: Vec<SuspectView>,
    /// The last reading, where much of the belief needs it to have been a slip.
    pub slip: Option<SlipView>,
    pub supply_volts: f64,
    pub supply_spread: f64,
    /// Contacts, fuses and coils by what is proved of them.
    pub cleared: Vec<ClearedView>,
    pub not_touched: Vec<String>,
    pub judgements: Vec<JudgementView>,
    /// Nothing was heard yet in this condition: turn the key and listen.
    pub listen: bool,
    /// The best first.
    pub tests: Vec<TestView>,
    pub conclusion: Option<ConclusionView>,
}

/// One row: a unit, or units that no reachable test tells apart.
#[derive(Serialize, ToSchema)]
pub struct SuspectView {
    pub units: Vec<UnitView>,
    pub probability: f64,
    /// Change of the probability by the last entry.
    pub change: f64,
    /// How the heaviest suspect of the first unit fails.
    pub mode: Option<FaultMode>,
    /// Its element beside the unit: "start pole", "pin B".
    pub element: Option<String>,
}

#[derive(Serialize, ToSchema)]
pub struct SlipView {
    pub sequence: u64,
    pub probability: f64,
}

#[derive(Serialize, ToSchema)]
pub struct ClearedView {
    pub name: String,
    pub grade: Grade,
}

/// What an entry of the log proved.
#[derive(Serialize, ToSchema)]
pub struct JudgementView {
    pub sequence: u64,
    /// It is what a circuit sound up to the point shows.
    pub sound: bool,
    pub slip: f64,
    pub cleared: Vec<ClearedView>,
}

#[derive(Serialize, ToSchema)]
pub struct TestView {
    pub condition: BTreeMap<String, String>,
    pub engine: Engine,
    pub set_up: Vec<SetUpView>,
    pub doing: DoingView,
    pub minutes: f64,
    pub bits: f64,
    pub answers: Vec<AnswerView>,
    pub cautions: Vec<Caution>,
}

/// What is done in a test.
#[derive(Serialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum DoingView {
    Measure {
        instrument: Instrument,
        red: Box<PointView>,
        black: Box<PointView>,
    },
    /// The machine is worked, and one thing attended to.
    Try {
        attend: Attend,
        /// The lamp's part id and name, where it is a lamp.
        lamp: Option<NameView>,
    },
    /// Something is looked at and felt.
    Look {
        at: LookEntry,
        name: String,
        place: Option<String>,
    },
}

/// What to attend to.
#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Attend {
    Starter,
    Engine,
    Blades,
    Lamp,
}

#[derive(Serialize, ToSchema)]
pub struct NameView {
    pub id: String,
    pub name: String,
}

#[derive(Serialize, ToSchema)]
pub struct AnswerView {
    pub range: RangeView,
    pub probability: f64,
    /// How many units of some weight it would leave.
    pub left: usize,
    pub leaves: Vec<LeftView>,
}

/// What an answer is, or from where to where.
#[derive(Serialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum RangeView {
    Volts { low: f64, high: f64 },
    Ohms { low: f64, high: f64 },
    OverRange,
    Buzz { on: bool },
    Heard { heard: Heard },
    Engine { does: EngineDoes },
    Blades { turn: bool },
    Lamp { burns: LampState },
    Looks { bad: bool },
}

impl From<AnswerRange> for RangeView {
    fn from(range: AnswerRange) -> Self {
        match range {
            AnswerRange::Volts { low, high } => Self::Volts { low, high },
            AnswerRange::Ohms { low, high } => Self::Ohms { low, high },
            AnswerRange::OverRange => Self::OverRange,
            AnswerRange::Buzz(on) => Self::Buzz { on },
            AnswerRange::Heard(heard) => Self::Heard { heard },
            AnswerRange::Engine(does) => Self::Engine { does },
            AnswerRange::Blades(turn) => Self::Blades { turn },
            AnswerRange::Lamp(burns) => Self::Lamp { burns },
            AnswerRange::LooksBad(bad) => Self::Looks { bad },
        }
    }
}

#[derive(Serialize, ToSchema)]
pub struct LeftView {
    pub unit: UnitView,
    pub probability: f64,
}

#[derive(Serialize, ToSchema)]
pub struct ConclusionView {
    pub units: Vec<UnitView>,
    pub mode: Option<FaultMode>,
    pub element: Option<String>,
    pub probability: f64,
    pub confirmed: bool,
}

/// Suspects below this are not listed.
const LISTED: f64 = 0.004;

/// The suspects that remain and the next test.
#[utoipa::path(get, path = "/jobs/{id}/diagnosis", params(
    ("id" = Uuid, Path),
    ("set" = Vec<String>, Query,
     description = "`control:position`: the condition to plan for until something was heard"),
), responses((status = 200, body = DiagnosisView), (status = 422, body = Problem)))]
pub async fn diagnosis(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    asked: Asked,
) -> Result<Json<DiagnosisView>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let log = loaded.log()?;
    let compiled = loaded.compiled.clone();
    let asked = asked.condition(&compiled.circuit)?;
    Ok(Json(off_the_reactor(move || view(&compiled, asked, &log)).await?))
}

/// Runs a computation where it holds up no other request.
pub async fn off_the_reactor<T: Send + 'static>(
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<T, Problem> {
    tokio::task::spawn_blocking(work).await.map_err(|error| {
        tracing::error!(%error, "computation failed");
        Problem::internal()
    })
}

fn view(compiled: &Compiled, asked: Condition, log: &[Evidence]) -> DiagnosisView {
    let Compiled { circuit, suspects, book, start, .. } = compiled;
    let complained = log.iter().rev().find(|e| e.is_behavior()).map(|e| e.condition.clone());
    // Until something was noticed: the nearest condition in which a sound machine would crank.
    let nearest = || nearest_complete(circuit, start.as_ref()?, &asked);
    let condition = complained.or_else(nearest).unwrap_or(asked);
    let belief = Belief::judge(circuit, suspects, book, log);
    let plan = plan(circuit, suspects, book, &belief, log, &condition);
    let proofs = proofs((circuit, suspects, book), &belief, log);
    let cleared = |list: &[(ElementId, Grade)]| -> Vec<ClearedView> {
        let shown = list.iter().filter(|(e, _)| is_shown(compiled, *e));
        shown
            .map(|(e, grade)| ClearedView { name: full_name(circuit, *e), grade: *grade })
            .collect()
    };
    let mut best: BTreeMap<ElementId, Grade> = BTreeMap::new();
    for (element, grade) in proofs.iter().flat_map(|p| &p.cleared) {
        let kept = best.entry(*element).or_insert(*grade);
        *kept = (*kept).max(*grade);
    }
    let all: Vec<_> = best.iter().map(|(e, g)| (*e, *g)).collect();
    let not_touched = circuit
        .elements()
        .map(|(id, _)| id)
        .filter(|e| is_shown(compiled, *e) && !best.contains_key(e))
        .map(|e| full_name(circuit, e))
        .collect();
    let slip = belief.judgements.last().filter(|j| j.slip > 0.01);
    DiagnosisView {
        has_starter: start.is_some(),
        condition: condition_view(circuit, &condition),
        suspects: suspect_rows(compiled, &belief, &plan),
        slip: slip.map(|j| SlipView { sequence: j.sequence, probability: j.slip }),
        supply_volts: belief.supply_volts,
        supply_spread: belief.supply_spread,
        cleared: cleared(&all),
        not_touched,
        judgements: belief
            .judgements
            .iter()
            .map(|j| {
                let proof = proofs.iter().find(|p| p.sequence == j.sequence);
                JudgementView {
                    sequence: j.sequence,
                    slip: j.slip,
                    sound: proof.is_some_and(|p| p.sound),
                    cleared: proof.map(|p| cleared(&p.cleared)).unwrap_or_default(),
                }
            })
            .collect(),
        listen: start.is_some() && plan.listen,
        tests: plan.tests.iter().map(|t| test_view(compiled, t)).collect(),
        conclusion: conclusion(compiled, &belief, &plan),
    }
}

/// Gates, fuses and coils are spoken of; wires and joints would be too many.
fn is_shown(compiled: &Compiled, element: ElementId) -> bool {
    matches!(
        compiled.circuit.element(element).kind,
        ElementKind::Contact(_) | ElementKind::Fuse { .. } | ElementKind::Coil(_)
    )
}

/// How the heaviest suspect of a unit fails, and in which element.
fn how(compiled: &Compiled, belief: &Belief, unit: Unit) -> (Option<FaultMode>, Option<String>) {
    let own = compiled.suspects.list.iter().enumerate().filter(|(_, s)| s.unit == unit);
    let top = own.max_by(|a, b| belief.suspects[a.0].total_cmp(&belief.suspects[b.0]));
    let fault = top.and_then(|(_, s)| s.faults.first());
    let element = fault.and_then(|f| f.element());
    (fault.map(|f| f.mode), element.and_then(|e| element_name(&compiled.circuit, e)))
}

fn suspect_rows(compiled: &Compiled, belief: &Belief, plan: &Plan) -> Vec<SuspectView> {
    let units = belief.units(&compiled.suspects);
    let now = |unit: Unit| units.iter().find(|u| u.unit == unit).map_or(0.0, |u| u.probability);
    let rows = plan.groups.iter().map(|group| {
        let probability: f64 = group.iter().map(|u| now(*u)).sum();
        let before: f64 = group.iter().filter_map(|u| belief.before(&compiled.suspects, *u)).sum();
        let (mode, element) = how(compiled, belief, group[0]);
        SuspectView {
            units: group.iter().map(|u| UnitView::of(&compiled.circuit, *u)).collect(),
            probability,
            change: if belief.judgements.is_empty() { 0.0 } else { probability - before },
            mode,
            element,
        }
    });
    rows.filter(|r| r.probability > LISTED).collect()
}

fn conclusion(compiled: &Compiled, belief: &Belief, plan: &Plan) -> Option<ConclusionView> {
    let conclusion = plan.conclusion.as_ref()?;
    let (mode, element) = how(compiled, belief, *conclusion.units.first()?);
    let units = conclusion.units.iter().map(|u| UnitView::of(&compiled.circuit, *u)).collect();
    Some(ConclusionView {
        units,
        mode,
        element,
        probability: conclusion.probability,
        confirmed: conclusion.confirmed,
    })
}

fn test_view(compiled: &Compiled, test: &NextTest) -> TestView {
    let circuit = &compiled.circuit;
    let answers = test.answers.iter().map(|a| AnswerView {
        range: a.range.into(),
        probability: a.probability,
        left: a.left,
        leaves: a
            .units
            .iter()
            .map(|(unit, probability)| LeftView {
                unit: UnitView::of(circuit, *unit),
                probability: *probability,
            })
            .collect(),
    });
    TestView {
        condition: condition_view(circuit, &test.condition),
        engine: test.condition.engine,
        set_up: test.set_up.iter().map(|s| SetUpView::of(circuit, *s)).collect(),
        doing: doing_view(circuit, test.doing),
        minutes: test.minutes,
        bits: test.bits,
        answers: answers.collect(),
        cautions: test.cautions.clone(),
    }
}

fn doing_view(circuit: &Circuit, doing: Doing) -> DoingView {
    match doing {
        Doing::Measure { instrument, red, black } => DoingView::Measure {
            instrument,
            red: Box::new(PointView::of(circuit, red)),
            black: Box::new(PointView::of(circuit, black)),
        },
        Doing::Try(sense) => {
            let (attend, lamp) = match sense {
                Sense::Starter => (Attend::Starter, None),
                Sense::Engine => (Attend::Engine, None),
                Sense::Blades => (Attend::Blades, None),
                Sense::Lamp(lamp) => (Attend::Lamp, lamp_part(circuit, lamp)),
            };
            let lamp = lamp.map(|part| circuit.part(part));
            let lamp = lamp.map(|p| NameView { id: p.id.clone(), name: p.name.clone() });
            DoingView::Try { attend, lamp }
        }
        Doing::Look(at) => {
            let (name, place) = look_name(circuit, at);
            DoingView::Look { at: LookEntry::of(circuit, at), name, place }
        }
    }
}

/// What is looked at, and where.
fn look_name(circuit: &Circuit, at: Inspected) -> (String, Option<String>) {
    let part = match at {
        Inspected::Plug(part) => Some(part),
        Inspected::Fuse(element) | Inspected::Lug(element) => circuit.element(element).part,
        Inspected::Linkage(plunger) => Some(circuit.plungers[plunger.index()].part),
        Inspected::Wire(_) => None,
    };
    let unit = match (at, part) {
        (Inspected::Wire(wire), _) => Unit::Wire(wire),
        (Inspected::Linkage(plunger), _) => Unit::Linkage(plunger),
        (_, Some(part)) => Unit::Part(part),
        _ => Unit::Nothing,
    };
    let unit = UnitView::of(circuit, unit);
    let name = match unit.detail {
        Some(detail) => format!("{} ({detail})", unit.name),
        None => unit.name,
    };
    let places = &circuit.document().places;
    let place = part.and_then(|p| circuit.part(p).place.as_ref());
    (name, place.and_then(|id| places.iter().find(|p| p.id == *id)).map(|p| p.name.clone()))
}
