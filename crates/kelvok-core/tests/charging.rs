//! Whether a machine charges its battery: where that is read, what readings come to, what is wrong, and what the whole
//! job makes of them.

mod library;

use kelvok_core::charging::{
    ChargeDoes, ChargeKind, ChargeNote, ChargePlace, ChargeReading, ChargeStanding, ChargeState,
    ChargingSystem, Load, charge_standing, charging_csv, charging_system,
};
use kelvok_core::circuit::{Change, Circuit, Condition, Engine, Instrument, Reading, Relays, read};
use kelvok_core::diagnosis::{BatteryEvent, Entry, Evidence, Model, Observation, SetUp, Unit};
use kelvok_core::interlock::Judge;
use kelvok_core::machine::LIBRARY;
use kelvok_core::trial::try_charging;
use serde_json::json;

use ChargeReading::{Amps, Feed, Frame, Ground, Posts, Rest, Ripple, Stator, Winding};

const FULL: Load = Load { idle: false, drawn: 0.5 };
const IDLE: Load = Load { idle: true, drawn: 0.5 };

fn system(name: &str) -> (Circuit, ChargingSystem) {
    let circuit = library::circuit(name);
    let system = charging_system(&circuit).expect("it charges");
    (circuit, system)
}

fn stands(readings: &[ChargeReading]) -> ChargeStanding {
    charge_standing(&system("pellwick-gt-46").1, readings)
}

fn says(readings: &[ChargeReading]) -> Option<(ChargePlace, ChargeState)> {
    stands(readings).says.map(|own| (own.place, own.state))
}

/// Every library machine that charges says where; the engine itself shows there what a good one and a dead one read.
#[test]
fn where_it_is_read_the_engine_has_a_good_one_charge_and_a_dead_one_not() {
    let mut charging = 0;
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        let Some(system) = charging_system(&circuit) else { continue };
        charging += 1;
        let name = shipped.name;
        let running = Judge::new(&circuit, &[]).running_relays();
        let shown = |kind: ChargeKind, changes: &[Change]| {
            let site = system.site(kind)?;
            let mut all: Vec<Change> = site.unplugged.map(Change::Apart).into_iter().collect();
            all.extend_from_slice(changes);
            let relays = match site.condition.engine {
                Engine::Stopped => Relays::default(),
                _ => running,
            };
            let ends = (site.red, site.black);
            Some(read(&circuit, &site.condition, relays, &all, site.instrument, ends))
        };
        let volts = |kind, changes: &[Change]| match shown(kind, changes) {
            Some(Ok(Reading::Volts(volts) | Reading::Amps(volts) | Reading::AcVolts(volts))) => {
                volts
            }
            other => panic!("{name} {kind:?}: {other:?}"),
        };
        let dead = [Change::Open(system.source)];
        let rest = volts(ChargeKind::Rest, &[]);
        assert!(volts(ChargeKind::Full, &[]) > rest + 0.02, "{name}");
        assert!(volts(ChargeKind::Full, &dead) < rest + 0.001, "{name}");
        assert!(volts(ChargeKind::Amps, &[]) > 0.3, "{name}");
        // A generator's box draws a little of what its iron remembers.
        let (good, none) = (volts(ChargeKind::Amps, &[]), volts(ChargeKind::Amps, &dead));
        assert!(none < if system.winding.is_some() { 0.01 } else { 0.1 * good }, "{name}: {none}");
        assert!(volts(ChargeKind::Ground, &[]) > 0.0, "{name}");
        if system.site(ChargeKind::Feed).is_some() {
            assert!(volts(ChargeKind::Feed, &[]) > 0.0, "{name}");
        }
        if let Some(winding) = system.winding.filter(|_| system.site(ChargeKind::Stator).is_some())
        {
            assert!((volts(ChargeKind::Stator, &[]) - system.alternating).abs() < 0.5, "{name}");
            let open = shown(ChargeKind::Winding, &[Change::Open(winding)]);
            assert_eq!(open, Some(Ok(Reading::Ohms(None))), "{name}");
            let whole = shown(ChargeKind::Winding, &[]);
            assert!(matches!(whole, Some(Ok(Reading::Ohms(Some(ohms)))) if ohms < 2.0), "{name}");
            assert_eq!(shown(ChargeKind::Frame, &[]), Some(Ok(Reading::Ohms(None))), "{name}");
            // Whatever volts it gives when it turns, it gives none now: ohms are read, not refused.
            let weak = shown(ChargeKind::Winding, &[Change::Emf(winding, 4.0)]);
            assert_eq!(weak, whole, "{name}");
        }
        // Somebody reads it beside the machine: nobody has to sit on it where it runs like that.
        let full = &system.site(ChargeKind::Full).expect("read there").condition;
        let empty = |c: &Condition| c.named(&circuit).any(|at| at == ("seat", "empty"));
        let left = circuit.normal_use();
        let left = left.iter().any(|c| c.engine == Engine::Running && empty(c));
        assert_eq!(empty(full), left, "{name}");
        // As little is on as can be with the engine running, and the blades stand.
        let drawn = system.site(ChargeKind::Full).map(|site| site.drawn);
        assert!(drawn.is_some_and(|drawn| drawn < 8.0), "{name}: {drawn:?}");
    }
    assert_eq!(charging, 10);
    assert!(charging_system(&library::circuit("hexley-walk-50")).is_none());
}

