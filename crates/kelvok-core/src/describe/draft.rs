//! A machine document as it grows: parts, plugs and wires by a call each.

use crate::machine::{
    Coil, Contact, FORMAT, Gate, MachineDocument, Normally, Part, PartKind, Place, Plunger, Splice,
    TestPoint, Wire,
};
use std::collections::BTreeMap;

/// A document in the making.
#[derive(Debug, Default)]
pub(super) struct Draft {
    pub document: MachineDocument,
}

impl Draft {
    pub fn new() -> Self {
        let mut document = MachineDocument { format: FORMAT.to_owned(), ..Default::default() };
        document.reference = "frame".to_owned();
        Self { document }
    }

    /// Adds a part; what else it needs is set on what is returned.
    pub fn part(
        &mut self,
        kind: PartKind,
        (id, name): (&str, &str),
        place: &str,
        terminals: &[&str],
    ) -> &mut Part {
        self.document.parts.push(Part {
            id: id.to_owned(),
            kind,
            name: name.to_owned(),
            place: (!place.is_empty()).then(|| place.to_owned()),
            terminals: terminals.iter().map(|t| (*t).to_owned()).collect(),
            ..Part::default()
        });
        let last = self.document.parts.len() - 1;
        &mut self.document.parts[last]
    }

    /// A plug on all terminals of a part; its cavities go by the terminals' own names if those are
    /// short, else by letters.
    pub fn plug(&mut self, of: &str, terminals: &[&str]) {
        let Some(part) = self.document.parts.iter().find(|p| p.id == of) else { return };
        let name = format!("{} plug", crate::machine::lower(&part.name));
        let place = part.place.clone().unwrap_or_default();
        let short = terminals.iter().all(|t| t.len() <= 3 && *t != "in" && *t != "out");
        let cavity = |(i, t): (usize, &&str)| match short {
            true => (*t).to_owned(),
            false => char::from(b'A' + i as u8).to_string(),
        };
        let mates: BTreeMap<_, _> =
            terminals.iter().enumerate().map(|c| (cavity(c), format!("{of}.{}", c.1))).collect();
        self.part(PartKind::Connector, (&format!("{of}-plug"), &name), &place, &[]).mates = mates;
    }

    /// Where a wire to a terminal ends: at its plug, if it has one.
    fn end(&self, terminal: &str) -> String {
        let plugs = self.document.parts.iter().filter(|p| p.kind == PartKind::Connector);
        let cavity = |p: &Part| {
            let own = p.mates.iter().find(|(_, mate)| *mate == terminal);
            own.map(|(cavity, _)| format!("{}.{cavity}", p.id))
        };
        plugs.filter_map(cavity).next().unwrap_or_else(|| terminal.to_owned())
    }

    /// A wire of a gauge between two terminals, at their plugs.
    pub fn wire(&mut self, from: &str, to: &str, gauge: u8) {
        let [from, to] = [from, to].map(|t| self.end(t));
        let alike = |w: &Wire| [(&w.from, &w.to), (&w.to, &w.from)].contains(&(&from, &to));
        if from == to || self.document.wires.iter().any(alike) {
            return;
        }
        let id = format!("w{}", self.document.wires.len() + 1);
        let length_m = Some(if gauge <= 6 { 0.6 } else { 0.9 });
        let gauge = Some(gauge);
        self.document.wires.push(Wire { id, from, to, gauge, length_m, ..Wire::default() });
    }

    /// Wires from each to the next.
    pub fn join(&mut self, terminals: &[String], gauge: u8) {
        for pair in terminals.windows(2) {
            self.wire(&pair[0], &pair[1], gauge);
        }
    }

    pub fn splice(&mut self, id: &str, terminals: &[&str]) {
        let terminals = terminals.iter().map(|t| (*t).to_owned()).collect();
        self.document.splices.push(Splice { id: id.to_owned(), terminals });
    }

