//! What the operator moves on such machines, and the switches there.

use super::answers::Settled;
use super::scheme::{Device, Role};
use crate::machine::{Control, Position};

/// A control with a switch at it.
pub(super) struct Moved {
    pub control: &'static str,
    /// The switch, as the trade calls it.
    pub switch: &'static str,
    pub place: &'static str,
    pub at: &'static str,
    pub linkage: &'static str,
}

impl Device {
    pub fn moved(self, answers: &Settled) -> Moved {
        let tractor = answers.is_tractor();
        let stands = answers.is("kind", "stand-on");
        let electric = answers.is("blades", "switch");
        let of =
            |control, switch, place, at, linkage| Moved { control, switch, place, at, linkage };
        match self {
            Self::Seat if stands => {
                of("seat", "Platform switch", "platform", "at the platform", "the platform")
            }
            Self::Seat => of("seat", "Seat switch", "under-seat", "under the seat", "the seat pan"),
            Self::Pedal => {
                of("pedal", "Pedal switch", "pedal", "at the pedal shaft", "the pedal shaft")
            }
            Self::Brake => {
                of("brake", "Brake switch", "brake", "at the parking brake", "the brake lever")
            }
            Self::Left => {
                of("left", "Left bar switch", "left-bar", "at the left bar", "the left bar")
            }
            Self::Right => {
                of("right", "Right bar switch", "right-bar", "at the right bar", "the right bar")
            }
            Self::Drive => {
                of("drive", "Drive pedal switch", "drive", "at the drive pedal", "the drive pedal")
            }
            Self::Lever => {
                of("lever", "Neutral switch", "lever", "at the shift lever", "the shift lever")
            }
            Self::Bail => of("bail", "Bail switch", "bail", "at the bail", "the bail cable"),
            Self::Blades if electric => of("blades", "PTO switch", "dash", "behind the dash", ""),
            Self::Blades if tractor => {
                of("blades", "PTO lever switch", "blade-lever", "at the PTO lever", "the PTO lever")
            }
            Self::Blades => of(
                "blades",
                "Blade lever switch",
                "blade-lever",
                "at the blade lever",
                "the blade lever",
            ),
            Self::Reverse => {
                of("lever", "Reverse switch", "lever", "at the shift lever", "the shift lever")
            }
            Self::Deck => of("deck", "Deck switch", "deck", "at the deck lift", "the deck lift"),
            Self::Chute => of("chute", "Chute switch", "deck", "at the deck", "the chute"),
            Self::Bagger => of("bagger", "Bagger switch", "bagger", "at the bagger", "the bagger"),
        }
    }

    /// The id of its switch.
    pub fn switch_id(self) -> &'static str {
        match self {
            Self::Seat => "seat-switch",
            Self::Pedal => "pedal-switch",
            Self::Brake => "brake-switch",
            Self::Left => "left-switch",
            Self::Right => "right-switch",
            Self::Drive => "drive-switch",
            Self::Lever => "neutral-switch",
            Self::Bail => "bail-switch",
            Self::Blades => "blade-switch",
            Self::Reverse => "reverse-switch",
            Self::Deck => "deck-switch",
            Self::Chute => "chute-switch",
            Self::Bagger => "bagger-switch",
        }
    }

    /// The position that presses its plunger.
    pub fn pressed(self) -> &'static str {
        match self {
            Self::Seat | Self::Brake | Self::Bagger => "on",
            Self::Pedal | Self::Chute => "down",
            Self::Left | Self::Right => "out",
            Self::Drive | Self::Lever => "neutral",
            Self::Bail => "held",
            Self::Blades => "off",
            Self::Reverse => "reverse",
            Self::Deck => "raised",
        }
    }

    /// Whether contacts in this role are made while it is pressed.
    pub fn made_pressed(self, role: Role) -> bool {
        match (self, role) {
            (Self::Blades, Role::Clutch | Role::Reverse) => false,
            (Self::Reverse, Role::Clutch) => false,
            (Self::Brake, Role::Cross) | (Self::Deck | Self::Reverse, _) => true,
            (_, Role::Kill | Role::Cross) => false,
            _ => true,
        }
    }
}

