//! How else a machine of these answers may be wired: what looking at it does not tell.

use super::answers::Settled;
use super::harness;
use super::scheme::{Device, Scheme, Way};
use crate::machine::{Alternative, Contact, MachineDocument, Wire, WiringChoice, lower};

/// The chances of each, of a hundred machines that look the same. The order of switches in a row is a
/// matter of where a harness maker found it short; the rest are other makers' habits.
const OTHER_ORDER: f64 = 0.3;
const CLUTCH_ORDER: f64 = 0.2;
const GROUND_SIDE: f64 = 0.15;
const SEAT_ALONE: f64 = 0.1;
const RELAY_GROUND_SIDE: f64 = 0.25;

/// What a machine is not known to be, of what is worth a thought.
pub(super) fn alternatives(
    answers: &Settled,
    scheme: &Scheme,
    drawn: &MachineDocument,
) -> Vec<Alternative> {
    let open = Open { answers, scheme, drawn };
    let all = [open.start(), open.kill(), open.presence(), open.clutch()];
    all.into_iter().flatten().collect()
}

struct Open<'a> {
    answers: &'a Settled,
    scheme: &'a Scheme,
    drawn: &'a MachineDocument,
}

impl Open<'_> {
    fn start(&self) -> Option<Alternative> {
        let ways = &self.scheme.start;
        let last = ways.last()?;
        let mut choices = vec![self.reversed(OTHER_ORDER, ways, |s, start| s.start = start)];
        let two_studs = self.answers.is("small-studs", "two");
        if self.scheme.start_relay || two_studs {
            let what = if self.scheme.start_relay { "start relay" } else { "solenoid" };
            let name = format!("The {} grounds the {what}", self.name(last));
            choices.push(self.choice(("ground-side", name), GROUND_SIDE, |scheme| {
                scheme.start_ground = scheme.start.pop().into_iter().collect();
            }));
        }
        self.alternative(("start", "How the start circuit runs"), self.in_order(ways), choices)
    }

    /// What grounds the kill wire where the operator is away.
    fn kill(&self) -> Option<Alternative> {
        let seated = |way: &&Way| matches!(way, Way::Contacts(Device::Seat, _));
        let (at, both) = self.scheme.kill.iter().enumerate().find_map(|(at, way)| match way {
            Way::Series(all) if all.iter().any(|w| seated(&w)) => Some((at, all)),
            _ => None,
        })?;
        let seat = both.iter().find(seated)?;
        let name = format!("The {} shuts it off alone", self.name(seat));
        let choices = vec![
            self.reversed(OTHER_ORDER, both, |s, all| s.kill[at] = Way::Series(all)),
            self.choice(("seat-alone", name), SEAT_ALONE, |s| s.kill[at] = seat.clone()),
        ];
        let about = "What shuts the engine off when the operator leaves";
        self.alternative(("kill", about), self.in_order(both), choices)
    }

    fn presence(&self) -> Option<Alternative> {
        let held = self.scheme.presence.as_ref().filter(|_| self.scheme.presence_relay)?;
        let drawn = format!("The key feeds it through the {}", self.name(held));
        let name = format!("The key feeds it; the {} grounds it", self.name(held));
        let choice = self.choice(("ground-side", name), RELAY_GROUND_SIDE, |scheme| {
            scheme.presence_grounds = true;
        });
        self.alternative(("presence", "What holds the presence relay"), drawn, vec![choice])
    }

    fn clutch(&self) -> Option<Alternative> {
        let ways = &self.scheme.clutch;
        let choices = vec![self.reversed(CLUTCH_ORDER, ways, |s, clutch| s.clutch = clutch)];
        let about = "How the blade clutch’s circuit runs";
        self.alternative(("clutch", about), self.in_order(ways), choices)
    }

    fn alternative(
        &self,
        (id, about): (&str, &str),
        drawn: String,
        choices: Vec<Option<WiringChoice>>,
    ) -> Option<Alternative> {
        let choices: Vec<_> = choices.into_iter().flatten().collect();
        let (id, about) = (id.to_owned(), about.to_owned());
        (!choices.is_empty()).then_some(Alternative { id, about, drawn, choices })
    }

    /// The same switches, the last of them first.
    fn reversed(
        &self,
        weight: f64,
        ways: &[Way],
        put: impl Fn(&mut Scheme, Vec<Way>),
    ) -> Option<WiringChoice> {
        if ways.len() < 2 {
            return None;
        }
        let ways: Vec<Way> = ways.iter().rev().cloned().collect();
        let name = self.in_order(&ways);
        self.choice(("other-order", name), weight, |scheme| put(scheme, ways.clone()))
    }

    /// A choice that differs from the drawing as this scheme does; none where it is the same circuit, or
    /// would take other parts.
    fn choice(
        &self,
        (id, name): (&str, String),
        weight: f64,
        put: impl Fn(&mut Scheme),
    ) -> Option<WiringChoice> {
        let mut scheme = self.scheme.clone();
        put(&mut scheme);
        let other = harness::wired(self.answers, &scheme);
        let changes = changes(self.drawn, &other)?;
        (!changes.is_empty()).then(|| WiringChoice { id: id.to_owned(), name, weight, changes })
    }

    fn in_order(&self, ways: &[Way]) -> String {
        let names: Vec<String> = ways.iter().map(|way| self.name(way)).collect();
        let text = names.join(", then the ");
        format!("{} the {text}", if names.len() > 1 { "First" } else { "Through" })
    }

    fn name(&self, way: &Way) -> String {
        let all = |ways: &[Way], word: &str| {
            ways.iter().map(|w| self.name(w)).collect::<Vec<_>>().join(word)
        };
        match way {
            Way::Contacts(device, _) => lower(device.moved(self.answers).switch),
            Way::Series(ways) => all(ways, " and "),
            Way::Either(ways) => all(ways, " or "),
        }
    }
}

/// What makes one document of another, in the fault notation; none where they have other parts.
fn changes(from: &MachineDocument, to: &MachineDocument) -> Option<Vec<String>> {
    let mut changes = Vec::new();
    if from.parts.len() != to.parts.len() {
        return None;
    }
    for (own, other) in from.parts.iter().zip(&to.parts) {
        if own.id != other.id || own.terminals != other.terminals {
            return None;
        }
        let contacts = own.contacts.iter().zip(&other.contacts);
        let kinds = |c: &Contact| (c.normally, c.made_when.clone());
        let differ = contacts.filter(|(a, b)| kinds(a) != kinds(b));
        changes.extend(differ.map(|(a, _)| format!("{}.{}=other-kind", own.id, a.id)));
    }
    let has =
        |document: &MachineDocument, wire: &Wire| document.wires.iter().any(|w| w.lies_as(wire));
    let gone = from.wires.iter().filter(|w| !has(to, w));
    changes.extend(gone.map(|w| format!("{}=open", w.id)));
    let new = to.wires.iter().filter(|w| !has(from, w));
    changes.extend(new.map(Wire::put));
    Some(changes)
}
