//! What a bench meter says and when it is believed; the stand-in reads as the engine does.

mod library;

use kelvok_core::circuit::Engine;
use kelvok_core::circuit::{Instrument, Reading, Relays, read};
use kelvok_core::meter::{Answer, Identity, Range, Shown, StandIn, Steady, bring_about};

fn line(meter: &mut StandIn, command: &str) -> String {
    match meter.answer(command) {
        Answer::Line(line) => line,
        other => panic!("{command}: {other:?}"),
    }
}

fn told(meter: &mut StandIn, command: &str) {
    assert_eq!(meter.answer(command), Answer::Nothing, "{command}");
    assert_eq!(line(meter, "SYST:ERR?"), "0,\"No error\"", "{command}");
}

/// The figure once the probes have settled.
fn settled(meter: &mut StandIn, range: Range) -> Shown {
    (0..10).map(|_| Shown::parse(&line(meter, range.query())).unwrap()).last().unwrap()
}

#[test]
fn commands_are_understood_long_and_short_in_any_case() {
    for range in Range::ALL.iter().copied() {
        assert_eq!(Range::asked(range.query()), Some(range));
        assert_eq!(Range::asked(&range.query().to_lowercase()), Some(range));
    }
    assert_eq!(Range::asked(":MEASure:VOLTage:DC?"), Some(Range::DcVolts));
    assert_eq!(Range::asked("MEAS:VOLT?"), Some(Range::DcVolts));
    for wrong in ["MEAS:VOLT:DC", "VOLT?", "", "MEAS?", "MEAS:FREQ?"] {
        assert_eq!(Range::asked(wrong), None, "{wrong}");
    }
}

#[test]
fn a_figure_over_range_and_nonsense_are_told_apart() {
    assert_eq!(Shown::parse(" +1.263400E+01\r\n"), Ok(Shown::Figure(12.634)));
    assert_eq!(Shown::parse("9.9E37"), Ok(Shown::OverRange));
    assert_eq!(Shown::parse("-9.9E37"), Ok(Shown::OverRange));
    for wrong in ["", "OL?", "NaN", "12.6.4", "%\u{1}#", &"1".repeat(500)] {
        let garbage = Shown::parse(wrong).expect_err(wrong);
        assert!(garbage.0.len() <= 40 && !garbage.0.contains('\u{1}'));
    }
    let identity = Identity::parse("MAKER,M-1,007,2.1\n").unwrap();
    assert_eq!((identity.maker.as_str(), identity.serial.as_str()), ("MAKER", "007"));
    assert!(!identity.is_stand_in());
    assert_eq!(Identity::parse("hello"), None);
}

#[test]
fn a_reading_counts_once_it_moved_and_then_stood_for_a_second() {
    let mut steady = Steady::new(Range::DcVolts);
    let mut at = 0.0;
    let mut push = |figure: f64, times: usize| {
        let mut taken = Vec::new();
        for i in 0..times {
            let noise = if i % 2 == 0 { 0.003 } else { -0.003 };
            taken.extend(steady.push(at, Shown::Figure(figure + noise)).taken);
            at += 0.2;
        }
        taken
    };
    assert_eq!(push(0.0, 20), [], "in the air: it never moved");
    assert_eq!(push(12.5, 4), [], "not for a second yet");
    let taken = push(12.5, 20);
    assert_eq!(taken.len(), 1, "once");
    assert!((taken[0].figure().unwrap() - 12.5).abs() < 0.01);
    assert_eq!(push(12.5, 20), [], "the same touch");
    push(0.3, 2);
    assert_eq!(push(0.0, 20).len(), 1, "a dead point, a live one tapped before");
    // Ohms: the probes tapped together, then put to an open.
    let mut ohms = Steady::new(Range::Ohms);
    let mut all = Vec::new();
    for (i, shown) in [Shown::OverRange, Shown::Figure(0.2)]
        .into_iter()
        .chain(std::iter::repeat_n(Shown::OverRange, 10))
        .enumerate()
    {
        all.extend(ohms.push(i as f64 * 0.2, shown).taken);
    }
    assert_eq!(all, [Shown::OverRange]);
}

#[test]
fn the_stand_in_reads_what_the_engine_says_with_its_faults() {
    let circuit = library::gt46();
    let mut meter = StandIn::new(library::gt46(), 7);
    told(&mut meter, "SIM:NOIS 0");
    told(&mut meter, "SIM:FAULT brake.start=open");
    let set = [("key".to_owned(), "start".to_owned()), ("pedal".to_owned(), "down".to_owned())];
    let condition = library::condition(&circuit, &[("key", "start"), ("pedal", "down")]);
    let fault = kelvok_core::circuit::parse_change(&circuit, "brake.start=open").unwrap();
    for (point, fed) in [("brake-plug.A", true), ("brake-plug.B", false)] {
        for command in bring_about(&set, Engine::Stopped, &[], (point, "battery.-")) {
            told(&mut meter, &command);
        }
        let moving = Shown::parse(&line(&mut meter, "MEAS:VOLT:DC?")).unwrap();
        assert!(moving.figure().unwrap() < 0.4, "the probes travel first");
        let probes = (circuit.terminal(point).unwrap(), circuit.terminal("battery.-").unwrap());
        let (relays, with) = (Relays::default(), Instrument::Voltmeter);
        let truth = read(&circuit, &condition, relays, &[fault], with, probes).unwrap();
        let shown = settled(&mut meter, Range::DcVolts);
        assert_eq!(
            Range::DcVolts.reading(shown).map(|r| format!("{r:.4?}")),
            Some(format!("{truth:.4?}"))
        );
        assert_eq!(shown.figure().unwrap() > 10.0, fed);
    }
    told(&mut meter, "SIM:FAULT:CLEAR");
    assert!(settled(&mut meter, Range::DcVolts).figure().unwrap() > 9.0);
    assert_eq!(settled(&mut meter, Range::Ohms), Shown::OverRange, "live");
    told(&mut meter, "SIM:SET");
    told(&mut meter, "SIM:SETUP unplugged=brake-plug pressed-by-hand=brake");
    told(&mut meter, "SIM:PROB brake.start-in,brake.start-out");
    let ohms = settled(&mut meter, Range::Continuity);
    assert_eq!(Range::Continuity.reading(ohms), Some(Reading::Buzz(true)));
}

#[test]
fn what_it_cannot_do_is_kept_as_an_error_and_trouble_is_played() {
    let mut meter = StandIn::new(library::gt46(), 1);
    for (wrong, code) in [
        ("MEAS:FREQ?", "-113"),
        ("SIM:PROB nowhere.1,battery.-", "-224"),
        ("SIM:SET key=sideways", "-224"),
        ("SIM:FAULT key=purple", "-224"),
        ("SIM:ENG flying", "-224"),
    ] {
        assert_eq!(meter.answer(wrong), Answer::Nothing);
        let error = line(&mut meter, "SYST:ERR?");
        assert!(error.starts_with(code), "{wrong}: {error}");
    }
    meter.answer("SIM:TROU garbage");
    assert!(Shown::parse(&line(&mut meter, "MEAS:VOLT:DC?")).is_err());
    meter.answer("SIM:TROU silence");
    assert_eq!(meter.answer("MEAS:VOLT:DC?"), Answer::Silence);
    meter.answer("SIM:TROU hangup");
    assert_eq!(meter.answer("*IDN?"), Answer::HangUp);
    meter.answer("SIM:TROU none");
    assert!(Identity::parse(&line(&mut meter, "*IDN?")).unwrap().is_stand_in());
}
