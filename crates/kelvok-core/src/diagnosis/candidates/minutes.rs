//! What a test costs: where the mechanic stands, what is open and how the machine is set.

use super::context::Context;
use crate::circuit::{Circuit, Condition, Engine, Instrument};
use crate::diagnosis::evidence::{Evidence, Inspected, Observation, SetUp, TestAction};
use crate::machine::TRAVEL_MINUTES;
use std::collections::BTreeSet;

const READ_MINUTES: f64 = 0.25;
/// What is heard, or seen at the tip of the probe, without a look at the meter.
const GLANCE_MINUTES: f64 = 0.15;
/// Putting the meter down for the test lamp, or the other way round, and clipping it on.
const PICK_UP_MINUTES: f64 = 0.25;
/// Turning a key, or letting in a clutch, and listening.
const TRY_MINUTES: f64 = 0.2;
/// Starting the engine first, and letting it settle.
const RUN_MINUTES: f64 = 0.7;
/// Looking and feeling; along a whole wire it takes longer.
const LOOK_MINUTES: f64 = 0.3;
const LOOK_ALONG_MINUTES: f64 = 1.0;
const UNPLUG_MINUTES: f64 = 0.4;
const BATTERY_MINUTES: f64 = 0.6;
/// The plug off, and a lamp clipped to its pin and to ground.
const LAMP_MINUTES: f64 = 0.8;
const WIRE_MINUTES: f64 = 0.7;
const JUMPER_MINUTES: f64 = 0.6;
const BY_HAND_MINUTES: f64 = 0.15;
const SHAKE_MINUTES: f64 = 0.5;
const MOVE_MINUTES: f64 = 0.1;

/// Where the mechanic stands.
#[derive(Clone, Debug, Default)]
pub(crate) struct MechanicAt {
    place: Option<usize>,
    open: BTreeSet<usize>,
    condition: Option<Condition>,
    set_up: Vec<SetUp>,
    /// A test lamp is in the hand, and not the meter.
    lamp: bool,
}

impl MechanicAt {
    /// Where a log leaves the mechanic.
    pub fn of(circuit: &Circuit, log: &[Evidence]) -> Self {
        let mut standing = Self::default();
        for entry in log.iter().filter(|e| e.is_done()) {
            standing.condition = Some(entry.condition.clone());
            standing.set_up.clone_from(&entry.set_up);
            let place = match entry.observation {
                Observation::Read { instrument, red, .. } => {
                    standing.lamp = is_lamp(instrument);
                    let points = &circuit.document().test_points;
                    let point = points.iter().find(|p| circuit.terminal(&p.terminal) == Ok(red));
                    point.and_then(|p| place_named(circuit, &p.place))
                }
                Observation::Inspected(inspected, _) => place_of_look(circuit, inspected),
                _ => None,
            };
            if let Some(place) = place {
                standing.place = Some(place);
                standing.open.insert(place);
            }
        }
        standing
    }

    /// Minutes to do something from here.
    ///
    /// # Arguments
    /// `usual` is how the machine stands before anything was done to it.
    pub fn minutes(
        &self,
        circuit: &Circuit,
        usual: &Condition,
        context: &Context,
        action: TestAction,
    ) -> f64 {
        let document = circuit.document();
        let (mut minutes, places): (f64, Vec<usize>) = match action {
            TestAction::Measure { instrument, red, black } => {
                let at = |i: usize| place_named(circuit, &document.test_points[i].place);
                // For volts the black clip hangs on the battery's negative post all the while.
                let clipped = matches!(instrument, Instrument::Voltmeter | Instrument::TestLamp);
                let black = if clipped { None } else { at(black) };
                let glance = is_lamp(instrument) || instrument == Instrument::Buzzer;
                let mut reading = if glance { GLANCE_MINUTES } else { READ_MINUTES };
                if is_lamp(instrument) != self.lamp {
                    reading += PICK_UP_MINUTES;
                }
                let runs = |c: &Condition| c.engine >= Engine::Running;
                let start = runs(&context.condition) && !self.condition.as_ref().is_some_and(runs);
                let start = if start { RUN_MINUTES } else { 0.0 };
                (reading + start, [at(red), black].into_iter().flatten().collect())
            }
            TestAction::Try(_) if context.condition.engine >= Engine::Running => {
                (TRY_MINUTES + RUN_MINUTES, Vec::new())
            }
            TestAction::Try(_) => (TRY_MINUTES, Vec::new()),
            TestAction::Look(Inspected::Wire(wire)) => (
                LOOK_ALONG_MINUTES,
                place_of_look(circuit, Inspected::Wire(wire)).into_iter().collect(),
            ),
            TestAction::Look(looked) => {
                (LOOK_MINUTES, place_of_look(circuit, looked).into_iter().collect())
            }
        };
        let mut from = self.place;
        for place in places.into_iter().filter(|p| self.place != Some(*p)) {
            if from != Some(place) {
                minutes += walk(circuit, from, place);
            }
            if !self.open.contains(&place) && from != Some(place) {
                minutes += document.places[place].cover_minutes;
            }
            from = Some(place);
        }
        for set_up in context.set_up.iter().filter(|s| !self.set_up.contains(s)) {
            minutes += cost(*set_up);
        }
        // Putting back what the test does not want costs as much.
        minutes += self
            .set_up
            .iter()
            .filter(|s| !context.set_up.contains(s))
            .map(|s| cost(*s))
            .sum::<f64>();
        let now = self.condition.as_ref().unwrap_or(usual);
        let moved = now.positions.iter().zip(&context.condition.positions).filter(|(a, b)| a != b);
        minutes + moved.count() as f64 * MOVE_MINUTES
    }
}

fn is_lamp(instrument: Instrument) -> bool {
    matches!(instrument, Instrument::TestLamp | Instrument::LedLamp)
}

fn walk(circuit: &Circuit, from: Option<usize>, to: usize) -> f64 {
    let places = &circuit.document().places;
    from.map_or(TRAVEL_MINUTES, |from| {
        let (from, to) = (&places[from], &places[to]);
        let known = to.minutes_from.get(&from.id).or(from.minutes_from.get(&to.id));
        known.copied().unwrap_or(TRAVEL_MINUTES)
    })
}

fn cost(set_up: SetUp) -> f64 {
    match set_up {
        SetUp::Unplugged(_) => UNPLUG_MINUTES,
        SetUp::PressedByHand(_) | SetUp::FreedByHand(_) => BY_HAND_MINUTES,
        SetUp::Shaken(_) => SHAKE_MINUTES,
        SetUp::BatteryOff => BATTERY_MINUTES,
        SetUp::LampInPlace(_) => LAMP_MINUTES,
        SetUp::WireOff(_) => WIRE_MINUTES,
        SetUp::Jumper { .. } => JUMPER_MINUTES,
    }
}

fn place_named(circuit: &Circuit, id: &str) -> Option<usize> {
    circuit.document().places.iter().position(|p| p.id == id)
}

/// Where a look is taken: a wire's at its first end.
fn place_of_look(circuit: &Circuit, looked: Inspected) -> Option<usize> {
    let document = circuit.document();
    let part = match looked {
        Inspected::Plug(part) => part,
        Inspected::Fuse(element) | Inspected::Lug(element) => circuit.element(element).part?,
        Inspected::Linkage(plunger) => circuit.plungers[plunger.index()].part,
        Inspected::Wire(wire) => {
            circuit.part_named(document.wires[wire].from.split('.').next()?)?
        }
    };
    place_named(circuit, circuit.part(part).place.as_deref()?)
}
