//! Something to try at the machine, and what must come of it.

use crate::circuit::{Circuit, Condition, Engine};
use crate::diagnosis::{Caution, Heard, ObservationEntry, key_controls};
use crate::interlock::{DutySeen, EngineDoes, Turning, drives, leaves_seat, phrase, stands_at};
use crate::machine::{Control, lower};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// What is done.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Act {
    /// The controls are put so, the key last; on a machine with a rope, that is pulled.
    Crank,
    /// With the engine running something is moved.
    Move,
    /// The same, and after a while it is moved back.
    MoveAndBack,
}

/// What a person sees of it.
#[derive(
    Clone,
    Copy,
    Debug,
    PartialEq,
    Eq,
    Hash,
    PartialOrd,
    Ord,
    Serialize,
    Deserialize,
    JsonSchema,
    strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Saw {
    /// The starter does nothing.
    NoCrank,
    /// The solenoid or a relay clicks, and that is all.
    Clicks,
    /// The starter turns the engine over; it does not fire up, or is not to.
    Cranks,
    /// It fires up and runs.
    Starts,
    /// It stops within the time that it has.
    EngineStops,
    /// The blades stop, the engine goes on.
    BladesStop,
    /// Nothing stops; of what was moved back, what had stopped starts again.
    RunsOn,
    /// It did not come so far: the engine would not run.
    DiesBefore,
    /// It did not come so far: the blades would not turn.
    NoBlades,
}

impl Saw {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::NoCrank => "no crank",
            Self::Clicks => "just clicks",
            Self::Cranks => "cranks",
            Self::Starts => "starts and runs",
            Self::EngineStops => "engine stops",
            Self::BladesStop => "blades stop, engine runs on",
            Self::RunsOn => "keeps running",
            Self::DiesBefore => "engine wouldn’t run to try it",
            Self::NoBlades => "blades wouldn’t turn to try it",
        }
    }

    /// What a person who tries a duty sees of it.
    pub fn of(seen: DutySeen) -> Self {
        match seen {
            DutySeen::Cranked(true) | DutySeen::Started { cranks: true, starts: false } => {
                Self::Cranks
            }
            DutySeen::Cranked(false) | DutySeen::Started { cranks: false, .. } => Self::NoCrank,
            DutySeen::Started { starts: true, .. } => Self::Starts,
            DutySeen::Moved { before: Turning { runs: false, .. }, .. } => Self::DiesBefore,
            DutySeen::Moved { after: None, .. } => Self::NoBlades,
            DutySeen::Moved { after: Some(Turning { runs: false, .. }), .. } => Self::EngineStops,
            DutySeen::Moved { before, after: Some(after) } if before.blades && !after.blades => {
                Self::BladesStop
            }
            DutySeen::Moved { .. } => Self::RunsOn,
        }
    }

    /// What may be answered at a step, the right answer first.
    fn answers(act: Act, expected: Self, blades: bool) -> Vec<Self> {
        use Saw::*;
        let all: &[Self] = match (act, blades) {
            (Act::Crank, _) => &[Starts, NoCrank, Cranks, Clicks],
            (_, true) => &[EngineStops, BladesStop, RunsOn, NoBlades, DiesBefore],
            (_, false) => &[EngineStops, RunsOn, DiesBefore],
        };
        let others = all.iter().copied().filter(|s| *s != expected);
        // Where it must not crank, firing up is cranking.
        let others = others.filter(|s| !(expected == NoCrank && *s == Starts));
        std::iter::once(expected).chain(others).collect()
    }
}

/// One thing to try.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Step {
    pub act: Act,
    /// How the controls stand; the engine runs unless it is cranked.
    pub from: Condition,
    /// How they stand once something was moved.
    pub to: Option<Condition>,
    /// At the latest after so many seconds.
    pub within: Option<f64>,
    pub expected: Saw,
    /// The blades turn before something is moved.
    pub blades: bool,
    /// The duties that it tries, by index into the document's.
    pub duties: Vec<usize>,
}

