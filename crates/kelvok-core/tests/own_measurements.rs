//! A measurement that the plan did not ask for: weighed by the same rules, and told what speaks
//! against it.

mod library;

use kelvok_core::circuit::{Condition, Engine, Instrument, Reading, Relays, read};
use kelvok_core::diagnosis::{
    AnswerRange, BatteryEvent, Belief, Danger, Evidence, Heard, Measurement, Model, NextTest,
    Observation, Sensed, SetUp, Source, Strategy, TestAction, Weighed,
};

struct Job {
    model: Model,
    condition: Condition,
    log: Vec<Evidence>,
}

impl Job {
    fn new(machine: &str, set: &[(&str, &str)]) -> Self {
        let circuit = library::circuit(machine);
        let condition = library::condition(&circuit, set);
        Self { model: Model::new(circuit), condition, log: vec![] }
    }

    fn found(mut self, observation: Observation) -> Self {
        self.log.push(Evidence {
            sequence: self.log.len() as u64 + 1,
            condition: self.condition.clone(),
            set_up: vec![],
            observation,
            repeats: 1,
            source: Source::Tested,
            at_times: false,
            times_an_hour: None,
            celsius: None,
            idle: false,
        });
        self
    }

    fn belief(&self) -> Belief {
        self.model.judge(&self.log)
    }

    fn point(&self, terminal: &str) -> usize {
        let points = &self.model.circuit().document().test_points;
        points.iter().position(|p| p.terminal == terminal).expect("a test point")
    }

    fn off(&self, plug: &str) -> SetUp {
        SetUp::Unplugged(self.model.circuit().part_named(plug).expect("a plug"))
    }

    /// In the condition complained of, or another.
    fn weigh(
        &self,
        condition: &Condition,
        set_up: &[SetUp],
        (instrument, red, black): (Instrument, &str, &str),
    ) -> Weighed {
        let own = Measurement {
            condition: condition.clone(),
            set_up: set_up.to_vec(),
            instrument,
            red: self.point(red),
            black: self.point(black),
        };
        let weighed = self.model.weigh(&self.belief(), &self.log, &self.condition, own);
        weighed.expect("points of the machine")
    }

    fn dangers(&self, set_up: &[SetUp], with: (Instrument, &str, &str)) -> Vec<Danger> {
        self.weigh(&self.condition, set_up, with).dangers
    }
}

const START: [(&str, &str); 2] = [("key", "start"), ("pedal", "down")];

/// With jumper cables on, the battery's own clamp takes no power off the machine.
#[test]
fn nothing_that_wants_no_power_is_asked_for_while_jumper_cables_are_on() {
    let silent = Observation::Sensed(Sensed::Starter(Heard::Silent));
    let [on, off] = [BatteryEvent::JumperOn, BatteryEvent::JumperOff].map(Observation::Battery);
    let wants_none = |job: &Job| {
        let all =
            job.model.every_test(Strategy::BestSplit, &job.belief(), &job.log, &job.condition);
        let none = |t: &&NextTest| t.action.is_ohms() || t.set_up.contains(&SetUp::BatteryOff);
        (all.iter().filter(none).count(), all.len())
    };
    let job = Job::new("pellwick-gt-46", &START).found(silent);
    let ohms = (Instrument::Ohmmeter, "brake.start-in", "brake.start-out");
    let dead = job.condition.clone();
    let set_up = [SetUp::BatteryOff, job.off("brake-plug")];
    assert!(wants_none(&job).0 > 0);
    let job = job.found(on);
    let (none, all) = wants_none(&job);
    assert!(none == 0 && all > 0, "{none} of {all}");
    let plan = job.model.plan(&job.belief(), &job.log, &job.condition);
    assert!(plan.tests.iter().all(|t| !t.action.is_ohms()), "{:?}", plan.tests);
    assert!(job.weigh(&dead, &set_up, ohms).dangers.contains(&Danger::JumperOn));
    let job = job.found(off);
    assert!(wants_none(&job).0 > 0);
    assert!(!job.weigh(&dead, &set_up, ohms).dangers.contains(&Danger::JumperOn));
}

#[test]
fn what_the_plan_asks_for_is_weighed_alike() {
    let job = Job::new("pellwick-gt-46", &START)
        .found(Observation::Sensed(Sensed::Starter(Heard::Silent)));
    let belief = job.belief();
    let model = &job.model;
    let mut weighed = 0;
    for planned in model.every_test(Strategy::BestSplit, &belief, &job.log, &job.condition) {
        let TestAction::Measure { instrument, red, black } = planned.action else { continue };
        let shaken = planned.set_up.iter().any(|s| matches!(s, SetUp::Shaken(_)));
        if shaken {
            continue;
        }
        let (condition, set_up) = (planned.condition.clone(), planned.set_up.clone());
        let own = Measurement { condition, set_up, instrument, red, black };
        let own = model.weigh(&belief, &job.log, &job.condition, own).expect("its own points");
        assert_eq!(own.dangers, [], "{planned:?}");
        assert_eq!(own.test.cautions, planned.cautions);
        assert!((own.test.minutes - planned.minutes).abs() < 1e-9, "{planned:?}");
        assert!((own.test.bits - planned.bits).abs() < 1e-9, "{planned:?}");
        assert_eq!(format!("{:?}", own.test.answers), format!("{:?}", planned.answers));
        weighed += 1;
    }
    assert!(weighed > 100, "{weighed}");
}

