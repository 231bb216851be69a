//! What may have caused a fault and what it may have harmed; how long it will take; replace or test.

mod library;

use kelvok_core::circuit::{Circuit, Condition, ElementId, FaultMode, Instrument, Reading};
use kelvok_core::diagnosis::{
    AnswerRange, Checked, Choice, Evidence, Heard, Model, Observation, Sensed, Source, Strain,
    Strategy, Suspects, TestAction, Unit,
};
use kelvok_core::fuses::Fitted;
use kelvok_core::machine::LIBRARY;

fn suspect(circuit: &Circuit, suspects: &Suspects, unit: &str, mode: FaultMode) -> usize {
    let unit = Unit::named(circuit, unit).unwrap();
    let found = suspects
        .list
        .iter()
        .position(|s| s.unit == unit && s.faults.iter().any(|f| f.mode == mode));
    found.expect("a suspect")
}

#[test]
fn a_shorted_clutch_overloads_the_switches_before_it() {
    let circuit = library::gt46();
    let model = Model::new(circuit);
    let (circuit, suspects) = (model.circuit(), model.suspects());
    let clutch = suspect(circuit, suspects, "clutch", FaultMode::ShortedTurns);
    let harms = model.aftermath(clutch, &[]).harms;
    let over: Vec<_> = harms
        .iter()
        .filter_map(|h| match h {
            Strain::Overloads { contact, amps, rated, .. } => {
                assert!(*amps > 13.0 && *rated == 10.0, "{amps} {rated}");
                Some(circuit.element(*contact).id.as_str())
            }
            _ => None,
        })
        .collect();
    assert_eq!(over, ["pto.clutch", "seat.clutch"]);
    // And the other way round: a burnt clutch contacts asks after the clutch.
    let burnt = suspects.list.iter().position(|s| {
        let own = s.elements.iter().any(|e| circuit.element(*e).id == "pto.clutch");
        own && s.faults[0].mode == FaultMode::HighResistance
    });
    let causes = model.aftermath(burnt.unwrap(), &[]).causes;
    let named: Vec<_> = causes.iter().map(|c| suspects.list[c.suspect].unit.id(circuit)).collect();
    assert!(named.contains(&"clutch".to_owned()), "{named:?}");
}

#[test]
fn a_blown_fuse_has_a_cause_and_a_flat_battery_too() {
    let circuit = library::circuit("dunmarrow-z-52");
    let model = Model::new(circuit);
    let (circuit, suspects) = (model.circuit(), model.suspects());
    let fuse = suspect(circuit, suspects, "clutch-fuse", FaultMode::FuseBlown);
    let after = model.aftermath(fuse, &[]);
    let first = &suspects.list[after.causes[0].suspect];
    assert_eq!(first.unit.id(circuit), "clutch");
    assert!(after.causes.iter().all(|c| matches!(c.strain, Strain::BlowsFuse { .. })));
    let flat = suspect(circuit, suspects, "battery", FaultMode::BatteryFlat);
    let causes = model.aftermath(flat, &[]).causes;
    assert!(!causes.is_empty());
    assert!(causes.iter().all(|c| matches!(c.strain, Strain::DoesNotCharge { .. })));
}

#[test]
fn a_sound_machine_strains_nothing() {
    for name in ["pellwick-gt-46", "dunmarrow-z-52", "tarnbeck-u-17d"] {
        let circuit = library::circuit(name);
        let model = Model::new(circuit);
        let after = model.aftermath(0, &[]);
        assert!(after.causes.is_empty() && after.harms.is_empty(), "{name}");
    }
}

