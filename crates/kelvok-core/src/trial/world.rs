//! A machine with something wrong, and the hands, ears and meter that are put to it.
//!
//! The world is not the planner's model: its parts are not at their nominal values, its battery
//! drifts, its faults are of any size, its meter is off, hands slip and eyes miss at rates of their
//! own.

use super::surroundings::{Surroundings, own_coils};
use crate::circuit::{
    Change, Circuit, Condition, ElementKind, Engine, Fault, FaultMode, Instrument, LampState,
    NodeId, Reading, Refusal, Relays, operating_point, read,
};
use crate::diagnosis::{
    EngineDoes, Heard, Inspected, Observation, Sense, Sensed, SetUp, Suspect, TestAction,
};
use crate::interlock::{Judge, Noticed};
use crate::machine::PartKind;
use crate::random::Random;
use std::sync::Arc;

/// A fault in the world: what it changes, and whether it shows all the time.
#[derive(Clone, Debug)]
pub struct Trouble {
    /// The suspect it is, by index.
    pub suspect: usize,
    pub change: Change,
    /// The chance that it shows at any one look; one if it lasts.
    pub shows: f64,
}

/// A machine as it stands in the yard.
#[derive(Clone)]
pub struct World {
    circuit: Arc<Circuit>,
    /// Every part at its own value.
    values: Vec<Change>,
    battery: Option<(crate::circuit::ElementId, f64)>,
    pub troubles: Vec<Trouble>,
    /// What the meter makes of a volt.
    scale: f64,
    slip: f64,
    /// How much of what can be seen is seen, and how often sound things look bad.
    sight: f64,
    false_alarm: f64,
    /// Volts that the battery loses a minute.
    drift: f64,
    minutes: f64,
    surroundings: Surroundings,
    /// The last thing observed was a slip of the hand.
    slipped: bool,
}

/// In the yard hands slip up to this often.
const YARD_SLIP: f64 = 0.1;

impl World {
    /// A machine with its own tolerances, tired battery and clumsy mechanic; nothing wrong yet.
    pub fn new(circuit: Arc<Circuit>, surroundings: Surroundings, random: &mut Random) -> Self {
        let mut values = Vec::new();
        let mut battery = None;
        // A wire that is drawn and not there has no ohms of its own.
        let there = |id| !circuit.as_found.contains(&Change::Open(id));
        for (id, e) in circuit.elements().filter(|(id, _)| there(*id)) {
            let spread = match e.kind {
                ElementKind::Contact(_) | ElementKind::Joint | ElementKind::Ground => 0.4,
                ElementKind::Wire => 0.15,
                ElementKind::Source { emf, .. } => {
                    battery = battery.or(Some((id, emf + random.normal(-0.05, 0.12))));
                    0.2
                }
                ElementKind::Load | ElementKind::Coil(_) | ElementKind::Fuse { .. } => 0.05,
                _ => continue,
            };
            values.push(Change::Ohms(id, e.ohms * random.normal(0.0, spread).exp()));
        }
        let yard = surroundings == Surroundings::Yard;
        let most_slip = if yard { YARD_SLIP } else { 0.05 };
        let mut world = Self {
            circuit,
            surroundings,
            values,
            battery,
            troubles: Vec::new(),
            scale: random.normal(1.0, 0.003),
            slip: random.between(0.01, most_slip),
            sight: random.between(0.6, 1.0),
            false_alarm: random.between(0.01, 0.06),
            drift: random.between(0.0, 0.01),
            minutes: 0.0,
            slipped: false,
        };
        if yard {
            // Looks are right 95 times in 100, and the battery falls as it is used.
            (world.sight, world.false_alarm) = (1.0, 0.05);
            world.drift *= 3.0;
            world.circuit = Arc::new(own_coils(&world.circuit, random));
        }
        world
    }

    /// The machine as it stands, its coils as they are.
    pub fn circuit(&self) -> &Circuit {
        &self.circuit
    }

    /// Whether it stands in the yard.
    pub fn is_yard(&self) -> bool {
        self.surroundings == Surroundings::Yard
    }

    /// The battery's volts at rest now, where it has one.
    pub fn battery_volts(&self) -> Option<f64> {
        self.battery.map(|(_, volts)| volts - self.drift * self.minutes)
    }

    /// The battery is at these volts from now on.
    pub fn set_battery(&mut self, to: f64) {
        let lost = self.drift * self.minutes;
        if let Some((_, volts)) = &mut self.battery {
            *volts = to + lost;
        }
    }

    /// Whether the last thing observed was a slip of the hand.
    pub fn slipped(&self) -> bool {
        self.slipped
    }

