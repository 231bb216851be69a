//! Rules for what joins the parts and what reaches them: wires, splices, places, test points.

use super::rules::Rules;
use crate::machine::{Part, PartKind, Problem, WIRE_OHMS_PER_KM};

impl Rules<'_> {
    pub(super) fn wires(&mut self) {
        let d = self.document;
        self.unique("wires", "wire", d.wires.iter().map(|w| w.id.as_str()));
        for (i, wire) in d.wires.iter().enumerate() {
            let at = format!("/wires/{i}");
            if self.skip(&at) {
                continue;
            }
            self.terminal(&format!("{at}/from"), &wire.from);
            self.terminal(&format!("{at}/to"), &wire.to);
            if wire.from == wire.to {
                self.wrong(&at, "The wire ends where it begins.");
            }
            self.positive(format!("{at}/ohms"), wire.ohms, "Ohms");
            self.positive(format!("{at}/length_m"), wire.length_m, "Meters");
            match (wire.ohms, wire.gauge, wire.length_m) {
                (Some(_), ..) => {}
                (None, Some(gauge), Some(_)) => {
                    if !WIRE_OHMS_PER_KM.iter().any(|(g, _)| *g == gauge) {
                        self.wrong(
                            format!("{at}/gauge"),
                            format!("{gauge} AWG is not in the table."),
                        );
                    }
                }
                _ => self.wrong(&at, "A wire needs its ohms, or its gauge and length."),
            }
        }
    }

    pub(super) fn splices(&mut self) {
        let d = self.document;
        self.unique("splices", "splice", d.splices.iter().map(|s| s.id.as_str()));
        for (i, splice) in d.splices.iter().enumerate() {
            if splice.terminals.len() < 2 && !self.skip(&format!("/splices/{i}")) {
                self.wrong(format!("/splices/{i}/terminals"), "A splice joins two or more.");
            }
            for (j, terminal) in splice.terminals.iter().enumerate() {
                self.terminal(&format!("/splices/{i}/terminals/{j}"), terminal);
            }
        }
    }

    pub(super) fn places(&mut self) {
        let d = self.document;
        self.unique("places", "place", d.places.iter().map(|p| p.id.as_str()));
        for (i, place) in d.places.iter().enumerate() {
            for (other, minutes) in &place.minutes_from {
                let path = format!("/places/{i}/minutes_from/{other}");
                self.place(path.clone(), other);
                self.positive(path, Some(*minutes), "Minutes");
            }
            if place.cover_minutes < 0.0 {
                self.wrong(format!("/places/{i}/cover_minutes"), "Minutes cannot be negative.");
            }
        }
    }

    pub(super) fn test_points(&mut self) {
        for (i, point) in self.document.test_points.iter().enumerate() {
            let at = format!("/test_points/{i}");
            if self.skip(&at) {
                continue;
            }
            self.terminal(&format!("{at}/terminal"), &point.terminal);
            self.place(format!("{at}/place"), &point.place);
            if let Some(id) = &point.unplugged
                && self.part(id).is_none_or(|p| p.kind != PartKind::Connector)
                && !self.unreadable.contains(id)
            {
                self.wrong(format!("{at}/unplugged"), format!("There is no connector \"{id}\"."));
            }
        }
    }

    pub(super) fn circuits(&mut self) {
        let d = self.document;
        self.unique("circuits", "circuit", d.circuits.iter().map(|c| c.id.as_str()));
        for (i, circuit) in d.circuits.iter().enumerate() {
            let at = format!("/circuits/{i}");
            if self.skip(&at) {
                continue;
            }
            self.terminal(&format!("{at}/from"), &circuit.from);
            self.terminal(&format!("{at}/to"), &circuit.to);
            let Some(load) = &circuit.load else {
                continue;
            };
            let (part, coil) = match load.split_once('.') {
                Some((part, coil)) => (part, Some(coil)),
                None => (load.as_str(), None),
            };
            let known = self.part(part).is_some_and(|p| match coil {
                Some("field") if p.kind == PartKind::Generator => true,
                Some(coil) => p.coils.iter().any(|c| c.id == coil),
                None => p.terminals.len() == 2,
            });
            if !known && !self.unreadable.contains(part) {
                self.wrong(format!("{at}/load"), format!("There is no load \"{load}\"."));
            }
        }
    }

    pub(super) fn floating_parts(&mut self) {
        for (i, part) in self.document.parts.iter().enumerate() {
            if self.skip(&format!("/parts/{i}")) || part.all_terminals().is_empty() {
                continue;
            }
            if part.kind == PartKind::Body {
                continue;
            }
            let terminals = part.all_terminals();
            let loose: Vec<_> = terminals
                .iter()
                .filter(|t| !self.used.contains(&format!("{}.{t}", part.id)) && !inside(part, t))
                .collect();
            let path = format!("/parts/{i}");
            if loose.len() == terminals.len() {
                self.wrong(path, format!("{} is connected to nothing.", part.name));
            } else {
                for terminal in loose {
                    let sentence = format!("{}: nothing lands on \"{terminal}\".", part.name);
                    self.problems.push(Problem::warning(path.clone(), sentence));
                }
            }
        }
    }
}

/// Whether a terminal only joins contacts and coils of its own part.
fn inside(part: &Part, terminal: &str) -> bool {
    let contacts = part.contacts.iter().map(|c| &c.between);
    let all = contacts.chain(part.coils.iter().map(|c| &c.between));
    all.filter(|between| between.iter().any(|t| t == terminal)).count() > 1
}
