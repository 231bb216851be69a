//! How the circuit's things are named to the outside: units, elements, test points.

use kelvok_core::circuit::{Circuit, Condition, ElementId, ElementKind, NodeId};
use kelvok_core::diagnosis::{CloseUpEntry, Evidence, SetUp, SetUpEntry, Unit, lamp_part};
use kelvok_core::machine::lower;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum UnitKind {
    Part,
    Wire,
    Linkage,
    Nothing,
}

/// Something that is repaired or replaced.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct UnitView {
    /// A part's id, a wire's id, `part:linkage`, or `nothing`.
    pub id: String,
    pub kind: UnitKind,
    /// What the trade calls it: of a wire its color and its ends ("red wire, key switch to PTO
    /// switch"), of a linkage the switch that it works.
    pub name: String,
    /// Of a linkage, what it is: "arm on the pedal shaft".
    pub detail: Option<String>,
    pub price: Option<f64>,
    pub replace_minutes: Option<f64>,
}

impl UnitView {
    /// The unit as it is spoken of after a log: nothing is wrong any more where something was put right.
    pub fn after(circuit: &Circuit, unit: Unit, log: &[Evidence]) -> Self {
        let own = Self::of(circuit, unit);
        match unit {
            Unit::Nothing if log.iter().any(Evidence::repairs) => {
                Self { name: "Nothing more is wrong".to_owned(), ..own }
            }
            _ => own,
        }
    }

    pub fn of(circuit: &Circuit, unit: Unit) -> Self {
        let document = circuit.document();
        let id = unit.id(circuit);
        match unit {
            Unit::Part(index) => {
                let part = circuit.part(index);
                Self {
                    id,
                    kind: UnitKind::Part,
                    name: part.name.clone(),
                    detail: None,
                    price: part.price,
                    replace_minutes: part.replace_minutes,
                }
            }
            Unit::Wire(index) => {
                let wire = &document.wires[index];
                Self {
                    id,
                    kind: UnitKind::Wire,
                    name: document.wire_name(wire).to_string(),
                    detail: None,
                    price: None,
                    replace_minutes: None,
                }
            }
            Unit::Linkage(plunger) => {
                let part = circuit.part(circuit.plungers[plunger.index()].part);
                Self {
                    id,
                    kind: UnitKind::Linkage,
                    name: part.name.clone(),
                    detail: part.plunger.as_ref().map(|p| p.linkage.clone()),
                    price: None,
                    replace_minutes: None,
                }
            }
            Unit::Nothing => Self {
                id,
                kind: UnitKind::Nothing,
                name: "Nothing wrong right now: off and on, or a control was not held".to_owned(),
                detail: None,
                price: None,
                replace_minutes: None,
            },
        }
    }
}

/// What an element is called beside its unit: "start pole", "pin B", "coil".
pub fn element_name(circuit: &Circuit, element: ElementId) -> Option<String> {
    let e = circuit.element(element);
    let own = e.id.split_once('.').map(|(_, own)| own.to_owned());
    match e.kind {
        ElementKind::Contact(c) => {
            let entry = circuit.contact_entry(&circuit.contacts[c]);
            entry.map(|entry| entry.name.clone()).or(own)
        }
        ElementKind::Joint if circuit.part(e.part?).mates.len() > 1 => {
            own.map(|pin| format!("pin {pin}"))
        }
        ElementKind::Coil(_) => own,
        _ => None,
    }
}

/// The gate's whole name: "Pedal switch, start pole".
pub fn full_name(circuit: &Circuit, element: ElementId) -> String {
    let e = circuit.element(element);
    let unit = match (e.part, e.wire) {
        (Some(part), _) => UnitView::of(circuit, Unit::Part(part)).name,
        (None, Some(wire)) => UnitView::of(circuit, Unit::Wire(wire)).name,
        _ => e.id.clone(),
    };
    match element_name(circuit, element) {
        Some(own) => format!("{unit}, {own}"),
        None => unit,
    }
}

/// A terminal that a probe reaches.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PointView {
    pub terminal: String,
    pub name: String,
    /// A name for where space is short: "in", "B".
    pub short: String,
    pub place: String,
    /// What must come off to get there.
    pub cover: Option<String>,
    pub place_caution: Option<String>,
    /// Colors of the wires that land there.
    pub colors: Vec<String>,
    /// The connector that must be unplugged first.
    pub unplugged: Option<String>,
}

impl PointView {
    /// The test point of this index.
    pub fn of(circuit: &Circuit, index: usize) -> Self {
        let document = circuit.document();
        let point = &document.test_points[index];
        let place = document.places.iter().find(|p| p.id == point.place);
        let lands =
            document.wires.iter().filter(|w| w.from == point.terminal || w.to == point.terminal);
        Self {
            terminal: point.terminal.clone(),
            name: point.name.clone(),
            short: point.short.clone().unwrap_or_else(|| point.name.clone()),
            place: place.map_or_else(|| point.place.clone(), |p| p.name.clone()),
            cover: place.and_then(|p| p.cover.clone()),
            place_caution: place.and_then(|p| p.caution.clone()),
            colors: lands.filter_map(|w| w.color.clone()).collect(),
            unplugged: point.unplugged.clone(),
        }
    }
}

