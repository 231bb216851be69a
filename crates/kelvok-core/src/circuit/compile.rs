//! From a machine document to numbered nodes and elements.

use super::{Condition, Engine, Program};
use crate::machine::{
    self, Control, Expression, Machine, MachineDocument, Normally, Part, PartKind, Term,
};
use std::collections::{BTreeMap, HashMap};

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
    /// Blade and socket in a connector.
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
    /// A battery: EMF in volts behind the element's ohms, positive at `b`.
    Source {
        emf: f64,
    },
    /// Conducts from `a` to `b` above its threshold in volts.
    Diode {
        volts: f64,
    },
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
}

impl Element {
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

/// A control term with its names resolved: bit `p` of the mask stands for position `p`.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Resolved {
    Control { index: usize, mask: u32 },
    Engine { mask: u32 },
}

/// What moves a contact.
#[derive(Clone, Debug)]
pub enum Actuator {
    /// A key switch: made while the expression holds.
    Control(Expression<Resolved>),
    /// Pressed or released by a plunger.
    Plunger { plunger: PlungerId, normally: Normally },
    /// Pulled by a coil, by index.
    Coil { coil: usize, normally: Normally },
}

#[derive(Clone, Debug)]
pub struct Contact {
    pub element: ElementId,
    pub actuator: Actuator,
    /// Index of the contact in its part.
    pub index: usize,
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
    document: MachineDocument,
    impossible: Vec<Expression<Resolved>>,
    terminals: BTreeMap<String, NodeId>,
    by_id: HashMap<String, ElementId>,
    node_names: Vec<String>,
    program: Program,
}

impl Circuit {
    /// Compiles a validated machine.
    pub fn compile(machine: &Machine) -> Self {
        Compiler::new(machine.document()).run()
    }

    pub fn document(&self) -> &MachineDocument {
        &self.document
    }

    /// Number of nodes, the reference included.
    pub fn node_count(&self) -> usize {
        self.node_names.len()
    }

    /// The elimination order for this circuit's own elements.
    pub fn program(&self) -> &Program {
        &self.program
    }

    pub fn element(&self, id: ElementId) -> &Element {
        &self.elements[id.index()]
    }

    /// Elements with their ids.
    pub fn elements(&self) -> impl Iterator<Item = (ElementId, &Element)> {
        self.elements.iter().enumerate().map(|(i, e)| (ElementId(i as u16), e))
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
                self.pressed(*plunger, condition) == (*normally == Normally::Open)
            }
            Actuator::Coil { normally, .. } => *normally == Normally::Closed,
        }
    }
}

fn holds(expression: &Expression<Resolved>, condition: &Condition) -> bool {
    expression.eval(&|term: &Resolved| match *term {
        Resolved::Control { index, mask } => mask >> condition.positions[index] & 1 == 1,
        Resolved::Engine { mask } => mask >> condition.engine as u32 & 1 == 1,
    })
}

struct Compiler<'a> {
    document: &'a MachineDocument,
    /// Union-find over terminal addresses.
    parent: Vec<usize>,
    addresses: HashMap<String, usize>,
    elements: Vec<Element>,
    contacts: Vec<Contact>,
    coils: Vec<Coil>,
    plungers: Vec<Plunger>,
    node_of: Vec<u16>,
}

impl<'a> Compiler<'a> {
    fn new(document: &'a MachineDocument) -> Self {
        Self {
            document,
            parent: Vec::new(),
            addresses: HashMap::new(),
            elements: Vec::new(),
            contacts: Vec::new(),
            coils: Vec::new(),
            plungers: Vec::new(),
            node_of: Vec::new(),
        }
    }

    fn run(mut self) -> Circuit {
        let names = self.number_nodes();
        for (i, part) in self.document.parts.iter().enumerate() {
            self.part(i, part);
        }
        for (i, wire) in self.document.wires.iter().enumerate() {
            let (a, b) = (self.node(&wire.from), self.node(&wire.to));
            self.push(Element {
                id: wire.id.clone(),
                a,
                b,
                ohms: wire_ohms(wire),
                tolerance: 0.2,
                kind: ElementKind::Wire,
                part: None,
                wire: Some(i),
            });
        }
        let edges: Vec<_> = self.elements.iter().map(|e| (e.a, e.b)).collect();
        let moves: Vec<_> = self.elements.iter().map(Element::moves).collect();
        let by_id = self
            .elements
            .iter()
            .enumerate()
            .map(|(i, e)| (e.id.clone(), ElementId(i as u16)))
            .collect();
        let terminals = self
            .addresses
            .iter()
            .map(|(address, i)| (address.clone(), NodeId(self.node_of[*i])))
            .collect();
        let impossible =
            self.document.impossible.iter().map(|text| self.expression(text)).collect();
        Circuit {
            controls: self.document.controls.clone(),
            program: Program::build(names.len(), &edges, &moves),
            elements: self.elements,
            contacts: self.contacts,
            coils: self.coils,
            plungers: self.plungers,
            document: self.document.clone(),
            impossible,
            terminals,
            by_id,
            node_names: names,
        }
    }

