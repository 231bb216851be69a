//! A harness as it lies there: the ends that a probe reaches, and what is drawn between them.

use crate::circuit::{Circuit, NodeId};
use crate::machine::{PartKind, Provenance};
use std::collections::BTreeMap;

/// Somewhere that wires end: a cavity of a plug, a stud, a tab, the metal of a body.
#[derive(Clone, Debug, PartialEq)]
pub struct End {
    /// The terminals that are one piece of metal here; of a body, the lugs bolted to it too.
    pub terminals: Vec<String>,
    /// Where it is in the circuit.
    pub node: NodeId,
    /// What takes the part off it, by part: its plug, or the fuse that sits in it.
    pub off: Option<usize>,
    /// The part that it belongs to, plugs resolved.
    pub part: usize,
    /// The color of a wire that ends here alone.
    pub color: Option<String>,
}

/// Two ends that are drawn joined: a wire, or two terminals that are one piece of metal.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Link {
    /// Its ends, by index.
    pub ends: (usize, usize),
    /// The wire of the document; none of a splice.
    pub wire: Option<usize>,
    /// Where that is known from.
    pub source: Provenance,
}

/// The ends of a machine's wires, and how they are drawn to be joined.
#[derive(Clone, Debug)]
pub struct Harness<'c> {
    circuit: &'c Circuit,
    ends: Vec<End>,
    links: Vec<Link>,
    /// By end those beside it in the same plug.
    beside: Vec<Vec<usize>>,
    at: BTreeMap<String, usize>,
}

impl<'c> Harness<'c> {
    /// The harness of a machine.
    pub fn new(circuit: &'c Circuit) -> Self {
        let mut harness = Self {
            circuit,
            ends: Vec::new(),
            links: Vec::new(),
            beside: Vec::new(),
            at: BTreeMap::new(),
        };
        harness.gather_ends();
        harness.gather_mounted();
        harness.gather_links();
        harness.gather_colors();
        harness.gather_neighbors();
        harness
    }

    fn gather_ends(&mut self) {
        let document = self.circuit.document();
        let mated: Vec<&String> = document.parts.iter().flat_map(|p| p.mates.values()).collect();
        let bodies = document.parts.iter().filter(|p| p.kind == PartKind::Body);
        let others = document.parts.iter().filter(|p| p.kind != PartKind::Body);
        // Bodies first, so that what is bolted to them is found to be theirs.
        for part in bodies.chain(others) {
            let own: Vec<String> = match part.kind {
                PartKind::Connector => part.mates.keys().cloned().collect(),
                PartKind::Ground if part.terminals.is_empty() => vec!["lug".to_owned()],
                _ => part.terminals.clone(),
            };
            for terminal in own {
                let address = format!("{}.{terminal}", part.id);
                let bolted = part.kind == PartKind::Ground && part.body.is_some();
                if bolted && let Some(end) = self.body(part.body.as_deref().unwrap_or_default()) {
                    self.ends[end].terminals.push(address.clone());
                    self.at.insert(address, end);
                } else if !mated.contains(&&address) {
                    self.add_end(&address, part.kind);
                }
            }
        }
    }

    /// What is bolted to a body with its own metal is at that body's end, as its lug is.
    fn gather_mounted(&mut self) {
        let document = self.circuit.document();
        let wired = |t: &String| document.wires.iter().any(|w| w.from == *t || w.to == *t);
        let mated = |t: &String| {
            let part = document.parts.iter().find(|p| t.split('.').next() == Some(p.id.as_str()));
            part.is_some_and(|p| p.kind == PartKind::Connector)
        };
        for splice in &document.splices {
            let bodies = splice.terminals.iter().filter_map(|t| self.end(t));
            let Some(body) = bodies.into_iter().find(|e| self.is_body(*e)) else { continue };
            let mounted = splice.terminals.iter().filter(|t| !wired(t) && !mated(t));
            for terminal in mounted.cloned().collect::<Vec<_>>() {
                let Some(own) = self.end(&terminal).filter(|own| *own != body) else { continue };
                self.ends[body].terminals.push(terminal.clone());
                self.ends.remove(own);
                self.at.insert(terminal, body);
                self.at.values_mut().filter(|e| **e > own).for_each(|e| *e -= 1);
            }
        }
    }

