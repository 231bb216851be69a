//! What a mechanic arranges and finds with a finger, a tester or a jumper: understood as it is done,
//! and said first where it would do harm.

mod library;

use kelvok_core::circuit::{
    Change, Condition, Engine, Instrument, Reading, Relays, every_condition, read,
};
use kelvok_core::diagnosis::{
    Caution, CloseUp, CloseUpEntry, Danger, Entry, EntryError, Forewarned, Model, Observation,
    ObservationEntry, SetUp, SetUpEntry, SparkSeen, contradictions, still_off, to_put_back,
};
use kelvok_core::machine::LIBRARY;
use library::dice::Dice;
use library::entry;

/// The reading of a good machine with jumpers and wires off is no slip, whichever they are: the
/// judgement solves them otherwise than the circuit does.
#[test]
fn what_a_good_machine_reads_with_a_jumper_on_is_never_a_slip() {
    let mut judged = 0;
    for (n, shipped) in LIBRARY.iter().enumerate() {
        let model = Model::new(library::circuit(shipped.name));
        let circuit = model.circuit();
        let Some((negative, _)) = circuit.posts() else { continue };
        let mut dice = Dice(41 + n as u64);
        let points = circuit.document().test_points.len();
        let mut anywhere = || circuit.test_point(dice.roll(points)).expect("a point");
        let ends = [(anywhere(), anywhere()), (anywhere(), anywhere())];
        let wires = circuit.document().wires.len();
        let mut dice = Dice(97 + n as u64);
        let conditions = every_condition(circuit);
        let jumpers = ends.into_iter().filter(|(a, b)| a != b);
        for jumper in jumpers.map(|ends| SetUp::Jumper { ends, fuse: Some(15) }) {
            let mut at = conditions[dice.roll(conditions.len())].clone();
            at.engine = Engine::Stopped;
            let set_up = vec![jumper, SetUp::WireOff(dice.roll(wires))];
            let changes: Vec<Change> = set_up.iter().flat_map(|s| s.changes(circuit)).collect();
            let mut log = Vec::new();
            for _ in 0..4 {
                let red = circuit.test_point(dice.roll(points)).expect("a point");
                let with = Instrument::Voltmeter;
                let ends = (red, negative);
                let shown = read(circuit, &at, Relays::default(), &changes, with, ends);
                let Ok(reading @ Reading::Volts(_)) = shown else { continue };
                let read = Observation::Read { instrument: with, red, black: negative, reading };
                log.push(entry(log.len() as u64 + 1, &at, set_up.clone(), read));
            }
            for judgement in model.judge(&log).judgements {
                assert!(judgement.slip < 0.5, "{}: {log:?}", shipped.name);
                judged += 1;
            }
        }
    }
    assert!(judged > 60, "{judged}");
}

/// What is said of one more set-up on the Z-52, key, seat and brake so.
fn forewarned(key: &str, engine: Engine, more: &SetUpEntry) -> Forewarned {
    let model = Model::new(library::circuit("dunmarrow-z-52"));
    let circuit = model.circuit();
    let set = [("key", key), ("brake", "on")];
    let standing = library::condition(circuit, &set);
    let at = Condition { engine, ..standing };
    let more = more.resolve(circuit).expect("a set-up");
    model.forewarn((&model.judge(&[]), &[]), &at, (&[], more))
}

fn jumper(from: &str, to: &str, fuse: u16) -> SetUpEntry {
    SetUpEntry::Jumper { from: from.to_owned(), to: to.to_owned(), fuse: Some(fuse) }
}

#[test]
fn what_a_jumper_would_do_is_said_first() {
    let told = |key, from, to| forewarned(key, Engine::Stopped, &jumper(from, to, 15));
    let short = told("off", "battery.+", "frame.metal");
    assert!(short.dangers.contains(&Danger::ShortsBattery), "{short:?}");
    assert!(short.amps.is_some_and(|[good, _]| good > 100.0), "{short:?}");
    let kill = told("run", "battery.+", "key-plug.M");
    assert!(kill.dangers.contains(&Danger::BatteryOnKillWire), "{kill:?}");
    // Straight to the trigger: it cranks with the key off, and that is what it is done for.
    let trigger = told("off", "solenoid.battery", "solenoid-plug.A");
    assert_eq!(trigger.dangers, [Danger::BypassesInterlock], "{trigger:?}");
    assert!(trigger.cautions.contains(&Caution::MayCrank), "{trigger:?}");
    assert!(trigger.cautions.contains(&Caution::JumperWire), "{trigger:?}");
    let [good, most] = trigger.amps.expect("a jumper's");
    assert!((1.0..15.0).contains(&good) && most >= good, "{trigger:?}");
    // A small fuse would be the only answer.
    let small =
        forewarned("off", Engine::Stopped, &jumper("solenoid.battery", "solenoid-plug.A", 1));
    assert!(small.dangers.contains(&Danger::BlowsJumperFuse), "{small:?}");
    // Across a plug's contacts it does no harm just now, and would with nobody on the seat.
    let seat = told("run", "seat-switch-plug.A", "seat-switch-plug.B");
    assert_eq!(seat.dangers, [Danger::BypassesInterlock], "{seat:?}");
    // From one end of a contact that is closed to the other nothing changes.
    let harmless = told("run", "main-fuse.out", "key-plug.B");
    assert!(harmless.dangers.is_empty(), "{harmless:?}");
}