#[test]
fn a_meter_watched_while_the_harness_is_shaken_tells_more_of_what_comes_and_goes() {
    let job = Job::new("pellwick-gt-46", &START);
    let pedal =
        job.model.circuit().part(job.model.circuit().part_named("brake").expect("a switch"));
    let places = &job.model.circuit().document().places;
    let place = places.iter().position(|p| Some(&p.id) == pedal.place.as_ref()).expect("a place");
    let volts = (Instrument::Voltmeter, "brake-plug.B", "battery.-");
    let bits = |set_up: &[SetUp]| job.weigh(&job.condition, set_up, volts).test.bits;
    let (still, shaken) = (bits(&[]), bits(&[SetUp::Shaken(place)]));
    assert!(shaken > still + 1e-6, "{shaken} against {still}");
}

#[test]
fn what_the_plan_never_asks_for_is_said() {
    use Instrument::{Buzzer, DiodeRange, Ohmmeter, TestLamp, Voltmeter};
    let job = Job::new("pellwick-gt-46", &START);
    let key = job.off("key-plug");
    for (set_up, with, dangers) in [
        (vec![], (Voltmeter, "key-plug.S", "battery.-"), vec![]),
        (vec![], (Ohmmeter, "key-plug.S", "battery.-"), vec![Danger::LiveCircuit]),
        (vec![], (Buzzer, "battery.+", "main-fuse.in"), vec![Danger::LiveCircuit]),
        (vec![SetUp::BatteryOff], (Buzzer, "battery.+", "main-fuse.in"), vec![]),
        (vec![], (Voltmeter, "seat-plug.A", "frame.metal"), vec![Danger::ModuleOnKillWire]),
        (
            vec![SetUp::BatteryOff, key],
            (TestLamp, "seat-plug.A", "frame.metal"),
            vec![Danger::LampOnKillWire],
        ),
    ] {
        assert_eq!(job.dangers(&set_up, with), dangers, "{set_up:?} {with:?}");
    }
    // With the kill wire's tab off the module and the key at start it cranks and nothing stops it.
    let tab = [job.off("kill-tab")];
    let volts = (Voltmeter, "battery.+", "battery.-");
    assert_eq!(job.dangers(&tab, volts), [Danger::CannotBeStopped]);
    let off = Job::new("pellwick-gt-46", &[]);
    // Nobody has heard yet that it stands still with the key off: the solenoid may be welded.
    assert_eq!(off.dangers(&tab, volts), [Danger::CannotBeStopped]);
    let [tab] = tab;
    let ohms = (Ohmmeter, "seat-plug.A", "frame.metal");
    assert_eq!(off.dangers(&[SetUp::BatteryOff, tab], ohms), []);
    // The engine drives what a meter would be put across.
    let mut running = Condition::at_rest(off.model.circuit());
    running.set(off.model.circuit(), "key", "run").expect("a key");
    running.engine = Engine::Running;
    let diodes = off.weigh(
        &running,
        &[off.off("regulator-plug")],
        (DiodeRange, "regulator.ac1", "frame.metal"),
    );
    assert!(diodes.dangers.contains(&Danger::EngineTurns), "{:?}", diodes.dangers);
}

#[test]
fn a_lamp_that_would_crank_is_not_put_there_unwarned() {
    // The interlocks ground the start relay's coil: a lamp at one that is open grounds it too.
    let job = Job::new("tarnbeck-t-40", &[("key", "start")]);
    let lamp = (Instrument::TestLamp, "clutch-switch-plug.A", "battery.-");
    let weighed = job.weigh(&job.condition, &[], lamp);
    assert_eq!(weighed.dangers, [Danger::PullsIn]);
    assert_eq!(weighed.sound, None, "nothing is put there");
    let volts = (Instrument::Voltmeter, "clutch-switch-plug.A", "battery.-");
    assert_eq!(job.dangers(&[], volts), []);
}

#[test]
fn a_sound_machine_shows_what_the_circuit_gives_at_this_battery() {
    let job = Job::new("pellwick-gt-46", &START);
    let point = |t: &str| job.model.circuit().terminal(t).expect("a terminal");
    let (red, black) = (point("battery.+"), point("battery.-"));
    let reading = Reading::Volts(12.1);
    let meter = Instrument::Voltmeter;
    let job = job.found(Observation::Read { instrument: meter, red, black, reading });
    let supply = job.belief().supply_volts;
    let mut off = Condition::at_rest(job.model.circuit());
    off.set(job.model.circuit(), "pedal", "down").expect("a pedal");
    for condition in [&off, &job.condition] {
        for at in ["battery.+", "key-plug.S", "brake-plug.B", "frame.metal"] {
            let ends = (job.model.circuit().terminal(at).expect("a terminal"), black);
            let shown = read(job.model.circuit(), condition, Relays::default(), &[], meter, ends);
            let Ok(Reading::Volts(healthy)) = shown else { panic!("{shown:?}") };
            let sound = job.weigh(condition, &[], (meter, at, "battery.-")).sound;
            let Some(AnswerRange::Volts { low, high }) = sound else { panic!("{sound:?}") };
            let expected = healthy * supply / 12.6;
            assert!((low - expected).abs() < 0.06 && low == high, "{at}: {low} {expected}");
        }
    }
    let leds = job.weigh(&job.condition, &[], (Instrument::LedLamp, "key-plug.S", "battery.-"));
    assert_eq!(leds.sound, Some(AnswerRange::Lit { on: true }));
    assert!(
        leds.test.answers.iter().any(|a| a.range == AnswerRange::Lit { on: false }),
        "{leds:?}"
    );
}
