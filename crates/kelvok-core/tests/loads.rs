//! Clutch, coils, glow plugs and lamps by ohms, volts and amperes: where each is read, what readings come to, and
//! what it can be where they do not go together.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, Condition, Instrument, Reading, Relays, operating_point, read,
};
use kelvok_core::diagnosis::{Entry, Evidence, Model};
use kelvok_core::loads::{
    Insulation, Load, LoadKind, LoadMisfit, LoadNext, LoadReading, LoadStanding, LoadWord,
    load_standing, loads,
};
use kelvok_core::machine::LIBRARY;
use kelvok_core::trial::try_loads;
use serde_json::json;

fn load(circuit: &Circuit, id: &str) -> Load {
    let all = loads(circuit);
    all.into_iter().find(|l| circuit.element(l.element).id == id).expect("such a load")
}

fn clutch() -> Load {
    load(&library::circuit("dunmarrow-z-52"), "clutch")
}

fn stands(load: &Load, readings: &[LoadReading]) -> LoadStanding {
    load_standing(load, readings)
}

fn ohms(ohms: f64) -> LoadReading {
    LoadReading::Ohms { ohms: Some(ohms), celsius: None }
}

fn at(ohms: f64, celsius: f64) -> LoadReading {
    LoadReading::Ohms { ohms: Some(ohms), celsius: Some(celsius) }
}

/// Every place that a load is read at, asked of the engine itself: a load of other ohms reads other ohms there, draws what
/// is said, and has the volts that are said.
#[test]
fn where_a_load_is_read_is_where_the_engine_has_it() {
    let (mut read_cold, mut read_on, mut clamped) = (0, 0, 0);
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        for load in loads(&circuit) {
            let name = format!("{} {}", shipped.name, circuit.element(load.element).id);
            let shorted = Change::Ohms(load.element, 0.5 * load.ohms);
            if let Some(own) = load.ohms_at {
                let rest = Condition::at_rest(&circuit);
                let mut changes: Vec<_> = own.unplugged.map(Change::Apart).into_iter().collect();
                changes.push(shorted);
                let ends = (own.red, own.black);
                let meter = Instrument::Ohmmeter;
                let shown = read(&circuit, &rest, Relays::default(), &changes, meter, ends);
                let Ok(Reading::Ohms(Some(shown))) = shown else { panic!("{name}: {shown:?}") };
                assert!(
                    (shown / load.ohms - 0.5).abs() < 0.06 + 0.1 / load.ohms,
                    "{name}: {shown}"
                );
                read_cold += 1;
            }
            let Some(on) = &load.on else { continue };
            if on.condition.engine >= kelvok_core::circuit::Engine::Running {
                continue;
            }
            let relays = Relays::default();
            let point = operating_point(&circuit, &on.condition, relays, &[], &[]);
            assert!((point.amps[load.element.index()].abs() - on.amps).abs() < 1e-9, "{name}");
            assert!(on.amps > 0.05 && on.volts > 6.0, "{name}: {on:?}");
            if let Some((red, black)) = on.volts_at {
                let at = |n: kelvok_core::circuit::NodeId| point.volts[n.index()].unwrap_or(0.0);
                let shown = (at(red) - at(black)).abs();
                assert!((shown / on.volts - 1.0).abs() < 0.03, "{name}: {shown} {}", on.volts);
                assert!(load.is_across(&circuit, &on.condition, (red, black)), "{name}");
                read_on += 1;
            }
            if let Some(ends) = on.clamp_at {
                let share = load.clamped(&circuit, &on.condition, ends).expect("a share");
                assert!((share - 1.0).abs() < 0.1, "{name}: {share}");
                clamped += 1;
            }
        }
    }
    assert!(read_cold > 25 && read_on > 20 && clamped > 20, "{read_cold} {read_on} {clamped}");
}