impl Step {
    /// Whether both are the same thing to do, whatever comes of it.
    pub fn is_same_to_do(&self, other: &Self) -> bool {
        let within = |s: &Self| s.within.map(f64::to_bits);
        (self.act, &self.from, &self.to, within(self))
            == (other.act, &other.from, &other.to, within(other))
    }

    /// Control and position ids before and after: by these a record of it is known again.
    pub fn named(&self, circuit: &Circuit) -> (BTreeMap<String, String>, BTreeMap<String, String>) {
        let named =
            |c: &Condition| c.named(circuit).map(|(c, p)| (c.to_owned(), p.to_owned())).collect();
        (named(&self.from), self.moved(circuit).map(|(c, at)| named_one(c, at)).collect())
    }

    /// The controls that are moved, and where to.
    fn moved<'a>(&'a self, circuit: &'a Circuit) -> impl Iterator<Item = (&'a Control, usize)> {
        let to = self.to.as_ref().unwrap_or(&self.from);
        let pairs = circuit.controls.iter().zip(self.from.positions.iter().zip(&to.positions));
        pairs.filter(|(_, (a, b))| a != b).map(|(c, (_, at))| (c, usize::from(*at)))
    }

    /// What is done, in words.
    pub fn does(&self, circuit: &Circuit) -> String {
        let moved: Vec<_> = self.moved(circuit).map(|(c, at)| done(c, at)).collect();
        let moved = moved.join(", ");
        match self.act {
            Act::Crank if circuit.document().drive.recoil => "Pull the rope.".to_owned(),
            Act::Crank => {
                let keys = key_controls(circuit).into_iter();
                let turned = keys.map(|key| {
                    let control = &circuit.controls[key];
                    let at = &control.positions[usize::from(self.from.positions[key])];
                    format!("Turn the {} to {}.", lower(&control.name), at.name)
                });
                turned.collect::<Vec<_>>().join(" ")
            }
            Act::Move => format!("Now {moved}."),
            Act::MoveAndBack => format!("Now {moved}. Wait 5 s, then back again."),
        }
    }

    /// How the controls stand before it, by control, in words; but for the key that is turned then.
    pub fn stand(&self, circuit: &Circuit) -> Vec<(usize, String)> {
        let turned = match self.act {
            Act::Crank => key_controls(circuit),
            _ => BTreeSet::new(),
        };
        let each = circuit.controls.iter().zip(&self.from.positions).enumerate();
        each.filter(|(i, _)| !turned.contains(i))
            .map(|(i, (control, at))| (i, phrase(control, &[usize::from(*at)])))
            .collect()
    }

    /// What must come of it, in words.
    pub fn must(&self, circuit: &Circuit) -> String {
        let driven = circuit.document().drive.driven();
        let within = self.within.map(|s| format!(" within {s} s")).unwrap_or_default();
        let back = match self.act {
            Act::MoveAndBack => " and doesn’t start again by itself",
            _ => "",
        };
        match self.expected {
            Saw::NoCrank | Saw::Clicks => "It must not crank.".to_owned(),
            Saw::Cranks => "It must crank.".to_owned(),
            Saw::Starts => "It must start and run.".to_owned(),
            Saw::EngineStops => format!("The engine must stop{within}{back}."),
            Saw::BladesStop if self.act == Act::MoveAndBack => {
                format!("The {driven} must stop and not start again by themselves.")
            }
            Saw::BladesStop => format!("The {driven} must stop{within}; the engine runs on."),
            Saw::RunsOn | Saw::DiesBefore | Saw::NoBlades => {
                "The engine must keep running.".to_owned()
            }
        }
    }

    /// What may be answered, the right answer first.
    pub fn answers(&self) -> Vec<Saw> {
        Saw::answers(self.act, self.expected, self.blades)
    }

    /// What to mind, the worst last.
    pub fn cautions(&self, circuit: &Circuit) -> Vec<Caution> {
        let mut all = Vec::new();
        let to = self.to.as_ref().unwrap_or(&self.from);
        match self.act {
            Act::Crank if self.expected == Saw::NoCrank => all.push(Caution::MightMove),
            Act::Crank => all.push(Caution::MayCrank),
            _ => all.push(Caution::EngineRuns),
        }
        if self.blades {
            all.push(Caution::BladesTurn);
        }
        if self.act != Act::Crank {
            if drives(circuit, &self.from) || drives(circuit, to) {
                all.push(Caution::Drives);
            }
            if !leaves_seat(circuit, &self.from) && leaves_seat(circuit, to) {
                all.push(Caution::OffTheSeat);
            }
            if lifts_chute(circuit, &self.from, to) {
                all.push(Caution::LiftsChute);
            }
        }
        all
    }

    /// Whether somebody must hold a pedal or a lever while nobody sits there.
    pub fn takes_two(&self, circuit: &Circuit) -> bool {
        let to = self.to.as_ref().unwrap_or(&self.from);
        let held =
            |c: &Control| ["pedal", "clutch", "brake", "bail"].iter().any(|w| c.id.contains(w));
        let held = |c: &Control, at: &str| held(c) && (at == "down" || at == "held");
        leaves_seat(circuit, to) && stands_at(circuit, to, held)
    }

    /// Whether nobody else may be near.
    pub fn clear_area(&self, circuit: &Circuit) -> bool {
        use Caution::{BladesTurn, Drives, LiftsChute, MightMove};
        let needs = [BladesTurn, Drives, LiftsChute, MightMove];
        self.cautions(circuit).iter().any(|c| needs.contains(c))
    }

    /// Whether it may be tried at all: nobody is away from the seat of a machine that drives, nor moves anything
    /// from beside it while the engine runs but to sit down or to turn the key; and no engine runs with the chute up.
    pub fn is_safe(&self, circuit: &Circuit) -> bool {
        match &self.to {
            Some(to) => may_move(circuit, &self.from, to),
            None => may_stand(circuit, &self.from),
        }
    }

    /// What it takes beyond a step at all: of two that show alike, the lesser is taken.
    pub(super) fn trouble(&self, circuit: &Circuit) -> f64 {
        let rest = Condition::at_rest(circuit);
        let away = |c: &Condition| {
            c.positions.iter().zip(&rest.positions).filter(|(a, b)| a != b).count() as f64
        };
        let to = self.to.as_ref().unwrap_or(&self.from);
        let marks = [
            (self.act != Act::Crank, 3.0),
            (self.act == Act::MoveAndBack, 1.0),
            (self.blades, 4.0),
            (drives(circuit, &self.from) || drives(circuit, to), 4.0),
            (self.takes_two(circuit), 2.0),
            (leaves_seat(circuit, to), 1.0),
        ];
        let marked: f64 = marks.iter().filter(|(holds, _)| *holds).map(|(_, much)| much).sum();
        marked + 0.3 * away(&self.from)
    }

    /// What is recorded in the job's log where a person saw this: each with the condition that it was seen in.
    pub fn evidence(&self, saw: Saw) -> Vec<(Condition, ObservationEntry)> {
        let at = |condition: &Condition, engine| Condition { engine, ..condition.clone() };
        let heard = |heard| (at(&self.from, Engine::Stopped), ObservationEntry::Heard { heard });
        let engine = |condition: Condition, does| (condition, ObservationEntry::Engine { does });
        let after = at(self.to.as_ref().unwrap_or(&self.from), Engine::Running);
        let before = at(&self.from, Engine::Running);
        let blades = |turn| (after.clone(), ObservationEntry::Blades { turn });
        // What it does once it is moved back is of no one condition.
        if self.act == Act::MoveAndBack && saw == Saw::RunsOn {
            return Vec::new();
        }
        match saw {
            Saw::NoCrank => vec![heard(Heard::Silent)],
            Saw::Clicks => vec![heard(Heard::Click)],
            Saw::Cranks if self.expected == Saw::Starts => {
                vec![engine(at(&self.from, Engine::Cranking), EngineDoes::Stops)]
            }
            Saw::Cranks => vec![heard(Heard::Cranks)],
            Saw::Starts => vec![engine(at(&self.from, Engine::Cranking), EngineDoes::Runs)],
            Saw::EngineStops => vec![engine(after, EngineDoes::Stops)],
            Saw::BladesStop => vec![engine(after.clone(), EngineDoes::Runs), blades(false)],
            Saw::RunsOn if self.blades => {
                vec![engine(after.clone(), EngineDoes::Runs), blades(true)]
            }
            Saw::RunsOn => vec![engine(after, EngineDoes::Runs)],
            Saw::DiesBefore => vec![engine(before, EngineDoes::Stops)],
            Saw::NoBlades => vec![(before, ObservationEntry::Blades { turn: false })],
        }
    }
}

