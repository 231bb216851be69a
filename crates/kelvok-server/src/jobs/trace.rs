//! A job's circuit in one condition: what every point should read, and did.

use crate::app::App;
use crate::http::bodies::{Asked, Path};
use crate::http::problem::Problem;
use crate::jobs::loaded::Loaded;
use crate::views::drawing::{
    CircuitView, Draw, LostView, Marks, Shape, TraceView, TrackPoint, points_along,
};
use crate::work::compiled::{Compiled, Judged};
use crate::work::desk::{Progress, Reply};
use axum::extract::State;
use kelvok_core::circuit::{Circuit, Condition, Instrument, NodeId, Outcome, Setting, Solver};
use kelvok_core::diagnosis::{Evidence, Found, TestAction, found, lost};
use kelvok_core::interlock::{Judge, Ladder, LayOutError, Stands, Track, standing};
use uuid::Uuid;

/// The start circuit, or another by name, in a condition.
#[utoipa::path(get, path = "/jobs/{id}/trace/{circuit}", params(
    ("id" = Uuid, Path), ("circuit" = String, Path),
    ("set" = Vec<String>, Query, description = "`control:position`, once a control"),
    ("engine" = Option<String>, Query, description = "stopped, cranking, running, running-hot"),
), responses(
    (status = 200, body = CircuitView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 422, description = "Unknown circuit, control or position, by name", body = Problem),
))]
pub async fn trace(
    State(app): State<App>,
    Path((id, name)): Path<(Uuid, String)>,
    asked: Asked,
) -> Result<Reply<CircuitView>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let log = loaded.log();
    let compiled = loaded.compiled.clone();
    let condition = asked.condition(compiled.circuit())?;
    let question = loaded.question(("track", &name, &condition));
    let view = move || Ok(circuit_view(&compiled, &name, &condition, &compiled.judged(&log))?);
    app.ask(question, loaded.size(), view).await
}

/// A circuit in a condition, with what was found on it and what is believed of its elements.
///
/// # Errors
/// The machine has no such circuit.
pub(crate) fn circuit_view(
    compiled: &Compiled,
    name: &str,
    condition: &Condition,
    judged: &Judged,
) -> Result<CircuitView, LayOutError> {
    let circuit: &Circuit = compiled.circuit();
    let Judged { log, belief, proofs } = judged;
    let mut solver: Solver<'_> = Solver::new(circuit);
    let setting = Setting::new(circuit, condition);
    solver.solve(&[&setting], &[Judge::new(circuit, &[]).relays_in(condition)]);
    let mut marks = Marks::default();
    for (suspect, probability) in compiled.suspects().list.iter().zip(&belief.suspects) {
        for element in &suspect.elements {
            let share = probability / suspect.elements.len() as f64;
            *marks.suspicion.entry(*element).or_default() += share;
        }
    }
    for (element, grade) in proofs.iter().flat_map(|p| &p.cleared) {
        let kept = marks.proved.entry(*element).or_insert(*grade);
        *kept = (*kept).max(*grade);
    }
    let stands = standing(circuit, &solver);
    let draw = Draw { circuit, solver: &solver, stands: &stands, marks };
    let heard = log.iter().rev().filter(|e| e.condition == *condition).find_map(Evidence::heard);
    let should = Outcome::of(circuit, &solver.lane(0), &setting);
    let named = circuit.document().circuits.iter().find(|c| c.id == name);
    if named.is_some_and(|c| Shape::of(c) == Shape::Ladder) {
        let ladder = Ladder::lay_out(circuit, name)?;
        return Ok(CircuitView::Ladder(draw.ladder(name, &ladder, (should, heard))));
    }
    let track = Track::lay_out(circuit, name)?;
    let points = points(compiled, (condition, &stands), &track, judged);
    let read: Vec<_> = track
        .along()
        .into_iter()
        .filter_map(|node| at(judged, condition, node, track.to))
        .collect();
    let lost = lost(circuit, &track, &read);
    let volts = TestAction::Measure { instrument: Instrument::Voltmeter, red: 0, black: 0 };
    Ok(CircuitView::Track(TraceView {
        circuit: name.to_owned(),
        should,
        heard,
        supply_volts: belief.supply_volts,
        track: draw.track(&track),
        lost: lost.and_then(|lost| LostView::of(circuit, &points, &lost)).map(Box::new),
        points,
        cautions: compiled.model.cautions((belief, log), (condition, &[]), volts),
    }))
}

fn points(
    compiled: &Compiled,
    (condition, stands): (&Condition, &[Stands]),
    track: &Track,
    judged: &Judged,
) -> Vec<TrackPoint> {
    let circuit: &Circuit = compiled.circuit();
    let along = points_along(circuit, track);
    let nodes: Vec<_> = along.iter().map(|(node, ..)| *node).collect();
    let log = (judged.log.as_slice(), &judged.belief);
    let values = compiled.model.expected(log, (condition, &[]), track, (&nodes, track.to));
    along
        .into_iter()
        .zip(values)
        .map(|((node, point, major), value)| TrackPoint {
            node: node.0,
            point,
            stands: stands[node.index()],
            major,
            expected: value.if_sound_to_here,
            healthy: Some(value.healthy),
            found: at(judged, condition, node, track.to).map(Into::into),
        })
        .collect()
}

fn at(judged: &Judged, condition: &Condition, node: NodeId, negative: NodeId) -> Option<Found> {
    found((&judged.log, &judged.proofs), condition, node, negative)
}
