//! The compiled machine: numbered nodes, elements, and what moves the contacts among them.

use super::change::Change;
use super::condition::Condition;
use super::contact::{Actuator, Coil, Contact, ModuleCode, Plunger};
use super::element::{ALWAYS, Element, ElementKind};
use super::ids::{ElementId, NodeId, PlungerId};
use super::program::Program;
use super::resolved::{Resolved, holds, resolve};
use super::telltales::Telltales;
use super::wiring::Wiring;
use crate::machine::{Control, Expression, MachineDocument, Normally, Part, PartKind};
use std::collections::{BTreeMap, HashMap};
use std::sync::Arc;

/// A name that the machine does not have.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("this machine has no {what} \"{name}\"")]
#[allow(missing_docs)]
pub struct UnknownName {
    pub what: &'static str,
    pub name: String,
}

/// A compiled machine. Immutable; changes live in a [`Setting`].
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Circuit {
    pub controls: Vec<Control>,
    pub elements: Vec<Element>,
    pub contacts: Vec<Contact>,
    pub coils: Vec<Coil>,
    pub plungers: Vec<Plunger>,
    pub codes: Vec<ModuleCode>,
    /// Changes that this machine came with; part of every setting, unless asked for as built.
    pub as_found: Vec<Change>,
    /// The ways in which it may be wired; as drawn first.
    pub wirings: Vec<Wiring>,
    pub(crate) document: MachineDocument,
    pub(crate) impossible: Vec<Expression<Resolved>>,
    pub(crate) terminals: BTreeMap<String, NodeId>,
    pub(crate) by_id: HashMap<String, ElementId>,
    pub(crate) node_names: Vec<String>,
    pub(crate) telltales: Telltales,
    pub(crate) program: Arc<Program>,
    /// For every node the elements at it, the node at their other end, and whether that is `b`.
    pub(crate) around: Vec<Vec<(ElementId, NodeId, bool)>>,
}

impl Circuit {
    /// The document it was compiled from.
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
    pub(crate) fn program_with(&self, pairs: &[(NodeId, NodeId)]) -> Program {
        let found = self.found_pairs();
        let edges = self.elements.iter().map(|e| (e.a, e.b));
        let edges: Vec<_> = edges.chain(found).chain(pairs.iter().copied()).collect();
        let mut moves: Vec<_> = self.elements.iter().map(Element::moves).collect();
        moves.resize(edges.len(), false);
        Program::build(self.node_count(), &edges, &moves)
    }

    /// The circuit with more wires, behind all its own elements: nodes and elements keep their ids.
    pub fn with_wires(&self, wires: &[((NodeId, NodeId), f64)]) -> Self {
        let mut circuit = self.clone();
        for ((a, b), ohms) in wires.iter().copied() {
            let id = ElementId(circuit.elements.len() as u16);
            circuit.elements.push(Element {
                id: format!("jumper {}", id.0),
                a,
                b,
                ohms,
                tolerance: 0.2,
                kind: ElementKind::Wire,
                part: None,
                wire: None,
                live: ALWAYS,
            });
            circuit.around[a.index()].push((id, b, true));
            circuit.around[b.index()].push((id, a, false));
        }
        circuit.program = Arc::new(circuit.program_with(&[]));
        circuit
    }

    /// The pairs of nodes that the changes it came with join.
    pub(crate) fn found_pairs(&self) -> Vec<(NodeId, NodeId)> {
        self.as_found.iter().flat_map(|c| c.joins(self)).collect()
    }

    /// An element by its id.
    pub fn element(&self, id: ElementId) -> &Element {
        &self.elements[id.index()]
    }

    /// Elements with their ids.
    pub fn elements(&self) -> impl Iterator<Item = (ElementId, &Element)> {
        self.elements.iter().enumerate().map(|(i, e)| (ElementId(i as u16), e))
    }

    /// Fuses and breakers.
    pub fn fuses(&self) -> impl Iterator<Item = ElementId> + '_ {
        let fuse = |kind| matches!(kind, ElementKind::Fuse { .. });
        self.elements().filter(move |(_, e)| fuse(e.kind)).map(|(id, _)| id)
    }

    /// The battery, if there is one.
    pub fn battery(&self) -> Option<ElementId> {
        self.elements()
            .find(|(_, e)| matches!(e.kind, ElementKind::Source { .. }))
            .map(|(id, _)| id)
    }

    /// The battery's posts, negative and positive; none where there is no battery.
    pub fn posts(&self) -> Option<(NodeId, NodeId)> {
        self.battery().map(|id| self.element(id)).map(|e| (e.a, e.b))
    }

    /// The test point that black is on where volts are read: the battery's negative post or, where
    /// there is no point on it, the reference.
    pub fn usual_black(&self) -> Option<usize> {
        let points = &self.document().test_points;
        let at = |node| {
            let there = |i: &usize| self.test_point(*i) == Some(node);
            (0..points.len()).filter(|i| points[*i].unplugged.is_none()).find(there)
        };
        self.posts().and_then(|(negative, _)| at(negative)).or_else(|| at(NodeId::REFERENCE))
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

    /// A part by its index into the document's.
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

impl Change {
    /// The two nodes between which it changes a conductance, where that is all it does.
    pub(crate) fn only_between(self, circuit: &Circuit) -> Option<(NodeId, NodeId)> {
        let element = match self {
            Self::ShortToGround(node, _) | Self::GroundWhenHot(node, _) => {
                return Some((node, NodeId::REFERENCE));
            }
            Self::Join { ends, .. } => return Some(ends),
            Self::Open(e)
            | Self::AtTimes(e)
            | Self::Made(e)
            | Self::Ohms(e, _)
            | Self::OtherKind(e)
            | Self::ShortedTurns(e, _)
            | Self::NoDelay(e)
            | Self::Rating(e, _)
            | Self::Ails(e, _) => circuit.element(e),
            Self::Emf(..)
            | Self::Drained(..)
            | Self::Apart(_)
            | Self::Pressed(..)
            | Self::Swapped(..)
            | Self::Inverted(_) => return None,
        };
        let linear = !matches!(
            element.kind,
            ElementKind::Source { .. } | ElementKind::Winding { .. } | ElementKind::Diode { .. }
        );
        linear.then_some((element.a, element.b))
    }

    /// The pairs of nodes that it joins, in the order in which a setting counts them.
    pub fn joins(&self, circuit: &Circuit) -> Vec<(NodeId, NodeId)> {
        match *self {
            Self::Join { ends, .. } => vec![ends],
            Self::Swapped(one, other) => {
                let (one, other) = (circuit.element(one), circuit.element(other));
                vec![(one.a, other.b), (other.a, one.b)]
            }
            _ => Vec::new(),
        }
    }
}