/// Something is moved, in words.
pub(super) fn done(control: &Control, at: usize) -> String {
    match (control.id.as_str(), control.positions[at].id.as_str()) {
        ("seat", "empty") => "lift yourself off the seat".to_owned(),
        ("seat", "on") => "sit down".to_owned(),
        (_, "released") => format!("let go of the {}", lower(&control.name)),
        (_, "held") => format!("hold the {}", lower(&control.name)),
        ("key", _) => format!("turn the key to {}", control.positions[at].name),
        _ => format!("set {}", phrase(control, &[at])),
    }
}

/// What is put otherwise, in words, but for the key that is turned last; empty where nothing is.
pub(super) fn set(circuit: &Circuit, from: &Condition, to: &Condition) -> String {
    said(circuit, from, to, &key_controls(circuit))
}

/// What is put otherwise, in words; of the key, too.
pub(super) fn turned(circuit: &Circuit, from: &Condition, to: &Condition) -> String {
    said(circuit, from, to, &BTreeSet::new())
}

fn said(circuit: &Circuit, from: &Condition, to: &Condition, but: &BTreeSet<usize>) -> String {
    let each = circuit.controls.iter().enumerate().filter(|(i, _)| !but.contains(i));
    let moved = each.filter(|(i, _)| from.positions[*i] != to.positions[*i]);
    let said: Vec<_> = moved.map(|(i, c)| done(c, usize::from(to.positions[i]))).collect();
    capital(&said.join(", "))
}

fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map(|c| c.to_uppercase().chain(letters).collect()).unwrap_or_default()
}

/// Whether the engine may be turned over so: by nobody away from the seat of a machine in gear.
pub(super) fn may_stand(circuit: &Circuit, condition: &Condition) -> bool {
    !(leaves_seat(circuit, condition) && drives(circuit, condition))
}

/// Whether a control may be moved with the engine running, from one condition to the next: by nobody away from the
/// seat, but to sit down or to turn the key, and never with the chute up or the wheels driven and the seat empty.
pub(super) fn may_move(circuit: &Circuit, from: &Condition, to: &Condition) -> bool {
    let alone = leaves_seat(circuit, from) || leaves_seat(circuit, to);
    let driven = drives(circuit, from) || drives(circuit, to);
    let keys = key_controls(circuit);
    let own = |(i, (a, b)): (usize, (&u8, &u8))| {
        a == b || keys.contains(&i) || circuit.controls[i].id.contains("seat")
    };
    let mut moved = from.positions.iter().zip(&to.positions).enumerate();
    let from_beside = leaves_seat(circuit, from) && !moved.all(own);
    !(alone && driven || from_beside || chute_is_up(circuit, from))
}

fn named_one(control: &Control, at: usize) -> (String, String) {
    (control.id.clone(), control.positions[at].id.clone())
}

fn chute_is_up(circuit: &Circuit, condition: &Condition) -> bool {
    let chute = |c: &Control| ["deflector", "chute"].iter().any(|w| c.id.contains(w));
    stands_at(circuit, condition, |c, at| chute(c) && at == "up")
}

fn lifts_chute(circuit: &Circuit, from: &Condition, to: &Condition) -> bool {
    !chute_is_up(circuit, from) && chute_is_up(circuit, to)
}