/// A set-up, with what to call the thing.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SetUpView {
    pub entry: SetUpEntry,
    pub name: String,
}

impl SetUpView {
    pub fn of(circuit: &Circuit, set_up: SetUp) -> Self {
        let name = match set_up {
            SetUp::Unplugged(part) | SetUp::LampInPlace(part) => circuit.part(part).name.clone(),
            SetUp::PressedByHand(plunger) | SetUp::FreedByHand(plunger) => {
                circuit.part(circuit.plungers[plunger.index()].part).name.clone()
            }
            SetUp::Shaken(place) => circuit.document().places[place].name.clone(),
            SetUp::BatteryOff => "battery".to_owned(),
            SetUp::WireOff(wire) => {
                let document = circuit.document();
                document.wire_name(&document.wires[wire]).to_string()
            }
            SetUp::Jumper { ends: (from, to), .. } => {
                let [from, to] = [from, to].map(|end| lower(point_name(circuit, end)));
                format!("jumper wire, {from} to {to}")
            }
        };
        Self { entry: SetUpEntry::of(circuit, set_up), name }
    }

    pub fn all(circuit: &Circuit, set_ups: &[SetUp]) -> Vec<Self> {
        set_ups.iter().map(|s| Self::of(circuit, *s)).collect()
    }
}

/// The point of a node as a probe reaches it; of one without any, its terminal.
pub fn point_view(circuit: &Circuit, node: NodeId) -> PointView {
    let points = &circuit.document().test_points;
    let own = (0..points.len())
        .find(|i| points[*i].unplugged.is_none() && circuit.test_point(*i) == Some(node));
    own.map_or_else(
        || PointView {
            terminal: circuit.node_name(node).to_owned(),
            name: point_name(circuit, node).to_owned(),
            short: point_name(circuit, node).to_owned(),
            place: String::new(),
            cover: None,
            place_caution: None,
            colors: Vec::new(),
            unplugged: None,
        },
        |i| PointView::of(circuit, i),
    )
}

/// A point as it is reached with a plug off: of two at one metal, the one that is in the plug.
pub fn point_with(circuit: &Circuit, node: NodeId, off: &[SetUp]) -> PointView {
    let points = &circuit.document().test_points;
    let plug = off.iter().find_map(|s| match s {
        SetUp::Unplugged(part) => Some(circuit.part(*part).id.as_str()),
        _ => None,
    });
    let own = (0..points.len()).find(|i| {
        plug.is_some()
            && points[*i].unplugged.as_deref() == plug
            && circuit.test_point(*i) == Some(node)
    });
    own.map_or_else(|| point_view(circuit, node), |i| PointView::of(circuit, i))
}

/// A node by the test point on it that is reached with nothing off, else by any, else by its terminal.
pub fn point_name(circuit: &Circuit, node: NodeId) -> &str {
    let points = &circuit.document().test_points;
    let here = |i: &usize| circuit.test_point(*i) == Some(node);
    let all = || (0..points.len()).filter(here);
    let found = all().find(|i| points[*i].unplugged.is_none()).or_else(|| all().next());
    found.map_or_else(|| circuit.node_name(node), |i| &points[i].name)
}

/// Something by its id, with what to call it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct NameView {
    pub id: String,
    pub name: String,
}

impl NameView {
    /// Its lamps and glow plugs.
    pub fn lamps(circuit: &Circuit) -> Vec<Self> {
        let parts = (0..).map_while(|lamp| lamp_part(circuit, lamp)).map(|p| circuit.part(p));
        parts.map(|p| Self { id: p.id.clone(), name: p.name.clone() }).collect()
    }

    /// The wires of a machine, by color and ends.
    pub fn wires(circuit: &Circuit) -> Vec<Self> {
        let document = circuit.document();
        let view = |wire| Self {
            id: Unit::Wire(wire).id(circuit),
            name: document.wire_name(&document.wires[wire]).to_string(),
        };
        (0..document.wires.len()).map(view).collect()
    }
}

/// Something that can be found out close up, with what to call it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct CloseUpView {
    /// As it is at its best.
    pub entry: CloseUpEntry,
    pub name: String,
    /// The engine must turn for it.
    pub turning: bool,
}

impl CloseUpView {
    /// Everything of a machine.
    pub fn all(circuit: &Circuit) -> Vec<Self> {
        let view = |entry: CloseUpEntry| {
            let part = entry.part().and_then(|id| circuit.part_named(id));
            let name = part.map(|p| circuit.part(p).name.clone()).unwrap_or_default();
            Self { turning: entry.wants_turning(), entry, name }
        };
        CloseUpEntry::all(circuit).into_iter().map(view).collect()
    }
}

/// Control id -> position id, every control.
pub fn condition_view(circuit: &Circuit, condition: &Condition) -> BTreeMap<String, String> {
    condition.named(circuit).map(|(c, p)| (c.to_owned(), p.to_owned())).collect()
}

/// A change that a machine came with.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FoundView {
    /// In the fault notation.
    pub change: String,
    pub note: String,
}

impl FoundView {
    pub fn all(circuit: &Circuit) -> Vec<Self> {
        let found = circuit.document().as_found.iter();
        found.map(|f| Self { change: f.change.clone(), note: f.note.clone() }).collect()
    }
}
