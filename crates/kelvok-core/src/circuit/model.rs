//! The compiled machine: numbered nodes, elements, and what moves the contacts among them.

use super::telltales::Telltales;
use super::{Change, Condition, Program};
use crate::machine::{
    Control, Engine, Expression, MachineDocument, Normally, Part, PartKind, Term, Timing,
};
use std::collections::{BTreeMap, HashMap};
use std::sync::Arc;

/// A node: one piece of metal. Node 0 is the reference body, the zero of all voltages.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct NodeId(pub u16);

/// An element: one branch between two nodes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct ElementId(pub u16);

/// A plunger with its linkage: what presses the contacts of one interlock switch.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct PlungerId(pub u16);

impl NodeId {
    pub const REFERENCE: Self = Self(0);
    pub fn index(self) -> usize {
        usize::from(self.0)
    }
}
impl ElementId {
    pub fn index(self) -> usize {
        usize::from(self.0)
    }
}
impl PlungerId {
    pub fn index(self) -> usize {
        usize::from(self.0)
    }
}

#[derive(Clone, Copy, Debug, PartialEq)]
pub enum ElementKind {
    Wire,
    /// Blade and socket in a connector; a resistor or an ammeter in line.
    Joint,
    /// A lug bolted to a body.
    Ground,
    Fuse {
        rating: Option<f64>,
    },
    /// Index into [`Circuit::contacts`].
    Contact(usize),
    /// Index into [`Circuit::coils`].
    Coil(usize),
    Load,
    /// The kill port of an ignition module, to its own body.
    KillPort,
    /// A battery: EMF in volts behind the element's ohms, positive at `b`. Where the machine can
    /// charge it, `charge_ohms` stand in its way when current runs into it.
    Source {
        emf: f64,
        charge_ohms: Option<f64>,
    },
    /// A stator winding: alternating volts (rms) behind the element's ohms.
    Winding {
        volts: f64,
    },
    /// Conducts from `a` to `b` above its threshold in volts. With a threshold below zero it is a
    /// source that takes no current back: a regulator's output.
    Diode {
        volts: f64,
    },
}

impl ElementKind {
    /// Volts of its own behind its ohms, diodes apart.
    pub fn emf(self) -> Option<f64> {
        match self {
            Self::Source { emf, .. } | Self::Winding { volts: emf } => Some(emf),
            _ => None,
        }
    }
}

#[derive(Clone, Debug)]
pub struct Element {
    /// Its name in the fault notation: `brake.start`, `w7`, `main-fuse`, `brake-plug.A`.
    pub id: String,
    pub a: NodeId,
    pub b: NodeId,
    /// Healthy ohms; of a contact, when made.
    pub ohms: f64,
    /// Tolerance of the ohms, as a fraction.
    pub tolerance: f64,
    pub kind: ElementKind,
    /// Index into the document's parts; wires have none.
    pub part: Option<usize>,
    /// Index into the document's wires.
    pub wire: Option<usize>,
    /// The engine states in which it is there at all, as a mask of [`Engine`](super::Engine).
    pub live: u32,
}

/// Every engine state.
pub(super) const ALWAYS: u32 = u32::MAX;

impl Element {
    pub(crate) fn is_diode(&self) -> bool {
        matches!(self.kind, ElementKind::Diode { .. })
    }

    /// Whether its conductance follows controls, coils or the current itself.
    pub(super) fn moves(&self) -> bool {
        use ElementKind::*;
        matches!(self.kind, Contact(_) | Diode { .. } | Fuse { rating: Some(_) })
    }

    /// Whether it only carries current, rather than using or giving it.
    pub fn conducts(&self) -> bool {
        use ElementKind::*;
        matches!(self.kind, Wire | Joint | Ground | Fuse { .. } | Contact(_) | Diode { .. })
    }
}