#[test]
fn a_good_one_is_said_from_two_readings_and_little_charge_at_idle_is_no_fault() {
    let none = stands(&[]);
    assert_eq!(
        (none.does, none.next, none.says),
        (ChargeDoes::NotRead, Some(ChargeKind::Rest), None)
    );
    // Its volts are right; a weak diode or a low stator may hide behind a full battery: one more reading.
    let volts = stands(&[Rest(12.5), Posts(14.2, FULL)]);
    assert_eq!((volts.does, volts.next), (ChargeDoes::Charges, Some(ChargeKind::Ripple)));
    assert!(volts.or.contains(&ChargeKind::Amps), "what else tells: {:?}", volts.or);
    let good = stands(&[Rest(12.5), Posts(14.2, FULL), Ripple(0.1), Amps(8.0, FULL)]);
    assert_eq!((good.does, good.next), (ChargeDoes::Charges, None));
    assert_eq!(good.says.map(|own| own.state), Some(ChargeState::Good));
    let full = good.expected.iter().find(|e| e.kind == ChargeKind::Full).expect("a range");
    assert!(full.low > 12.8 && full.high < 14.9, "{full:?}");
    assert!(!good.notes.contains(&ChargeNote::WhenFull));
    let low = stands(&[Rest(12.2), Posts(14.1, FULL)]);
    assert!(low.notes.contains(&ChargeNote::WhenFull), "{:?}", low.notes);
    let idle = stands(&[Rest(12.4), Posts(12.5, IDLE), Posts(14.1, FULL)]);
    assert_eq!(idle.does, ChargeDoes::Charges);
    let dead = stands(&[Rest(12.4), Posts(12.4, IDLE), Posts(12.4, FULL)]);
    assert!(!dead.notes.contains(&ChargeNote::IdleIsUsual), "{:?}", dead.notes);
    assert!(idle.notes.contains(&ChargeNote::IdleIsUsual), "{:?}", idle.notes);
    assert!(!idle.notes.contains(&ChargeNote::ChargeFirst));
}

