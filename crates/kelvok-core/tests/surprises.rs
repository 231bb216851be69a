//! Figures of R1 that surprise people, each worth a test of its own.

mod library;

use kelvok_core::circuit::{
    Circuit, CoilState, Crank, Instrument, LampState, Reading, Refusal, Relays, operating_point,
    parse_change, read,
};

fn coil(circuit: &Circuit, faults: &[&str], relays: Relays) -> CoilState {
    let condition = library::condition(circuit, &[("key", "start"), ("pedal", "down")]);
    let changes: Vec<_> = faults.iter().map(|f| parse_change(circuit, f).unwrap()).collect();
    operating_point(circuit, &condition, relays, &changes, &[]).outcome.coils[0]
}

#[test]
fn battery_resistance_holds_then_chatters_then_never_pulls_in() {
    let r1 = library::r1();
    let at = |ohms: f64| coil(&r1, &[&format!("battery={ohms}ohm")], Relays::default());
    assert_eq!(at(0.241), CoilState::Pulled);
    assert_eq!(at(0.243), CoilState::Chatter);
    assert_eq!(at(3.05), CoilState::Chatter);
    assert_eq!(at(3.07), CoilState::Off);
}

#[test]
fn a_ground_strap_does_the_same() {
    let r1 = library::r1();
    let at = |ohms: f64| coil(&r1, &[&format!("w-strap={ohms}ohm")], Relays::default());
    assert_eq!(at(0.228), CoilState::Pulled);
    assert_eq!(at(0.230), CoilState::Chatter);
    assert_eq!(at(3.04), CoilState::Chatter);
    assert_eq!(at(3.06), CoilState::Off);
}

#[test]
fn the_same_contact_fails_when_the_battery_is_low() {
    let r1 = library::r1();
    let at = |ohms: f64, volts: f64| {
        let faults = [format!("key.start={ohms}ohm"), format!("battery={volts}V")];
        coil(&r1, &[&faults[0], &faults[1]], Relays::default())
    };
    assert_eq!(at(3.4, 12.66), CoilState::Pulled);
    assert_eq!(at(3.5, 12.66), CoilState::Off);
    assert_eq!(at(2.86, 11.7), CoilState::Pulled);
    assert_eq!(at(2.88, 11.7), CoilState::Off);
}

#[test]
fn a_coil_that_cannot_pull_in_would_hold() {
    let r1 = library::r1();
    assert_eq!(coil(&r1, &["brake.start=6ohm"], Relays::default()), CoilState::Off);
    assert_eq!(coil(&r1, &["brake.start=6ohm"], Relays(1)), CoilState::Pulled);
}

#[test]
fn a_weak_engine_ground_turns_the_starter_weakly_and_lifts_the_block() {
    let r1 = library::r1();
    let condition = library::condition(&r1, &[("key", "start"), ("pedal", "down")]);
    let change = parse_change(&r1, "w-engine=0.6ohm").unwrap();
    let point = operating_point(&r1, &condition, Relays::default(), &[change], &[]);
    assert_eq!(point.outcome.crank, Crank::Click);
    let block = r1.terminal("engine.block").unwrap();
    let volts = point.volts[block.index()].expect("not floating");
    assert!((volts - 10.7).abs() < 0.05, "{volts}");
}

#[test]
fn a_corroded_joint_looks_healthy_to_a_meter_and_dark_to_a_lamp() {
    let r1 = library::r1();
    let blades_on = library::condition(&r1, &[("key", "run"), ("blades", "on")]);
    let at = |faults: &[&str], instrument| {
        let changes: Vec<_> = faults.iter().map(|f| parse_change(&r1, f).unwrap()).collect();
        let probes = (r1.terminal("clutch.+").unwrap(), r1.terminal("frame.metal").unwrap());
        read(&r1, &blades_on, Relays::default(), &changes, instrument, probes).unwrap()
    };
    let volts = |faults: &[&str]| match at(faults, Instrument::Voltmeter) {
        Reading::Volts(v) => (v * 100.0).round() / 100.0,
        other => panic!("{other:?}"),
    };
    // The clutch unplugged is its element open: the joint carries only the instrument.
    assert_eq!(volts(&["w-clutch=200ohm", "clutch=open"]), 12.64);
    assert_eq!(volts(&["clutch=open"]), 12.64);
    assert_eq!(volts(&["w-clutch=200ohm"]), 0.17);
    let lamp = |faults: &[&str]| at(faults, Instrument::TestLamp);
    assert_eq!(lamp(&["w-clutch=200ohm", "clutch=open"]), Reading::Lamp(LampState::Out));
    assert_eq!(lamp(&["clutch=open"]), Reading::Lamp(LampState::Bright));
}

#[test]
fn ohms_on_a_live_circuit_are_refused_with_the_volts() {
    let r1 = library::r1();
    let probes = (r1.terminal("key.B").unwrap(), r1.terminal("frame.metal").unwrap());
    let rest = library::condition(&r1, &[]);
    for instrument in [Instrument::Ohmmeter, Instrument::Buzzer] {
        let refused = read(&r1, &rest, Relays::default(), &[], instrument, probes).unwrap_err();
        let Refusal::Live { volts } = refused;
        assert!((volts - 12.66).abs() < 0.01);
        assert_eq!(
            refused.to_string(),
            "the circuit is live here: 12.66 V. Ohms there mean nothing and can harm the meter"
        );
    }
}

#[test]
fn with_the_module_plugged_in_the_buzzer_never_falls_silent() {
    let r1 = library::r1();
    let run = library::condition(&r1, &[("key", "run")]);
    let probes = (r1.terminal("module.kill").unwrap(), r1.terminal("frame.metal").unwrap());
    let buzz = |faults: &[&str]| {
        let changes: Vec<_> = faults.iter().map(|f| parse_change(&r1, f).unwrap()).collect();
        read(&r1, &run, Relays::default(), &changes, Instrument::Buzzer, probes).unwrap()
    };
    assert_eq!(buzz(&[]), Reading::Buzz(true));
    assert_eq!(buzz(&["module=open"]), Reading::Buzz(false));
}