/// A term with its names resolved: bit `p` of the mask stands for position `p`.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Resolved {
    Control {
        index: usize,
        mask: u32,
    },
    Engine {
        mask: u32,
    },
    /// A coil, or an input of a module, pulled in or not.
    Coil {
        index: usize,
        pulled: bool,
    },
}

/// What moves a contact.
#[derive(Clone, Debug)]
pub enum Actuator {
    /// A key switch: made while the expression holds.
    Control(Expression<Resolved>),
    /// Pressed or released by a plunger.
    Plunger { plunger: PlungerId, normally: Normally },
    /// Made while coils of its own part stand like this.
    Coils(Expression<Resolved>),
}

#[derive(Clone, Debug)]
pub struct Contact {
    pub element: ElementId,
    pub actuator: Actuator,
    /// Index of the contact in its part; one inside a regulator or generator has none.
    pub index: Option<usize>,
    pub timing: Option<Timing>,
}

#[derive(Clone, Debug)]
pub struct Plunger {
    pub part: usize,
    pub pressed_when: Expression<Resolved>,
}

#[derive(Clone, Debug)]
pub struct Coil {
    pub element: ElementId,
    /// Volts (current times actual winding ohms) at or above which it pulls in.
    pub pulls_in: f64,
    /// Volts at or under which it drops out.
    pub drops_out: f64,
    /// If it moves nothing by itself: the coil it lends its volts to, and what one of its volts
    /// counts there.
    pub assists: Option<(usize, f64)>,
}

/// A code that a module's lamp blinks while its inputs stand like this.
#[derive(Clone, Debug)]
pub struct ModuleCode {
    /// Index into the document's parts, and into that part's codes.
    pub part: usize,
    pub code: usize,
    pub when: Expression<Resolved>,
}

/// A name that the machine does not have.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("this machine has no {what} \"{name}\"")]
pub struct UnknownName {
    pub what: &'static str,
    pub name: String,
}

/// A compiled machine. Immutable; changes live in a [`super::Setting`].
#[derive(Clone, Debug)]
pub struct Circuit {
    pub controls: Vec<Control>,
    pub elements: Vec<Element>,
    pub contacts: Vec<Contact>,
    pub coils: Vec<Coil>,
    pub plungers: Vec<Plunger>,
    pub codes: Vec<ModuleCode>,
    /// Changes that this machine came with; part of every setting, unless asked for as built.
    pub as_found: Vec<Change>,
    pub(super) document: MachineDocument,
    pub(super) impossible: Vec<Expression<Resolved>>,
    pub(super) terminals: BTreeMap<String, NodeId>,
    pub(super) by_id: HashMap<String, ElementId>,
    pub(super) node_names: Vec<String>,
    pub(super) telltales: Telltales,
    pub(super) program: Arc<Program>,
    /// For every node the elements at it, the node at their other end, and whether that is `b`.
    pub(super) around: Vec<Vec<(ElementId, NodeId, bool)>>,
}

impl Circuit {
    pub fn document(&self) -> &MachineDocument {
        &self.document
    }

    /// The elements at a node, the node at their other end, and whether that is their `b`.
    pub fn around(&self, node: NodeId) -> &[(ElementId, NodeId, bool)] {
        &self.around[node.index()]
    }

    /// Number of nodes, the reference included.
    pub fn node_count(&self) -> usize {
        self.node_names.len()
    }

    /// The elimination order for this circuit's own elements.
    pub fn program(&self) -> &Program {
        &self.program
    }

    /// The elimination order for settings with these changes; `None` where the circuit's own will
    /// do, since they join nothing.
    pub fn program_for(&self, changes: &[Change]) -> Option<Arc<Program>> {
        let pairs: Vec<_> = changes.iter().flat_map(|c| c.joins(self)).collect();
        (!pairs.is_empty()).then(|| Arc::new(self.program_with(&pairs)))
    }

