//! A lamp in place of a coil: it draws through the feed as the coil would, and nothing moves.

mod library;

use kelvok_core::circuit::{
    Crank, Instrument, NodeId, Reading, Relays, operating_point, parse_change, read,
};
use kelvok_core::diagnosis::{
    Evidence, Heard, Model, Observation, Sensed, SetUp, SetUpEntry, Source, Strategy, TestAction,
    Unit,
};

#[test]
fn a_corroded_joint_shows_under_the_lamp_and_nothing_turns() {
    let circuit = library::circuit("pellwick-gt-46");
    let condition = library::condition(&circuit, &[("key", "start"), ("pedal", "down")]);
    let plug = circuit.part_named("trigger-tab").unwrap();
    // The joint lets so little through that the solenoid stays silent: so does a dead solenoid.
    let corroded = parse_change(&circuit, "pto-plug.B=30ohm").unwrap();
    let open = parse_change(&circuit, "solenoid.coil=open").unwrap();
    let at = |faults: &[_], set_up: &[SetUp]| {
        let set_up = set_up.iter().flat_map(|s| s.changes(&circuit));
        let changes: Vec<_> = faults.iter().copied().chain(set_up).collect();
        let point = operating_point(&circuit, &condition, Relays::default(), &changes, &[]);
        let probes = (circuit.terminal("trigger-tab.T").unwrap(), NodeId::REFERENCE);
        let with = Instrument::Voltmeter;
        let shown = read(&circuit, &condition, Relays::default(), &changes, with, probes);
        let Ok(Reading::Volts(volts)) = shown else { panic!("{shown:?}") };
        (point.outcome.crank, (volts * 10.0).round() / 10.0)
    };
    let lamp = [SetUp::LampInPlace(plug)];
    assert_eq!(at(&[], &[]).0, Crank::Yes);
    // Sound, some tenths of a volt are lost on the way; through 30 ohm the lamp gets a fifth.
    assert_eq!(at(&[], &lamp), (Crank::No, 12.3));
    assert_eq!(at(&[corroded], &lamp), (Crank::No, 2.3));
    // With both, a meter alone sees no current drawn and so no drop; the lamp still does.
    assert_eq!(at(&[corroded, open], &[]), (Crank::No, 12.6));
    assert_eq!(at(&[corroded, open], &lamp), (Crank::No, 2.3));
}

#[test]
fn what_it_shows_counts_as_evidence() {
    let circuit = library::circuit("pellwick-gt-46");
    let model = Model::new(circuit);
    let (circuit, suspects) = (model.circuit(), model.suspects());
    let condition = library::condition(circuit, &[("key", "start"), ("pedal", "down")]);
    let entry = |sequence, set_up: Vec<SetUp>, observation| Evidence {
        sequence,
        condition: condition.clone(),
        set_up,
        observation,
        repeats: 1,
        source: Source::Tested,
        at_times: false,
        times_an_hour: None,
        celsius: None,
        idle: false,
    };
    let heard = entry(1, vec![], Observation::Sensed(Sensed::Starter(Heard::Silent)));
    let log = [heard.clone()];
    let belief = model.judge(&log);
    let solenoid = Unit::named(circuit, "solenoid").unwrap();
    let before = belief.of_unit(suspects, solenoid);
    let tests = model.every_test(Strategy::BestSplit, &belief, &log, &condition);
    let trigger = |red: usize| circuit.document().test_points[red].terminal == "trigger-tab.T";
    let test = tests.iter().find(|t| {
        let lamp = matches!(t.set_up[..], [SetUp::LampInPlace(_)]);
        lamp && matches!(t.action, TestAction::Measure { red, .. } if trigger(red))
    });
    let test = test.expect("the lamp's own pin is worth measuring");
    // Its name goes out and comes back.
    let named = SetUpEntry::of(circuit, test.set_up[0]);
    assert_eq!(named, SetUpEntry::LampInPlace { connector: "trigger-tab".to_owned() });
    assert_eq!(named.resolve(circuit).unwrap(), test.set_up[0]);
    let elsewhere = SetUpEntry::LampInPlace { connector: "seat-plug".to_owned() };
    assert!(elsewhere.resolve(circuit).is_err(), "no solenoid or clutch hangs on that plug");
    // The feed carries the lamp: it is the solenoid, or the plug that is off.
    let black = circuit.terminal("battery.-").unwrap();
    let red = circuit.terminal("trigger-tab.T").unwrap();
    let reading = Reading::Volts(12.1);
    let read = Observation::Read { instrument: Instrument::Voltmeter, red, black, reading };
    let log = [heard, entry(2, test.set_up.clone(), read)];
    let after = model.judge(&log).of_unit(suspects, solenoid);
    assert!(before < 0.3 && after > 2.0 * before, "{before} {after}");
}
