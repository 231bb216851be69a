//! What is drawn otherwise: wires first, each change a sentence.

use super::fields::{key, known, name, phrases, sourceless};
use crate::machine::{MachineDocument, PartKind, Wire, lower};
use serde::Serialize;
use serde_json::Value;

/// What kind of thing of a document changed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum DrawnThing {
    Wire,
    Splice,
    Part,
    Control,
    Circuit,
    Duty,
    Use,
    AsFound,
    Alternative,
    TestPoint,
    Place,
    /// The machine as a whole: its name, how it is driven, what cannot be.
    Machine,
}

/// What became of a thing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum How {
    New,
    Gone,
    Changed,
}

/// One thing of a document that is not as it was.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct DrawingChange {
    pub thing: DrawnThing,
    /// Its id, or what stands for one in the document.
    pub id: String,
    pub how: How,
    /// What it is called.
    pub name: String,
    /// What is otherwise, a phrase each: "ends at seat switch plug pin A, not pin C".
    pub says: Vec<String>,
    /// Nothing but where it is known from.
    pub only_source: bool,
}

/// The lists of a document, and what they list.
const LISTS: [(&str, DrawnThing); 10] = [
    ("splices", DrawnThing::Splice),
    ("parts", DrawnThing::Part),
    ("controls", DrawnThing::Control),
    ("circuits", DrawnThing::Circuit),
    ("duties", DrawnThing::Duty),
    ("normal_use", DrawnThing::Use),
    ("as_found", DrawnThing::AsFound),
    ("alternatives", DrawnThing::Alternative),
    ("test_points", DrawnThing::TestPoint),
    ("places", DrawnThing::Place),
];

/// What a document has otherwise than the one before it. The order of its lists says nothing.
pub fn drawing_changes(before: &MachineDocument, after: &MachineDocument) -> Vec<DrawingChange> {
    let mut changes = wires(before, after);
    let values = |document| serde_json::to_value(document).unwrap_or_default();
    let (old, new) = (values(before), values(after));
    for (list, thing) in LISTS {
        let empty = Vec::new();
        let of = |value: &Value| value.get(list).and_then(Value::as_array).cloned();
        let (old, new) = (of(&old), of(&new));
        changes.extend(listed(
            thing,
            old.as_ref().unwrap_or(&empty),
            new.as_ref().unwrap_or(&empty),
        ));
    }
    let rest = |value: &Value| {
        let mut rest = value.clone();
        if let Some(fields) = rest.as_object_mut() {
            fields.retain(|f, _| f != "wires" && LISTS.iter().all(|(list, _)| list != f));
            if let Some(Value::Object(identity)) = fields.remove("identity") {
                fields.extend(identity);
            }
        }
        rest
    };
    let says = phrases(&rest(&old), &rest(&new));
    if !says.is_empty() {
        let identity = &after.identity;
        changes.push(DrawingChange {
            thing: DrawnThing::Machine,
            id: after.reference.clone(),
            how: How::Changed,
            name: format!("{} {}", identity.make, identity.model),
            only_source: false,
            says,
        });
    }
    changes
}

fn listed(thing: DrawnThing, before: &[Value], after: &[Value]) -> Vec<DrawingChange> {
    let find = |list: &[Value], id: &str| list.iter().find(|i| key(i) == Some(id)).cloned();
    let change = |item: &Value, how, says: Vec<String>, only_source| DrawingChange {
        thing,
        id: key(item).unwrap_or_default().to_owned(),
        how,
        name: name(item),
        says,
        only_source,
    };
    let mut changes = Vec::new();
    for item in before {
        match find(after, key(item).unwrap_or_default()) {
            None => changes.push(change(item, How::Gone, Vec::new(), false)),
            Some(now) if now != *item => {
                let only_source = sourceless(item) == sourceless(&now);
                changes.push(change(&now, How::Changed, phrases(item, &now), only_source));
            }
            Some(_) => {}
        }
    }
    let new = after.iter().filter(|i| find(before, key(i).unwrap_or_default()).is_none());
    changes.extend(new.map(|item| change(item, How::New, Vec::new(), false)));
    changes
}