/// What a mechanic reads, in that order, and what it is.
#[test]
fn each_thing_that_is_wrong_is_named_where_it_is() {
    let dead = [Rest(12.4), Posts(12.36, FULL)];
    assert_eq!(stands(&dead).does, ChargeDoes::NoCharge);
    assert_eq!(says(&dead), None);
    let after = |more: &[ChargeReading]| says(&[&dead[..], more].concat());
    assert_eq!(
        after(&[Feed(0.0, FULL), Stator(27.0, false), Frame(None), Ground(0.0, FULL)]),
        Some((ChargePlace::Regulator, ChargeState::RegulatorDead))
    );
    assert_eq!(after(&[Feed(2.3, FULL)]).map(|own| own.0), Some(ChargePlace::Feed));
    assert_eq!(
        after(&[Feed(0.0, FULL), Frame(Some(0.4))]).map(|own| own.1),
        Some(ChargeState::StatorGrounded)
    );
    assert_eq!(
        after(&[Feed(0.0, FULL), Stator(0.1, false), Winding(None)]).map(|own| own.1),
        Some(ChargeState::StatorOpen)
    );
    let half = [Rest(12.4), Posts(13.3, FULL), Amps(5.0, FULL), Ripple(1.3), Frame(None)];
    assert_eq!(says(&half).map(|own| own.1), Some(ChargeState::RegulatorHalf));
    assert!(stands(&half).notes.contains(&ChargeNote::Ripple));
    let joint = [Rest(12.4), Posts(13.2, FULL), Feed(1.1, FULL)];
    assert_eq!(says(&joint).map(|own| own.1), Some(ChargeState::FeedHigh));
    let strap = [Rest(12.4), Posts(13.2, FULL), Ground(0.9, FULL)];
    assert_eq!(says(&strap).map(|own| own.1), Some(ChargeState::GroundHigh));
    let over = stands(&[Rest(12.6), Posts(16.4, FULL)]);
    assert_eq!(over.does, ChargeDoes::Over);
    assert_eq!(over.says.map(|own| own.state), Some(ChargeState::RegulatorOver));
    assert!(over.notes.contains(&ChargeNote::Kills));
}

/// A flat battery takes all that there is: nothing is blamed on the regulator before it was charged.
#[test]
fn a_flat_battery_is_charged_before_anything_is_blamed() {
    let flat = stands(&[Rest(11.4), Posts(12.5, FULL), Amps(13.0, FULL)]);
    assert!(flat.notes.contains(&ChargeNote::ChargeFirst), "{:?}", flat.notes);
    assert!(flat.says.is_none() && flat.next.is_none(), "{flat:?}");
    assert_ne!(flat.causes[0].place, ChargePlace::Regulator);
    // With everything on it is no wonder either.
    let lit = Load { idle: false, drawn: 16.0 };
    let much = stands(&[Rest(12.5), Posts(12.3, lit)]);
    assert!(much.notes.contains(&ChargeNote::MuchOn), "{:?}", much.notes);
    assert_ne!(much.says.map(|own| own.place), Some(ChargePlace::Regulator));
}

#[test]
fn a_charge_diode_is_judged_by_its_amperes() {
    let (_, rider) = system("pellwick-r-30");
    assert!(!rider.regulated && rider.one_lead);
    let good = charge_standing(&rider, &[Rest(12.4), Posts(12.9, FULL), Amps(2.4, FULL)]);
    assert_eq!(good.does, ChargeDoes::Charges);
    assert!(good.notes.contains(&ChargeNote::ByAmps));
    let none = charge_standing(&rider, &[Rest(12.4), Posts(12.4, FULL), Amps(0.0, FULL)]);
    assert_eq!(none.does, ChargeDoes::NoCharge);
    assert_ne!(none.says.map(|own| own.state), Some(ChargeState::Good));
    // One lead of its winding is grounded as it is made: nobody asks for ohms to the engine.
    assert!(rider.site(ChargeKind::Frame).is_none());
}

fn entry(
    circuit: &Circuit,
    system: &ChargingSystem,
    kind: ChargeKind,
    reading: Reading,
) -> Evidence {
    let site = system.site(kind).expect("read there");
    let set_up = site.unplugged.map(SetUp::Unplugged).into_iter().collect();
    let (red, black, instrument) = (site.red, site.black, site.instrument);
    let seen = Observation::Read { instrument, red, black, reading };
    let own = library::entry(1, &site.condition, set_up, seen);
    let _ = circuit;
    Evidence { idle: site.idle, ..own }
}