    pub fn place(&mut self, id: &str, name: &str) {
        if self.document.places.iter().all(|p| p.id != id) {
            let place = Place { id: id.to_owned(), name: name.to_owned(), ..Place::default() };
            self.document.places.push(place);
        }
    }

    /// Every terminal that a probe reaches: cavities with their plugs on, pins with them off.
    pub fn test_points(&mut self) {
        let mut points = Vec::new();
        let document = &self.document;
        let named = |id: &str| document.parts.iter().find(|p| p.id == id);
        let plain = |terminal: &str| terminal.replace('-', " ");
        for part in &document.parts {
            let place = part.place.clone().unwrap_or_else(|| "engine".to_owned());
            if part.kind == PartKind::Connector {
                for (cavity, mate) in &part.mates {
                    let Some((of, terminal)) = mate.split_once('.') else { continue };
                    let Some(of) = named(of) else { continue };
                    let short = Some(plain(terminal));
                    let behind = of.kind == PartKind::Battery;
                    points.push(TestPoint {
                        terminal: format!("{}.{cavity}", part.id),
                        name: match behind {
                            true => format!("{} {terminal} clamp", of.name),
                            false => format!("{} {}", of.name, plain(terminal)),
                        },
                        short: if behind {
                            Some(format!("{terminal} clamp"))
                        } else {
                            short.clone()
                        },
                        place: place.clone(),
                        unplugged: None,
                    });
                    if behind {
                        continue;
                    }
                    points.push(TestPoint {
                        terminal: mate.clone(),
                        name: format!("{} pin {}", of.name, plain(terminal)),
                        short,
                        place: place.clone(),
                        unplugged: Some(part.id.clone()),
                    });
                }
                continue;
            }
            let mated =
                |terminal: &str| part.kind != PartKind::Battery && self.end(terminal) != terminal;
            for terminal in &part.terminals {
                let address = format!("{}.{terminal}", part.id);
                if mated(&address) {
                    continue;
                }
                let (name, short) = match (part.kind, terminal.as_str()) {
                    (PartKind::Ground | PartKind::Body, _) => (part.name.clone(), plain(terminal)),
                    (PartKind::Battery, t) => {
                        let t = if t == "-" { "−" } else { t };
                        (format!("{} {t} post", part.name), format!("{t} post"))
                    }
                    _ => (format!("{} {}", part.name, plain(terminal)), plain(terminal)),
                };
                let (terminal, short, place) = (address, Some(short), place.clone());
                points.push(TestPoint { terminal, name, short, place, unplugged: None });
            }
        }
        self.document.test_points = points;
    }
}

/// A contact that a hand works, made in these positions of a control.
pub(super) fn by_hand(id: &str, between: [&str; 2], (control, positions): (&str, &str)) -> Contact {
    let position = positions.split(',').next().unwrap_or_default().to_owned();
    Contact {
        made_when: Some(format!("{control}={positions}")),
        gate: Some(Gate { control: control.to_owned(), position }),
        ..moved(id, between)
    }
}

/// A contact that a plunger or a coil works.
pub(super) fn normally(id: &str, between: [&str; 2], normally: Normally) -> Contact {
    Contact { normally: Some(normally), ..moved(id, between) }
}

fn moved(id: &str, between: [&str; 2]) -> Contact {
    Contact {
        id: id.to_owned(),
        name: format!("{id} contacts"),
        between: between.map(str::to_owned),
        ..Contact::default()
    }
}

pub(super) fn plunger(pressed_when: String, linkage: &str) -> Option<Plunger> {
    Some(Plunger { pressed_when, linkage: linkage.to_owned() })
}

pub(super) fn coil(
    id: &str,
    between: [&str; 2],
    ohms: f64,
    (pulls_in, drops_out): (f64, f64),
) -> Coil {
    Coil {
        id: id.to_owned(),
        between: between.map(str::to_owned),
        ohms,
        pulls_in,
        drops_out,
        assists: None,
        turns: None,
    }
}