    /// An elimination order with something between these pairs of nodes besides.
    pub(super) fn program_with(&self, pairs: &[(NodeId, NodeId)]) -> Program {
        let found = self.found_pairs();
        let edges = self.elements.iter().map(|e| (e.a, e.b));
        let edges: Vec<_> = edges.chain(found).chain(pairs.iter().copied()).collect();
        let mut moves: Vec<_> = self.elements.iter().map(Element::moves).collect();
        moves.resize(edges.len(), false);
        Program::build(self.node_count(), &edges, &moves)
    }

    /// The pairs of nodes that the changes it came with join.
    pub(super) fn found_pairs(&self) -> Vec<(NodeId, NodeId)> {
        self.as_found.iter().flat_map(|c| c.joins(self)).collect()
    }

    pub fn element(&self, id: ElementId) -> &Element {
        &self.elements[id.index()]
    }

    /// Elements with their ids.
    pub fn elements(&self) -> impl Iterator<Item = (ElementId, &Element)> {
        self.elements.iter().enumerate().map(|(i, e)| (ElementId(i as u16), e))
    }

    /// The node of a test point, by index into the document's; none where there is no such point.
    pub fn test_point(&self, index: usize) -> Option<NodeId> {
        self.terminal(&self.document().test_points.get(index)?.terminal).ok()
    }

    /// The node a terminal `part.terminal` lies on.
    ///
    /// # Errors
    /// Names the terminal if the machine has none of that name.
    pub fn terminal(&self, address: &str) -> Result<NodeId, UnknownName> {
        self.terminals
            .get(address)
            .copied()
            .ok_or_else(|| UnknownName { what: "terminal", name: address.to_owned() })
    }

    /// Whether an element is a module's own, on which no way leads through it.
    pub(crate) fn inside_module(&self, id: ElementId) -> bool {
        let part = self.element(id).part;
        part.is_some_and(|p| self.part(p).kind == PartKind::IgnitionModule)
    }

    /// The element of this notation name.
    ///
    /// # Errors
    /// Names the element if the machine has none of that name.
    pub fn element_named(&self, id: &str) -> Result<ElementId, UnknownName> {
        self.by_id
            .get(id)
            .copied()
            .ok_or_else(|| UnknownName { what: "element", name: id.to_owned() })
    }

    /// Terminals with their nodes, by address.
    pub fn terminals(&self) -> impl Iterator<Item = (&str, NodeId)> {
        self.terminals.iter().map(|(name, node)| (name.as_str(), *node))
    }

    /// A terminal that lies on the node, for people.
    pub fn node_name(&self, node: NodeId) -> &str {
        &self.node_names[node.index()]
    }

    pub fn part(&self, index: usize) -> &Part {
        &self.document.parts[index]
    }

    /// The index of the part of this id.
    pub fn part_named(&self, id: &str) -> Option<usize> {
        self.document.parts.iter().position(|p| p.id == id)
    }

    /// The joints of a connector.
    pub fn joints(&self, part: usize) -> impl Iterator<Item = ElementId> {
        self.elements()
            .filter(move |(_, e)| e.part == Some(part) && e.kind == ElementKind::Joint)
            .map(|(id, _)| id)
    }

    /// The contacts that a plunger moves.
    pub fn contacts_of(&self, plunger: PlungerId) -> impl Iterator<Item = ElementId> {
        let own = move |c: &&Contact| matches!(c.actuator, Actuator::Plunger { plunger: p, .. } if p == plunger);
        self.contacts.iter().filter(own).map(|c| c.element)
    }

    /// Whether the controls can stand like this.
    pub fn can_occur(&self, condition: &Condition) -> bool {
        !self.impossible.iter().any(|e| holds(e, condition))
    }

    /// Whether the linkage presses the plunger in this condition.
    pub fn pressed(&self, plunger: PlungerId, condition: &Condition) -> bool {
        holds(&self.plungers[plunger.index()].pressed_when, condition)
    }

