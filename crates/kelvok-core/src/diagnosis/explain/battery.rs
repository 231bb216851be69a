//! The battery by all that the log says of it: tests of it by itself, and volts read at its posts on
//! the way.

use crate::battery::{BatteryTest, Seen};
use crate::circuit::{Circuit, Condition, Engine, Instrument, Reading, Relays, operating_point};
use crate::diagnosis::evidence::{BatteryEvent, Evidence, Heard, Observation, Unit};

/// Under so many amperes a battery rests.
const RESTS: f64 = 0.3;
/// Since when nobody said: the key was on, the machine driven in.
const SOME_HOURS: f64 = 2.0;
/// For how long a load was on while somebody read the posts.
const SOME_SECONDS: f64 = 20.0;

/// What was seen of the battery that is in the machine now, in order, each by its entry.
pub(crate) fn seen_of_the_battery(circuit: &Circuit, log: &[Evidence]) -> Vec<(u64, Seen)> {
    let own = circuit.battery().and_then(|b| circuit.element(b).part);
    let mut seen = Vec::new();
    let mut helped = false;
    for entry in log {
        let other =
            matches!(entry.observation, Observation::Repaired(Unit::Part(p)) if Some(p) == own);
        match entry.observation.battery_event() {
            Some(BatteryEvent::Swapped) => seen.clear(),
            Some(BatteryEvent::JumperOn) => helped = true,
            Some(BatteryEvent::JumperOff) => helped = false,
            Some(BatteryEvent::Charged | BatteryEvent::LeftOvernight) | None => {}
        }
        if other {
            seen.clear();
        }
        let own = match entry.observation {
            Observation::Battery(BatteryEvent::Charged) => Some(Seen::ChargedSomehow),
            Observation::BatteryTest(test) if !helped => Some(Seen::Test(test)),
            Observation::Read { .. } if !helped => at_the_posts(circuit, entry, log),
            _ => None,
        };
        seen.extend(own.map(|own| (entry.sequence, own)));
    }
    seen
}

/// What a reading at the posts says of the battery, where it does.
fn at_the_posts(circuit: &Circuit, entry: &Evidence, log: &[Evidence]) -> Option<Seen> {
    let Observation::Read { instrument: Instrument::Voltmeter, red, black, reading } =
        entry.observation
    else {
        return None;
    };
    let (negative, positive) = circuit.posts()?;
    let Reading::Volts(volts) = reading else { return None };
    let volts = match (red, black) {
        _ if (red, black) == (positive, negative) => volts,
        _ if (red, black) == (negative, positive) => -volts,
        _ => return None,
    };
    if volts < 0.0 || !entry.set_up.is_empty() {
        return None;
    }
    match entry.condition.engine {
        Engine::Stopped => {}
        Engine::Cranking => return Some(Seen::Cranked(volts)),
        _ => return None,
    }
    // What the starter did there was heard; by itself the drawing does not say what a broken machine does.
    let same = |c: &Condition| c.positions == entry.condition.positions;
    let heard = log.iter().rev().filter(|e| same(&e.condition)).find_map(Evidence::heard);
    match heard {
        Some(Heard::Cranks | Heard::CranksSlowly) => return Some(Seen::Cranked(volts)),
        Some(Heard::Chatter | Heard::Click) => return None,
        Some(Heard::Silent) | None => {}
    }
    let sound = operating_point(circuit, &entry.condition, Relays::default(), &[], &[]);
    let cranks = sound.outcome.crank != crate::circuit::Crank::No;
    let amps = sound.amps[circuit.battery()?.index()].abs();
    let (celsius, surface_off, estimated) = (None, false, true);
    match cranks {
        true if heard.is_none() => None,
        _ if cranks || amps < RESTS => {
            Some(Seen::Test(BatteryTest::Rest { volts, hours: SOME_HOURS, surface_off, celsius }))
        }
        _ => {
            let seconds = SOME_SECONDS;
            Some(Seen::Test(BatteryTest::Loaded { volts, amps, estimated, seconds, celsius }))
        }
    }
}
