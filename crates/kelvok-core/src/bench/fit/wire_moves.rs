//! Wires moved one at a time, so that a plug made for one switch serves another.

use crate::bench::found::FoundTable;
use crate::bench::identify::assignments;
use crate::bench::profile::{Function, Profile};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// A wire of a plug: the terminal of the old switch that it goes to, and what it looks like.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct PlugWire {
    pub terminal: String,
    /// Color and tracer: "red/white".
    pub wire: String,
}

/// One wire, moved.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Move {
    /// The terminal of the old switch that the wire is for.
    pub wire: String,
    /// The terminal of the new switch whose cavity it leaves; none where it was held aside.
    pub from: Option<String>,
    /// The one it goes to; none where it is held aside, taped, until its place is free.
    pub to: Option<String>,
}

/// Two wires in a position, once all are moved.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct WireCheck {
    pub position: String,
    /// Terminals of the old switch that the wires are for.
    pub one: String,
    pub other: String,
    pub made: bool,
}

/// How a plug is wired so that a new switch does what the machine wants.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct WirePlan {
    /// By the new switch's terminals, which wire belongs there.
    pub target: BTreeMap<String, String>,
    /// What is left to move, in order, one wire at a time.
    pub moves: Vec<Move>,
    pub check: Vec<WireCheck>,
    /// How many orders of the new switch's terminals do all that the old one did. The one that
    /// moves fewest wires is taken.
    pub orders: u64,
}

/// Orders weighed for moving few wires.
const MOST_WEIGHED: usize = 5040;

/// How the wires of a plug are to be moved so that a new switch does what the old one did. `None`
/// where no order of its terminals does, or it lacks one of the old one's positions: then it is no
/// replacement, wires moved or not.
///
/// # Arguments
/// - `old`: what the machine wants of its switch.
/// - `plug`: by the new switch's terminals, the old one's terminal whose wire now sits there.
/// - `found`: what the new switch was found to do.
/// - `held`: where each wire is now, by the old switch's terminal, if it was moved: a terminal of the
///   new switch, or aside.
pub fn wire_plan(
    old: &Profile,
    plug: &BTreeMap<String, String>,
    found: &FoundTable,
    held: &BTreeMap<String, Option<String>>,
) -> Option<WirePlan> {
    if !old.positions().iter().all(|p| found.positions().contains(&p.id)) {
        return None;
    }
    let fits = assignments(old, found, MOST_WEIGHED);
    let spots = found.terminals();
    let id = |t: u8| old.terminals()[usize::from(t)].id.as_str();
    let stays = |fit: &&Vec<u8>| {
        let pairs = spots.iter().zip(fit.iter());
        pairs.filter(|(spot, t)| plug.get(*spot).map(String::as_str) == Some(id(**t))).count()
    };
    let best = fits.first.iter().rev().max_by_key(stays)?;
    let target: BTreeMap<String, String> =
        spots.iter().zip(best).map(|(spot, t)| (spot.clone(), id(*t).to_owned())).collect();
    let mut now: BTreeMap<&str, Option<&str>> = BTreeMap::new();
    for (spot, wire) in plug {
        let at = held.get(wire).map_or(Some(spot.as_str()), |at| at.as_deref());
        now.insert(wire, at);
    }
    let moves = moves(now, &target);
    let moved: Vec<&str> = target
        .iter()
        .filter(|(spot, wire)| plug.get(*spot) != Some(wire))
        .map(|(_, wire)| wire.as_str())
        .collect();
    Some(WirePlan { moves, check: check(old, &moved), orders: fits.count, target })
}

/// One wire at a time to where it belongs; where all places are taken in a ring, one is held aside.
fn moves<'a>(
    mut now: BTreeMap<&'a str, Option<&'a str>>,
    target: &'a BTreeMap<String, String>,
) -> Vec<Move> {
    let belongs: BTreeMap<&str, &str> =
        target.iter().map(|(spot, wire)| (wire.as_str(), spot.as_str())).collect();
    let mut moves = Vec::new();
    loop {
        let mut misplaced = Vec::new();
        for (wire, at) in &now {
            if let Some(to) = belongs.get(wire).filter(|to| *at != Some(**to)) {
                misplaced.push((*wire, *at, *to));
            }
        }
        let free = |to: &str| !now.values().any(|at| *at == Some(to));
        let next = misplaced.iter().find(|(.., to)| free(to));
        let (wire, from, to) = match (next, misplaced.iter().find(|(_, at, _)| at.is_some())) {
            (Some((wire, at, to)), _) => (*wire, *at, Some(*to)),
            (None, Some((wire, at, _))) => (*wire, *at, None),
            (None, None) => return moves,
        };
        moves.push(Move {
            wire: wire.to_owned(),
            from: from.map(str::to_owned),
            to: to.map(str::to_owned),
        });
        now.insert(wire, to);
    }
}

/// What proves that the wires are where they belong: every pair that a position joins and a moved
/// wire has part in; and the kill wire, which the supply must never reach.
fn check(old: &Profile, moved: &[&str]) -> Vec<WireCheck> {
    let terminals = old.terminals();
    let is_moved = |t: usize| moved.contains(&terminals[t].id.as_str());
    let all = |function: Function| {
        (0..terminals.len()).filter(move |t| terminals[*t].function == function)
    };
    let mut check = Vec::new();
    for (p, position) in old.positions().iter().enumerate() {
        let mut push = |one: usize, other: usize, made: bool| {
            let (one, other) = (terminals[one].id.clone(), terminals[other].id.clone());
            check.push(WireCheck { position: position.id.clone(), one, other, made });
        };
        for head in 0..terminals.len() {
            let joined = old.joined(p)[head];
            if joined.trailing_zeros() as usize != head {
                continue;
            }
            for other in (head + 1..terminals.len()).filter(|t| joined >> t & 1 == 1) {
                if is_moved(head) || is_moved(other) {
                    push(head, other, true);
                }
            }
        }
        for supply in all(Function::Supply) {
            for kill in all(Function::Kill).filter(|k| is_moved(supply) || is_moved(*k)) {
                push(supply, kill, old.made(p, supply, kill));
            }
        }
    }
    check
}
