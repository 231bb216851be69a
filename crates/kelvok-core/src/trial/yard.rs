//! The yard: what a bench leaves out. Parts pull in where they like, batteries drain and are charged
//! between tests, faults come in pairs that have to do with one another, and the mechanic begins in an
//! order of their own, with a jumper, a finger on a relay, and the same reading once more.

use super::world::{World, plainly, slack};
use crate::circuit::{Change, Circuit, Condition, Engine, NodeId, Relays, operating_point};
use crate::diagnosis::{
    BatteryEvent, CloseUp, Evidence, NextTest, Observation, Sense, SetUp, Suspect,
};
use crate::interlock::Track;
use crate::machine::PartKind;
use crate::random::Random;

/// Entries that a mechanic makes in an order of their own.
pub(super) const OWN_ENTRIES: usize = 6;
/// In so many cases something becomes of the battery on the way.
const BATTERY_EVENTS: f64 = 0.2;
/// A click is taken for another relay's at this chance.
const MISNAMED: f64 = 0.05;
/// What is read is read once more at this chance.
const REPEATED: f64 = 0.15;
/// A jumper is put on, or a relay felt, at this chance.
const JUMPED: f64 = 0.12;
const FELT: f64 = 0.12;
/// What a customer tells is of another moment at this chance.
const CUSTOMER_SLIPS: f64 = 0.06;
/// Tests among which a habit chooses: the quickest.
const HABIT: usize = 14;

/// What becomes of the battery, and at which test.
#[derive(Clone, Copy, Debug)]
pub(super) struct BatteryDay {
    pub at_test: usize,
    pub event: BatteryEvent,
    pub volts: f64,
}

impl BatteryDay {
    /// Draws one, in some cases.
    pub fn draw(emf: f64, random: &mut Random) -> Option<Self> {
        let happens = random.happens(BATTERY_EVENTS);
        let at_test = 2 + random.index(6);
        let (event, volts) = match random.index(3) {
            0 => (BatteryEvent::Charged, random.between(12.5, 12.9)),
            1 => (BatteryEvent::Swapped, random.between(12.4, 12.9)),
            _ => (BatteryEvent::LeftOvernight, emf - random.between(0.0, 0.35)),
        };
        happens.then_some(Self { at_test, event, volts })
    }
}

/// What a mechanic does of their own accord.
pub(super) enum Habit {
    /// One of the quick tests at hand, whatever it tells.
    Test(usize),
    /// The last thing once more.
    Again,
    /// A jumper, and the key.
    Jumper(SetUp),
    /// A finger on a relay or solenoid, by coil, and the key.
    Feel(usize),
}

impl Habit {
    pub fn draw(circuit: &Circuit, tests: &[NextTest], random: &mut Random) -> Option<Self> {
        let dice = random.share();
        let coils = felt_coils(circuit);
        if dice < REPEATED {
            return Some(Self::Again);
        }
        if dice < REPEATED + JUMPED
            && let Some(jumper) = a_jumper(circuit, random)
        {
            return Some(Self::Jumper(jumper));
        }
        if dice < REPEATED + JUMPED + FELT && !coils.is_empty() {
            return Some(Self::Feel(coils[random.index(coils.len())]));
        }
        let mut quick: Vec<usize> = (0..tests.len()).collect();
        quick.sort_by(|a, b| tests[*a].minutes.total_cmp(&tests[*b].minutes));
        quick.truncate(HABIT);
        (!quick.is_empty()).then(|| Self::Test(quick[random.index(quick.len())]))
    }
}

/// From the battery to the starter's trigger, or across one of the contacts on the way.
fn a_jumper(circuit: &Circuit, random: &mut Random) -> Option<SetUp> {
    let track = Track::lay_out(circuit, "start").ok()?;
    let (_, positive) = circuit.posts()?;
    let mut pairs: Vec<(NodeId, NodeId)> = vec![(positive, track.load_ends(circuit).0)];
    let switched = |part: Option<usize>| part.is_some_and(|p| circuit.part(p).kind.is_switch());
    let gates = track.in_order(circuit).into_iter();
    let gates = gates.filter(|(e, ..)| switched(circuit.element(*e).part));
    pairs.extend(gates.map(|(_, a, b)| (a, b)));
    pairs.retain(|(a, b)| a != b);
    (!pairs.is_empty())
        .then(|| SetUp::Jumper { ends: pairs[random.index(pairs.len())], fuse: Some(15) })
}

/// The coils that a finger feels.
fn felt_coils(circuit: &Circuit) -> Vec<usize> {
    let felt = |kind: PartKind| matches!(kind, PartKind::Relay | PartKind::Solenoid);
    let part = |c: usize| circuit.element(circuit.coils[c].element).part;
    let own = |c: &usize| {
        circuit.coils[*c].assists.is_none() && part(*c).is_some_and(|p| felt(circuit.part(p).kind))
    };
    (0..circuit.coils.len()).filter(own).collect()
}

impl World {
    /// What a customer says may be of another moment, a control not as they say.
    pub(super) fn let_slip(&self, told: &mut Evidence, random: &mut Random) {
        let Observation::Sensed(sensed) = told.observation else { return };
        if self.is_yard() && random.happens(CUSTOMER_SLIPS) {
            let at = slack(self.circuit(), &told.condition, random);
            let changes: Vec<_> = self.troubles.iter().map(|t| t.change).collect();
            let seen = self.with(&changes, &at);
            told.observation = Observation::Sensed(plainly(&seen, sensed.sense()));
        }
    }

    /// What the starter does with a jumper on.
    pub(super) fn jumped(
        &self,
        suspects: &[Suspect],
        condition: &Condition,
        jumper: SetUp,
        random: &mut Random,
    ) -> Observation {
        let mut changes = self.wrong(suspects, &[], random);
        changes.extend(jumper.changes(self.circuit()));
        self.tried(&changes, condition, Sense::Starter, random)
    }

    /// What a finger on a coil feels as the key is turned, and whether it was another's click.
    pub(super) fn felt(
        &self,
        suspects: &[Suspect],
        condition: &Condition,
        coil: usize,
        random: &mut Random,
    ) -> (Observation, bool) {
        let changes: Vec<Change> = self.wrong(suspects, &[], random);
        let circuit = self.circuit();
        let at = Condition { engine: Engine::Stopped, ..condition.clone() };
        let outcome = operating_point(circuit, &at, Relays::default(), &changes, &[]).outcome;
        let pulls = |c: usize| outcome.coils[c] != crate::circuit::CoilState::Off;
        let another = felt_coils(circuit).into_iter().any(|c| c != coil && pulls(c));
        let misnamed = random.happens(MISNAMED) && another && !pulls(coil);
        (Observation::CloseUp(CloseUp::Coil(coil, pulls(coil) || misnamed)), misnamed)
    }
}

/// Which of the suspects a second fault is likelier to be: those that sit at the same place, and of a
/// battery whatever its current goes through.
pub(super) fn go_with(circuit: &Circuit, suspects: &[Suspect], first: usize) -> Vec<bool> {
    let own = &suspects[first];
    let heavy = |suspect: &Suspect| {
        suspect.elements.iter().any(|e| {
            let kind = circuit.element(*e).part.map(|p| circuit.part(p).kind);
            matches!(
                kind,
                Some(PartKind::Battery | PartKind::Ground | PartKind::Solenoid | PartKind::Starter)
            )
        })
    };
    let near = |other: &Suspect| {
        other.unit != own.unit
            && (other.places.iter().any(|p| own.places.contains(p)) || heavy(own) && heavy(other))
    };
    suspects.iter().map(near).collect()
}