/// The story: 1.1 ohm where 2.6 belongs, 9.8 A at 11.9 V.
#[test]
fn a_clutch_that_lost_its_turns_is_shorted_by_ohms_and_by_amps() {
    let clutch = clutch();
    assert_eq!(stands(&clutch, &[]).word, LoadWord::NotRead);
    assert_eq!(stands(&clutch, &[]).next, Some(LoadNext::Ohms));
    let said = stands(&clutch, &[at(1.1, 20.0)]);
    assert_eq!(said.word, LoadWord::Shorted);
    assert!(said.sure > 0.97, "{said:?}");
    let both = [at(1.1, 20.0), LoadReading::Volts(11.9), LoadReading::Amps(9.8)];
    let said = stands(&clutch, &both);
    assert_eq!((said.word, said.misfits.len()), (LoadWord::Shorted, 0), "{said:?}");
    let by_amps = said.by_amps.expect("said by amps");
    assert_eq!(by_amps.word, LoadWord::Shorted);
    assert!((said.watts.unwrap() - 116.6).abs() < 0.1);
    assert!((said.should_draw.unwrap() - 4.58).abs() < 0.01);
    let ohms = said.ohms.expect("ohms");
    assert!(ohms.low < 1.15 && ohms.high > 0.9 && ohms.high < 1.4, "{ohms:?}");
    // It touches the frame besides?
    assert_eq!(said.next, Some(LoadNext::Insulation));
    let grounded = [&both[..], &[LoadReading::Insulation(Some(40.0))]].concat();
    assert_eq!(stands(&clutch, &grounded).insulation, Some(Insulation::Grounded));
    let wet = [&both[..], &[LoadReading::Insulation(Some(90_000.0))]].concat();
    assert_eq!(stands(&clutch, &wet).insulation, Some(Insulation::Leaks));
}

/// 3.3 ohm is too many of a cold clutch, and right of one that is too hot to touch.
#[test]
fn how_warm_it_is_counts() {
    let clutch = clutch();
    assert_eq!(stands(&clutch, &[at(3.3, 90.0)]).word, LoadWord::Good);
    assert_ne!(stands(&clutch, &[at(3.3, 0.0)]).word, LoadWord::Good);
    // Nobody said: it may be either, and what it draws tells.
    let unsaid = stands(&clutch, &[ohms(3.3)]);
    assert_ne!(unsaid.word, LoadWord::High, "{unsaid:?}");
    assert_eq!(stands(&clutch, &[at(2.6, 20.0)]).word, LoadWord::Good);
    assert_eq!(stands(&clutch, &[at(2.6, 20.0)]).next, None);
    // A hot one that reads as a cold one should has lost turns.
    let hot = stands(&clutch, &[at(2.0, 110.0)]);
    assert_eq!(hot.word, LoadWord::Shorted, "{hot:?}");
}

#[test]
fn ohms_volts_and_amps_that_do_not_go_together_say_what_it_can_be() {
    use LoadMisfit::*;
    let clutch = clutch();
    let case = |cold: LoadReading, volts: f64, amps: f64| {
        let said = stands(&clutch, &[cold, LoadReading::Volts(volts), LoadReading::Amps(amps)]);
        assert_eq!(said.word, LoadWord::Disagree, "{said:?}");
        assert!(said.next.is_some(), "{said:?}");
        said.misfits
    };
    let open = LoadReading::Ohms { ohms: None, celsius: None };
    assert_eq!(case(open, 12.1, 4.5), [NotTouching]);
    assert_eq!(case(ohms(2.6), 12.1, 0.1), [ClampAroundBoth]);
    assert_eq!(case(at(2600.0, 20.0), 12.1, 4.5), [WrongRange]);
    assert_eq!(case(at(3.4, 20.0), 12.1, 4.9), [LeadsNotZeroed, ShortsWhenOn]);
    assert_eq!(case(at(2.6, 20.0), 12.1, 9.5), [ShortsWhenOn]);
    assert_eq!(case(at(2.6, 20.0), 12.1, 2.4), [LoosePlug]);
    // Warmed by its own current it draws a little less: that is no misfit.
    let warm = [at(2.6, 20.0), LoadReading::Volts(12.1), LoadReading::Amps(3.8)];
    assert_eq!(stands(&clutch, &warm).word, LoadWord::Good);
    // Nothing through it, and open leads: open.
    let dead = [open, LoadReading::Volts(12.4), LoadReading::Amps(0.0)];
    assert_eq!(stands(&clutch, &dead).word, LoadWord::Open);
}

#[test]
fn a_lamp_is_not_judged_by_its_cold_ohms() {
    let circuit = library::gt46();
    let lamps = load(&circuit, "lamps");
    assert_eq!(lamps.kind, LoadKind::Lamp);
    assert_eq!(lamps.ohms_at, None);
    assert_eq!(stands(&lamps, &[ohms(0.4)]).word, LoadWord::NotRead);
    let on = lamps.on.clone().expect("lamps can be switched on");
    let burns = [LoadReading::Volts(on.volts), LoadReading::Amps(on.amps)];
    assert_eq!(stands(&lamps, &burns).word, LoadWord::Good);
}