    fn number_nodes(&mut self) -> Vec<String> {
        let mut order = Vec::new();
        for part in &self.document.parts {
            for terminal in part.all_terminals() {
                let address = format!("{}.{terminal}", part.id);
                let next = self.parent.len();
                self.parent.push(next);
                self.addresses.insert(address.clone(), next);
                order.push(address);
            }
            if part.kind == PartKind::Body {
                let first = format!("{}.{}", part.id, part.terminals[0]);
                for terminal in &part.terminals[1..] {
                    self.join(&first, &format!("{}.{terminal}", part.id));
                }
            }
        }
        for splice in &self.document.splices {
            for terminal in &splice.terminals[1..] {
                self.join(&splice.terminals[0], terminal);
            }
        }
        let body = self.document.parts.iter().find(|p| p.id == self.document.reference);
        let reference = body.map_or(0, |b| {
            let i = self.addresses[&format!("{}.{}", b.id, b.terminals[0])];
            self.find(i)
        });
        let mut names = vec![order[reference].clone()];
        let mut root_node = HashMap::from([(reference, 0u16)]);
        for (i, address) in order.iter().enumerate() {
            let root = self.find(i);
            let node = *root_node.entry(root).or_insert_with(|| {
                names.push(address.clone());
                (names.len() - 1) as u16
            });
            self.node_of.push(node);
        }
        names
    }

    fn find(&mut self, mut i: usize) -> usize {
        while self.parent[i] != i {
            self.parent[i] = self.parent[self.parent[i]];
            i = self.parent[i];
        }
        i
    }

    fn join(&mut self, a: &str, b: &str) {
        let (a, b) = (self.addresses[a], self.addresses[b]);
        let (a, b) = (self.find(a), self.find(b));
        self.parent[b] = a;
    }

    fn node(&self, address: &str) -> NodeId {
        NodeId(self.node_of[self.addresses[address]])
    }

    fn body(&self, id: Option<&String>) -> NodeId {
        let body = id.and_then(|id| self.document.parts.iter().find(|p| p.id == *id));
        body.map_or(NodeId::REFERENCE, |b| self.node(&format!("{}.{}", b.id, b.terminals[0])))
    }

    fn push(&mut self, element: Element) -> ElementId {
        self.elements.push(element);
        ElementId((self.elements.len() - 1) as u16)
    }

    fn part(&mut self, index: usize, part: &Part) {
        use PartKind::*;
        let at = |t: &str| format!("{}.{t}", part.id);
        let make = |id: String, a, b, ohms, tolerance, kind| Element {
            id,
            a,
            b,
            ohms,
            tolerance: part.tolerance.unwrap_or(tolerance),
            kind,
            part: Some(index),
            wire: None,
        };
        let two_terminals = |this: &mut Self, ohms: f64, tolerance, kind| {
            let a = this.node(&at(&part.terminals[0]));
            let b = this.node(&at(&part.terminals[1]));
            let ohms = part.ohms.unwrap_or(ohms);
            this.push(make(part.id.clone(), a, b, ohms, tolerance, kind));
        };
        match part.kind {
            // A battery's terminals are written positive first.
            Battery => {
                let emf = part.volts.unwrap_or(machine::BATTERY_VOLTS);
                let a = self.node(&at(&part.terminals[1]));
                let b = self.node(&at(&part.terminals[0]));
                let ohms = part.ohms.unwrap_or(machine::BATTERY_OHMS);
                self.push(make(part.id.clone(), a, b, ohms, 0.3, ElementKind::Source { emf }));
            }
            Fuse => {
                let kind = ElementKind::Fuse { rating: part.amps };
                two_terminals(self, machine::FUSE_OHMS, 0.3, kind);
            }
            Diode => {
                let volts = part.volts.unwrap_or(machine::DIODE_VOLTS);
                two_terminals(self, machine::DIODE_OHMS, 0.3, ElementKind::Diode { volts });
            }
            Starter | Clutch | FuelSolenoid | Lamp | HourMeter | Resistance => {
                two_terminals(self, 1.0, 0.1, ElementKind::Load);
            }
            IgnitionModule => {
                let (a, b) = (self.node(&at(&part.terminals[0])), self.body(part.body.as_ref()));
                let ohms = part.ohms.unwrap_or(1.0);
                self.push(make(part.id.clone(), a, b, ohms, 0.3, ElementKind::KillPort));
            }
            Ground => {
                let (a, b) = (self.node(&at(&part.terminals[0])), self.body(part.body.as_ref()));
                let ohms = part.ohms.unwrap_or(machine::GROUND_OHMS);
                self.push(make(part.id.clone(), a, b, ohms, 0.5, ElementKind::Ground));
            }
            Connector => {
                for (cavity, mate) in &part.mates {
                    let (a, b) = (self.node(&at(cavity)), self.node(mate));
                    let ohms = part.ohms.unwrap_or(machine::JOINT_OHMS);
                    self.push(make(at(cavity), a, b, ohms, 0.5, ElementKind::Joint));
                }
            }
            KeySwitch | HandSwitch | InterlockSwitch | Solenoid | Relay | Body | Socket => {}
        }
        self.moving(index, part);
    }

