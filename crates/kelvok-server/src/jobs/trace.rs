//! A job's circuit in one condition: what every point should read, and did.

use crate::app::App;
use crate::http::bodies::{Asked, Path};
use crate::http::problem::Problem;
use crate::jobs::loaded::Loaded;
use crate::views::drawing::{
    CircuitView, Draw, Found, Marks, Shape, TraceView, TrackPoint, points_along,
};
use crate::work::compiled::Compiled;
use crate::work::desk::{Progress, Reply};
use axum::extract::State;
use kelvok_core::circuit::{Circuit, Condition, NodeId, Outcome, Reading, Setting, Solver};
use kelvok_core::diagnosis::{Evidence, Observation, Proof};
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
    let view = move || Ok(view(&compiled, &name, &condition, &log)?);
    app.ask(question, loaded.size(), view).await
}

fn view(
    compiled: &Compiled,
    name: &str,
    condition: &Condition,
    log: &[Evidence],
) -> Result<CircuitView, LayOutError> {
    let circuit: &Circuit = compiled.circuit();
    let belief = compiled.belief(log);
    let proofs = compiled.model.proofs(&belief, log);
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
    Ok(CircuitView::Track(TraceView {
        circuit: name.to_owned(),
        should,
        heard,
        supply_volts: belief.supply_volts,
        track: draw.track(&track),
        points: points(compiled, (condition, &stands), &track, (log, belief.supply_volts), &proofs),
    }))
}

fn points(
    compiled: &Compiled,
    (condition, stands): (&Condition, &[Stands]),
    track: &Track,
    (log, supply): (&[Evidence], f64),
    proofs: &[Proof],
) -> Vec<TrackPoint> {
    let circuit = compiled.circuit();
    let circuit: &Circuit = circuit;
    let along = points_along(circuit, track);
    let nodes: Vec<_> = along.iter().map(|(node, ..)| *node).collect();
    let values =
        compiled.model.expected((log, supply), (condition, &[]), track, (&nodes, track.to));
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
            found: found(log, proofs, condition, node, track.to),
        })
        .collect()
}

/// The last volts read at a node in this condition, nothing set up.
fn found(
    log: &[Evidence],
    proofs: &[Proof],
    condition: &Condition,
    node: NodeId,
    negative: NodeId,
) -> Option<Found> {
    log.iter().rev().find_map(|e| match e.observation {
        Observation::Read { red, black, reading: Reading::Volts(volts), .. }
            if red == node
                && black == negative
                && e.condition == *condition
                && e.set_up.is_empty() =>
        {
            let proof = proofs.iter().find(|p| p.sequence == e.sequence);
            Some(Found {
                volts,
                sequence: e.sequence as i64,
                sound: proof.is_some_and(|p| p.sound),
            })
        }
        _ => None,
    })
}
