//! From a machine document to a [`Circuit`]: nodes numbered, wires and parts put in.

use super::circuit::Circuit;
use super::contact::{Coil, Contact, ModuleCode, Plunger};
use super::element::{ALWAYS, Element, ElementKind};
use super::ids::{ElementId, NodeId};
use super::notation::parse_change;
use super::program::Program;
use super::resolved::{Resolved, resolve};
use super::telltales::Telltales;
use crate::machine::{Expression, Machine, MachineDocument, PartKind};
use std::collections::HashMap;
use std::sync::Arc;

impl Circuit {
    /// Compiles a validated machine.
    pub fn compile(machine: &Machine) -> Self {
        Compiler::new(machine.document()).run()
    }
}

pub(crate) struct Compiler<'a> {
    pub(crate) document: &'a MachineDocument,
    /// Union-find over terminal addresses.
    parent: Vec<usize>,
    addresses: HashMap<String, usize>,
    pub(crate) elements: Vec<Element>,
    pub(crate) contacts: Vec<Contact>,
    pub(crate) coils: Vec<Coil>,
    pub(crate) plungers: Vec<Plunger>,
    pub(crate) codes: Vec<ModuleCode>,
    node_of: Vec<u16>,
    node_names: Vec<String>,
    /// Whether anything on this machine charges its battery.
    pub(crate) charges: bool,
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
            codes: Vec::new(),
            node_of: Vec::new(),
            node_names: Vec::new(),
            charges: document
                .parts
                .iter()
                .any(|p| matches!(p.kind, PartKind::Regulator | PartKind::Generator)),
        }
    }

    fn run(mut self) -> Circuit {
        self.node_names = self.number_nodes();
        for (i, part) in self.document.parts.iter().enumerate() {
            self.part(i, part);
        }
        for (i, wire) in self.document.wires.iter().enumerate() {
            let (a, b) = (self.node(&wire.from), self.node(&wire.to));
            self.push(Element {
                id: wire.id.clone(),
                a,
                b,
                ohms: wire.its_ohms(),
                tolerance: 0.2,
                kind: ElementKind::Wire,
                part: None,
                wire: Some(i),
                live: ALWAYS,
            });
        }
        self.possible_wires();
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
        let mut around = vec![Vec::new(); self.node_names.len()];
        for (i, e) in self.elements.iter().enumerate().filter(|(_, e)| e.a != e.b) {
            around[e.a.index()].push((ElementId(i as u16), e.b, true));
            around[e.b.index()].push((ElementId(i as u16), e.a, false));
        }
        let impossible =
            self.document.impossible.iter().map(|text| self.expression(text)).collect();
        let mut circuit = Circuit {
            controls: self.document.controls.clone(),
            as_found: Vec::new(),
            wirings: Vec::new(),
            around,
            program: Arc::new(Program::build(0, &[], &[])),
            elements: self.elements,
            contacts: self.contacts,
            coils: self.coils,
            plungers: self.plungers,
            codes: self.codes,
            document: self.document.clone(),
            impossible,
            terminals,
            by_id,
            node_names: self.node_names,
            telltales: Telltales::default(),
        };
        let found = &self.document.as_found;
        // One that does not read is reported by `check`.
        circuit.as_found =
            found.iter().filter_map(|f| parse_change(&circuit, &f.change).ok()).collect();
        circuit.wirings = circuit.combine_alternatives();
        circuit.program = Arc::new(circuit.program_with(&[]));
        circuit.telltales = Telltales::of(&circuit);
        circuit
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

    pub(crate) fn node(&self, address: &str) -> NodeId {
        NodeId(self.node_of[self.addresses[address]])
    }

    /// The node of an address, if there is such a terminal.
    pub(super) fn known(&self, address: &str) -> Option<NodeId> {
        self.addresses.get(address).map(|i| NodeId(self.node_of[*i]))
    }

    pub(crate) fn body(&self, id: Option<&String>) -> NodeId {
        let body = id.and_then(|id| self.document.parts.iter().find(|p| p.id == *id));
        body.map_or(NodeId::REFERENCE, |b| self.node(&format!("{}.{}", b.id, b.terminals[0])))
    }

    pub(crate) fn push(&mut self, element: Element) -> ElementId {
        self.elements.push(element);
        ElementId((self.elements.len() - 1) as u16)
    }

    /// A node inside a part, which no probe reaches.
    pub(crate) fn inside(&mut self, part: &str) -> NodeId {
        self.node_names.push(format!("inside {part}"));
        NodeId((self.node_names.len() - 1) as u16)
    }

    /// A validated expression over controls; what validation would have refused holds never.
    pub(crate) fn expression(&self, text: &str) -> Expression<Resolved> {
        let never = Expression::Term(Resolved::Engine { mask: 0 });
        let Ok(parsed) = Expression::parse(text) else {
            return never;
        };
        parsed.resolve(&|term| resolve(&self.document.controls, term)).unwrap_or(never)
    }
}