    /// A fault of this kind, of a size that no bin knows.
    pub fn draw(
        fault: &Fault,
        suspect: usize,
        surroundings: Surroundings,
        random: &mut Random,
    ) -> Trouble {
        let yard = surroundings == Surroundings::Yard;
        let change = match fault.mode {
            // In the yard from what matters upward, where it sits.
            FaultMode::HighResistance if yard => {
                fault.at(random.log_between(fault.magnitudes()[0], 300.0))
            }
            FaultMode::HighResistance => fault.at(random.log_between(0.3, 300.0)),
            FaultMode::BatteryFlat => fault.at(random.between(4.0, 12.1)),
            FaultMode::BatteryWeak => fault.at(random.log_between(0.03, 5.0)),
            FaultMode::ShortedTurns => fault.at(random.between(0.1, 0.8)),
            FaultMode::Water => fault.at(random.log_between(200.0, 8000.0)),
            _ => fault.at(fault.magnitudes()[0]),
        };
        let often = if yard { [0.03, 0.3] } else { [0.1, 0.5] };
        let shows = if fault.mode.lasts() { 1.0 } else { random.between(often[0], often[1]) };
        Trouble { suspect, change, shows }
    }

    /// What is noticed in a condition with these changes to the machine.
    pub fn with(&self, changes: &[Change], condition: &Condition) -> Noticed {
        let mut all = self.values();
        all.extend_from_slice(changes);
        noticed(&self.circuit, &all, condition)
    }

    /// Every part at its own value, the battery as drained as it is by now.
    pub fn values(&self) -> Vec<Change> {
        let mut all = self.values.clone();
        if let Some((battery, volts)) = self.battery {
            all.push(Change::Emf(battery, volts - self.drift * self.minutes));
        }
        all
    }

    /// Time passes.
    pub fn pass(&mut self, minutes: f64) {
        self.minutes += minutes;
    }

    /// What is wrong just now: what comes and goes may not show.
    pub fn wrong(
        &self,
        suspects: &[Suspect],
        set_up: &[SetUp],
        random: &mut Random,
    ) -> Vec<Change> {
        let mut all = self.values();
        for trouble in &self.troubles {
            let places = &suspects[trouble.suspect].places;
            let shaken = set_up.iter().any(|s| matches!(s, SetUp::Shaken(p) if places.contains(p)));
            let shows = if shaken { trouble.shows.max(0.8) } else { trouble.shows };
            if shows >= 1.0 || random.happens(shows) {
                all.push(trouble.change);
            }
        }
        all
    }

    /// What a truthful ear and eye notice in a condition.
    fn notices(&self, suspects: &[Suspect], condition: &Condition, random: &mut Random) -> Noticed {
        let wrong = self.wrong(suspects, &[], random);
        noticed(&self.circuit, &wrong, condition)
    }

    /// What is noticed of something tried with these changes to the machine.
    pub fn tried(
        &self,
        changes: &[Change],
        condition: &Condition,
        sense: Sense,
        random: &mut Random,
    ) -> Observation {
        Observation::Sensed(sensed(&noticed(&self.circuit, changes, condition), sense, random))
    }

    /// Does one thing; what is recorded of it.
    pub fn observe(
        &mut self,
        suspects: &[Suspect],
        action: TestAction,
        (condition, set_up): (&Condition, &[SetUp]),
        random: &mut Random,
    ) -> Observation {
        let slips = random.happens(self.slip);
        self.slipped = slips;
        let circuit = &*self.circuit;
        match action {
            TestAction::Look(looked) => {
                Observation::Inspected(looked, self.looks_bad(suspects, looked, random))
            }
            TestAction::Try(sense) => {
                let at = if slips { slack(circuit, condition, random) } else { condition.clone() };
                let noticed = self.notices(suspects, &at, random);
                Observation::Sensed(sensed(&noticed, sense, random))
            }
            TestAction::Measure { instrument, red, black } => {
                let node = |point: usize| node(circuit, point);
                let (red, black) = (node(red), node(black));
                let mut wrong = self.wrong(suspects, set_up, random);
                wrong.extend(set_up.iter().flat_map(|s| s.changes(circuit)));
                let way = if slips { random.index(3) } else { 3 };
                let (condition, at) = match way {
                    // The key let go, or another control not held.
                    0 => (slack(circuit, condition, random), red),
                    // The next terminal.
                    1 => {
                        let points = circuit.document().test_points.len();
                        (condition.clone(), node(random.index(points)))
                    }
                    _ => (condition.clone(), red),
                };
                let relays = relays(circuit, &wrong, &condition);
                let shown = read(circuit, &condition, relays, &wrong, instrument, (at, black));
                // A probe that does not touch.
                let shown = if way == 2 { Err(Refusal::Live { volts: 0.0 }) } else { shown };
                let reading = self.shown(instrument, shown.ok(), random);
                Observation::Read { instrument, red, black, reading }
            }
        }
    }

    /// What the meter shows of a true value; of none, what open leads show.
    fn shown(
        &self,
        instrument: Instrument,
        reading: Option<Reading>,
        random: &mut Random,
    ) -> Reading {
        match reading {
            Some(Reading::Volts(volts)) => {
                let noise = random.normal(0.0, 0.008);
                Reading::Volts(((volts * self.scale + noise) * 100.0).round() / 100.0 + 0.0)
            }
            Some(Reading::Ohms(Some(ohms))) => {
                let shown = ohms * random.normal(1.0, 0.02) + random.between(0.0, 0.15);
                Reading::Ohms(Some(shown.max(0.0)))
            }
            Some(other) => other,
            None => match instrument {
                Instrument::Ohmmeter => Reading::Ohms(None),
                Instrument::Buzzer => Reading::Buzz(false),
                Instrument::TestLamp => Reading::Lamp(LampState::Out),
                Instrument::LedLamp => Reading::Lit(false),
                Instrument::AcVoltmeter => Reading::AcVolts(0.0),
                Instrument::DiodeRange => Reading::Drop(None),
                Instrument::Clamp => Reading::Amps(0.0),
                Instrument::Voltmeter => Reading::Volts(0.0),
            },
        }
    }

