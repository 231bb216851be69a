//! What depends on time and on what was before: delays, timers, latches.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, ClutchState, Condition, Crank, Engine, LampState, Moment, Relays, Sequence,
    Spark, Step,
};
use kelvok_core::interlock::Judge;
use kelvok_core::machine::LIBRARY;

fn at(circuit: &Circuit, set: &[(&str, &str)], engine: Engine) -> Condition {
    Condition { engine, ..library::condition(circuit, set) }
}

/// Moves controls and holds.
fn step(circuit: &Circuit, set: &[(&str, &str)], hold: f64) -> Step {
    let index = |id: &str| circuit.controls.iter().position(|c| c.id == id).expect("a control");
    let position = |c: usize, id: &str| {
        circuit.controls[c].positions.iter().position(|p| p.id == id).expect("a position") as u8
    };
    let moves = set.iter().map(|(c, p)| (index(c), position(index(c), p))).collect();
    Step { moves, engine: None, hold }
}

fn element(circuit: &Circuit, id: &str) -> kelvok_core::circuit::ElementId {
    circuit.element_named(id).expect("an element")
}

const MOWING_Z52: [(&str, &str); 5] =
    [("key", "run"), ("brake", "off"), ("left", "in"), ("right", "in"), ("blades", "on")];

/// When the engine stops, in seconds after the operator rose; `None` if it runs on for `away`.
fn stops_after(circuit: &Circuit, changes: &[Change], away: f64) -> Option<f64> {
    let judge = Judge::new(circuit, changes);
    let mowing = at(circuit, &MOWING_Z52, Engine::Running);
    let mut sequence = judge.begin(&mowing, judge.running_relays());
    let mut moments = sequence.step(0, &step(circuit, &[("seat", "empty")], away));
    moments.extend(sequence.step(1, &step(circuit, &[("seat", "on")], 3.0)));
    let stopped = |m: &&Moment| !judge.circuit().runs(&m.condition, &m.point.outcome);
    moments.iter().find(stopped).map(|m| m.at)
}

#[test]
fn a_hop_in_the_seat_is_forgiven_and_a_leave_is_not() {
    let circuit = library::circuit("dunmarrow-z-52");
    assert_eq!(stops_after(&circuit, &[], 0.3), None, "0.3 s off the seat");
    let stopped = stops_after(&circuit, &[], 2.0).expect("2 s off the seat stop it");
    assert!((stopped - 0.5).abs() < 1e-6, "after the seat's half second, not {stopped}");
    // A switch whose delay is gone stops the engine at every bump.
    let delay = Change::NoDelay(element(&circuit, "seat-switch.presence"));
    let stopped = stops_after(&circuit, &[delay], 0.3).expect("at once");
    assert!(stopped < 1e-6, "{stopped}");
}

/// The motor's own volts run through a shift solenoid's two windings against each other.
#[test]
fn the_starter_lets_go_when_the_key_does() {
    for shipped in LIBRARY {
        let name = shipped.name;
        let circuit = library::circuit(name);
        let conditions = circuit.normal_use();
        let session = Judge::new(&circuit, &[]).session(&conditions);
        for (condition, (outcome, _)) in conditions.iter().zip(session) {
            let turns = condition.engine == Engine::Running && outcome.crank != Crank::No;
            assert!(!turns, "{name}: {:?} in {condition:?}", outcome.crank);
        }
    }
}

#[test]
fn the_pull_coil_is_let_go_and_the_fuel_stays_on() {
    let circuit = library::circuit("tarnbeck-c-24d");
    let parked = Condition::at_rest(&circuit);
    let mut sequence = Sequence::begin(&circuit, &parked, Relays::default(), &[]);
    let moments = sequence.step(0, &step(&circuit, &[("key", "run")], 5.0));
    let pull = element(&circuit, "fuel-stop.pull-coil");
    let amps = |m: &Moment| m.point.amps[pull.index()].abs();
    assert!(amps(&moments[0]) > 10.0, "it pulls with {} A", amps(&moments[0]));
    let let_go = moments.iter().find(|m| amps(m) < 0.1).expect("let go");
    assert!((let_go.at - 0.8).abs() < 1e-6, "after {} s", let_go.at);
    let last = moments.last().expect("a moment");
    assert_eq!(last.point.outcome.fuel, Some(true), "held");
    // The same condition, come to without the pull, does not hold.
    let run = library::condition(&circuit, &[("key", "run")]);
    let steady = kelvok_core::circuit::operating_point(&circuit, &run, Relays::default(), &[], &[]);
    assert_eq!(steady.outcome.fuel, Some(false));
}

