//! A document put right: what a job or a mechanic found of the machine, written into it.

use super::{
    Alternative, AsFound, Contact, Gate, MachineDocument, Normally, Provenance, Wire, WiringChoice,
};

/// A wire that nobody measured.
const GAUGE: u8 = 18;
const LENGTH_M: f64 = 0.9;

/// A wire from one terminal to another, by a change that puts it there: `key.S=touches:brake-plug.A`, or of so
/// many ohms, `key.S=touches:brake-plug.A:0.005ohm`.
pub(crate) fn wire_put(change: &str) -> Option<Wire> {
    let (from, mode) = change.split_once('=')?;
    let to = mode.trim().strip_prefix("touches:")?;
    let (to, ohms) = match to.split_once(':') {
        Some((to, ohms)) => {
            let ohms = ohms.trim().strip_suffix("ohm")?.trim().parse().ok();
            (to, Some(ohms.filter(|o: &f64| *o > 0.0 && o.is_finite())?))
        }
        None => (to, None),
    };
    Some(Wire {
        from: from.trim().to_owned(),
        to: to.trim().to_owned(),
        gauge: ohms.is_none().then_some(GAUGE),
        length_m: ohms.is_none().then_some(LENGTH_M),
        ohms,
        ..Wire::default()
    })
}

impl Wire {
    /// One that nobody measured, of this gauge if that is known.
    pub(crate) fn usual(gauge: Option<u8>) -> Self {
        Self { gauge: gauge.or(Some(GAUGE)), length_m: Some(LENGTH_M), ..Self::default() }
    }

    /// The change that puts it there.
    pub(crate) fn put(&self) -> String {
        let ohms = self.its_ohms();
        match ohms == Self::usual(None).its_ohms() {
            true => format!("{}=touches:{}", self.from, self.to),
            false => format!("{}=touches:{}:{}ohm", self.from, self.to, (ohms * 1e4).round() / 1e4),
        }
    }

    /// Whether it lies between the same two terminals.
    pub(crate) fn lies_as(&self, other: &Self) -> bool {
        let ends = (&other.from, &other.to);
        [(&self.from, &self.to), (&self.to, &self.from)].contains(&ends)
    }
}

/// Why a document cannot be put right so.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[allow(missing_docs)]
pub enum CorrectionError {
    #[error("Nothing is open of this machine by the name \"{0}\".")]
    NoAlternative(String),
    #[error("\"{choice}\" is none of the choices of \"{alternative}\".")]
    NoChoice { alternative: String, choice: String },
}

impl MachineDocument {
    /// The document with one thing no longer open: as drawn, or as one of its choices has it.
    ///
    /// # Arguments
    /// `choice` is none where it is as drawn. What is written anew is known from `source`.
    ///
    /// # Errors
    /// Names what the document does not leave open.
    pub fn settled(
        &self,
        alternative: &str,
        choice: Option<&str>,
        source: Provenance,
    ) -> Result<Self, CorrectionError> {
        let at = self.alternatives.iter().position(|a| a.id == alternative);
        let at = at.ok_or_else(|| CorrectionError::NoAlternative(alternative.to_owned()))?;
        let mut document = self.clone();
        let own = document.alternatives.remove(at);
        let Some(choice) = choice else {
            // The wires that would have been others are what they are drawn to be.
            let changes = own.choices.iter().flat_map(|c| &c.changes);
            let kept: Vec<&str> = changes.filter_map(|c| c.strip_suffix("=open")).collect();
            let kept = document.wires.iter_mut().filter(|w| kept.contains(&w.id.as_str()));
            kept.for_each(|wire| wire.source = Some(source));
            return Ok(document);
        };
        let none = || CorrectionError::NoChoice {
            alternative: alternative.to_owned(),
            choice: choice.to_owned(),
        };
        let found = own.choices.iter().find(|c| c.id == choice).ok_or_else(none)?;
        Ok(document.corrected(&found.changes, "", source))
    }

    /// The document with changes, each in the fault notation, taken for what the machine is: wires that
    /// are not there or are, pins the other way round, contacts of the other kind. What can only be a
    /// state of the machine itself is noted as found.
    ///
    /// # Arguments
    /// `note` says what was found, in words. What is written anew is known from `source`.
    pub fn corrected(&self, changes: &[String], note: &str, source: Provenance) -> Self {
        let mut document = self.clone();
        for change in changes {
            let Some((subject, mode)) = change.split_once('=') else { continue };
            let (subject, mode) = (subject.trim(), mode.trim());
            let wire = document.wires.iter().position(|w| w.id == subject);
            let done = match (mode, wire) {
                ("open", Some(wire)) => {
                    document.wires.remove(wire);
                    true
                }
                ("other-kind", _) => document.turn(subject),
                ("inverted", _) => document.turn_all(subject),
                _ => match (wire_put(change), mode.strip_prefix("swapped:")) {
                    (Some(wire), _) => document.add_wire(wire, source),
                    (_, Some(other)) => document.swap(subject, other, source),
                    _ => false,
                },
            };
            if !done {
                let (change, note) = (change.clone(), note.to_owned());
                document.as_found.push(AsFound { change, note });
            }
        }
        document.drop_what_fell_away();
        document
    }