fn position(id: &str) -> Position {
    Position { id: id.to_owned(), name: id.to_owned(), ..Position::default() }
}

fn control(id: &str, name: &str, letter: &str, positions: &[&str], rest: &str) -> Control {
    Control {
        id: id.to_owned(),
        name: name.to_owned(),
        letter: letter.to_owned(),
        positions: positions.iter().map(|p| position(p)).collect(),
        rest: rest.to_owned(),
        joined_by: None,
    }
}

/// The key, which every such machine has.
pub(super) fn key(answers: &Settled) -> Control {
    let positions: &[&str] = match answers.get("key") {
        "reverse-mow" => &["off", "run", "reverse-mow", "start"],
        "heat" => &["off", "run", "heat", "start"],
        "start" => &["off", "start"],
        _ => &["off", "run", "start"],
    };
    let mut key = control("key", "Key", "k", positions, "off");
    key.joined_by = Some("at".to_owned());
    for p in &mut key.positions {
        if p.id == "reverse-mow" {
            p.name = "rev-mow".to_owned();
        }
        if p.id == "start" {
            let back = if positions.contains(&"run") { "run" } else { "off" };
            p.returns_to = Some(back.to_owned());
        }
    }
    key
}

/// The control of a name, as it is on such a machine.
pub(super) fn named(id: &str, answers: &Settled) -> Control {
    let tractor = answers.is_tractor();
    let mut own = match id {
        "seat" if answers.is("kind", "stand-on") => {
            control(id, "Platform", "t", &["empty", "on"], "on")
        }
        "seat" => control(id, "Seat", "t", &["empty", "on"], "on"),
        "pedal" if tractor => control(id, "Clutch pedal", "c", &["up", "down"], "up"),
        "pedal" => control(id, "Pedal", "b", &["up", "down"], "up"),
        "brake" => control(id, "Parking brake", "b", &["off", "on"], "on"),
        "left" => control(id, "Left bar", "l", &["out", "in"], "out"),
        "right" => control(id, "Right bar", "r", &["out", "in"], "out"),
        "drive" => control(id, "Drive pedal", "d", &["reverse", "neutral", "forward"], "neutral"),
        "lever" if tractor => control(id, "Gear", "g", &["neutral", "gear"], "neutral"),
        "lever" => control(id, "Lever", "l", &["reverse", "neutral", "forward"], "neutral"),
        "bail" => control(id, "Bail", "b", &["released", "held"], "released"),
        "blades" if tractor => control(id, "PTO", "p", &["off", "on"], "off"),
        "blades" if answers.is("blades", "switch") => {
            control(id, "Blades", "p", &["off", "on"], "off")
        }
        "blades" => control(id, "Blade lever", "p", &["off", "on"], "off"),
        "deck" => control(id, "Deck", "d", &["low", "raised"], "low"),
        "chute" => control(id, "Chute", "f", &["down", "up"], "down"),
        "bagger" => control(id, "Bagger", "g", &["off", "on"], "off"),
        "stop" => control(id, "Stop knob", "s", &["in", "pulled"], "in"),
        _ => control(id, "Lights", "i", &["off", "on"], "off"),
    };
    match id {
        "lever" | "drive" => own.joined_by = Some("in".to_owned()),
        "seat" => {
            let says = match answers.is("kind", "stand-on") {
                true => ["nobody on the platform", "operator on the platform"],
                false => ["nobody in the seat", "operator in the seat"],
            };
            for (p, says) in own.positions.iter_mut().zip(says) {
                p.says = Some(says.to_owned());
            }
        }
        "bail" => {
            own.positions[0].name = "let go".to_owned();
            own.positions[1].returns_to = Some("released".to_owned());
        }
        _ => {}
    }
    own
}
