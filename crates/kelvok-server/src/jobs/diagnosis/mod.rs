//! What could still be it, and what to do next.

mod conclusion;
mod doubts;
pub mod forecast;
pub mod forewarn;
pub mod own_test;
mod test_card;
mod wiring;

use crate::app::App;
use crate::http::bodies::{Asked, Path, Query};
use crate::http::problem::Problem;
use crate::jobs::loaded::Loaded;
use crate::views::names::{UnitView, condition_view, element_name, full_name};
use crate::work::compiled::{Compiled, Judged};
use crate::work::desk::{Progress, Reply};
use axum::extract::State;
pub(crate) use conclusion::CauseView;
use conclusion::ConclusionView;
use doubts::{ContradictionView, ExcludedView, MisfitView, excluded_views, misfit_view};
use kelvok_core::circuit::{Circuit, Condition, ElementId, ElementKind, FaultMode};
use kelvok_core::diagnosis::{
    Belief, Evidence, FaultSize, Grade, Plan, SetUp, Strategy, Unit, contradictions,
};
use kelvok_core::fuses::Fitted;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use test_card::{TestView, test_view};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;
use wiring::WiringView;

#[derive(Serialize, ToSchema)]
pub struct DiagnosisView {
    /// Whether the engine is cranked by a starter; without one there is nothing to listen for.
    pub has_starter: bool,
    /// The condition that is complained of; the plan is for that.
    pub condition: BTreeMap<String, String>,
    pub suspects: Vec<SuspectView>,
    /// Switches that what was said and tried rules out.
    pub excluded: Vec<ExcludedView>,
    /// Statements that cannot both hold.
    pub contradictions: Vec<ContradictionView>,
    /// The last entry that nothing believed explains.
    pub misfit: Option<MisfitView>,
    pub supply_volts: f64,
    pub supply_spread: f64,
    /// Contacts, fuses and coils by what is proved of them.
    pub cleared: Vec<ClearedView>,
    pub not_touched: Vec<String>,
    pub judgements: Vec<JudgementView>,
    /// Nobody here has seen yet what is complained of: have it happen first.
    pub reproduce: Option<TestView>,
    /// By the strategy asked for, the best first.
    pub tests: Vec<TestView>,
    /// What is worth a look, no meter in the hand; what tells most a minute first.
    pub walk_round: Vec<TestView>,
    pub conclusion: Option<ConclusionView>,
    /// How likely it is the battery, where testing that by itself is worth its minutes.
    pub test_battery: Option<f64>,
    /// How likely it is what charges the battery, where reading that through is worth its minutes.
    pub test_charging: Option<f64>,
    /// The circuit whose drops are worth walking, a bad joint on it being likely enough.
    pub walk_drops: Option<WalkDropsView>,
    /// What is open of the machine's wiring; null where its document leaves nothing open.
    pub wiring: Option<WiringView>,
}

/// A circuit along which a bad joint is likely.
#[derive(Serialize, ToSchema)]
pub struct WalkDropsView {
    pub circuit: String,
    pub share: f64,
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
    /// Its element beside the unit: "start contacts", "pin B".
    pub element: Option<String>,
    /// How great its fault is, once the evidence says so: the median, and 90 % bounds.
    pub size: Option<FaultSize>,
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
    /// Ohms were put on a circuit that was live: it says nothing.
    pub on_live: bool,
    pub cleared: Vec<ClearedView>,
}

/// Suspects below this are not listed.
const LISTED: f64 = 0.004;

#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ByStrategy {
    /// By which strategy to go on; best split if not given.
    #[param(required = false)]
    #[serde(default)]
    strategy: Strategy,
}

/// The suspects that remain and the next test.
#[utoipa::path(get, path = "/jobs/{id}/diagnosis", params(
    ("id" = Uuid, Path),
    ("set" = Vec<String>, Query,
     description = "`control:position`: the condition to plan for until something was heard"),
    ByStrategy,
), responses((status = 200, body = DiagnosisView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 422, body = Problem)))]
pub async fn diagnosis(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    asked: Asked,
    Query(ByStrategy { strategy }): Query<ByStrategy>,
) -> Result<Reply<DiagnosisView>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let log = loaded.log();
    let compiled = loaded.compiled.clone();
    let asked = asked.condition(compiled.circuit())?;
    let question = loaded.question(("diagnosis", &asked, strategy));
    let (off, fitted) = (loaded.still_off(), loaded.fitted.clone());
    let view = move || {
        let judged = compiled.judged(&log);
        Ok(diagnosis_view(&compiled, &asked, (&judged, &off, &fitted), strategy))
    };
    app.ask(question, loaded.size(), view).await
}

