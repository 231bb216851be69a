//! One step: a wire put in, moved or taken out, a contact of the other kind, a part like another.

use crate::machine::{MachineDocument, Part, PartKind, Provenance, TestPoint, Wire, lower};
use serde::{Deserialize, Serialize};

/// One change made by hand. Ends of wires are terminals, `seat-plug.A`.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case", deny_unknown_fields)]
#[allow(missing_docs)]
pub enum Edit {
    /// A wire that was not drawn.
    AddWire {
        from: String,
        to: String,
        #[serde(default, skip_serializing_if = "Option::is_none")]
        color: Option<String>,
        /// American wire gauge; 18 if not given.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        gauge: Option<u8>,
    },
    /// What is not given stays as it is; a color of no letters is none.
    ChangeWire {
        wire: String,
        #[serde(default, skip_serializing_if = "Option::is_none")]
        from: Option<String>,
        #[serde(default, skip_serializing_if = "Option::is_none")]
        to: Option<String>,
        #[serde(default, skip_serializing_if = "Option::is_none")]
        color: Option<String>,
        #[serde(default, skip_serializing_if = "Option::is_none")]
        gauge: Option<u8>,
        #[serde(default, skip_serializing_if = "Option::is_none")]
        length_m: Option<f64>,
    },
    TakeOutWire {
        wire: String,
    },
    /// All wires at two pins change places.
    SwapPins {
        one: String,
        other: String,
    },
    /// A contact that was drawn closed at rest is open, or the other way round: `seat.start`.
    TurnContact {
        contact: String,
    },
    RenamePart {
        part: String,
        name: String,
    },
    /// Another one like a part of the machine, with its plug and test points, not wired yet.
    AddPart {
        like: String,
        name: String,
    },
    /// A part that is not there, with its plug, its wires and its test points.
    TakeOutPart {
        part: String,
    },
}

/// So many steps are taken at once.
pub const MOST_EDITS: usize = 500;
/// The longest color or name, in letters.
const LONGEST: usize = 80;

/// A step that cannot be taken.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, thiserror::Error)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[error("{sentence}")]
pub struct EditError {
    /// Which step, the first being 0.
    pub step: usize,
    /// Why not, for a person.
    pub sentence: String,
}

impl Edit {
    /// A document with steps taken, in order.
    ///
    /// # Arguments
    /// What is drawn anew is known from `source`.
    ///
    /// # Errors
    /// The first step that is about something the document does not have by then.
    pub fn all(
        document: &MachineDocument,
        steps: &[Self],
        source: Provenance,
    ) -> Result<MachineDocument, EditError> {
        let mut document = document.clone();
        for (step, edit) in steps.iter().enumerate() {
            edit.apply(&mut document, source).map_err(|sentence| EditError { step, sentence })?;
        }
        Ok(document)
    }

    /// Each step in words, in order; those from the first on that cannot be taken are left out.
    pub fn told(document: &MachineDocument, steps: &[Self], source: Provenance) -> Vec<String> {
        let mut document = document.clone();
        let told = steps.iter().map_while(|edit| {
            let says = edit.says(&document);
            edit.apply(&mut document, source).ok().map(|()| says)
        });
        told.collect()
    }

    /// What it does, in words, to a document that it is not done to yet.
    fn says(&self, document: &MachineDocument) -> String {
        let part = |id: &str| {
            let own = document.parts.iter().find(|p| p.id == id);
            own.map_or_else(|| id.to_owned(), |p| lower(&p.name))
        };
        let pin = |address: &str| {
            let (of, terminal) = address.split_once('.').unwrap_or((address, ""));
            format!("{} {terminal}", part(of))
        };
        let wire = |id: &str| {
            let own = document.wires.iter().find(|w| w.id == id);
            own.map_or_else(|| id.to_owned(), |w| document.wire_name(w).to_string())
        };
        match self {
            Self::AddWire { from, to, color, .. } => {
                let color = color.as_deref().map(|c| format!("{c} ")).unwrap_or_default();
                format!("New {color}wire, {} to {}", pin(from), pin(to))
            }
            Self::ChangeWire { wire: id, from, to, color, gauge, length_m } => {
                let from = from.as_deref().map(|t| format!("from {}", pin(t)));
                let to = to.as_deref().map(|t| format!("to {}", pin(t)));
                let color = color.as_deref().map(|c| if c.is_empty() { "no color" } else { c });
                let size = gauge.map(|g| format!("{g} AWG"));
                let length = length_m.map(|m| format!("{m} m"));
                let rest = color.map(str::to_owned).into_iter().chain(size).chain(length);
                let all: Vec<String> = from.into_iter().chain(to).chain(rest).collect();
                format!("{}: {}", wire(id), all.join(", "))
            }
            Self::TakeOutWire { wire: id } => format!("Took out: {}", wire(id)),
            Self::SwapPins { one, other } => format!("Swapped: {} and {}", pin(one), pin(other)),
            Self::TurnContact { contact } => {
                let (of, id) = contact.split_once('.').unwrap_or((contact, ""));
                let own = document.parts.iter().find(|p| p.id == of);
                let own = own.and_then(|p| p.contacts.iter().find(|c| c.id == id));
                let name = own.map_or(id, |c| c.name.as_str());
                format!("{}, {name}: NO for NC", part(of))
            }
            Self::RenamePart { part: id, name } => format!("{}: called {name}", part(id)),
            Self::AddPart { like, name } => format!("New: {name}, like the {}", part(like)),
            Self::TakeOutPart { part: id } => format!("Took out: {}", part(id)),
        }
    }

