//! A circuit as it is drawn: a feed as a track of gates, a kill circuit as a ladder of rungs.

use crate::views::names::{PointView, full_name};
use kelvok_core::circuit::{Circuit, ElementId, ElementKind, NodeId, Outcome, Solver};
use kelvok_core::diagnosis::{Caution, Found, Grade, Heard, Lost};
use kelvok_core::interlock::{Ladder, Piece, Stands, Track};
use kelvok_core::machine::{Fires, NamedCircuit};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Which picture a named circuit is drawn as.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Shape {
    /// From the supply through gates to a load and back.
    Track,
    /// From a kill lead to ground: any complete rung stops the engine.
    Ladder,
}

impl Shape {
    pub fn of(circuit: &NamedCircuit) -> Self {
        if circuit.load.is_some() { Self::Track } else { Self::Ladder }
    }
}

#[derive(Serialize, ToSchema)]
pub struct CircuitName {
    pub id: String,
    pub name: String,
    pub shape: Shape,
}

impl CircuitName {
    /// Every circuit of a machine.
    pub fn all(circuit: &Circuit) -> Vec<Self> {
        let named = circuit.document().circuits.iter();
        let name =
            |c: &NamedCircuit| Self { id: c.id.clone(), name: c.name.clone(), shape: Shape::of(c) };
        named.map(name).collect()
    }
}

#[derive(Serialize, ToSchema)]
#[serde(tag = "shape", rename_all = "kebab-case")]
pub enum CircuitView {
    Track(TraceView),
    Ladder(LadderView),
}

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
    /// Where the supply is lost, by what was read on it.
    pub lost: Option<Box<LostView>>,
    /// What to mind while a voltmeter is put to any of the points, in this condition.
    pub cautions: Vec<Caution>,
}

/// Two readings between which the supply is lost.
#[derive(Serialize, ToSchema)]
pub struct LostView {
    /// In the track's order.
    pub before: PointView,
    pub after: PointView,
    /// Volts lost from one to the other.
    pub volts: f64,
    /// Ids of what lies between them.
    pub between: Vec<String>,
    /// Contacts between them, in the track's order.
    pub gates: Vec<LostGate>,
}

/// A contact between two readings.
#[derive(Serialize, ToSchema)]
pub struct LostGate {
    pub name: String,
    /// What the operator does to close it.
    pub gate: Option<GateView>,
}

impl LostView {
    pub fn of(circuit: &Circuit, along: &[TrackPoint], lost: &Lost) -> Option<Self> {
        let point = |node: NodeId| along.iter().find(|p| p.node == node.0);
        let gates = lost.between.iter().copied();
        let gates = gates.filter(|e| matches!(circuit.element(*e).kind, ElementKind::Contact(_)));
        Some(Self {
            before: point(lost.before.node)?.point.clone(),
            after: point(lost.after.node)?.point.clone(),
            volts: lost.volts,
            between: lost.between.iter().map(|e| circuit.element(*e).id.clone()).collect(),
            gates: gates
                .map(|e| LostGate { name: full_name(circuit, e), gate: GateView::of(circuit, e) })
                .collect(),
        })
    }
}

#[derive(Serialize, ToSchema)]
pub struct LadderView {
    pub circuit: String,
    /// What a sound machine does in this condition.
    pub should: Outcome,
    /// What was last heard in this condition.
    pub heard: Option<Heard>,
    /// The kill lead that the upright on the left stands for, and the metal on the right.
    pub lead: String,
    pub ground: String,
    pub rungs: Vec<RungView>,
    /// The module fires while its lead is grounded: a complete rung lets it run.
    pub fires_grounded: bool,
    /// Every terminal that lies on it, for whoever looks for readings.
    pub terminals: Vec<String>,
}

