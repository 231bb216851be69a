//! A circuit as a track of gates in one condition: what every point should read, and did.

use super::app::App;
use super::bodies::{ControlsSet, Path};
use super::circuits::Compiled;
use super::diagnosis::off_the_reactor;
use super::jobs::Loaded;
use super::problem::Problem;
use super::views::{PointView, full_name};
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::{
    Circuit, Condition, ElementId, ElementKind, NodeId, Outcome, Reading, Relays, Setting, Solver,
    operating_point,
};
use kelvok_core::diagnosis::{
    Belief, Evidence, Grade, Heard, Observation, Proof, expected, proofs,
};
use kelvok_core::interlock::{Piece, Track};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Serialize, ToSchema)]
pub struct TraceView {
    pub circuit: String,
    /// What a sound machine does in this condition.
    pub should: Outcome,
    /// What was last heard in this condition.
    pub heard: Option<Heard>,
    /// Battery volts at rest, as last read or by the document.
    pub supply_volts: f64,
    /// Supply to load and back.
    pub track: Vec<PieceView>,
    /// Test points of the track, in order.
    pub points: Vec<TrackPoint>,
}

#[derive(Serialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum PieceView {
    Element(ElementView),
    Fork {
        #[schema(no_recursion)]
        branches: Vec<Vec<PieceView>>,
    },
}

#[derive(Serialize, ToSchema)]
pub struct ElementView {
    pub id: String,
    pub role: Role,
    pub name: String,
    /// Nodes at its two ends, in the direction of the track.
    pub from: u16,
    pub to: u16,
    /// Whether it carries current in this condition, every part sound.
    pub made: bool,
    pub gate: Option<GateView>,
    /// Probability that it is what is wrong.
    pub suspicion: f64,
    pub proof: Option<Grade>,
}

#[derive(Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Role {
    Wire,
    Joint,
    Gate,
    Fuse,
    Ground,
    Load,
}

/// What the operator does to shut a gate.
#[derive(Serialize, ToSchema)]
pub struct GateView {
    pub control: String,
    pub control_name: String,
    pub position_name: String,
}

#[derive(Serialize, ToSchema)]
pub struct TrackPoint {
    pub node: u16,
    pub point: PointView,
    /// Beside a gate, a fuse or the load: worth a label where space is short.
    pub major: bool,
    /// Volts to the battery's negative post if the circuit is sound to here.
    pub expected: Option<f64>,
    /// What a healthy machine reads here.
    pub healthy: f64,
    pub found: Option<Found>,
}

#[derive(Clone, Copy, Serialize, ToSchema)]
pub struct Found {
    pub volts: f64,
    pub sequence: i64,
    /// What a circuit sound to this point shows.
    pub sound: bool,
}

/// The start circuit, or another by name, in a condition.
#[utoipa::path(get, path = "/jobs/{id}/trace/{circuit}", params(
    ("id" = Uuid, Path), ("circuit" = String, Path),
    ("set" = Vec<String>, Query, description = "`control:position`, once a control"),
), responses(
    (status = 200, body = TraceView),
    (status = 422, description = "Unknown circuit, control or position, by name", body = Problem),
))]
pub async fn trace(
    State(app): State<App>,
    Path((id, circuit)): Path<(Uuid, String)>,
    ControlsSet(set): ControlsSet,
) -> Result<Json<TraceView>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let log = loaded.log()?;
    let compiled = loaded.compiled.clone();
    let named = set.iter().map(|(c, p)| (c.as_str(), p.as_str()));
    let condition = Condition::with(&compiled.circuit, named)?;
    let track = Track::lay_out(&compiled.circuit, &circuit)?;
    let view = move || view(&compiled, circuit, &condition, &track, &log);
    Ok(Json(off_the_reactor(view).await?))
}

fn view(
    compiled: &Compiled,
    name: String,
    condition: &Condition,
    track: &Track,
    log: &[Evidence],
) -> TraceView {
    let Compiled { circuit, suspects, .. } = compiled;
    let belief = Belief::judge(circuit, suspects, log);
    let proofs = proofs(circuit, suspects, &belief, log);
    let mut solver: Solver<'_> = Solver::new(circuit);
    solver.solve(&[&Setting::new(circuit, condition)], &[Relays::default()]);
    let mut suspicion: BTreeMap<ElementId, f64> = BTreeMap::new();
    for (suspect, probability) in suspects.list.iter().zip(&belief.suspects) {
        for element in &suspect.elements {
            *suspicion.entry(*element).or_default() += probability / suspect.elements.len() as f64;
        }
    }
    let draw = Draw { circuit, solver: &solver, suspicion, proofs: &proofs };
    let mut pieces = draw.pieces(&track.feed);
    let load = circuit.element(track.load);
    let end = last_node(&track.feed, track.from);
    let far = if end == load.a { load.b } else { load.a };
    pieces.push(PieceView::Element(draw.element(track.load, end, far)));
    pieces.extend(draw.pieces(&track.back));

    let heard = log.iter().rev().find_map(|e| match e.observation {
        Observation::Heard(heard) if e.condition == *condition => Some(heard),
        _ => None,
    });
    TraceView {
        circuit: name,
        should: operating_point(circuit, condition, Relays::default(), &[], &[]).outcome,
        heard,
        supply_volts: belief.supply_volts,
        track: pieces,
        points: points(compiled, condition, track, (log, belief.supply_volts), &proofs),
    }
}