    fn add_end(&mut self, address: &str, kind: PartKind) {
        let Ok(node) = self.circuit.terminal(address) else { return };
        let landing = self.circuit.document().landing(address).part;
        let Some(part) = self.circuit.part_named(landing) else { return };
        let id = address.split('.').next().unwrap_or(address);
        let comes_off = matches!(kind, PartKind::Connector | PartKind::Fuse);
        let off = comes_off.then(|| self.circuit.part_named(id)).flatten();
        self.at.insert(address.to_owned(), self.ends.len());
        let terminals = vec![address.to_owned()];
        self.ends.push(End { terminals, node, off, part, color: None });
    }

    /// The end that is a body's metal.
    fn body(&self, id: &str) -> Option<usize> {
        let part = self.circuit.part_named(id)?;
        self.ends.iter().position(|e| e.part == part)
    }

    fn gather_links(&mut self) {
        let document = self.circuit.document();
        let usual = document.identity.source;
        for (index, wire) in document.wires.iter().enumerate() {
            let source = wire.source.unwrap_or(usual);
            self.link(&wire.from, &wire.to, Some(index), source);
        }
        for splice in &document.splices {
            for pair in splice.terminals.windows(2) {
                self.link(&pair[0], &pair[1], None, usual);
            }
        }
    }

    fn link(&mut self, from: &str, to: &str, wire: Option<usize>, source: Provenance) {
        let (Some(a), Some(b)) = (self.end(from), self.end(to)) else { return };
        if a != b {
            self.links.push(Link { ends: (a, b), wire, source });
        }
    }

    fn gather_colors(&mut self) {
        let wires = &self.circuit.document().wires;
        for (index, end) in self.ends.iter_mut().enumerate() {
            let here = |l: &&Link| l.ends.0 == index || l.ends.1 == index;
            let mut colors = self.links.iter().filter(here).map(|l| Some(&wires[l.wire?].color));
            if let (Some(Some(color)), None) = (colors.next(), colors.next()) {
                end.color = color.clone();
            }
        }
    }

    fn gather_neighbors(&mut self) {
        let plug = |e: &End| e.terminals[0].split('.').next().unwrap_or_default().to_owned();
        let last = self.ends.len().saturating_sub(1);
        self.beside = (0..self.ends.len())
            .map(|i| {
                let near = [i.checked_sub(1), (i < last).then_some(i + 1)];
                let same = |j: &usize| plug(&self.ends[*j]) == plug(&self.ends[i]);
                near.into_iter().flatten().filter(same).collect()
            })
            .collect();
    }

    /// The machine.
    pub fn circuit(&self) -> &'c Circuit {
        self.circuit
    }

    /// Every end.
    pub fn ends(&self) -> &[End] {
        &self.ends
    }

    /// What is drawn between them.
    pub fn links(&self) -> &[Link] {
        &self.links
    }

    /// The end that a terminal is, if it is one.
    pub fn end(&self, address: &str) -> Option<usize> {
        self.at.get(address).copied()
    }

    /// Whether an end is a body's metal: the frame, the engine block.
    pub fn is_body(&self, end: usize) -> bool {
        self.circuit.part(self.ends[end].part).kind == PartKind::Body
    }

    /// The ends beside one in its plug.
    pub(super) fn beside(&self, end: usize) -> &[usize] {
        &self.beside[end]
    }

    /// The ends of the same plug.
    pub(crate) fn plug_mates(&self, end: usize) -> impl Iterator<Item = usize> {
        let own = self.ends[end].off;
        let same = move |i: &usize| *i != end && own.is_some() && self.ends[*i].off == own;
        (0..self.ends.len()).filter(same)
    }
}
