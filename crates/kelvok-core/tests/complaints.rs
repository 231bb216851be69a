//! What a customer's complaint means on a machine.

mod library;

use expect_test::expect;
use kelvok_core::circuit::{Circuit, Condition, Engine, LampState};
use kelvok_core::complaint::{Offer, Symptom, Telling, When, menu};
use kelvok_core::diagnosis::{
    EngineDoes, Evidence, Heard, Model, Observation, ObservationEntry, Sense, Sensed, Source,
    TestAction,
};
use kelvok_core::interlock::Judge;
use kelvok_core::machine::LIBRARY;

/// The menu, a line a telling: what it says, what still works first.
fn lines(circuit: &Circuit, offers: &[Offer]) -> String {
    let mut out = String::new();
    for offer in offers {
        for telling in &offer.tellings {
            out += &format!(
                "{:?} {}: {}\n",
                offer.symptom,
                when(&telling.when),
                says(circuit, telling)
            );
        }
    }
    out
}

fn when(when: &When) -> String {
    match when {
        When::Control { control, position } => format!("{control}={position}"),
        When::Fuse { fuse } => fuse.clone(),
        other => format!("{other:?}").to_lowercase(),
    }
}

fn says(circuit: &Circuit, telling: &Telling) -> String {
    let rest =
        |control: &str| circuit.controls.iter().find(|c| c.id == control).map(|c| c.rest.clone());
    let each = telling.entries.iter().map(|e| {
        let set: Vec<_> = e
            .condition
            .iter()
            .filter(|(c, p)| rest(c).as_ref() != Some(p))
            .map(|(c, p)| format!("{c}={p}"))
            .collect();
        let what = match &e.observation {
            ObservationEntry::Heard { heard } => format!("{heard:?}"),
            ObservationEntry::Engine { does } => format!("engine {does:?}"),
            ObservationEntry::Blades { turn } => format!("blades {turn}"),
            other => format!("{other:?}"),
        };
        let often = if e.at_times { " at times" } else { "" };
        format!("{}, {}: {what}{often}", set.join(" "), e.engine.name())
    });
    each.collect::<Vec<_>>().join("; ")
}