fn last_node(pieces: &[Piece], otherwise: NodeId) -> NodeId {
    match pieces.last() {
        Some(Piece::Element { to, .. }) => *to,
        Some(Piece::Fork(branches)) => {
            branches.first().map_or(otherwise, |b| last_node(b, otherwise))
        }
        None => otherwise,
    }
}

struct Draw<'a> {
    circuit: &'a Circuit,
    solver: &'a Solver<'a>,
    suspicion: BTreeMap<ElementId, f64>,
    proofs: &'a [Proof],
}

impl Draw<'_> {
    fn pieces(&self, pieces: &[Piece]) -> Vec<PieceView> {
        let one = |piece: &Piece| match piece {
            Piece::Element { element, from, to } => {
                PieceView::Element(self.element(*element, *from, *to))
            }
            Piece::Fork(branches) => {
                PieceView::Fork { branches: branches.iter().map(|b| self.pieces(b)).collect() }
            }
        };
        pieces.iter().map(one).collect()
    }

    fn element(&self, id: ElementId, from: NodeId, to: NodeId) -> ElementView {
        let e = self.circuit.element(id);
        let cleared = self.proofs.iter().flat_map(|p| &p.cleared);
        ElementView {
            id: e.id.clone(),
            role: match e.kind {
                ElementKind::Contact(_) => Role::Gate,
                ElementKind::Joint => Role::Joint,
                ElementKind::Fuse { .. } => Role::Fuse,
                ElementKind::Ground => Role::Ground,
                ElementKind::Wire | ElementKind::Diode { .. } => Role::Wire,
                _ => Role::Load,
            },
            name: full_name(self.circuit, id),
            from: from.0,
            to: to.0,
            made: self.solver.conducts(0, id),
            gate: self.gate(id),
            suspicion: self.suspicion.get(&id).copied().unwrap_or(0.0),
            proof: cleared.filter(|(c, _)| *c == id).map(|(_, grade)| *grade).max(),
        }
    }

    fn gate(&self, id: ElementId) -> Option<GateView> {
        let ElementKind::Contact(c) = self.circuit.element(id).kind else { return None };
        let entry = self.circuit.contact_entry(&self.circuit.contacts[c])?;
        let gate = entry.gate.as_ref()?;
        let control = self.circuit.controls.iter().find(|c| c.id == gate.control)?;
        let position = control.positions.iter().find(|p| p.id == gate.position)?;
        Some(GateView {
            control: control.id.clone(),
            control_name: control.name.clone(),
            position_name: position.name.clone(),
        })
    }
}

fn points(
    compiled: &Compiled,
    condition: &Condition,
    track: &Track,
    (log, supply): (&[Evidence], f64),
    proofs: &[Proof],
) -> Vec<TrackPoint> {
    let Compiled { circuit, suspects, .. } = compiled;
    let test_points = &circuit.document().test_points;
    let at = |node: NodeId| {
        test_points
            .iter()
            .position(|p| p.unplugged.is_none() && circuit.terminal(&p.terminal) == Ok(node))
    };
    let along: Vec<(NodeId, usize)> =
        track.along().into_iter().filter_map(|n| Some((n, at(n)?))).collect();
    let nodes: Vec<_> = along.iter().map(|(n, _)| *n).collect();
    let values =
        expected(circuit, suspects, (log, supply), (condition, &[]), track, (&nodes, track.to));
    let beside: Vec<NodeId> = track
        .elements()
        .into_iter()
        .filter(|id| {
            matches!(
                circuit.element(*id).kind,
                ElementKind::Contact(_) | ElementKind::Coil(_) | ElementKind::Load
            )
        })
        .flat_map(|id| [circuit.element(id).a, circuit.element(id).b])
        .collect();
    // A point counts as beside a gate across its own plug's joint too.
    let near = |node: NodeId| {
        node == track.from
            || node == track.to
            || beside.contains(&node)
            || circuit.elements().any(|(_, e)| {
                e.kind == ElementKind::Joint
                    && ((e.a == node && beside.contains(&e.b))
                        || (e.b == node && beside.contains(&e.a)))
            })
            || circuit
                .elements()
                .any(|(_, e)| matches!(e.kind, ElementKind::Fuse { .. }) && e.b == node)
    };
    along
        .iter()
        .zip(values)
        .map(|((node, index), value)| TrackPoint {
            node: node.0,
            point: PointView::of(circuit, *index),
            major: near(*node),
            expected: value.if_sound_to_here,
            healthy: value.healthy,
            found: found(log, proofs, condition, *node, track.to),
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