    /// Whether an address is a terminal's, with nothing more said.
    pub(crate) fn ends_at(&self, address: &str) -> bool {
        let Some((part, terminal)) = address.split_once('.') else { return false };
        self.parts.iter().any(|p| p.id == part && p.has_terminal(terminal))
    }

    fn add_wire(&mut self, wire: Wire, source: Provenance) -> bool {
        if !self.ends_at(&wire.from) || !self.ends_at(&wire.to) {
            return false;
        }
        let id = self.next_wire_id();
        self.wires.push(Wire { id, source: Some(source), ..wire });
        true
    }

    /// An id that no wire has.
    pub(crate) fn next_wire_id(&self) -> String {
        let number = |w: &Wire| w.id.strip_prefix('w').and_then(|n| n.parse::<usize>().ok());
        format!("w{}", self.wires.iter().filter_map(number).max().unwrap_or(0).saturating_add(1))
    }

    /// The wires of two cavities change places.
    fn swap(&mut self, one: &str, other: &str, source: Provenance) -> bool {
        for wire in &mut self.wires {
            for end in [&mut wire.from, &mut wire.to] {
                let to = match end.as_str() {
                    end if end == one => other,
                    end if end == other => one,
                    _ => continue,
                };
                *end = to.to_owned();
                wire.source = Some(source);
            }
        }
        true
    }

    /// One contact of the other kind, by `part.contact`.
    fn turn(&mut self, address: &str) -> bool {
        let Some((part, contact)) = address.split_once('.') else { return false };
        let controls = self.controls.clone();
        let other = |gate: &Gate| {
            let own = controls.iter().find(|c| c.id == gate.control)?;
            own.positions.iter().map(|p| &p.id).find(|p| **p != gate.position).cloned()
        };
        let part = self.parts.iter_mut().find(|p| p.id == part);
        let contact = part.and_then(|p| p.contacts.iter_mut().find(|c| c.id == contact));
        let Some(contact) = contact else { return false };
        turn(contact);
        if let Some(gate) = &mut contact.gate
            && let Some(position) = other(gate)
        {
            gate.position = position;
        }
        true
    }

    fn turn_all(&mut self, part: &str) -> bool {
        let own = self.parts.iter().find(|p| p.id == part);
        let contacts = own.map_or_else(Vec::new, |p| p.contacts.iter().map(|c| &c.id).collect());
        let all: Vec<String> = contacts.into_iter().map(|c| format!("{part}.{c}")).collect();
        all.iter().all(|address| self.turn(address)) && !all.is_empty()
    }

    /// What is left open about wires and parts that are no longer there, or wires that are there by now, is not
    /// open.
    pub(crate) fn drop_what_fell_away(&mut self) {
        let (wires, parts) = (self.wires.clone(), self.parts.clone());
        let gone = |address: &str| {
            let part = address.split_once('.').map_or(address, |(part, _)| part);
            !parts.iter().any(|p| p.id == part) && !wires.iter().any(|w| w.id == part)
        };
        let stands = |change: &String| match change.split_once('=') {
            Some((wire, "open")) if !wire.contains('.') => wires.iter().any(|w| w.id == wire),
            Some((subject, mode)) if gone(subject) || other_end(mode).is_some_and(gone) => false,
            Some(_) => wire_put(change).is_none_or(|put| !wires.iter().any(|w| w.lies_as(&put))),
            None => false,
        };
        for Alternative { choices, .. } in &mut self.alternatives {
            for choice in choices.iter_mut() {
                choice.changes.retain(stands);
            }
            choices.retain(|c: &WiringChoice| !c.changes.is_empty());
        }
        self.alternatives.retain(|a| !a.choices.is_empty());
    }
}

/// The other terminal that a change is about.
fn other_end(mode: &str) -> Option<&str> {
    let other = mode.strip_prefix("touches:").or_else(|| mode.strip_prefix("swapped:"))?;
    Some(other.split(':').next().unwrap_or(other))
}

fn turn(contact: &mut Contact) {
    contact.normally = contact.normally.map(|n| match n {
        Normally::Open => Normally::Closed,
        Normally::Closed => Normally::Open,
    });
    contact.made_when = contact.made_when.take().map(|when| match when.strip_prefix("!(") {
        Some(inner) if inner.ends_with(')') && !inner[..inner.len() - 1].contains(['(', ')']) => {
            inner[..inner.len() - 1].to_owned()
        }
        _ => format!("!({when})"),
    });
}