/// Wires are the same where their ids are, or where they join the same two ends in the same color.
fn wires(before: &MachineDocument, after: &MachineDocument) -> Vec<DrawingChange> {
    let mut left: Vec<&Wire> = after.wires.iter().collect();
    let mut take =
        |is: &dyn Fn(&Wire) -> bool| left.iter().position(|w| is(w)).map(|at| left.remove(at));
    let own: Vec<_> = before.wires.iter().map(|w| (w, take(&|n| n.id == w.id))).collect();
    let joins = |a: &Wire, b: &Wire| {
        a.color == b.color && (a.from == b.from && a.to == b.to || a.from == b.to && a.to == b.from)
    };
    let own: Vec<_> =
        own.into_iter().map(|(w, now)| (w, now.or_else(|| take(&|n| joins(n, w))))).collect();
    let mut changes = Vec::new();
    for (wire, now) in own {
        let Some(now) = now else {
            changes.push(wire_change(before, wire, How::Gone, Rewired::default()));
            continue;
        };
        let rewired = Rewired::between((before, wire), (after, now));
        if !rewired.says.is_empty() {
            changes.push(wire_change(before, wire, How::Changed, rewired));
        }
    }
    changes.extend(
        left.into_iter().map(|wire| wire_change(after, wire, How::New, Rewired::default())),
    );
    changes
}

fn wire_change(of: &MachineDocument, wire: &Wire, how: How, is: Rewired) -> DrawingChange {
    let color = wire.color.as_deref().map(|c| format!("{c} ")).unwrap_or_default();
    let ends = format!("{} to {}", end(of, &wire.from), end(of, &wire.to));
    DrawingChange {
        thing: DrawnThing::Wire,
        id: wire.id.clone(),
        how,
        name: format!("{color}wire, {ends}"),
        says: is.says,
        only_source: is.only_source,
    }
}

/// Where a wire ends: "key switch plug pin A", "frame".
fn end(document: &MachineDocument, address: &str) -> String {
    let (id, terminal) = address.split_once('.').unwrap_or((address, ""));
    let Some(part) = document.parts.iter().find(|p| p.id == id) else { return address.to_owned() };
    let name = lower(&part.name);
    match part.kind {
        PartKind::Connector => format!("{name} pin {terminal}"),
        _ if part.terminals.len() > 1 => format!("{name} {terminal}"),
        _ => name,
    }
}

/// What a wire has otherwise.
#[derive(Default)]
struct Rewired {
    says: Vec<String>,
    only_source: bool,
}

impl Rewired {
    fn between(
        (before, wire): (&MachineDocument, &Wire),
        (after, now): (&MachineDocument, &Wire),
    ) -> Self {
        // Which end is called the first says nothing.
        let turned = now.from != wire.from
            && now.to != wire.to
            && (now.from == wire.to || now.to == wire.from);
        let (from, to) = if turned { (&now.to, &now.from) } else { (&now.from, &now.to) };
        let mut says = Vec::new();
        for (was, is) in [(&wire.from, from), (&wire.to, to)] {
            if was != is {
                says.push(format!("ends at {}, not {}", end(after, is), end(before, was)));
            }
        }
        let rest = |wire: &Wire| {
            let mut value = serde_json::to_value(wire).unwrap_or_default();
            if let Some(fields) = value.as_object_mut() {
                fields.retain(|f, _| !["id", "from", "to", "source"].contains(&f.as_str()));
            }
            value
        };
        says.extend(phrases(&rest(wire), &rest(now)));
        // A wire that says nothing of its own is known as the machine is.
        let source = |document: &MachineDocument, wire: &Wire| {
            wire.source.unwrap_or(document.identity.source)
        };
        let (was, is) = (source(before, wire), source(after, now));
        let only_source = says.is_empty();
        if was != is {
            says.push(known(Some(was), Some(is)));
        }
        Self { says, only_source }
    }
}

impl DrawingChange {
    /// The whole of it in one sentence.
    pub fn sentence(&self) -> String {
        let name = self.name.trim_end_matches('.');
        match self.how {
            How::New => format!("New: {name}."),
            How::Gone => format!("Gone: {name}."),
            How::Changed => format!("{}: {}.", capital(name), self.says.join("; ")),
        }
    }
}

fn capital(text: &str) -> String {
    let mut chars = text.chars();
    chars.next().map(|c| c.to_uppercase().chain(chars).collect()).unwrap_or_default()
}
