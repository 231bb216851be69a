//! What a wire is called beside a machine: by its color and its ends, never by a number of a drawing.

use super::document::{MachineDocument, Wire};
use std::fmt;

/// Where the end of a wire lands: the terminal behind the plug that takes it there, if one does.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Landing<'a> {
    /// The part's id.
    pub part: &'a str,
    /// The part's own terminal.
    pub terminal: &'a str,
    /// The name of the plug in between, and its cavity.
    pub plug: Option<(&'a str, &'a str)>,
}

/// A wire by what a mechanic looks for.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct WireName {
    /// Of its insulation: "white/black".
    pub color: Option<String>,
    /// The part that one end lands at.
    pub from: String,
    /// The part that the other end lands at.
    pub to: String,
}

impl MachineDocument {
    /// Where an address lands, a plug resolved.
    pub fn landing<'a>(&'a self, address: &'a str) -> Landing<'a> {
        let split = |at: &'a str| at.split_once('.').unwrap_or((at, ""));
        let (part, terminal) = split(address);
        let connector = self.parts.iter().find(|p| p.id == part);
        let mate = connector.and_then(|c| Some((c.name.as_str(), c.mates.get(terminal)?)));
        match mate {
            Some((name, mate)) => {
                let (part, own) = split(mate);
                Landing { part, terminal: own, plug: Some((name, terminal)) }
            }
            None => Landing { part, terminal, plug: None },
        }
    }

    /// A wire's name. Where another wire has the same color and joins the same parts, the cavities
    /// of the plugs, or the terminals, tell them apart.
    pub fn wire_name(&self, wire: &Wire) -> WireName {
        let name = self.by_parts(wire);
        let same = |other: &WireName| {
            [&other.from, &other.to] == [&name.from, &name.to]
                || [&other.to, &other.from] == [&name.from, &name.to]
        };
        let mut others = self.wires.iter().filter(|w| w.id != wire.id && w.color == wire.color);
        if !others.any(|w| same(&self.by_parts(w))) {
            return name;
        }
        let with = |part: String, address| {
            let landing = self.landing(address);
            let at = landing.plug.map_or(landing.terminal, |(_, cavity)| cavity);
            format!("{part} {at}")
        };
        WireName { from: with(name.from, &wire.from), to: with(name.to, &wire.to), ..name }
    }

    fn by_parts(&self, wire: &Wire) -> WireName {
        let end = |address| {
            let part = self.landing(address).part;
            let named = self.parts.iter().find(|p| p.id == part);
            let name = named.map_or(part, |p| p.name.as_str());
            // What follows a comma says which side of a connector.
            lower(name.split(',').next().unwrap_or(name))
        };
        WireName { color: wire.color.clone(), from: end(&wire.from), to: end(&wire.to) }
    }
}

impl fmt::Display for WireName {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.color.as_deref() {
            Some(strap) if strap.ends_with("braid") => f.write_str(strap)?,
            Some(color) => write!(f, "{color} wire")?,
            None => f.write_str("wire")?,
        }
        write!(f, ", {} to {}", self.from, self.to)
    }
}

/// A name inside a sentence: its capital goes, unless it is an abbreviation.
pub fn lower(name: &str) -> String {
    let mut chars = name.chars();
    match (chars.next(), chars.next()) {
        (Some(a), Some(b)) if b.is_lowercase() => {
            a.to_lowercase().chain([b]).chain(chars).collect()
        }
        _ => name.to_owned(),
    }
}