    fn apply(&self, document: &mut MachineDocument, source: Provenance) -> Result<(), String> {
        match self {
            Self::AddWire { from, to, color, gauge } => {
                end(document, from)?;
                end(document, to)?;
                apart(from, to)?;
                let id = document.next_wire_id();
                document.wires.push(Wire {
                    id,
                    from: from.clone(),
                    to: to.clone(),
                    color: named("color", color.as_deref().unwrap_or(""))?,
                    source: Some(source),
                    ..Wire::usual(*gauge)
                });
                Ok(())
            }
            Self::ChangeWire { wire, from, to, color, gauge, length_m } => {
                for terminal in [from, to].into_iter().flatten() {
                    end(document, terminal)?;
                }
                let length = length_m.filter(|m| !(m.is_finite() && *m > 0.0 && *m < 100.0));
                if let Some(length) = length {
                    return Err(format!("A wire {length} m long? Give its length in meters."));
                }
                let color = color.as_deref().map(|c| named("color", c)).transpose()?;
                let own = document.wires.iter_mut().find(|w| w.id == *wire);
                let own = own.ok_or_else(|| format!("There is no wire \"{wire}\"."))?;
                own.from = from.clone().unwrap_or_else(|| own.from.clone());
                own.to = to.clone().unwrap_or_else(|| own.to.clone());
                apart(&own.from, &own.to)?;
                own.color = color.unwrap_or_else(|| own.color.clone());
                if gauge.is_some() || length_m.is_some() {
                    // What was said in ohms is by size from now on.
                    own.ohms = None;
                }
                own.gauge = gauge.or(own.gauge);
                own.length_m = length_m.or(own.length_m);
                own.source = Some(source);
                Ok(())
            }
            Self::TakeOutWire { wire } => {
                let before = document.wires.len();
                document.wires.retain(|w| w.id != *wire);
                document.drop_what_fell_away();
                (document.wires.len() < before)
                    .then_some(())
                    .ok_or_else(|| format!("There is no wire \"{wire}\"."))
            }
            Self::SwapPins { one, other } => {
                end(document, one)?;
                end(document, other)?;
                apart(one, other)?;
                *document = document.corrected(&[format!("{one}=swapped:{other}")], "", source);
                Ok(())
            }
            Self::TurnContact { contact } => {
                let there = contact.split_once('.').is_some_and(|(part, id)| {
                    let part = document.parts.iter().find(|p| p.id == part);
                    part.is_some_and(|p| p.contacts.iter().any(|c| c.id == id))
                });
                if !there {
                    return Err(format!("There is no contact \"{contact}\"."));
                }
                *document = document.corrected(&[format!("{contact}=other-kind")], "", source);
                Ok(())
            }
            Self::RenamePart { part, name } => {
                let name = named("name", name)?.ok_or("A part needs a name.")?;
                let own = document.parts.iter_mut().find(|p| p.id == *part);
                own.ok_or_else(|| no_part(part))?.name = name;
                Ok(())
            }
            Self::AddPart { like, name } => {
                let name = named("name", name)?.ok_or("A part needs a name.")?;
                add_like(document, like, &name, source)
            }
            Self::TakeOutPart { part } => take_out(document, part),
        }
    }
}

fn no_part(id: &str) -> String {
    format!("There is no part \"{id}\".")
}

/// A terminal that a wire may end at.
fn end(document: &MachineDocument, address: &str) -> Result<(), String> {
    let found = document.ends_at(address);
    found.then_some(()).ok_or_else(|| format!("There is no terminal \"{address}\"."))
}

fn apart(one: &str, other: &str) -> Result<(), String> {
    (one != other).then_some(()).ok_or_else(|| format!("Both ends are at {one}. Pick two places."))
}