/// One way to ground.
#[derive(Serialize, ToSchema)]
pub struct RungView {
    /// It is complete: the engine is stopped, or fires if its module fires grounded.
    pub lit: bool,
    pub elements: Vec<ElementView>,
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
    /// How the metal at its near end stands in this condition, every part sound.
    pub stands: Stands,
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
    Diode,
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

impl GateView {
    pub fn of(circuit: &Circuit, id: ElementId) -> Option<Self> {
        let ElementKind::Contact(c) = circuit.element(id).kind else { return None };
        let entry = circuit.contact_entry(&circuit.contacts[c])?;
        let gate = entry.gate.as_ref()?;
        let control = circuit.controls.iter().find(|c| c.id == gate.control)?;
        let position = control.positions.iter().find(|p| p.id == gate.position)?;
        Some(Self {
            control: control.id.clone(),
            control_name: control.name.clone(),
            position_name: position.name.clone(),
        })
    }
}

#[derive(Serialize, ToSchema)]
pub struct TrackPoint {
    pub node: u16,
    pub point: PointView,
    /// How the metal here stands in this condition, every part sound.
    pub stands: Stands,
    /// Beside a gate, a fuse or the load: worth a label where space is short.
    pub major: bool,
    /// Volts to the battery's negative post if the circuit is sound to here.
    pub expected: Option<f64>,
    /// What a healthy machine reads here; nothing where the metal floats.
    pub healthy: Option<f64>,
    pub found: Option<FoundVolts>,
}

/// The last volts read at a point in this condition.
#[derive(Clone, Copy, Serialize, ToSchema)]
pub struct FoundVolts {
    pub volts: f64,
    pub sequence: u64,
    /// What a circuit sound to this point shows.
    pub sound: bool,
    /// How the metal there was found to stand.
    pub stands: Stands,
}

impl From<Found> for FoundVolts {
    fn from(f: Found) -> Self {
        Self { volts: f.volts, sequence: f.sequence, sound: f.sound, stands: f.stands }
    }
}

/// What is known beside the circuit itself.
#[derive(Default)]
pub struct Marks {
    pub suspicion: BTreeMap<ElementId, f64>,
    pub proved: BTreeMap<ElementId, Grade>,
}

/// Draws elements as a solved machine has them.
pub struct Draw<'a> {
    pub circuit: &'a Circuit,
    pub solver: &'a Solver<'a>,
    pub stands: &'a [Stands],
    pub marks: Marks,
}

impl Draw<'_> {
    /// A whole track, load included.
    pub fn track(&self, track: &Track) -> Vec<PieceView> {
        let mut pieces = self.pieces(&track.feed);
        let (near, far) = track.load_ends(self.circuit);
        pieces.push(PieceView::Element(self.element(track.load, near, far)));
        pieces.extend(self.pieces(&track.back));
        pieces
    }

    pub fn ladder(
        &self,
        name: &str,
        ladder: &Ladder,
        (should, heard): (Outcome, Option<Heard>),
    ) -> LadderView {
        let conducts = |e: ElementId| {
            let diode = matches!(self.circuit.element(e).kind, ElementKind::Diode { .. });
            diode || self.solver.conducts(0, e)
        };
        let rungs = ladder.rungs.iter().map(|rung| {
            let nodes = rung.path.nodes.windows(2);
            let elements = rung.path.elements.iter().zip(nodes);
            RungView {
                lit: rung.complete(&conducts),
                elements: elements.map(|(id, n)| self.element(*id, n[0], n[1])).collect(),
            }
        });
        let nodes: Vec<NodeId> =
            ladder.rungs.iter().flat_map(|r| r.path.nodes.iter().copied()).collect();
        let on = self.circuit.terminals().filter(|(_, node)| nodes.contains(node));
        LadderView {
            circuit: name.to_owned(),
            should,
            heard,
            lead: self.circuit.node_name(ladder.from).to_owned(),
            ground: self.circuit.node_name(ladder.to).to_owned(),
            rungs: rungs.collect(),
            fires_grounded: self.fires_grounded(ladder.from),
            terminals: on.map(|(terminal, _)| terminal.to_owned()).collect(),
        }
    }

    fn fires_grounded(&self, lead: NodeId) -> bool {
        self.circuit.elements().any(|(_, e)| {
            let fires = e.part.and_then(|p| self.circuit.part(p).fires);
            e.kind == ElementKind::KillPort && e.a == lead && fires == Some(Fires::Grounded)
        })
    }

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
        ElementView {
            id: e.id.clone(),
            role: match e.kind {
                ElementKind::Contact(_) => Role::Gate,
                ElementKind::Joint => Role::Joint,
                ElementKind::Fuse { .. } => Role::Fuse,
                ElementKind::Ground => Role::Ground,
                ElementKind::Wire => Role::Wire,
                ElementKind::Diode { .. } => Role::Diode,
                _ => Role::Load,
            },
            name: full_name(self.circuit, id),
            from: from.0,
            to: to.0,
            made: self.solver.conducts(0, id),
            stands: self.stands[from.index()],
            gate: GateView::of(self.circuit, id),
            suspicion: self.marks.suspicion.get(&id).copied().unwrap_or(0.0),
            proof: self.marks.proved.get(&id).copied(),
        }
    }
}

/// The test points along a track, and which of them are worth a label where space is short.
pub fn points_along(circuit: &Circuit, track: &Track) -> Vec<(NodeId, PointView, bool)> {
    let test_points = &circuit.document().test_points;
    let at = |node: NodeId| {
        test_points
            .iter()
            .position(|p| p.unplugged.is_none() && circuit.terminal(&p.terminal) == Ok(node))
    };
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
    let major = |node: NodeId| {
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
    let along = track.along().into_iter().filter_map(|n| Some((n, at(n)?)));
    along.map(|(node, index)| (node, PointView::of(circuit, index), major(node))).collect()
}