    /// Coils, plunger and contacts.
    fn moving(&mut self, index: usize, part: &Part) {
        let first_coil = self.coils.len();
        let at = |t: &str| format!("{}.{t}", part.id);
        let between =
            |this: &Self, pair: &[String; 2]| (this.node(&at(&pair[0])), this.node(&at(&pair[1])));
        for coil in &part.coils {
            let (a, b) = between(self, &coil.between);
            let element = self.push(Element {
                id: at(&coil.id),
                a,
                b,
                ohms: coil.ohms,
                tolerance: part.tolerance.unwrap_or(0.1),
                kind: ElementKind::Coil(self.coils.len()),
                part: Some(index),
                wire: None,
            });
            let (pulls_in, drops_out) = (coil.pulls_in, coil.drops_out);
            self.coils.push(Coil { element, pulls_in, drops_out });
        }
        let plunger = part.plunger.as_ref().map(|p| {
            let pressed_when = self.expression(&p.pressed_when);
            self.plungers.push(Plunger { part: index, pressed_when });
            PlungerId((self.plungers.len() - 1) as u16)
        });
        for (i, contact) in part.contacts.iter().enumerate() {
            let normally = contact.normally.unwrap_or(Normally::Open);
            let actuator = match (&contact.made_when, plunger) {
                (Some(text), _) => Actuator::Control(self.expression(text)),
                (None, Some(plunger)) => Actuator::Plunger { plunger, normally },
                (None, None) => {
                    let named = |id: &String| part.coils.iter().position(|c| c.id == *id);
                    let own = contact.coil.as_ref().and_then(named).unwrap_or(0);
                    Actuator::Coil { coil: first_coil + own, normally }
                }
            };
            let (a, b) = between(self, &contact.between);
            let heavy =
                matches!(actuator, Actuator::Coil { .. }) && part.kind == PartKind::Solenoid;
            let usual = if heavy { machine::SOLENOID_CONTACT_OHMS } else { machine::CONTACT_OHMS };
            let kind = ElementKind::Contact(self.contacts.len());
            let element = self.push(Element {
                id: at(&contact.id),
                a,
                b,
                ohms: contact.ohms.unwrap_or(usual),
                tolerance: 1.0,
                kind,
                part: Some(index),
                wire: None,
            });
            self.contacts.push(Contact { element, actuator, index: i });
        }
    }

    /// A validated expression; names that validation let pass resolve to nothing.
    fn expression(&self, text: &str) -> Expression<Resolved> {
        let never = Expression::Term(Resolved::Engine { mask: 0 });
        let Ok(parsed) = Expression::parse(text) else {
            return never;
        };
        let resolve = |term: &Term| -> Result<Resolved, ()> {
            if term.control == "engine" {
                let bit = |p: &String| match p.as_str() {
                    "stopped" => 1 << Engine::Stopped as u32,
                    "cranking" => 1 << Engine::Cranking as u32,
                    "running" => 1 << Engine::Running as u32,
                    _ => 0,
                };
                return Ok(Resolved::Engine { mask: term.positions.iter().map(bit).sum() });
            }
            let index =
                self.document.controls.iter().position(|c| c.id == term.control).ok_or(())?;
            let positions = &self.document.controls[index].positions;
            let mut mask = 0;
            for name in &term.positions {
                mask |= 1 << positions.iter().position(|p| p.id == *name).ok_or(())?;
            }
            Ok(Resolved::Control { index, mask })
        };
        parsed.resolve(&resolve).unwrap_or(never)
    }
}

fn wire_ohms(wire: &machine::Wire) -> f64 {
    let per_km = |gauge: u8| {
        machine::WIRE_OHMS_PER_KM.iter().find(|(g, _)| *g == gauge).map(|(_, ohms)| *ohms)
    };
    wire.ohms.unwrap_or_else(|| {
        let per_km = wire.gauge.and_then(per_km).unwrap_or(20.9);
        (per_km / 1000.0 * wire.length_m.unwrap_or(1.0)).max(1e-4)
    })
}