/// What a person typed, in one line; none if nothing.
fn named(what: &str, text: &str) -> Result<Option<String>, String> {
    let text = text.trim();
    if text.chars().count() > LONGEST || !crate::plain_text::is_plain(text) {
        return Err(format!("Keep the {what} to one line of at most {LONGEST} letters."));
    }
    Ok((!text.is_empty()).then(|| text.to_owned()))
}

/// The plugs that are a part's alone: all of their pins mate with it.
fn plugs_of(document: &MachineDocument, part: &str) -> Vec<String> {
    let own = |mate: &String| mate.split_once('.').is_some_and(|(p, _)| p == part);
    let plugs = document.parts.iter().filter(|p| p.kind == PartKind::Connector);
    let plugs = plugs.filter(|p| !p.mates.is_empty() && p.mates.values().all(own));
    plugs.map(|p| p.id.clone()).collect()
}

/// An id that no part has, after a name.
fn fresh_id(document: &MachineDocument, name: &str) -> String {
    let plain = |c: char| if c.is_ascii_alphanumeric() { c.to_ascii_lowercase() } else { '-' };
    let dashed: String = name.chars().map(plain).collect();
    let words: Vec<&str> = dashed.split('-').filter(|w| !w.is_empty()).collect();
    let base = if words.is_empty() { "part".to_owned() } else { words.join("-") };
    let taken = |id: &str| document.parts.iter().any(|p| p.id == id);
    let numbered = (2..).map(|n| format!("{base}-{n}"));
    let mut all = std::iter::once(base.clone()).chain(numbered);
    all.find(|id| !taken(id)).unwrap_or(base)
}

fn add_like(
    document: &mut MachineDocument,
    like: &str,
    name: &str,
    source: Provenance,
) -> Result<(), String> {
    let own = document.parts.iter().find(|p| p.id == like).ok_or_else(|| no_part(like))?;
    if own.kind == PartKind::Battery {
        return Err("A machine has one battery.".to_owned());
    }
    if own.kind == PartKind::Connector && !own.mates.is_empty() {
        return Err("A plug comes with the part that it is on: add that.".to_owned());
    }
    let id = fresh_id(document, name);
    let mut copies = vec![(like.to_owned(), id.clone())];
    let part = Part { id, name: name.to_owned(), source: Some(source), ..own.clone() };
    document.parts.push(part);
    for plug in plugs_of(document, like) {
        let Some(own) = document.parts.iter().find(|p| p.id == plug).cloned() else { continue };
        let called = format!("{name} plug");
        let id = fresh_id(document, &called);
        let to_copy = |mate: &String| {
            let terminal = mate.split_once('.').map_or("", |(_, terminal)| terminal);
            format!("{}.{terminal}", copies[0].1)
        };
        let mates = own.mates.iter().map(|(pin, mate)| (pin.clone(), to_copy(mate))).collect();
        let id_of_copy = id.clone();
        document.parts.push(Part { id, name: called, mates, source: Some(source), ..own });
        copies.push((plug, id_of_copy));
    }
    let copy_of = |id: &str| copies.iter().find(|(of, _)| of == id).map(|(_, copy)| copy.clone());
    let copied = |point: &TestPoint| {
        let (part, terminal) = point.terminal.split_once('.')?;
        let copy = copy_of(part)?;
        let called = document.parts.iter().find(|p| p.id == copy).map_or(name, |p| &p.name);
        Some(TestPoint {
            name: format!("{called} {terminal}"),
            terminal: format!("{copy}.{terminal}"),
            unplugged: point.unplugged.as_deref().and_then(copy_of),
            ..point.clone()
        })
    };
    let points: Vec<_> = document.test_points.iter().filter_map(copied).collect();
    document.test_points.extend(points);
    Ok(())
}

fn take_out(document: &mut MachineDocument, part: &str) -> Result<(), String> {
    if !document.parts.iter().any(|p| p.id == part) {
        return Err(no_part(part));
    }
    let mut gone = plugs_of(document, part);
    gone.push(part.to_owned());
    let is_gone = |address: &str| {
        let of = address.split('.').next().unwrap_or(address);
        gone.iter().any(|g| g == of)
    };
    document.parts.retain(|p| !gone.contains(&p.id));
    document.wires.retain(|w| !is_gone(&w.from) && !is_gone(&w.to));
    document.test_points.retain(|p| !is_gone(&p.terminal));
    for point in &mut document.test_points {
        point.unplugged = point.unplugged.take().filter(|plug| !gone.contains(plug));
    }
    for plug in &mut document.parts {
        plug.mates.retain(|_, mate| !is_gone(mate));
    }
    for splice in &mut document.splices {
        splice.terminals.retain(|t| !is_gone(t));
    }
    // One end alone is spliced to nothing.
    document.splices.retain(|s| s.terminals.len() > 1);
    document.drop_what_fell_away();
    Ok(())
}