/// The readings are the job's own: the whole diagnosis hears them, and an entry that is written and read again is the
/// same.
#[test]
fn the_whole_job_hears_how_it_charges() {
    let (circuit, system) = system("pellwick-gt-46");
    let stator = Unit::Part(system.stator.expect("a stator"));
    let regulator = Unit::Part(system.regulator);
    let log = |rows: &[(ChargeKind, Reading)]| {
        let own = rows.iter().enumerate().map(|(i, (kind, reading))| {
            let own = entry(&circuit, &system, *kind, *reading);
            Evidence { sequence: i as u64 + 1, ..own }
        });
        own.collect::<Vec<_>>()
    };
    let model = Model::new(circuit.clone());
    let volts = Reading::Volts;
    let grounded = log(&[
        (ChargeKind::Rest, volts(12.4)),
        (ChargeKind::Full, volts(12.36)),
        (ChargeKind::Frame, Reading::Ohms(Some(0.4))),
    ]);
    let of = |log: &[Evidence], unit: Unit| model.judge(log).of_unit(model.suspects(), unit);
    assert!(of(&grounded, stator) > 0.75, "{}", of(&grounded, stator));
    assert!(model.charging_in_question(&model.judge(&[]), &[]).is_none());
    let volts_only = &grounded[..2];
    let share = model.charging_in_question(&model.judge(volts_only), volts_only);
    assert!(share.is_some_and(|share| share >= 0.25), "it does not charge: {share:?}");
    let clear = log(&[
        (ChargeKind::Rest, volts(12.4)),
        (ChargeKind::Full, volts(12.36)),
        (ChargeKind::Frame, Reading::Ohms(None)),
        (ChargeKind::Stator, Reading::AcVolts(27.0)),
        (ChargeKind::Feed, volts(0.0)),
    ]);
    assert!(of(&clear, regulator) > of(&clear, stator) + 0.5, "{}", of(&clear, regulator));
    // Nine amperes are what a battery takes, not what its drawing comes to: nothing is blamed for them.
    let good = log(&[
        (ChargeKind::Rest, volts(12.5)),
        (ChargeKind::Full, volts(14.2)),
        (ChargeKind::Amps, Reading::Amps(9.0)),
        (ChargeKind::Ripple, Reading::AcVolts(0.2)),
        (ChargeKind::Idle, volts(12.6)),
    ]);
    let belief = model.judge(&good);
    assert!(belief.judgements.iter().all(|own| own.slip < 0.1), "{:?}", belief.judgements);
    for unit in [stator, regulator] {
        assert!(belief.of_unit(model.suspects(), unit) < 0.05);
    }
    let (read, standing) = model.charge(&system, &good);
    assert_eq!(read.now.len(), 5);
    assert_eq!(standing.says.map(|own| own.state), Some(ChargeState::Good));
    assert_eq!(
        (standing.rest, standing.idle, standing.full, standing.amps),
        (Some(12.5), Some(12.6), Some(14.2), Some(9.0))
    );
    for own in &good {
        let written = serde_json::to_value(Entry::of(&circuit, own)).expect("JSON");
        assert_eq!(written.get("idle").is_some(), own.idle);
        let again: Entry = serde_json::from_value(written).expect("an entry");
        assert_eq!(again.resolve(&circuit, own.sequence).expect("resolves"), *own);
    }
    let csv = charging_csv(read.now.iter().map(|(_, own)| (own, true)), &standing);
    assert!(
        csv.starts_with("what,figure,unit,speed,drawn_amps,counts\nrest,12.500,V,,,yes\n"),
        "{csv}"
    );
    assert!(csv.contains("idle,12.600,V,idle,"), "{csv}");
}

/// A battery that stays low after a charge is what is wrong; one that comes up begins anew.
#[test]
fn after_a_charge_a_battery_that_stays_low_is_named() {
    let (circuit, system) = system("pellwick-gt-46");
    let model = Model::new(circuit.clone());
    let read = |sequence: u64, kind, volts| {
        let own = entry(&circuit, &system, kind, Reading::Volts(volts));
        Evidence { sequence, ..own }
    };
    let rest = Condition { engine: Engine::Stopped, ..Condition::at_rest(&circuit) };
    let charged = library::entry(3, &rest, Vec::new(), Observation::Battery(BatteryEvent::Charged));
    let low = [read(1, ChargeKind::Rest, 10.4), read(2, ChargeKind::Full, 11.6)];
    let (_, before) = model.charge(&system, &low);
    assert!(before.notes.contains(&ChargeNote::ChargeFirst) && before.says.is_none(), "{before:?}");
    let stays = [
        &low[..],
        &[charged.clone(), read(4, ChargeKind::Rest, 10.5), read(5, ChargeKind::Full, 11.7)],
    ]
    .concat();
    let (own, after) = model.charge(&system, &stays);
    assert_eq!((own.before.len(), own.now.len()), (2, 3));
    assert!(!after.notes.contains(&ChargeNote::ChargeFirst));
    assert_eq!(after.says.map(|own| own.place), Some(ChargePlace::Battery), "{after:?}");
}

