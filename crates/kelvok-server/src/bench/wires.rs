//! The plug of the machine against the switch: wires to move, and whether a new part is to be fitted.

use crate::bench::loaded::Loaded;
use kelvok_core::bench::{
    BenchEntry, Identity, Move, Profile, Unfit, WireCheck, WirePlan, ignition_of, unfit, wire_plan,
};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// How the wires of the plug are to be moved.
#[derive(Serialize, ToSchema)]
pub struct WirePlanView {
    /// Terminal -> the wire that belongs there.
    pub target: BTreeMap<String, String>,
    /// Terminal -> the wire that sits there now.
    pub now: BTreeMap<String, String>,
    /// Wires, by the machine's terminal: what they look like.
    pub looks: BTreeMap<String, String>,
    /// Held aside, out of the plug.
    pub aside: Vec<String>,
    /// Moved so far.
    pub moved: usize,
    /// What is left to move, in order.
    pub moves: Vec<MoveView>,
    pub check: Vec<WireCheckView>,
    /// Orders of its terminals that do all that the old one did; nothing at the switch tells which.
    pub orders: u64,
}

#[derive(Serialize, ToSchema)]
pub struct MoveView {
    pub wire: String,
    pub from: Option<String>,
    /// None: held aside until its place is free.
    pub to: Option<String>,
}

#[derive(Serialize, ToSchema)]
pub struct WireCheckView {
    pub position: String,
    pub one: String,
    pub other: String,
    pub made: bool,
    /// What was found, the last time; none where it was not tried since the last wire was moved.
    pub found: Option<bool>,
}

/// Whether a part is to be fitted.
#[derive(Serialize, ToSchema)]
pub struct FitView {
    pub against: Vec<Unfit>,
}

/// The plan, once the whole table is known and it is said which wire sits where.
pub(crate) fn wire_plan_view(loaded: &Loaded) -> Option<WirePlanView> {
    let head = &loaded.switch.head;
    let (plan, held) = plan(loaded)?;
    let WirePlan { target, moves, check, orders } = plan;
    let mut now = BTreeMap::new();
    let mut aside = Vec::new();
    for (spot, wire) in &head.plug {
        match held.get(wire) {
            None => now.insert(spot.clone(), wire.clone()),
            Some(Some(at)) => now.insert(at.clone(), wire.clone()),
            Some(None) => {
                aside.push(wire.clone());
                None
            }
        };
    }
    let looks = head.wires.iter().map(|w| (w.terminal.clone(), w.wire.clone())).collect();
    let checked = checked(loaded);
    let check = check.into_iter().map(|c| {
        let WireCheck { position, one, other, made } = c;
        let found = checked.get(&(position.clone(), one.clone(), other.clone())).copied();
        WireCheckView { position, one, other, made, found }
    });
    Some(WirePlanView {
        target,
        now,
        looks,
        aside,
        moved: loaded.standing().filter(|e| matches!(e, BenchEntry::WireMoved { .. })).count(),
        moves: moves
            .into_iter()
            .map(|Move { wire, from, to }| MoveView { wire, from, to })
            .collect(),
        check: check.collect(),
        orders,
    })
}

type Held = BTreeMap<String, Option<String>>;

fn plan(loaded: &Loaded) -> Option<(WirePlan, Held)> {
    let head = &loaded.switch.head;
    let old = Profile::of(head.replaces.clone()?).ok()?;
    let whole = head.plug.len() == loaded.bench.found.terminals().len();
    if !whole || !loaded.bench.is_complete() {
        return None;
    }
    let mut held = Held::new();
    for entry in loaded.standing() {
        if let BenchEntry::WireMoved { wire, to } = entry {
            held.insert(wire.clone(), to.clone());
        }
    }
    let plan = wire_plan(&old, &head.plug, &loaded.bench.found, &held)?;
    Some((plan, held))
}

/// What was found of the wires since the last was moved: position and wires -> made.
fn checked(loaded: &Loaded) -> BTreeMap<(String, String, String), bool> {
    let mut found = BTreeMap::new();
    for entry in loaded.standing() {
        match entry {
            BenchEntry::WireMoved { .. } => found.clear(),
            BenchEntry::WireChecked { position, from, to, made } => {
                found.insert((position.clone(), from.clone(), to.clone()), *made);
                found.insert((position.clone(), to.clone(), from.clone()), *made);
            }
            _ => {}
        }
    }
    found
}

/// What speaks against fitting a new part; none where it is none, or nothing says what is wanted.
pub(crate) fn fit_view(
    loaded: &Loaded,
    among: &[Profile],
    identities: &[Identity],
) -> Option<FitView> {
    let head = &loaded.switch.head;
    let old = head.replaces.as_ref().or(head.subject.profile.as_ref())?;
    if !head.new_part {
        return None;
    }
    let only = match identities {
        [only] => Some(among[only.profile].document()),
        _ => None,
    };
    let part = head.subject.profile.as_ref().or(only);
    let machine = loaded.circuit.as_ref().and_then(|c| ignition_of(c));
    // Where the wires already are as they belong, none is left to move.
    let wires = match (&head.replaces, loaded.bench.is_complete()) {
        (Some(_), true) => plan(loaded).map(|(plan, _)| plan.moves.len()),
        _ => Some(0),
    };
    Some(FitView { against: unfit(&loaded.bench, part, old, machine, wires) })
}