/// What was read anywhere in the job counts, and of a new part only what was read since.
#[test]
fn what_was_read_in_the_job_counts_and_of_a_new_part_what_was_read_since() {
    let model = Model::new(library::gt46());
    let circuit = model.circuit().clone();
    let clutch = load(&circuit, "clutch");
    let own = clutch.ohms_at.expect("a place");
    let off: Vec<_> = own
        .unplugged
        .map(|p| json!({"kind": "unplugged", "connector": circuit.part(p).id}))
        .into_iter()
        .collect();
    let mut log: Vec<Evidence> = Vec::new();
    let enter = |log: &mut Vec<Evidence>, entry: serde_json::Value| {
        let entry: Entry = serde_json::from_value(entry).expect("an entry");
        let evidence = entry.resolve(&circuit, log.len() as u64 + 1).expect("resolves");
        assert_eq!(Entry::of(&circuit, &evidence).celsius, entry.celsius);
        log.push(evidence);
    };
    let name = |n| circuit.node_name(n).to_owned();
    let cold = |value: f64, celsius: serde_json::Value| {
        json!({"condition": {}, "set_up": off, "celsius": celsius,
            "observation": {"kind": "reading", "instrument": "ohmmeter", "red": name(own.red),
                "black": name(own.black), "reading": {"kind": "ohms", "value": value}}})
    };
    enter(&mut log, cold(1.2, json!(20)));
    let (read, said) = model.load(&clutch, &log);
    assert_eq!((read.now.len(), said.word), (1, LoadWord::Shorted));
    // The job's own suspects hear it, too.
    let shorted = |log: &[Evidence]| {
        let belief = model.judge(log);
        let unit = kelvok_core::diagnosis::Unit::Part(clutch.part);
        belief.of_unit(model.suspects(), unit)
    };
    assert!(shorted(&log) > 0.5, "{}", shorted(&log));
    let repaired = json!({"observation": {"kind": "repaired", "unit": "clutch"}});
    enter(&mut log, repaired);
    assert_eq!(model.load(&clutch, &log).1.word, LoadWord::NotRead);
    // Warm, it has more; at 20 degrees it would be right.
    enter(&mut log, cold(3.6, json!(85)));
    let (read, said) = model.load(&clutch, &log);
    assert_eq!((read.before.len(), read.now.len(), said.word), (1, 1, LoadWord::Good));
    assert!(shorted(&log) < 0.5, "{}", shorted(&log));
    let (_, other) = model.load(&load(&circuit, "fuel"), &log);
    assert_eq!(other.word, LoadWord::NotRead);
}

#[test]
fn degrees_go_with_ohms_and_no_coil_is_hotter_than_a_hand_can_tell() {
    let circuit = library::gt46();
    let entry = |celsius: f64, instrument: &str, reading: serde_json::Value| {
        let entry = json!({"celsius": celsius, "observation": {"kind": "reading",
            "instrument": instrument, "red": "clutch-plug.A", "black": "clutch-plug.B",
            "reading": reading}});
        let entry: Entry = serde_json::from_value(entry).expect("an entry");
        entry.resolve(&circuit, 1).map(|_| ()).map_err(|e| e.to_string())
    };
    let ohms = json!({"kind": "ohms", "value": 2.6});
    assert!(entry(60.0, "ohmmeter", ohms.clone()).is_ok());
    assert!(entry(600.0, "ohmmeter", ohms).unwrap_err().contains("-40 to 200"));
    let volts = json!({"kind": "volts", "value": 12.0});
    assert!(entry(60.0, "voltmeter", volts).unwrap_err().contains("ohms of a coil"));
    let heard = json!({"celsius": 60.0, "observation": {"kind": "heard", "heard": "click"}});
    let heard: Entry = serde_json::from_value(heard).expect("an entry");
    assert!(heard.resolve(&circuit, 1).unwrap_err().to_string().contains("ohms of a coil"));
}

#[test]
fn loads_drawn_away_from_the_model_are_named() {
    let mut all = Vec::new();
    for name in ["pellwick-gt-46", "dunmarrow-z-52", "tarnbeck-c-24d"] {
        all.extend(try_loads(&library::circuit(name), 200, 3));
    }
    let right = all.iter().filter(|c| c.named == c.truth).count();
    let mut missed: Vec<_> = all
        .iter()
        .filter(|c| c.named != c.truth)
        .map(|c| format!("{:?} named {:?}", c.truth, c.named))
        .collect();
    missed.sort();
    missed.chunk_by(|a, b| a == b).for_each(|own| println!("{} {}", own.len(), own[0]));
    assert!(100 * right >= 93 * all.len(), "{right} of {}", all.len());
    let wrong = |c: &&kelvok_core::trial::LoadTried| {
        let said = !matches!(c.named, LoadWord::Unsure | LoadWord::Disagree);
        said && c.named != c.truth
    };
    assert!(all.iter().filter(wrong).count() * 50 < all.len());
}
