//! A machine's circuit in a condition, every part sound: what each point should read.

use crate::app::App;
use crate::http::bodies::{Asked, Path};
use crate::http::problem::Problem;
use crate::machines::Known;
use crate::views::drawing::{CircuitView, Draw, Marks, Shape, TraceView, TrackPoint, points_along};
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::{Circuit, Condition, Outcome, Solver};
use kelvok_core::interlock::{Judge, Ladder, LayOutError, Track, standing};

/// One of a machine's circuits, in a condition.
#[utoipa::path(get, operation_id = "machine_circuit", path = "/machines/{name}/circuits/{circuit}", params(
    ("name" = String, Path), ("circuit" = String, Path),
    ("set" = Vec<String>, Query, description = "`control:position`, once a control"),
    ("engine" = Option<String>, Query, description = "stopped, cranking, running, running-hot"),
), responses(
    (status = 200, body = CircuitView),
    (status = 404, body = Problem),
    (status = 422, description = "Unknown circuit, control or position, by name", body = Problem),
))]
pub async fn circuit(
    State(app): State<App>,
    Path((name, circuit)): Path<(String, String)>,
    asked: Asked,
) -> Result<Json<CircuitView>, Problem> {
    let known = Known::get(&app, &name).await?;
    let condition = asked.condition(known.circuit())?;
    Ok(Json(view(known.circuit(), &circuit, &condition)?))
}

fn view(circuit: &Circuit, name: &str, condition: &Condition) -> Result<CircuitView, LayOutError> {
    let judge = Judge::new(circuit, &[]);
    let setting = judge.setting(condition);
    let mut solver: Solver<'_> = Solver::new(circuit);
    solver.solve(&[&setting], &[judge.relays_in(condition)]);
    let stands = standing(circuit, &solver);
    let draw = Draw { circuit, solver: &solver, stands: &stands, marks: Marks::default() };
    let should = Outcome::of(circuit, &solver.lane(0), &setting);
    let named = circuit.document().circuits.iter().find(|c| c.id == name);
    if named.is_some_and(|c| Shape::of(c) == Shape::Ladder) {
        let ladder = Ladder::lay_out(circuit, name)?;
        return Ok(CircuitView::Ladder(draw.ladder(name, &ladder, (should, None))));
    }
    let track = Track::lay_out(circuit, name)?;
    let pieces = solver.pieces(0);
    let points = points_along(circuit, &track).into_iter().map(|(node, point, major)| TrackPoint {
        node: node.0,
        point,
        stands: stands[node.index()],
        major,
        expected: None,
        healthy: (pieces[node.index()] == pieces[track.to.index()])
            .then(|| solver.volts(0, node) - solver.volts(0, track.to)),
        found: None,
    });
    let battery = circuit.document().parts.iter().find_map(|p| p.volts);
    Ok(CircuitView::Track(TraceView {
        circuit: name.to_owned(),
        should,
        heard: None,
        supply_volts: battery.unwrap_or(kelvok_core::machine::BATTERY_VOLTS),
        track: draw.track(&track),
        points: points.collect(),
        lost: None,
        cautions: Vec::new(),
    }))
}