#[test]
fn a_kill_wire_off_cannot_be_stopped_and_is_said_to() {
    let off = SetUpEntry::WireOff { wire: "w30".to_owned() };
    for (key, engine) in [("start", Engine::Stopped), ("run", Engine::Running)] {
        let told = forewarned(key, engine, &off);
        assert!(told.dangers.contains(&Danger::CannotBeStopped), "{key}: {told:?}");
        assert!(told.cautions.contains(&Caution::KillLeadOff), "{key}: {told:?}");
        assert!(told.amps.is_none());
    }
    let off = SetUpEntry::WireOff { wire: "w28".to_owned() };
    let hour_meter = forewarned("run", Engine::Stopped, &off);
    assert!(hour_meter.dangers.is_empty(), "{hour_meter:?}");
}

#[test]
fn what_was_arranged_stays_until_it_is_put_back() {
    let circuit = library::circuit("dunmarrow-z-52");
    let rest = Condition::at_rest(&circuit);
    let node = |t: &str| circuit.terminal(t).expect("a terminal");
    let (a, b) = (node("solenoid.battery"), node("solenoid-plug.A"));
    let on = SetUp::Jumper { ends: (a, b), fuse: Some(15) };
    let wire = SetUp::WireOff(3);
    let mut log = vec![
        entry(1, &rest, vec![], Observation::Arranged(on)),
        entry(2, &rest, vec![on], Observation::Arranged(wire)),
    ];
    assert_eq!(still_off(&log), [on, wire]);
    assert_eq!(to_put_back(&still_off(&log), &[]), [on, wire]);
    // Named from its other end, with another fuse, it is the same jumper.
    let other = SetUp::Jumper { ends: (b, a), fuse: None };
    assert_eq!(to_put_back(&still_off(&log), &[other]), [wire]);
    log.push(entry(3, &rest, vec![wire], Observation::PutBack(other)));
    assert_eq!(still_off(&log), [wire]);
}

#[test]
fn what_a_jumper_did_is_no_complaint() {
    let model = Model::new(library::circuit("dunmarrow-z-52"));
    let circuit = model.circuit();
    let dead = library::condition(circuit, &[("key", "start"), ("brake", "on")]);
    let off = library::condition(circuit, &[("key", "off"), ("brake", "on")]);
    let ends = ["solenoid.battery", "solenoid-plug.A"].map(|t| circuit.terminal(t).unwrap());
    let jumper = SetUp::Jumper { ends: (ends[0], ends[1]), fuse: None };
    let heard = |heard| Observation::Sensed(kelvok_core::diagnosis::Sensed::Starter(heard));
    let log = [
        entry(1, &dead, vec![], heard(kelvok_core::diagnosis::Heard::Silent)),
        entry(2, &off, vec![jumper], heard(kelvok_core::diagnosis::Heard::Cranks)),
    ];
    assert_eq!(model.complained_of(&log, &off), dead);
}

#[test]
fn every_close_up_of_every_machine_is_read_back() {
    let mut kinds = [0; 5];
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        for what in CloseUpEntry::all(&circuit) {
            let seen = what.resolve(&circuit, Engine::Cranking).expect("its own");
            assert_eq!(CloseUpEntry::of(&circuit, seen), what, "{}", shipped.name);
            kinds[match seen {
                CloseUp::Coil(..) => 0,
                CloseUp::Spark(..) => 1,
                CloseUp::Fuel(_) => 2,
                CloseUp::Sniff(_) => 3,
                CloseUp::Blows(..) => 4,
            }] += 1;
        }
    }
    assert!(kinds.iter().all(|n| *n > 3), "{kinds:?}");
}

#[test]
fn what_cannot_be_so_is_refused_by_name() {
    let circuit = library::circuit("dunmarrow-z-52");
    let resolve = |observation| {
        let rest = Condition::at_rest(&circuit);
        Entry::told(&circuit, &rest, observation).resolve(&circuit, 1).map(|_| ())
    };
    let arranged = |what| resolve(ObservationEntry::Arranged { what });
    assert_eq!(arranged(jumper("battery.+", "pos-clamp.lug", 15)), Ok(()));
    let same = arranged(jumper("console-ground.lug", "console-ground.lug", 15));
    assert!(matches!(same, Err(EntryError::JumpsNothing(_))), "{same:?}");
    assert_eq!(arranged(jumper("battery.+", "key-plug.B", 0)), Err(EntryError::FuseOfNothing));
    let held = SetUpEntry::PressedByHand { switch: "seat-switch".to_owned() };
    assert_eq!(arranged(held), Err(EntryError::LetsGo));
    let nowhere = arranged(jumper("battery.+", "radio.feed", 15));
    assert!(matches!(nowhere, Err(EntryError::Name(_))), "{nowhere:?}");
    let wire = arranged(SetUpEntry::WireOff { wire: "w999".to_owned() });
    assert!(matches!(wire, Err(EntryError::Name(_))), "{wire:?}");
    let close = |what| resolve(ObservationEntry::CloseUp { what });
    let spark = CloseUpEntry::Spark { part: "module".to_owned(), spark: SparkSeen::Weak };
    assert_eq!(close(spark), Err(EntryError::EngineStands));
    let relay = CloseUpEntry::Coil { part: "seat-switch".to_owned(), pulls: true };
    assert!(matches!(close(relay), Err(EntryError::Name(_))));
}

#[test]
fn a_relay_cannot_both_click_and_not() {
    let circuit = library::circuit("dunmarrow-z-52");
    let start = library::condition(&circuit, &[("key", "start"), ("brake", "on")]);
    let felt =
        |n, coil, pulls| entry(n, &start, vec![], Observation::CloseUp(CloseUp::Coil(coil, pulls)));
    assert_eq!(contradictions(&[felt(1, 0, true), felt(2, 0, false)]), [(1, 2)]);
    assert_eq!(contradictions(&[felt(1, 0, true), felt(2, 1, false)]), []);
}
