//! Rules for parts: what each kind needs, contacts, coils.

use super::rules::Rules;
use crate::machine::{Contact, Expression, MovedBy, Part, PartKind};

impl Rules<'_> {
    pub(super) fn parts(&mut self) {
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
            if let Some(wire) = &part.clamps
                && !self.document.wires.iter().any(|w| w.id == *wire)
                && !self.unreadable.contains(wire)
            {
                self.wrong(format!("{at}/clamps"), format!("There is no wire \"{wire}\"."));
            }
            for (j, code) in part.codes.iter().enumerate() {
                self.over_coils(&format!("{at}/codes/{j}/when"), part, &code.when);
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
            Battery | Diode | Fuse | Breaker | Stator | IgnitionCoil => two(self),
            Generator => {
                two(self);
                self.body(at, part);
            }
            Starter => {
                two(self);
                needs_ohms(self);
                if part.amps.is_none() {
                    let sentence = format!("{name} needs its nominal cranking amperes.");
                    self.wrong(format!("{at}/amps"), sentence);
                }
            }
            FuelSolenoid if !part.coils.is_empty() => {}
            Clutch | FuelSolenoid | Lamp | HourMeter | GlowPlug | Resistance => {
                two(self);
                needs_ohms(self);
            }
            IgnitionModule => {
                if part.terminals.len() != 1 {
                    self.wrong(format!("{at}/terminals"), format!("{name} has one kill lead."));
                }
                self.body(at, part);
            }
            Ground | BreakerPoints => {
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
            Regulator => match part.terminals.len() {
                3 => self.body(at, part),
                4 => {}
                n => {
                    let sentence = format!(
                        "{name} needs its two stator leads, its output and, if it has a ground \
                         wire, that: 3 or 4 terminals, not {n}."
                    );
                    self.wrong(format!("{at}/terminals"), sentence);
                }
            },
            Ammeter => match (part.terminals.len(), &part.clamps) {
                (2, None) | (0, Some(_)) => {}
                _ => {
                    let sentence =
                        format!("{name} is in line with 2 terminals, or clamps a wire with none.");
                    self.wrong(format!("{at}/terminals"), sentence);
                }
            },
            Solenoid | Relay | PresenceModule => {
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
        let by_hand = part.kind.moved_by() == Some(MovedBy::Hand);
        match (&contact.made_when, contact.normally) {
            (Some(text), None) if by_hand => self.expression(&format!("{at}/made_when"), text),
            _ if by_hand => {
                self.wrong(at, "A contact worked by hand needs made_when, and only that.");
            }
            (Some(text), None) if !part.coils.is_empty() => {
                self.over_coils(&format!("{at}/made_when"), part, text);
            }
            (None, Some(_)) => {}
            _ => self.wrong(at, "Nothing moves this contact: say normally open or closed."),
        }
        if let Some(t) = contact.timing {
            let seconds = [("makes_after", t.makes_after), ("breaks_after", t.breaks_after)];
            for (field, value) in seconds.into_iter().chain([("made_for", t.made_for)]) {
                if !(0.0..=86_400.0).contains(&value) {
                    let sentence = format!("Seconds are 0 to 86400, not {value}.");
                    self.wrong(format!("{at}/timing/{field}"), sentence);
                }
            }
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

    /// An expression over the part's own coils.
    fn over_coils(&mut self, path: &str, part: &Part, text: &str) {
        match Expression::parse(text) {
            Err(e) => {
                self.wrong(path, format!("\"{text}\" does not read as an expression: {e}."));
            }
            Ok(expression) => {
                for term in expression.terms() {
                    if !part.coils.iter().any(|c| c.id == term.control) {
                        let sentence = format!("{} has no coil \"{}\".", part.name, term.control);
                        self.wrong(path, sentence);
                    }
                    for p in term.positions.iter().filter(|p| !["on", "off"].contains(&p.as_str()))
                    {
                        self.wrong(path, format!("A coil is on or off, not \"{p}\"."));
                    }
                }
            }
        }
    }

    fn coils(&mut self, at: &str, part: &Part) {
        for (j, coil) in part.coils.iter().enumerate() {
            let at = format!("{at}/coils/{j}");
            self.own_terminals(&at, part, &coil.between);
            self.positive(format!("{at}/ohms"), Some(coil.ohms), "Ohms");
            if let Some(other) = &coil.assists
                && (*other == coil.id || !part.coils.iter().any(|c| c.id == *other))
            {
                let sentence = format!("{} has no other coil \"{other}\".", part.name);
                self.wrong(format!("{at}/assists"), sentence);
            }
            if coil.turns.is_some() {
                self.positive(format!("{at}/turns"), coil.turns, "Turns");
                if coil.assists.is_none() {
                    let sentence = "Turns are counted against those of the coil that it assists.";
                    self.wrong(format!("{at}/turns"), sentence);
                }
            }
            if !(coil.pulls_in > coil.drops_out && coil.drops_out > 0.0) {
                self.wrong(&at, "A coil pulls in at more volts than it drops out at.");
            }
        }
    }
}
