//! The profile of a machine's own switch, from its description.

use super::wire_moves::PlugWire;
use crate::bench::identify::by_logic;
use crate::bench::profile::{
    Actuator, Function, Position, Profile, ProfileDocument, SWITCH_FORMAT, SwitchKind, Terminal,
};
use crate::bench::{Cell, FoundTable, Seen};
use crate::circuit::{Circuit, Condition};
use crate::machine::{Contact, Normally, Part, PartKind};
use std::collections::{BTreeMap, BTreeSet};

/// The profile of a switch or relay of a machine: what its contacts join in each position. `None`
/// where the part has no contacts, or a control that no bench has works it.
///
/// Functions and places are those of a shipped profile with the same terminals and the same table;
/// else functions follow from the logic of the positions, and the terminals stand in a row.
pub fn profile_of_part(circuit: &Circuit, part: &str) -> Option<ProfileDocument> {
    let own = circuit.part(circuit.part_named(part)?);
    let (kind, actuator) = match own.kind {
        PartKind::KeySwitch => (SwitchKind::KeySwitch, Some(Actuator::Key)),
        PartKind::HandSwitch => (SwitchKind::PtoSwitch, None),
        PartKind::InterlockSwitch => (SwitchKind::InterlockSwitch, Some(Actuator::Plunger)),
        PartKind::Relay => (SwitchKind::Relay, Some(Actuator::Coil)),
        _ => return None,
    };
    let (positions, made) = match kind {
        SwitchKind::KeySwitch | SwitchKind::PtoSwitch => by_control(circuit, own)?,
        _ => at_rest_and_worked(own, kind),
    };
    let used: BTreeSet<&String> = own.contacts.iter().flat_map(|c| &c.between).collect();
    let ids: Vec<&String> = own.terminals.iter().filter(|t| used.contains(t)).collect();
    let across = 10.0 / (ids.len() as f64 + 1.0);
    let terminals = ids.iter().enumerate().map(|(i, id)| Terminal {
        id: (*id).clone(),
        function: contact_function(own, id),
        at: [across * (i as f64 + 1.0), 5.0],
    });
    let identity = &circuit.document().identity;
    let mut document = ProfileDocument {
        format: SWITCH_FORMAT.to_owned(),
        id: own.id.clone(),
        name: format!("{} of the {} {}", own.name, identity.make, identity.model),
        kind,
        actuator,
        ignition: super::ignition_of(circuit).filter(|_| kind == SwitchKind::KeySwitch),
        terminals: terminals.collect(),
        positions,
        made,
        amps: own.amps,
        notes: own.note.clone().unwrap_or_default(),
    };
    let profile = Profile::of(document.clone()).ok()?;
    match Profile::shipped().iter().find(|p| same_switch(p, &profile)) {
        Some(shipped) => {
            for terminal in &mut document.terminals {
                let theirs = shipped.terminals().iter().find(|t| t.id == terminal.id);
                if let Some(theirs) = theirs {
                    *terminal = theirs.clone();
                }
            }
            document.actuator = shipped.document().actuator;
        }
        None if kind == SwitchKind::KeySwitch => {
            let functions = by_logic(&full_table(&profile));
            for (terminal, functions) in document.terminals.iter_mut().zip(functions) {
                let by_logic = functions.first().copied().unwrap_or(Function::Contact);
                terminal.function = printed(&terminal.id).unwrap_or(by_logic);
            }
        }
        None => {}
    }
    Some(document)
}

type Made = BTreeMap<String, Vec<Vec<String>>>;

/// The positions of the one control that works a switch, and what is joined in each.
fn by_control(circuit: &Circuit, part: &Part) -> Option<(Vec<Position>, Made)> {
    let controls: BTreeSet<&str> =
        part.contacts.iter().filter_map(|c| c.gate.as_ref()).map(|g| g.control.as_str()).collect();
    let [control] = controls.into_iter().collect::<Vec<_>>()[..] else { return None };
    let control = circuit.controls.iter().find(|c| c.id == control)?;
    let made_at = |contact: &Contact, position: &str| {
        let text = contact.made_when.as_deref().unwrap_or_default();
        let expression = circuit.expression(text).ok()?;
        let at = Condition::with(circuit, [(control.id.as_str(), position)]).ok()?;
        Some(circuit.holds(&expression, &at))
    };
    let mut made = Made::new();
    for position in &control.positions {
        let mut pairs = Vec::new();
        for contact in &part.contacts {
            if made_at(contact, &position.id)? {
                pairs.push(contact.between.clone());
            }
        }
        made.insert(position.id.clone(), classes(&pairs));
    }
    let positions = control.positions.iter().map(|p| Position {
        id: p.id.clone(),
        name: p.name.clone(),
        returns_to: p.returns_to.clone(),
    });
    Some((positions.collect(), made))
}

