//! The circuit in one condition as SPICE netlist text, for any general-purpose circuit simulator.
//!
//! Relays, diodes, fuses and batteries stand as this engine settled them, so what is left is plain
//! resistors and voltage sources: every simulator reads those, and its `.op` gives the same node
//! volts. What does not conduct is left out, and said; pieces that nothing ties to the reference
//! are left out with it, since a simulator would invent volts for them.

use crate::circuit::model::{
    Change, Circuit, Condition, ElementId, ElementKind, NodeId, fault_notation,
};
use crate::circuit::solve::{Relays, Setting, Solved, Solver};
use crate::plain_text::one_line;
use std::fmt::Write;

/// A netlist, and what each of its nodes is called in it.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Netlist {
    pub text: String,
    /// The simulator's name of every node that is in it, by node.
    pub names: Vec<Option<String>>,
}

impl Netlist {
    /// Writes the circuit in a condition, relays from rest, with changes.
    pub fn of(circuit: &Circuit, condition: &Condition, changes: &[Change]) -> Self {
        let setting = Setting::new(circuit, condition).with(circuit, changes);
        let mut solver: Solver<'_> = Solver::for_changes(circuit, changes);
        solver.solve(&[&setting], &[Relays::default()]);
        let pieces = solver.pieces(0);
        let names: Vec<_> = (0..circuit.node_count())
            .map(|n| (pieces[n] == 0).then(|| node_name(circuit, NodeId(n as u16))))
            .collect();
        let mut netlist = Self { text: String::new(), names };
        netlist.head(circuit, &setting, changes);
        for (id, _) in circuit.elements() {
            netlist.element(circuit, (&solver, &setting), id);
        }
        for (i, (a, b, siemens)) in setting.added().filter(|(.., g)| *g > 0.0).enumerate() {
            let card = netlist.resistor(&format!("added_{i}"), (a, b), 1.0 / siemens);
            netlist.line(&card.unwrap_or_default());
        }
        netlist.line(".op\n.end");
        netlist
    }

    fn head(&mut self, circuit: &Circuit, setting: &Setting, changes: &[Change]) {
        let identity = &circuit.document().identity;
        let condition = setting.condition();
        let set: Vec<_> = condition.named(circuit).map(|(c, p)| format!("{c}={p}")).collect();
        self.comment(&format!("{} {}: DC network of one condition", identity.make, identity.model));
        self.comment(&format!("{}, engine {}", set.join(" "), condition.engine.name()));
        for change in changes {
            self.comment(&format!("with {}", fault_notation(circuit, *change)));
        }
        for found in &circuit.document().as_found {
            self.comment(&format!("as found: {} ({})", found.change, found.note));
        }
        self.comment(&format!(
            "volts to {}, which is node 0; ohms; no tolerance",
            circuit.document().reference
        ));
        for n in 1..circuit.node_count() {
            let node = NodeId(n as u16);
            let on: Vec<_> =
                circuit.terminals().filter(|(_, at)| *at == node).map(|(t, _)| t).collect();
            let said = match &self.names[n] {
                Some(name) => format!("node {name}: {}", on.join(" ")),
                None => format!("floats, left out: {}", on.join(" ")),
            };
            self.comment(&said);
        }
    }

    fn element(
        &mut self,
        circuit: &Circuit,
        (solver, setting): (&Solver<'_>, &Setting),
        id: ElementId,
    ) {
        let e = circuit.element(id);
        let name = format!("{}_{}", plain(&e.id), id.0);
        let siemens = solver.lane(0).siemens(id);
        if siemens <= 0.0 || self.names[e.a.index()].is_none() {
            return self.comment(&format!("{} does not conduct", e.id));
        }
        let volts = match e.kind {
            ElementKind::Source { .. } | ElementKind::Winding { .. } => setting.volts(id),
            // Forward: its threshold stands against the current.
            ElementKind::Diode { .. } => -setting.volts(id),
            _ => 0.0,
        };
        if volts == 0.0 {
            let card = self.resistor(&name, (e.a, e.b), 1.0 / siemens);
            return self.line(&card.unwrap_or_default());
        }
        let (Some(a), Some(b)) = (&self.names[e.a.index()], &self.names[e.b.index()]) else {
            return;
        };
        let cards =
            format!("V{name} {name}_i {a} {volts:e}\nR{name} {name}_i {b} {:e}", 1.0 / siemens);
        self.line(&cards);
    }

    fn resistor(&self, name: &str, (a, b): (NodeId, NodeId), ohms: f64) -> Option<String> {
        let (a, b) = (self.names[a.index()].as_ref()?, self.names[b.index()].as_ref()?);
        Some(format!("R{name} {a} {b} {ohms:e}"))
    }

    /// Words for people. A simulator takes a line that begins otherwise for a card or a command: so
    /// whatever is in a name, it is one line.
    fn comment(&mut self, text: &str) {
        self.line(&format!("* {}", one_line(text)));
    }

    fn line(&mut self, text: &str) {
        // Writing to a string cannot fail.
        let _ = writeln!(self.text, "{text}");
    }
}

/// A name that every simulator takes: letters, digits and underscores, and one of a kind.
fn node_name(circuit: &Circuit, node: NodeId) -> String {
    if node == NodeId::REFERENCE {
        return "0".to_owned();
    }
    format!("{}_n{}", plain(circuit.node_name(node)), node.0)
}

fn plain(name: &str) -> String {
    let spelled = name.replace('+', "pos").replace('-', "_");
    spelled
        .chars()
        .map(|c| if c.is_ascii_alphanumeric() { c.to_ascii_lowercase() } else { '_' })
        .collect()
}