    fn looks_bad(&self, suspects: &[Suspect], looked: Inspected, random: &mut Random) -> bool {
        let chance = self.troubles.iter().map(|t| {
            let suspect = &suspects[t.suspect];
            let bad = crate::diagnosis::looks_bad(suspect, looked);
            // What the planner thinks can be seen is seen, less well.
            if bad > 0.06 { bad * self.sight } else { 0.0 }
        });
        random.happens(chance.fold(self.false_alarm, f64::max))
    }
}

/// The node of a test point, by index.
pub fn node(circuit: &Circuit, point: usize) -> NodeId {
    let terminal = &circuit.document().test_points[point].terminal;
    circuit.terminal(terminal).unwrap_or(NodeId::REFERENCE)
}

/// Relays as ordinary starting leaves them where the engine runs, else released.
pub fn relays(circuit: &Circuit, changes: &[Change], condition: &Condition) -> Relays {
    if condition.engine >= Engine::Running {
        Judge::new(circuit, changes).running_relays()
    } else {
        Relays::default()
    }
}

/// The condition with a control not as it should be: a momentary one let go, else any one moved.
pub fn slack(circuit: &Circuit, condition: &Condition, random: &mut Random) -> Condition {
    let mut slack = condition.clone();
    for (i, control) in circuit.controls.iter().enumerate() {
        let position = &control.positions[usize::from(condition.positions[i])];
        if let Some(back) = &position.returns_to {
            let back = control.positions.iter().position(|p| p.id == *back);
            slack.positions[i] = back.unwrap_or(0) as u8;
            return slack;
        }
    }
    let control = random.index(circuit.controls.len());
    let position = random.index(circuit.controls[control].positions.len());
    slack.positions[control] = position as u8;
    if circuit.can_occur(&slack) { slack } else { condition.clone() }
}

/// What is noticed of a machine with these changes.
pub fn noticed(circuit: &Circuit, changes: &[Change], condition: &Condition) -> Noticed {
    let outcome = match condition.engine >= Engine::Running {
        true => {
            let mut judge = Judge::new(circuit, changes);
            let relays = judge.relays_in(condition);
            judge.outcome(condition, relays).0
        }
        false => operating_point(circuit, condition, Relays::default(), changes, &[]).outcome,
    };
    circuit.noticed(condition, &outcome)
}

/// What is said of it by someone who attends to one thing, and mistakes what is alike.
pub fn sensed(noticed: &Noticed, sense: Sense, random: &mut Random) -> Sensed {
    match plainly(noticed, sense) {
        // Now and then a click is taken for a rattle, or slow for normal.
        Sensed::Starter(heard) => Sensed::Starter(match heard {
            Heard::Click if random.happens(0.05) => Heard::Chatter,
            Heard::Chatter if random.happens(0.05) => Heard::Click,
            Heard::CranksSlowly if random.happens(0.05) => Heard::Cranks,
            other => other,
        }),
        Sensed::Engine(EngineDoes::RunsRough) if random.happens(0.2) => {
            Sensed::Engine(EngineDoes::Runs)
        }
        other => other,
    }
}

/// The same of someone who never errs.
pub fn plainly(noticed: &Noticed, sense: Sense) -> Sensed {
    match sense {
        Sense::Starter => Sensed::Starter(Heard::of(noticed.crank)),
        Sense::Engine => Sensed::Engine(noticed.engine),
        Sense::Blades => Sensed::Blades(noticed.blades),
        Sense::Lamp(lamp) => {
            Sensed::Lamp(lamp, noticed.lamps.get(lamp).copied().unwrap_or(LampState::Out))
        }
    }
}

/// What someone would complain of on finding this where a sound machine does that, if anything.
pub fn complaint(
    circuit: &Circuit,
    condition: &Condition,
    (found, sound): (&Noticed, &Noticed),
) -> Option<Sense> {
    let recoil = circuit.document().drive.recoil;
    match condition.engine {
        Engine::Stopped if found.crank != sound.crank && !recoil => Some(Sense::Starter),
        Engine::Cranking | Engine::Running if found.engine != sound.engine => Some(Sense::Engine),
        _ if found.blades != sound.blades && has_blades(circuit) => Some(Sense::Blades),
        _ => {
            let mut lamps = found.lamps.iter().zip(&sound.lamps);
            lamps.position(|(a, b)| a != b).map(Sense::Lamp)
        }
    }
}

fn has_blades(circuit: &Circuit) -> bool {
    circuit.document().parts.iter().any(|p| p.kind == PartKind::Clutch)
        || circuit.document().drive.blades_when.is_some()
}