#[test]
fn the_glow_lamp_goes_out_by_itself_while_the_plugs_glow_on() {
    let circuit = library::circuit("tarnbeck-c-24d");
    let parked = Condition::at_rest(&circuit);
    let mut sequence = Sequence::begin(&circuit, &parked, Relays::default(), &[]);
    let moments = sequence.step(0, &step(&circuit, &[("key", "heat")], 10.0));
    let lit = |m: &Moment, part: &str| {
        let document = circuit.document();
        let lamps = document.parts.iter().filter(|p| {
            use kelvok_core::machine::PartKind::{GlowPlug, Lamp};
            matches!(p.kind, Lamp | GlowPlug)
        });
        let place = lamps.into_iter().position(|p| p.id == part).expect("a lamp");
        m.point.outcome.lamps[place] != LampState::Out
    };
    assert!(lit(&moments[0], "glow-lamp") && lit(&moments[0], "glow-1"));
    let out = moments.iter().find(|m| !lit(m, "glow-lamp")).expect("the lamp goes out");
    assert!((out.at - 6.0).abs() < 1e-6, "after {} s", out.at);
    assert!(moments.iter().all(|m| lit(m, "glow-1")), "the plugs glow as long as the key is held");
    // Turned off and on again, the lamp lights again.
    sequence.step(1, &step(&circuit, &[("key", "off")], 1.0));
    let again = sequence.step(2, &step(&circuit, &[("key", "heat")], 1.0));
    assert!(lit(&again[0], "glow-lamp"));
}

#[test]
fn blades_that_stopped_wait_for_the_switch_after_the_operator_is_back() {
    let circuit = library::circuit("dunmarrow-z-60m");
    let judge = Judge::new(&circuit, &[]);
    let mowing = at(&circuit, &MOWING_Z52, Engine::Running);
    let mut sequence = judge.begin(&mowing, judge.running_relays());
    let clutch = |moments: &[Moment]| moments.last().map(|m| m.point.outcome.clutch);
    let mut then = |set: &[(&str, &str)], hold: f64| {
        let moments = sequence.step(0, &step(&circuit, set, hold));
        clutch(&moments).flatten().expect("a clutch")
    };
    // The blades are switched on in the saddle: that arms the latch.
    assert_eq!(then(&[("blades", "off")], 1.0), ClutchState::Off);
    assert_eq!(then(&[("blades", "on")], 1.0), ClutchState::Engaged);
    assert_eq!(then(&[("seat", "empty")], 0.2), ClutchState::Engaged, "a hop is forgiven");
    assert_eq!(then(&[("seat", "on")], 1.0), ClutchState::Engaged);
    assert_eq!(then(&[("seat", "empty")], 2.0), ClutchState::Off);
    assert_eq!(then(&[("seat", "on")], 5.0), ClutchState::Off, "no restart on re-seating");
    assert_eq!(then(&[("blades", "off")], 1.0), ClutchState::Off);
    assert_eq!(then(&[("blades", "on")], 1.0), ClutchState::Engaged);
}

#[test]
fn the_module_grounds_the_kill_wire_only_after_its_delay() {
    let circuit = library::circuit("dunmarrow-z-60m");
    let judge = Judge::new(&circuit, &[]);
    let mowing = at(&circuit, &MOWING_Z52, Engine::Running);
    let mut sequence = judge.begin(&mowing, judge.running_relays());
    let moments = sequence.step(0, &step(&circuit, &[("seat", "empty")], 2.0));
    let killed = |m: &&Moment| m.point.outcome.spark.iter().all(|s| *s == Spark::Killed);
    let first = moments.iter().find(killed).expect("killed");
    assert!((first.at - 0.4).abs() < 1e-6, "after {} s", first.at);
}

#[test]
fn the_module_checks_its_lamp_and_blinks_why_it_refuses() {
    let circuit = library::circuit("dunmarrow-z-60m");
    let parked = Condition::at_rest(&circuit);
    let mut sequence = Sequence::begin(&circuit, &parked, Relays::default(), &[]);
    let moments = sequence.step(0, &step(&circuit, &[("key", "run")], 3.0));
    let lit = |m: &Moment| m.point.outcome.lamps.contains(&LampState::Bright);
    assert!(lit(&moments[0]), "the lamp lights at key-on: {:?}", moments[0].point.outcome);
    let out = moments.iter().find(|m| !lit(m)).expect("and goes out");
    assert!((out.at - 1.0).abs() < 1e-6, "after {} s", out.at);
    let mut blinks = |set: &[(&str, &str)]| {
        let moments = sequence.step(1, &step(&circuit, set, 1.0));
        let last = moments.last().expect("a moment");
        assert_eq!(lit(last), !last.point.outcome.codes.is_empty(), "a code needs the lamp");
        last.point.outcome.codes.clone()
    };
    assert!(blinks(&[("key", "start")]).is_empty());
    assert_eq!(blinks(&[("brake", "off")]), [2]);
    assert_eq!(blinks(&[("brake", "on"), ("left", "in")]), [3]);
    assert_eq!(blinks(&[("left", "out"), ("blades", "on")]), [1]);
    assert_eq!(blinks(&[("key", "run"), ("seat", "empty")]), [4]);
    assert_eq!(blinks(&[("seat", "on")]), [5]);
}
