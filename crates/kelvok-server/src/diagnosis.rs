//! What could still be it, and what to do next.

use super::app::App;
use super::bodies::{Asked, Path};
use super::circuits::Compiled;
use super::jobs::Loaded;
use super::problem::Problem;
use super::views::{PointView, SetUpView, UnitView, condition_view, element_name, full_name};
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::{Condition, ElementId, ElementKind, FaultMode, Instrument};
use kelvok_core::diagnosis::{
    AnswerRange, Belief, Caution, Evidence, Grade, NextTest, Observation, Plan, Unit, plan, proofs,
};
use kelvok_core::interlock::{Track, nearest_complete};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Serialize, ToSchema)]
pub struct DiagnosisView {
    /// Whether there is a start circuit, which is what is diagnosed. Without one nothing is
    /// suspected and nothing concluded.
    pub in_scope: bool,
    /// The condition that is complained of; the plan is for that.
    pub condition: BTreeMap<String, String>,
    pub suspects: Vec<SuspectView>,
    /// The last reading, where much of the belief needs it to have been a slip.
    pub slip: Option<SlipView>,
    pub supply_volts: f64,
    pub supply_spread: f64,
    /// Contacts, fuses and coils of the start circuit by what is proved of them.
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
    pub set_up: Vec<SetUpView>,
    pub instrument: Instrument,
    pub red: PointView,
    pub black: PointView,
    pub minutes: f64,
    pub bits: f64,
    pub answers: Vec<AnswerView>,
    pub cautions: Vec<Caution>,
}

#[derive(Serialize, ToSchema)]
pub struct AnswerView {
    /// Volts or ohms; an answer with neither is over range.
    pub volts: Option<RangeView>,
    pub ohms: Option<RangeView>,
    pub probability: f64,
    pub leaves: Vec<LeftView>,
}

#[derive(Serialize, ToSchema)]
pub struct RangeView {
    pub low: f64,
    pub high: f64,
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
    let Compiled { circuit, suspects, start, .. } = compiled;
    let complained = log.iter().rev().find_map(|e| match e.observation {
        Observation::Heard(_) => Some(e.condition.clone()),
        Observation::Read { .. } => None,
    });
    // Until something was heard: the nearest condition in which a sound machine would crank.
    let nearest = || nearest_complete(circuit, start.as_ref()?, &asked);
    let condition = complained.or_else(nearest).unwrap_or(asked);
    let belief = Belief::judge(circuit, suspects, log);
    let plan = plan(circuit, suspects, &belief, log, &condition);
    let proofs = proofs(circuit, suspects, &belief, log);
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
    let not_touched = start
        .iter()
        .flat_map(Track::elements)
        .filter(|e| is_shown(compiled, *e) && !best.contains_key(e))
        .map(|e| full_name(circuit, e))
        .collect();
    let slip = belief.judgements.last().filter(|j| j.slip > 0.01);
    let in_scope = start.is_some();
    DiagnosisView {
        in_scope,
        condition: condition_view(circuit, &condition),
        suspects: if in_scope { suspect_rows(compiled, &belief, &plan) } else { Vec::new() },
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
        listen: in_scope && plan.listen,
        tests: plan.tests.iter().map(|t| test_view(compiled, t)).collect(),
        conclusion: conclusion(compiled, &belief, &plan).filter(|_| in_scope),
    }
}

/// Gates, fuses and coils are spoken of; wires and joints would be too many.
fn is_shown(compiled: &Compiled, element: ElementId) -> bool {
    compiled.start.as_ref().is_some_and(|start| start.elements().contains(&element))
        && matches!(
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
    TestView {
        condition: condition_view(circuit, &test.condition),
        set_up: test.set_up.iter().map(|s| SetUpView::of(circuit, *s)).collect(),
        instrument: test.instrument,
        red: PointView::of(circuit, test.red),
        black: PointView::of(circuit, test.black),
        minutes: test.minutes,
        bits: test.bits,
        answers: test
            .answers
            .iter()
            .map(|a| {
                let (volts, ohms) = match a.range {
                    AnswerRange::Volts { low, high } => (Some(RangeView { low, high }), None),
                    AnswerRange::Ohms { low, high } => (None, Some(RangeView { low, high })),
                    AnswerRange::OverRange => (None, None),
                };
                let left = a.units.iter().map(|(unit, probability)| LeftView {
                    unit: UnitView::of(circuit, *unit),
                    probability: *probability,
                });
                AnswerView { volts, ohms, probability: a.probability, leaves: left.collect() }
            })
            .collect(),
        cautions: test.cautions.clone(),
    }
}