    /// Whether a contact is made, coils released and every part sound.
    pub fn made(&self, contact: &Contact, condition: &Condition) -> bool {
        match &contact.actuator {
            Actuator::Control(expression) => holds(expression, condition),
            Actuator::Plunger { plunger, normally } => {
                let lapsed = contact.timing.is_some_and(|t| t.made_for > 0.0);
                !lapsed && self.pressed(*plunger, condition) == (*normally == Normally::Open)
            }
            Actuator::Coils(_) => contact.made_by_coils(0),
        }
    }

    /// The document's entry for a contact, if it has one.
    pub fn contact_entry(&self, contact: &Contact) -> Option<&crate::machine::Contact> {
        let part = self.element(contact.element).part?;
        self.document.parts[part].contacts.get(contact.index?)
    }

    /// Parses an expression over controls and the engine.
    ///
    /// # Errors
    /// The text does not read, or names what the machine does not have.
    pub fn expression(&self, text: &str) -> Result<Expression<Resolved>, String> {
        let parsed = Expression::parse(text).map_err(|e| e.to_string())?;
        parsed.resolve(&|term| resolve(&self.controls, term))
    }

    /// Lamps and glow plugs, in document order.
    pub fn lamps(&self) -> &[ElementId] {
        &self.telltales.lamps
    }

    /// When an engine that turns can run, wiring apart; if anything has a say in that.
    pub(crate) fn runs_when(&self) -> Option<&Expression<Resolved>> {
        self.telltales.runs_when.as_ref()
    }

    /// When a lever couples the blades, if one does.
    pub(crate) fn blades_when(&self) -> Option<&Expression<Resolved>> {
        self.telltales.blades_when.as_ref()
    }

    /// Whether an expression over controls and the engine holds in a condition.
    pub fn holds(&self, expression: &Expression<Resolved>, condition: &Condition) -> bool {
        holds(expression, condition)
    }
}

impl Contact {
    /// Whether coils that stand like this make it; bit `c` stands for coil `c`. One that breaks
    /// again by itself has done so by the time things stand still.
    pub(super) fn made_by_coils(&self, pulled: u64) -> bool {
        let lapsed = self.timing.is_some_and(|t| t.made_for > 0.0);
        match &self.actuator {
            Actuator::Coils(expression) => !lapsed && coils_make(expression, pulled),
            _ => false,
        }
    }
}

pub(super) fn coils_make(expression: &Expression<Resolved>, now: u64) -> bool {
    expression.eval(&|term: &Resolved| match *term {
        Resolved::Coil { index, pulled } => (now >> index & 1 == 1) == pulled,
        _ => false,
    })
}

/// Resolves a term over controls and the engine.
pub(super) fn resolve(controls: &[Control], term: &Term) -> Result<Resolved, String> {
    if term.control == "engine" {
        let mut mask = 0;
        for name in &term.positions {
            mask |= match name.as_str() {
                // Whoever says running means hot or not.
                "running" => Engine::mask(&[Engine::Running, Engine::RunningHot]),
                _ => {
                    let named = Engine::ALL.iter().find(|e| e.name() == name);
                    1 << *named.ok_or_else(|| format!("the engine is never \"{name}\""))? as u32
                }
            };
        }
        return Ok(Resolved::Engine { mask });
    }
    let index = controls.iter().position(|c| c.id == term.control);
    let index = index.ok_or_else(|| format!("there is no control \"{}\"", term.control))?;
    let mut mask = 0;
    for name in &term.positions {
        let position = controls[index].positions.iter().position(|p| p.id == *name);
        mask |= 1
            << position.ok_or_else(|| {
                format!("the control \"{}\" has no position \"{name}\"", term.control)
            })?;
    }
    Ok(Resolved::Control { index, mask })
}

fn holds(expression: &Expression<Resolved>, condition: &Condition) -> bool {
    expression.eval(&|term: &Resolved| match *term {
        Resolved::Control { index, mask } => mask >> condition.positions[index] & 1 == 1,
        Resolved::Engine { mask } => mask >> condition.engine as u32 & 1 == 1,
        Resolved::Coil { .. } => false,
    })
}