/// What follows from a log, by a strategy.
///
/// # Arguments
/// `asked` is the condition to plan for until something was noticed, `off` what is still off, `fitted` the fuses
/// that were read.
pub(crate) fn diagnosis_view(
    compiled: &Compiled,
    asked: &Condition,
    (judged, off, fitted): (&Judged, &[SetUp], &[Fitted]),
    strategy: Strategy,
) -> DiagnosisView {
    let Judged { log, belief, proofs } = judged;
    let model = &compiled.model;
    let circuit: &Circuit = model.circuit();
    let condition = model.complained_of(log, asked);
    let plan = model.plan_by(strategy, belief, log, &condition);
    let looks = model.walk_round(belief, log, &condition);
    let live = model.on_live(belief, log);
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
    let card = |test| test_view(compiled, test, (log, off));
    let suspects = suspect_rows(compiled, (belief, log), &plan);
    // The verdict's units are the first row's: what is said of how great it is holds for both.
    let size = suspects.first().and_then(|row| row.size);
    DiagnosisView {
        has_starter: model.start().is_some(),
        condition: condition_view(circuit, &condition),
        suspects,
        excluded: excluded_views(compiled, belief, log),
        contradictions: contradictions(log)
            .into_iter()
            .map(|(one, other)| ContradictionView { one, other })
            .collect(),
        misfit: misfit_view(compiled, belief, log),
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
                    on_live: live.contains(&j.sequence),
                    sound: proof.is_some_and(|p| p.sound),
                    cleared: proof.map(|p| cleared(&p.cleared)).unwrap_or_default(),
                }
            })
            .collect(),
        reproduce: plan.reproduce.as_ref().map(card),
        tests: plan.tests.iter().map(card).collect(),
        walk_round: looks.iter().map(card).collect(),
        conclusion: ConclusionView::of(
            compiled,
            &condition,
            (belief, log),
            (&plan, size),
            (off, fitted),
        ),
        test_battery: model.battery_in_question(belief, log),
        test_charging: model.charging_in_question(belief, log),
        walk_drops: model
            .drops_in_question(belief, log)
            .map(|(circuit, share)| WalkDropsView { circuit: circuit.to_owned(), share }),
        wiring: WiringView::of(compiled, judged, (off, &condition)),
    }
}

/// Gates, fuses and coils are spoken of; wires and joints would be too many.
fn is_shown(compiled: &Compiled, element: ElementId) -> bool {
    matches!(
        compiled.circuit().element(element).kind,
        ElementKind::Contact(_) | ElementKind::Fuse { .. } | ElementKind::Coil(_)
    )
}

/// The heaviest suspect of a unit, by index; how it fails and in which element, where that is more
/// likely than not.
fn how(
    compiled: &Compiled,
    belief: &Belief,
    unit: Unit,
) -> (Option<usize>, Option<FaultMode>, Option<String>) {
    let own = compiled.suspects().list.iter().enumerate().filter(|(_, s)| s.unit == unit);
    let top = own.max_by(|a, b| belief.suspects[a.0].total_cmp(&belief.suspects[b.0]));
    let whole = belief.of_unit(compiled.suspects(), unit);
    let likely = top.filter(|(i, _)| belief.suspects[*i] > 0.5 * whole);
    let fault = likely.and_then(|(_, s)| s.faults.first());
    let element = fault.and_then(|f| f.element());
    let element = element.and_then(|e| element_name(compiled.circuit(), e));
    (top.map(|(i, _)| i), fault.map(|f| f.mode), element)
}

fn suspect_rows(
    compiled: &Compiled,
    (belief, log): (&Belief, &[Evidence]),
    plan: &Plan,
) -> Vec<SuspectView> {
    let units = belief.units(compiled.suspects());
    let now = |unit: Unit| units.iter().find(|u| u.unit == unit).map_or(0.0, |u| u.probability);
    let rows = plan.groups.iter().map(|group| {
        let probability: f64 = group.iter().map(|u| now(*u)).sum();
        let before: f64 = group.iter().filter_map(|u| belief.before(compiled.suspects(), *u)).sum();
        let (suspect, mode, element) = how(compiled, belief, group[0]);
        SuspectView {
            units: group.iter().map(|u| UnitView::after(compiled.circuit(), *u, log)).collect(),
            probability,
            change: if belief.judgements.is_empty() { 0.0 } else { probability - before },
            mode,
            element,
            size: suspect.and_then(|s| compiled.model.size(belief, log, s)),
        }
    });
    rows.filter(|r| r.probability > LISTED).collect()
}