#[test]
fn a_zero_turn_can_have_these() {
    let circuit = library::circuit("dunmarrow-z-52");
    expect![[r#"
        Dead always: key=start, stopped: Silent
        OneClick always: key=start, stopped: Click
        Chatters always: key=start, stopped: Chatter
        CranksSlowly always: key=start, stopped: CranksSlowly
        CranksNoFire always: key=start, stopped: Cranks; key=start, cranking: engine Stops
        Dies seat=empty: key=run, running: engine Runs; key=run seat=empty, running: engine Stops
        Dies brake=off: key=run, running: engine Runs; brake=off key=run, running: engine Stops
        Dies blades=on: key=run, running: engine Runs; blades=on key=run, running: engine Stops
        Dies left=in: brake=off key=run, running: engine Runs; brake=off key=run left=in, running: engine Stops
        Dies right=in: brake=off key=run, running: engine Runs; brake=off key=run right=in, running: engine Stops
        Dies hot: key=run, running: engine Runs; key=run, running-hot: engine Stops
        Dies bumps: key=run, running: engine Stops at times
        Dies always: key=run, running: engine Stops
        WontShutOff key=off: key=run, running: engine Runs; , running: engine Runs
        WontShutOff left=in: key=run, running: engine Runs; key=run left=in, running: engine Runs
        WontShutOff right=in: key=run, running: engine Runs; key=run right=in, running: engine Runs
        WontShutOff brake=off: key=run seat=empty, running: engine Runs; brake=off key=run seat=empty, running: engine Runs
        WontShutOff blades=on: key=run seat=empty, running: engine Runs; blades=on key=run seat=empty, running: engine Runs
        WontShutOff seat=empty: brake=off key=run, running: engine Runs; brake=off key=run seat=empty, running: engine Runs
        CranksItself key=off: , stopped: Cranks
        CranksItself key=run: key=run, stopped: Cranks
        CranksItself left=in: key=start left=in, stopped: Cranks
        CranksItself right=in: key=start right=in, stopped: Cranks
        CranksItself brake=off: brake=off key=start, stopped: Cranks
        CranksItself blades=on: blades=on key=start, stopped: Cranks
        BladesWontEngage always: blades=on key=run, running: engine Runs; blades=on key=run, running: blades false
        BladesDropOut always: blades=on key=run, running: blades false at times
        BladesDropOut hot: blades=on key=run, running: blades true; blades=on key=run, running-hot: blades false
        BladesDropOut bumps: blades=on key=run, running: blades false at times
        BladesWontStop key=off: blades=on key=run, running: blades true; blades=on, running: blades true
        BladesWontStop seat=empty: blades=on key=run, running: blades true; blades=on key=run seat=empty, running: blades true
        BladesWontStop left=in: blades=on key=run, running: blades true; blades=on key=run left=in, running: blades true
        BladesWontStop right=in: blades=on key=run, running: blades true; blades=on key=run right=in, running: blades true
        BladesWontStop blades=off: blades=on key=run, running: blades true; key=run, running: blades true
        FuseBlows main-fuse: , stopped: Looked { at: Fuse { fuse: "main-fuse" }, bad: true }
        FuseBlows clutch-fuse: , stopped: Looked { at: Fuse { fuse: "clutch-fuse" }, bad: true }
        FuseBlows charge-fuse: , stopped: Looked { at: Fuse { fuse: "charge-fuse" }, bad: true }
        BatteryFlat always: , stopped: Note { text: "Battery goes flat" }
    "#]].assert_eq(&lines(&circuit, &menu(&circuit)));
}

#[test]
fn a_walk_behind_with_a_rope_is_not_asked_whether_it_cranks() {
    let circuit = library::circuit("hexley-walk-50");
    expect![[r#"
        Dies hot: switch=on, running: engine Runs; switch=on, running-hot: engine Stops
        Dies bumps: switch=on, running: engine Stops at times
        Dies always: switch=on, running: engine Stops
        WontShutOff switch=off: switch=on, running: engine Runs; , running: engine Runs
        WontShutOff drive=forward: switch=on, running: engine Runs; drive=forward switch=on, running: engine Runs
        WontShutOff blades=on: switch=on, running: engine Runs; blades=on switch=on, running: engine Runs
    "#]].assert_eq(&lines(&circuit, &menu(&circuit)));
}

/// Whether a good machine does what an entry says.
fn does_that(circuit: &Circuit, entry: &Evidence) -> bool {
    let good = Judge::as_built(circuit, &[]).behavior(&entry.condition);
    match entry.observation {
        Observation::Sensed(Sensed::Starter(heard)) => good.cranks == (heard == Heard::Cranks),
        Observation::Sensed(Sensed::Engine(does)) => match entry.condition.engine {
            Engine::Cranking => good.starts == (does == EngineDoes::Runs),
            _ => good.runs == (does == EngineDoes::Runs),
        },
        Observation::Sensed(Sensed::Blades(turn)) => good.blades == turn,
        _ => false,
    }
}

/// Whatever is told resolves on its machine, is told, and is what somebody would complain of: a good
/// machine does otherwise.
#[test]
fn every_complaint_is_one_that_a_good_machine_does_not_have() {
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        let offers = menu(&circuit);
        let kinds: Vec<_> = offers.iter().map(|o| o.symptom).collect();
        assert!(kinds.contains(&Symptom::WontShutOff), "{}: {kinds:?}", shipped.name);
        let recoil = circuit.document().drive.recoil;
        assert_eq!(kinds.contains(&Symptom::Dead), !recoil, "{}", shipped.name);
        let model = Model::new(circuit);
        for offer in &offers {
            assert!(!offer.tellings.is_empty());
            for telling in &offer.tellings {
                let log: Vec<_> = telling
                    .entries
                    .iter()
                    .zip(1..)
                    .map(|(e, n)| e.resolve(model.circuit(), n).expect("it stands like that"))
                    .collect();
                assert!(log.iter().all(|e| e.source == Source::Told));
                if offer.symptom == Symptom::BatteryFlat {
                    continue;
                }
                // What is wrong comes last, and is complained of; what comes before is in order.
                let (bad, good) = log.split_last().expect("something is said");
                let what = || format!("{}: {:?} {:?}", shipped.name, offer.symptom, telling.when);
                assert!(good.iter().all(|e| does_that(model.circuit(), e)), "{}", what());
                if matches!(telling.when, When::Fuse { .. }) {
                    continue;
                }
                assert!(!does_that(model.circuit(), bad), "a good machine does that: {}", what());
                let rest = Condition::at_rest(model.circuit());
                assert_eq!(model.complained_of(&log, &rest), bad.condition);
            }
        }
    }
}

#[test]
fn it_dies_when_i_get_off_says_that_it_runs_on_the_seat() {
    let circuit = library::circuit("dunmarrow-z-52");
    let offers = menu(&circuit);
    let dies = offers.iter().find(|o| o.symptom == Symptom::Dies).expect("it can die");
    let off = When::Control { control: "seat".to_owned(), position: "empty".to_owned() };
    let off = dies.tellings.iter().find(|t| t.when == off).expect("getting off");
    let [runs, dies] = &off.entries[..] else { panic!("{off:?}") };
    assert_eq!((runs.condition["seat"].as_str(), dies.condition["seat"].as_str()), ("on", "empty"));
    assert_eq!(
        (dies.condition["brake"].as_str(), dies.condition["blades"].as_str()),
        ("on", "off")
    );
    assert_eq!((runs.engine, dies.engine), (Engine::Running, Engine::Running));
}

/// "Turns no sound, lights work": it is the starter that is asked for, not the lights.
#[test]
fn what_still_works_is_no_complaint() {
    let model = Model::new(library::gt46());
    let circuit = model.circuit();
    let read = kelvok_core::complaint::read(circuit, "Turns no sound, lights work.");
    let works: Vec<Evidence> =
        read.works.iter().map(|e| e.resolve(circuit, 1).expect("an entry")).collect();
    assert_eq!(works.len(), 1, "{works:?}");
    let rest = Condition::at_rest(circuit);
    assert_eq!(model.complained_of(&works, &rest), model.complained_of(&[], &rest));
    assert_eq!(model.circuit_about(&works), None);
    let plan = model.plan(&model.judge(&works), &works, &rest);
    let first = plan.reproduce.expect("nobody saw it yet");
    assert!(matches!(first.action, TestAction::Try(Sense::Starter)), "{first:?}");
    // Lights that are dim are complained of.
    let mut dim = works.clone();
    dim[0].observation = match dim[0].observation {
        Observation::Sensed(Sensed::Lamp(lamp, _)) => {
            Observation::Sensed(Sensed::Lamp(lamp, LampState::Dim))
        }
        other => panic!("{other:?}"),
    };
    assert_eq!(model.complained_of(&dim, &rest), dim[0].condition);
}

#[test]
fn a_lamp_that_is_out_while_the_engine_runs_is_looked_at_with_the_engine_running() {
    let model = Model::new(library::circuit("tarnbeck-u-17d"));
    let set = [("key", "run"), ("lights", "on")];
    let at = Condition::with(model.circuit(), set).expect("positions");
    let at = Condition { engine: Engine::Running, ..at };
    let of = |e: &_| model.circuit().element(*e).part.map(|p| &*model.circuit().part(p).id);
    let lamps = model.circuit().lamps();
    let lamp = lamps.iter().position(|e| of(e) == Some("lamps")).expect("its lights");
    let out = Evidence {
        sequence: 1,
        condition: at.clone(),
        set_up: vec![],
        observation: Observation::Sensed(Sensed::Lamp(lamp, LampState::Out)),
        repeats: 1,
        source: Source::Told,
        at_times: false,
        times_an_hour: None,
        celsius: None,
        idle: false,
    };
    let log = [out];
    let plan = model.plan(&model.judge(&log), &log, &at);
    let first = plan.reproduce.expect("it is to be seen");
    assert_eq!((first.action, first.condition), (TestAction::Try(Sense::Lamp(lamp)), at));
}