#[test]
fn best_split_is_forecast_to_be_quicker_than_walking_from_the_battery() {
    let circuit = library::gt46();
    let model = Model::new(circuit);
    let circuit = model.circuit();
    let condition: Condition = library::condition(circuit, &[("key", "start"), ("pedal", "down")]);
    let log = [Evidence {
        sequence: 1,
        condition: condition.clone(),
        set_up: vec![],
        observation: Observation::Sensed(Sensed::Starter(Heard::Silent)),
        repeats: 1,
        source: Source::Tested,
        at_times: false,
        times_an_hour: None,
        celsius: None,
        idle: false,
    }];
    let belief = model.judge(&log);
    let of = |strategy| model.forecast(strategy, &belief, &log, &condition);
    let (split, forward) = (of(Strategy::BestSplit), of(Strategy::BatteryForward));
    assert!(split.minutes > 0.5 && split.tests >= 2.0, "{split:?}");
    assert!(split.minutes < forward.minutes, "{split:?} {forward:?}");
    assert_eq!(split, of(Strategy::BestSplit), "the same from the same");
}

#[test]
fn replacing_now_pays_where_the_part_is_cheap_and_nearly_sure() {
    // A 5 $ switch, 10 minutes to fit, 95 % sure, against 20 minutes of testing at 60 $ an hour.
    let cheap = Choice::of(0.95, 5.0, 8.0, 20.0, 60.0);
    assert!((cheap.fitting - 15.0).abs() < 1e-9 && (cheap.testing - 20.0).abs() < 1e-9);
    assert!((cheap.replace_now - 0.05 * 35.0).abs() < 1e-9);
    assert!(cheap.favors_replacing());
    assert!(!Choice::of(0.3, 140.0, 30.0, 4.0, 60.0).favors_replacing());
}

#[test]
fn a_fuse_that_was_too_big_is_named_where_the_right_one_would_have_blown() {
    let mut named = 0;
    for shipped in LIBRARY {
        let model = Model::new(library::circuit(shipped.name));
        let circuit = model.circuit();
        let fuses: Vec<_> = circuit.fuses().filter_map(|f| circuit.element(f).part).collect();
        let fitted = |times: f64| -> Vec<Fitted> {
            let own = |part: &usize| Some((*part, circuit.part(*part).amps?));
            let rated = fuses.iter().filter_map(own);
            rated.map(|(part, amps)| Fitted { part, amps: times * amps }).collect()
        };
        let shorted = model
            .suspects()
            .list
            .iter()
            .enumerate()
            .filter(|(_, s)| s.faults.iter().any(|f| f.mode == FaultMode::ShortedTurns));
        for (i, _) in shorted {
            let right = model.aftermath(i, &fitted(1.0)).harms;
            for harm in model.aftermath(i, &fitted(3.0)).harms {
                let Strain::Overloads { contact, amps, past, .. } = harm else { continue };
                let Some(right_one) = past.and_then(|p| p.right_one) else { continue };
                // With the right one in it blows, or lets less through.
                assert!(amps > 1.35 * right_one);
                let as_much = right.iter().any(|h| {
                    matches!(h, Strain::Overloads { contact: c, amps: a, .. }
                        if *c == contact && *a > 0.95 * amps)
                });
                assert!(!as_much, "{}: {right:?}", shipped.name);
                named += 1;
            }
        }
    }
    assert!(named > 0);
}