fn at_rest_and_worked(part: &Part, kind: SwitchKind) -> (Vec<Position>, Made) {
    let [rest, worked] = match kind {
        SwitchKind::Relay => ["rest", "energized"],
        _ => ["released", "pressed"],
    };
    let position = |id: &str, back: Option<&str>| Position {
        id: id.to_owned(),
        name: id.to_owned(),
        returns_to: back.map(str::to_owned),
    };
    let pairs = |normally: Normally| {
        let own = part.contacts.iter();
        let own = own.filter(|c| c.normally.unwrap_or(Normally::Open) == normally);
        classes(&own.map(|c| c.between.clone()).collect::<Vec<_>>())
    };
    let made = Made::from([
        (rest.to_owned(), pairs(Normally::Closed)),
        (worked.to_owned(), pairs(Normally::Open)),
    ]);
    (vec![position(rest, None), position(worked, Some(rest))], made)
}

/// Pairs as lists of what is joined.
fn classes(pairs: &[[String; 2]]) -> Vec<Vec<String>> {
    let mut all: Vec<Vec<String>> = Vec::new();
    for pair in pairs {
        let (with, apart): (Vec<_>, Vec<_>) =
            all.into_iter().partition(|class| pair.iter().any(|t| class.contains(t)));
        let mut class = with.concat();
        class.extend(pair.iter().filter(|t| !class.contains(t)).cloned().collect::<Vec<_>>());
        all = apart;
        all.push(class);
    }
    all
}

/// What the letters and numbers that the trade prints on key switches stand for, where they stand
/// for one thing only.
fn printed(id: &str) -> Option<Function> {
    Some(match id {
        "B" | "BAT" | "30" => Function::Supply,
        "S" | "ST" | "50" => Function::Starter,
        "M" => Function::Kill,
        "G" => Function::Ground,
        "L" => Function::Lights,
        "I" | "IGN" | "15" => Function::Ignition,
        "17" | "19" | "H" => Function::Heat,
        _ => return None,
    })
}

/// What a terminal of a plain contact is.
fn contact_function(part: &Part, terminal: &String) -> Function {
    let mut own = part.contacts.iter().filter(|c| c.between.contains(terminal));
    match (own.next().map(|c| c.normally), own.next()) {
        (Some(_), Some(_)) => Function::Common,
        (Some(Some(Normally::Open)), None) => Function::NormallyOpen,
        (Some(Some(Normally::Closed)), None) => Function::NormallyClosed,
        _ => Function::Contact,
    }
}

/// Whether two have the same terminals, positions and table, by name.
fn same_switch(one: &Profile, other: &Profile) -> bool {
    let names = |p: &Profile| p.terminals().iter().map(|t| t.id.clone()).collect::<BTreeSet<_>>();
    let stands = |p: &Profile| p.positions().iter().map(|s| s.id.clone()).collect::<BTreeSet<_>>();
    if names(one) != names(other) || stands(one) != stands(other) {
        return false;
    }
    let joined = |p: &Profile| -> BTreeMap<String, BTreeSet<BTreeSet<String>>> {
        let made = p.document().made.iter().filter(|(_, groups)| !groups.is_empty());
        let set = |groups: &Vec<Vec<String>>| {
            groups.iter().map(|g| g.iter().cloned().collect()).collect()
        };
        made.map(|(at, groups)| (at.clone(), set(groups))).collect()
    };
    joined(one) == joined(other)
}

/// A switch of a profile that was probed through and through.
pub(super) fn full_table(profile: &Profile) -> FoundTable {
    let ids = profile.terminals().iter().map(|t| t.id.clone()).collect();
    let positions = profile.positions().iter().map(|p| p.id.clone()).collect();
    let mut table = FoundTable::new(ids, positions).unwrap_or_default();
    for position in 0..profile.positions().len() {
        for one in 0..profile.terminals().len() {
            for other in one + 1..profile.terminals().len() {
                let made = profile.made(position, one, other);
                let seen = if made { Seen::Made } else { Seen::Open };
                table.add(Cell::new(position, one, other), seen);
            }
        }
    }
    table
}

/// The wires at a part's plug, or at its terminals: which terminal, and what the wire looks like.
pub fn wires_at(circuit: &Circuit, part: &str) -> Vec<PlugWire> {
    let document = circuit.document();
    let plug = document.parts.iter().find(|p| {
        let on = |mate: &String| mate.strip_prefix(part).is_some_and(|t| t.starts_with('.'));
        p.kind == PartKind::Connector && p.mates.values().any(on)
    });
    let Some(own) = document.parts.iter().find(|p| p.id == part) else { return Vec::new() };
    let cavity = |terminal: &str| {
        let wanted = format!("{part}.{terminal}");
        let mated = plug.and_then(|p| {
            let mate = p.mates.iter().find(|(_, mate)| **mate == wanted);
            mate.map(|(cavity, _)| format!("{}.{cavity}", p.id))
        });
        mated.unwrap_or(wanted)
    };
    let wires = own.terminals.iter().filter_map(|terminal| {
        let at = cavity(terminal);
        let wire = document.wires.iter().find(|w| w.from == at || w.to == at)?;
        Some(PlugWire { terminal: terminal.clone(), wire: wire.color.clone().unwrap_or_default() })
    });
    wires.collect()
}
