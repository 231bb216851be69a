//! What may have caused a fault and what it may have harmed; how long it will take; replace or test.

mod library;

use kelvok_core::circuit::{Circuit, Condition, FaultMode};
use kelvok_core::diagnosis::{
    Choice, Evidence, Heard, Model, Observation, Sensed, Source, Strain, Strategy, Suspects, Unit,
};

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
    let harms = model.aftermath(clutch).harms;
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
    let causes = model.aftermath(burnt.unwrap()).causes;
    let named: Vec<_> = causes.iter().map(|c| suspects.list[c.suspect].unit.id(circuit)).collect();
    assert!(named.contains(&"clutch".to_owned()), "{named:?}");
}

#[test]
fn a_blown_fuse_has_a_cause_and_a_flat_battery_too() {
    let circuit = library::circuit("dunmarrow-z-52");
    let model = Model::new(circuit);
    let (circuit, suspects) = (model.circuit(), model.suspects());
    let fuse = suspect(circuit, suspects, "clutch-fuse", FaultMode::FuseBlown);
    let after = model.aftermath(fuse);
    let first = &suspects.list[after.causes[0].suspect];
    assert_eq!(first.unit.id(circuit), "clutch");
    assert!(after.causes.iter().all(|c| matches!(c.strain, Strain::BlowsFuse { .. })));
    let flat = suspect(circuit, suspects, "battery", FaultMode::BatteryFlat);
    let causes = model.aftermath(flat).causes;
    assert!(!causes.is_empty());
    assert!(causes.iter().all(|c| matches!(c.strain, Strain::DoesNotCharge { .. })));
}

#[test]
fn a_sound_machine_strains_nothing() {
    for name in ["pellwick-gt-46", "dunmarrow-z-52", "tarnbeck-u-17d"] {
        let circuit = library::circuit(name);
        let model = Model::new(circuit);
        let after = model.aftermath(0);
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