/// Third PTO switch in a season: a shorted clutch burns its contacts, behind a fuse of twice the size.
#[test]
fn what_killed_the_switch_is_named_with_the_fuse_that_let_it_and_the_reading_that_tells() {
    let model = Model::new(library::gt46());
    let (circuit, suspects) = (model.circuit(), model.suspects());
    let id = |element: ElementId| circuit.element(element).id.as_str();
    let burnt = suspects.list.iter().position(|s| {
        let own = s.elements.iter().any(|e| id(*e) == "pto.clutch");
        own && s.faults[0].mode == FaultMode::HighResistance
    });
    let burnt = burnt.unwrap();
    let fuse = circuit.part_named("main-fuse").unwrap();
    let read = |amps| [Fitted { part: fuse, amps }];
    let causes = |amps| model.aftermath(burnt, &read(amps)).causes;
    let through = |amps| match causes(amps).first().map(|c| c.strain.clone()) {
        Some(Strain::Overloads { amps, past, .. }) => (amps, past.unwrap()),
        other => panic!("{other:?}"),
    };
    // As called for, the fuse lets 15.6 A through contacts made for 10.
    let (amps, past) = through(20.0);
    assert!((14.0..17.0).contains(&amps) && past.rating == 20.0 && past.right_one.is_none());
    // So does the right one: a bigger one is named, and is no excuse.
    let (_, past) = through(40.0);
    assert!(past.rating == 40.0 && past.right_one.is_none(), "{past:?}");
    assert_eq!(id(past.fuse), "main-fuse");
    // One of 5 A would have blown long before: then it was something else.
    assert!(causes(5.0).is_empty());

    // Nothing was read of the clutch: the reading that tells is named, and what a good one shows.
    let rest = Condition::at_rest(circuit);
    let standing = |log: &[Evidence]| {
        let belief = model.judge(log);
        model.causes((&belief, log), &rest, burnt, causes(40.0)).remove(0)
    };
    let open = standing(&[]);
    assert_eq!(open.checked, Checked::NotYet);
    let (test, good) = open.test.unwrap();
    let TestAction::Measure { instrument: Instrument::Ohmmeter, red, black } = test.action else {
        panic!("{:?}", test.action);
    };
    let Some(AnswerRange::Ohms { low, high }) = good else { panic!("{good:?}") };
    assert!(low > 2.3 && high < 3.6, "{good:?}");
    // It is made: 1.1 ohm is a shorted clutch, 2.9 a good one; a new clutch is put right.
    let ohms = |value: f64| {
        let observation = Observation::Read {
            instrument: Instrument::Ohmmeter,
            red: circuit.test_point(red).unwrap(),
            black: circuit.test_point(black).unwrap(),
            reading: Reading::Ohms(Some(value)),
        };
        let (condition, set_up) = (test.condition.clone(), test.set_up.clone());
        Evidence { sequence: 1, condition, set_up, ..seen(observation) }
    };
    assert_eq!(standing(&[ohms(1.1)]).checked, Checked::Bad);
    assert_eq!(standing(&[ohms(2.9)]).checked, Checked::Good);
    assert!(standing(&[ohms(2.9)]).test.is_none());
    let clutch = Unit::named(circuit, "clutch").unwrap();
    let new = Evidence { sequence: 2, ..seen(Observation::Repaired(clutch)) };
    assert_eq!(standing(&[ohms(1.1), new.clone()]).checked, Checked::Repaired);
    // A new one that reads just as the old is no better.
    let again = Evidence { sequence: 3, ..ohms(1.1) };
    assert_eq!(standing(&[ohms(1.1), new, again]).checked, Checked::Bad);
    // 12.1 V into the switch and 3.2 out of it tell nothing of the clutch: more ohms before a good one, or fewer
    // before a shorted one.
    let on = [("key", "run"), ("seat", "on"), ("blades", "on")];
    let volts = |sequence, at: &str, volts: f64| {
        let observation = Observation::Read {
            instrument: Instrument::Voltmeter,
            red: circuit.terminal(at).unwrap(),
            black: circuit.terminal("battery.-").unwrap(),
            reading: Reading::Volts(volts),
        };
        let condition = library::condition(circuit, &on);
        Evidence { sequence, condition, ..seen(observation) }
    };
    let walked = [volts(1, "pto-plug.E", 12.1), volts(2, "pto-plug.F", 3.2)];
    assert_eq!(standing(&walked).checked, Checked::NotYet);
    fn seen(observation: Observation) -> Evidence {
        Evidence {
            sequence: 1,
            condition: Condition::at_rest(&library::gt46()),
            set_up: vec![],
            observation,
            repeats: 1,
            source: Source::Tested,
            at_times: false,
            times_an_hour: None,
            celsius: None,
            idle: false,
        }
    }
}
