//! What must hold of a document, beyond its shape. Every rule reports; none stops the others.

use super::{
    Contact, Control, Expression, FORMAT, MachineDocument, Part, PartKind, Problem,
    WIRE_OHMS_PER_KM,
};
use std::collections::{BTreeMap, BTreeSet};

/// Letters that mean something on every screen: `o` over range, `z` buzz, `n` silent, `u` void,
/// `j` jumper.
const RESERVED_LETTERS: &str = "oznuj";

pub(super) fn validate(document: &MachineDocument, unreadable: &BTreeSet<String>) -> Vec<Problem> {
    let mut rules = Rules { document, unreadable, problems: Vec::new(), used: BTreeSet::new() };
    rules.head();
    rules.controls();
    rules.parts();
    rules.wires();
    rules.splices();
    rules.places();
    rules.test_points();
    rules.circuits();
    rules.floating_parts();
    rules.problems
}

struct Rules<'a> {
    document: &'a MachineDocument,
    unreadable: &'a BTreeSet<String>,
    problems: Vec<Problem>,
    /// Terminals that a wire, a splice or a plug lands on.
    used: BTreeSet<String>,
}

impl Rules<'_> {
    fn wrong(&mut self, path: impl Into<String>, sentence: impl Into<String>) {
        self.problems.push(Problem::error(path, sentence));
    }

    /// Whether the item at this path was already reported as unreadable.
    fn skip(&self, path: &str) -> bool {
        self.unreadable.contains(path)
    }

    fn head(&mut self) {
        let d = self.document;
        if d.format != FORMAT {
            self.wrong(
                "/format",
                format!("The format must be \"{FORMAT}\", not \"{}\".", d.format),
            );
        }
        for (field, text) in [("make", &d.identity.make), ("model", &d.identity.model)] {
            if text.trim().is_empty() {
                self.wrong(format!("/identity/{field}"), format!("The machine needs a {field}."));
            }
        }
        if d.identity.family.contains("battery-electric") {
            self.wrong("/identity/family", "Battery-electric drives are out of scope.");
        }
        match self.part(&d.reference) {
            Some(p) if p.kind == PartKind::Body => {}
            Some(_) => self.wrong("/reference", format!("\"{}\" is not a body.", d.reference)),
            None if self.unreadable.contains(&d.reference) => {}
            None => self.wrong("/reference", format!("There is no part \"{}\".", d.reference)),
        }
        for (i, text) in d.impossible.iter().enumerate() {
            self.expression(&format!("/impossible/{i}"), text);
        }
    }

    fn unique<'b>(&mut self, section: &str, what: &str, ids: impl Iterator<Item = &'b str>) {
        let mut seen = BTreeMap::new();
        for (i, id) in ids.enumerate() {
            let path = format!("/{section}/{i}/id");
            if self.skip(&format!("/{section}/{i}")) {
                continue;
            }
            let sound = |c: char| c.is_ascii_lowercase() || c.is_ascii_digit() || c == '-';
            if id.is_empty() || !id.chars().all(sound) {
                self.wrong(&path, format!("\"{id}\" is no id: use small letters, digits and -."));
            } else if let Some(first) = seen.insert(id, i) {
                self.wrong(&path, format!("The name \"{id}\" is taken: {what} {first} has it."));
            }
        }
    }

    fn controls(&mut self) {
        let d = self.document;
        self.unique("controls", "control", d.controls.iter().map(|c| c.id.as_str()));
        let mut letters = BTreeMap::new();
        for (i, control) in d.controls.iter().enumerate() {
            let at = format!("/controls/{i}");
            if self.skip(&at) {
                continue;
            }
            if control.id == "engine" {
                self.wrong(format!("{at}/id"), "\"engine\" is the engine's own state.");
            }
            self.positions(&at, control);
            let mut chars = control.letter.chars();
            match (chars.next(), chars.next()) {
                (Some(c), None) if c.is_ascii_lowercase() => {
                    if RESERVED_LETTERS.contains(c) {
                        self.wrong(format!("{at}/letter"), format!("The letter {c} is reserved."));
                    } else if let Some(other) = letters.insert(c, &control.name) {
                        let sentence = format!("The letter {c} already moves {other}.");
                        self.wrong(format!("{at}/letter"), sentence);
                    }
                }
                _ => self.wrong(format!("{at}/letter"), "A control needs one small letter."),
            }
        }
    }

    fn positions(&mut self, at: &str, control: &Control) {
        let ids: Vec<_> = control.positions.iter().map(|p| p.id.as_str()).collect();
        if !(2..=16).contains(&ids.len()) {
            self.wrong(format!("{at}/positions"), "A control has 2 to 16 positions.");
        }
        for (j, position) in control.positions.iter().enumerate() {
            if ids[..j].contains(&position.id.as_str()) {
                let sentence = format!("The position \"{}\" stands twice.", position.id);
                self.wrong(format!("{at}/positions/{j}/id"), sentence);
            }
            if let Some(back) = &position.returns_to
                && (!ids.contains(&back.as_str()) || *back == position.id)
            {
                let sentence = format!("It returns to \"{back}\", which is no other position.");
                self.wrong(format!("{at}/positions/{j}/returns_to"), sentence);
            }
        }
        if !ids.contains(&control.rest.as_str()) {
            self.wrong(format!("{at}/rest"), format!("There is no position \"{}\".", control.rest));
        }
    }

    fn expression(&mut self, path: &str, text: &str) {
        let expression = match Expression::parse(text) {
            Ok(expression) => expression,
            Err(e) => {
                return self
                    .wrong(path, format!("\"{text}\" does not read as an expression: {e}."));
            }
        };
        for term in expression.terms() {
            if term.control == "engine" {
                for p in &term.positions {
                    if !["stopped", "cranking", "running"].contains(&p.as_str()) {
                        self.wrong(path, format!("The engine is never \"{p}\"."));
                    }
                }
                continue;
            }
            let Some(control) = self.document.controls.iter().find(|c| c.id == term.control) else {
                if !self.unreadable.contains(&term.control) {
                    self.wrong(path, format!("There is no control \"{}\".", term.control));
                }
                continue;
            };
            for p in &term.positions {
                if !control.positions.iter().any(|q| q.id == *p) {
                    let sentence =
                        format!("The control \"{}\" has no position \"{p}\".", control.id);
                    self.wrong(path, sentence);
                }
            }
        }
    }

    fn part(&self, id: &str) -> Option<&Part> {
        self.document.parts.iter().find(|p| p.id == id)
    }

    /// Notes a terminal as used, and reports it if no part has it.
    fn terminal(&mut self, path: &str, address: &str) {
        self.used.insert(address.to_owned());
        let (part, terminal) = address.split_once('.').unwrap_or((address, ""));
        if self.unreadable.contains(part) {
            return;
        }
        match self.part(part) {
            None => self.wrong(path, format!("\"{address}\": there is no part \"{part}\".")),
            Some(p) if !p.has_terminal(terminal) => {
                let sentence = format!("\"{address}\": {} has no terminal \"{terminal}\".", p.name);
                self.wrong(path, sentence);
            }
            Some(_) => {}
        }
    }

    fn positive(&mut self, path: String, value: Option<f64>, what: &str) {
        if let Some(v) = value
            && !(v > 0.0 && v.is_finite())
        {
            self.wrong(path, format!("{what} must be more than zero, not {v}."));
        }
    }

    fn parts(&mut self) {
        let d = self.document;
        self.unique("parts", "part", d.parts.iter().map(|p| p.id.as_str()));
        for (i, part) in d.parts.iter().enumerate() {
            let at = format!("/parts/{i}");
            if self.skip(&at) {
                continue;
            }
            for (j, terminal) in part.terminals.iter().enumerate() {
                if part.terminals[..j].contains(terminal) {
                    let sentence = format!("The terminal \"{terminal}\" stands twice.");
                    self.wrong(format!("{at}/terminals/{j}"), sentence);
                }
            }
            self.positive(format!("{at}/ohms"), part.ohms, "Ohms");
            self.positive(format!("{at}/volts"), part.volts, "Volts");
            self.positive(format!("{at}/amps"), part.amps, "Amperes");
            self.positive(format!("{at}/price"), part.price, "A price");
            self.positive(format!("{at}/replace_minutes"), part.replace_minutes, "Minutes");
            if let Some(place) = &part.place {
                self.place(format!("{at}/place"), place);
            }
            self.kind(&at, part);
            for (j, contact) in part.contacts.iter().enumerate() {
                self.contact(&format!("{at}/contacts/{j}"), part, contact);
            }
            self.coils(&at, part);
            if let Some(plunger) = &part.plunger {
                self.expression(&format!("{at}/plunger/pressed_when"), &plunger.pressed_when);
            }
            for (cavity, mate) in &part.mates {
                self.terminal(&format!("{at}/mates/{cavity}"), mate);
            }
        }
    }

    fn kind(&mut self, at: &str, part: &Part) {
        use PartKind::*;
        let name = &part.name;
        let two = |rules: &mut Self| {
            if part.terminals.len() != 2 {
                let n = part.terminals.len();
                rules.wrong(
                    format!("{at}/terminals"),
                    format!("{name} needs 2 terminals, not {n}."),
                );
            }
        };
        let needs_ohms = |rules: &mut Self| {
            if part.ohms.is_none() {
                rules.wrong(format!("{at}/ohms"), format!("{name} needs its ohms."));
            }
        };
        match part.kind {
            Battery | Diode | Fuse => two(self),
            Starter => {
                two(self);
                needs_ohms(self);
                if part.amps.is_none() {
                    let sentence = format!("{name} needs its nominal cranking amperes.");
                    self.wrong(format!("{at}/amps"), sentence);
                }
            }
            Clutch | FuelSolenoid | Lamp | HourMeter | Resistance => {
                two(self);
                needs_ohms(self);
            }
            IgnitionModule => {
                if part.terminals.len() != 1 {
                    self.wrong(format!("{at}/terminals"), format!("{name} has one kill lead."));
                }
                self.body(at, part);
            }
            Ground => {
                if part.terminals.len() != 1 {
                    self.wrong(format!("{at}/terminals"), format!("{name} has one lug."));
                }
                self.body(at, part);
            }
            KeySwitch | HandSwitch | InterlockSwitch => {
                if part.contacts.is_empty() {
                    self.wrong(format!("{at}/contacts"), format!("{name} has no contact."));
                }
                if part.kind == InterlockSwitch && part.plunger.is_none() {
                    let sentence = format!("{name} does not say when its plunger is pressed.");
                    self.wrong(format!("{at}/plunger"), sentence);
                }
            }
            Solenoid | Relay => {
                if part.coils.is_empty() {
                    self.wrong(format!("{at}/coils"), format!("{name} has no coil."));
                }
            }
            Connector => {
                if part.mates.is_empty() {
                    self.wrong(format!("{at}/mates"), format!("{name} mates with nothing."));
                }
            }
            Body | Socket => {
                if part.terminals.is_empty() {
                    self.wrong(format!("{at}/terminals"), format!("{name} has no terminal."));
                }
            }
        }
    }

    fn body(&mut self, at: &str, part: &Part) {
        let path = format!("{at}/body");
        match &part.body {
            None => self.wrong(path, format!("{} does not say which body it sits on.", part.name)),
            Some(id) if self.unreadable.contains(id) => {}
            Some(id) => match self.part(id) {
                Some(body) if body.kind == PartKind::Body => {}
                _ => self.wrong(path, format!("There is no body \"{id}\".")),
            },
        }
    }

    fn own_terminals(&mut self, at: &str, part: &Part, between: &[String; 2]) {
        for (k, terminal) in between.iter().enumerate() {
            if !part.has_terminal(terminal) {
                let sentence = format!("{} has no terminal \"{terminal}\".", part.name);
                self.wrong(format!("{at}/between/{k}"), sentence);
            }
        }
        if between[0] == between[1] {
            self.wrong(format!("{at}/between"), "It stands between a terminal and itself.");
        }
    }

    fn contact(&mut self, at: &str, part: &Part, contact: &Contact) {
        self.own_terminals(at, part, &contact.between);
        self.positive(format!("{at}/ohms"), contact.ohms, "Ohms");
        let twins = part.contacts.iter().filter(|c| c.id == contact.id).count()
            + part.coils.iter().filter(|c| c.id == contact.id).count();
        if twins > 1 {
            let sentence = format!("{} has two of the name \"{}\".", part.name, contact.id);
            self.wrong(format!("{at}/id"), sentence);
        }
        match (part.kind, &contact.made_when, contact.normally) {
            (PartKind::KeySwitch | PartKind::HandSwitch, Some(text), None) => {
                self.expression(&format!("{at}/made_when"), text);
            }
            (PartKind::KeySwitch | PartKind::HandSwitch, ..) => {
                self.wrong(at, "A contact worked by hand needs made_when, and only that.");
            }
            (_, None, Some(_)) => {}
            _ => self.wrong(at, "Nothing moves this contact: say normally open or closed."),
        }
        if let Some(coil) = &contact.coil
            && !part.coils.iter().any(|c| c.id == *coil)
        {
            self.wrong(format!("{at}/coil"), format!("{} has no coil \"{coil}\".", part.name));
        }
        if let Some(gate) = &contact.gate {
            let text = format!("{}={}", gate.control, gate.position);
            self.expression(&format!("{at}/gate"), &text);
        }
    }

    fn coils(&mut self, at: &str, part: &Part) {
        for (j, coil) in part.coils.iter().enumerate() {
            let at = format!("{at}/coils/{j}");
            self.own_terminals(&at, part, &coil.between);
            self.positive(format!("{at}/ohms"), Some(coil.ohms), "Ohms");
            if !(coil.pulls_in > coil.drops_out && coil.drops_out > 0.0) {
                self.wrong(&at, "A coil pulls in at more volts than it drops out at.");
            }
        }
    }

    fn place(&mut self, path: String, id: &str) {
        if !self.document.places.iter().any(|p| p.id == id) && !self.unreadable.contains(id) {
            self.wrong(path, format!("There is no place \"{id}\"."));
        }
    }

    fn wires(&mut self) {
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

    fn splices(&mut self) {
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

    fn places(&mut self) {
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

    fn test_points(&mut self) {
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

    fn circuits(&mut self) {
        let d = self.document;
        self.unique("circuits", "circuit", d.circuits.iter().map(|c| c.id.as_str()));
        for (i, circuit) in d.circuits.iter().enumerate() {
            let at = format!("/circuits/{i}");
            if self.skip(&at) {
                continue;
            }
            self.terminal(&format!("{at}/from"), &circuit.from);
            self.terminal(&format!("{at}/to"), &circuit.to);
            let (part, coil) = match circuit.load.split_once('.') {
                Some((part, coil)) => (part, Some(coil)),
                None => (circuit.load.as_str(), None),
            };
            let known = self.part(part).is_some_and(|p| match coil {
                Some(coil) => p.coils.iter().any(|c| c.id == coil),
                None => p.terminals.len() == 2,
            });
            if !known && !self.unreadable.contains(part) {
                self.wrong(format!("{at}/load"), format!("There is no load \"{}\".", circuit.load));
            }
        }
    }

    fn floating_parts(&mut self) {
        for (i, part) in self.document.parts.iter().enumerate() {
            if self.skip(&format!("/parts/{i}")) || part.kind == PartKind::Body {
                continue;
            }
            let terminals = part.all_terminals();
            let loose: Vec<_> = terminals
                .iter()
                .filter(|t| !self.used.contains(&format!("{}.{t}", part.id)))
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

impl Part {
    /// The part's terminals; a connector's are its cavities.
    pub fn all_terminals(&self) -> Vec<&str> {
        let cavities = self.mates.keys();
        self.terminals.iter().chain(cavities).map(String::as_str).collect()
    }

    fn has_terminal(&self, terminal: &str) -> bool {
        self.terminals.iter().any(|t| t == terminal) || self.mates.contains_key(terminal)
    }
}