/// Leads swapped count the other way round; what something new was fitted for counts no more.
#[test]
fn swapped_leads_are_turned_round_and_a_repair_begins_anew() {
    let (circuit, system) = system("dunmarrow-z-52");
    let model = Model::new(circuit.clone());
    let mut swapped = entry(&circuit, &system, ChargeKind::Full, Reading::Volts(-12.4));
    if let Observation::Read { red, black, .. } = &mut swapped.observation {
        std::mem::swap(red, black);
    }
    let rest = Evidence {
        sequence: 2,
        ..entry(&circuit, &system, ChargeKind::Rest, Reading::Volts(12.4))
    };
    let site = system.site(ChargeKind::Full).expect("read there");
    let fitted = Observation::Repaired(Unit::Part(system.regulator));
    let fitted = library::entry(3, &site.condition, Vec::new(), fitted);
    let again = Evidence {
        sequence: 4,
        ..entry(&circuit, &system, ChargeKind::Full, Reading::Volts(14.2))
    };
    let log = [swapped, rest, fitted, again];
    let before = model.charge(&system, &log[..2]);
    assert_eq!(before.1.full, Some(12.4));
    assert_eq!(before.1.does, ChargeDoes::NoCharge);
    let (read, after) = model.charge(&system, &log);
    assert_eq!((read.before.len(), read.now.len()), (2, 1));
    assert_eq!(after.does, ChargeDoes::Charges);
}

#[test]
fn idle_is_said_of_readings_of_a_running_engine_only() {
    let circuit = library::gt46();
    let entry = |engine: &str, observation: serde_json::Value| {
        let own = json!({"idle": true, "engine": engine, "observation": observation});
        let own: Entry = serde_json::from_value(own).expect("an entry");
        own.resolve(&circuit, 1).map_err(|e| e.to_string())
    };
    let volts = json!({"kind": "reading", "instrument": "voltmeter", "red": "battery.+", "black": "battery.-",
        "reading": {"kind": "volts", "value": 12.5}, "typed": "12.5"});
    assert!(entry("running", volts.clone()).is_ok_and(|own| own.idle));
    let refused = "idle goes with what is read while the engine runs";
    assert_eq!(entry("stopped", volts).unwrap_err(), refused);
    assert_eq!(entry("running", json!({"kind": "engine", "does": "runs"})).unwrap_err(), refused);
    assert_eq!(
        Instrument::AcVoltmeter,
        system("pellwick-gt-46").1.site(ChargeKind::Ripple).expect("read").instrument
    );
    let rest = Condition::at_rest(&circuit);
    assert!(
        system("pellwick-gt-46").1.rests(&circuit, &Condition { engine: Engine::Stopped, ..rest })
    );
}

/// In a world drawn away from the model; figures in docs/charging.md are of many more.
#[test]
fn it_is_named_where_it_is_in_a_world_that_is_not_the_models() {
    let (mut right, mut wrong, mut all) = (0, 0, 0);
    for name in ["pellwick-gt-46", "dunmarrow-z-52", "tarnbeck-u-17d"] {
        for case in try_charging(&library::circuit(name), 80, 1) {
            all += 1;
            let place = case.truth.place();
            right += usize::from(case.named == Some(place));
            wrong += usize::from(case.named.is_some_and(|named| named != place));
            if case.named != Some(place) {
                let likely = &case.causes[..case.causes.len().min(4)];
                println!(
                    "{name} {:?} {:?} {likely:.2?}\n        {:.2?}",
                    case.truth, case.named, case.readings
                );
            }
        }
    }
    println!("{right} of {all}, {wrong} wrong");
    assert!(100 * right >= 90 * all, "{right} of {all}");
    assert!(100 * wrong <= 5 * all, "{wrong} of {all}");
}
