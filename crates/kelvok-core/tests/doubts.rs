//! What cannot be it and why, what fits nothing, what cannot both hold, what was done before.

mod library;

use expect_test::expect;
use kelvok_core::circuit::{
    Condition, Engine, FaultMode, Instrument, Reading, Relays, parse_change, read,
};
use kelvok_core::diagnosis::{
    Because, Belief, EngineDoes, Evidence, Heard, Mistake, Model, Observation, Sensed, SetUp,
    Source, Unit, Work, contradictions,
};

struct Job {
    model: Model,
    log: Vec<Evidence>,
}

impl Job {
    fn new() -> Self {
        Self { model: Model::new(library::gt46()), log: Vec::new() }
    }

    fn condition(&self, set: &[(&str, &str)]) -> Condition {
        library::condition(self.model.circuit(), set)
    }

    fn add(&mut self, condition: Condition, set_up: Vec<SetUp>, observation: Observation) {
        let sequence = self.log.len() as u64 + 1;
        let (repeats, source, at_times) = (1, Source::Tested, false);
        self.log.push(Evidence {
            sequence,
            condition,
            set_up,
            observation,
            repeats,
            source,
            at_times,
            times_an_hour: None,
            celsius: None,
            idle: false,
        });
    }

    fn heard(&mut self, set: &[(&str, &str)], heard: Heard) {
        let at = self.condition(set);
        self.add(at, vec![], Observation::Sensed(Sensed::Starter(heard)));
    }

    fn engine(&mut self, set: &[(&str, &str)], does: EngineDoes) {
        let at = Condition { engine: Engine::Running, ..self.condition(set) };
        self.add(at, vec![], Observation::Sensed(Sensed::Engine(does)));
    }

    fn volts(&mut self, set: &[(&str, &str)], red: &str, volts: f64) {
        let (red, black) = (
            self.model.circuit().terminal(red).unwrap(),
            self.model.circuit().terminal("battery.-").unwrap(),
        );
        let (instrument, reading) = (Instrument::Voltmeter, Reading::Volts(volts));
        let at = self.condition(set);
        self.add(at, vec![], Observation::Read { instrument, red, black, reading });
    }

    fn belief(&self) -> Belief {
        self.model.judge(&self.log)
    }

    fn excluded(&self) -> String {
        let mut out = String::new();
        for e in self.model.excluded(&self.belief(), &self.log) {
            let why = e.because.iter().map(|b| match b {
                Because::NotRead { sequence } => format!("not read in {sequence}"),
                Because::WouldShow { sequence, sensed } => {
                    format!("{sequence} would be {sensed:?}")
                }
            });
            let why = why.collect::<Vec<_>>().join("; ");
            out.push_str(&format!("{}: {why}\n", e.unit.id(self.model.circuit())));
        }
        out
    }

    /// A unit's weight against that of another.
    fn odds(&self, unit: &str, other: &str) -> f64 {
        let of = |id: &str| {
            let unit = Unit::named(self.model.circuit(), id).unwrap();
            self.belief().of_unit(self.model.suspects(), unit)
        };
        of(unit) / of(other)
    }
}

const START: [(&str, &str); 2] = [("key", "start"), ("pedal", "down")];

#[test]
fn a_switch_not_read_in_the_complaint_cannot_be_it() {
    let mut job = Job::new();
    assert_eq!(job.excluded(), "", "nothing was said");
    job.heard(&START, Heard::Silent);
    expect![[r#"
        seat: not read in 1
        reverse: not read in 1
        seat:linkage: not read in 1
        reverse:linkage: not read in 1
    "#]]
    .assert_eq(&job.excluded());
}

#[test]
fn a_machine_that_dies_with_the_blades_on_says_which_switches_it_is_not() {
    let mut job = Job::new();
    job.heard(&START, Heard::Cranks);
    job.engine(&[("key", "run"), ("blades", "off")], EngineDoes::Runs);
    job.engine(&[("key", "run"), ("blades", "on")], EngineDoes::Stops);
    expect![[r#"
        neutral: not read in 3
        brake: not read in 3
        seat: not read in 3; 2 would be Engine(Stops)
        neutral:linkage: not read in 3
        brake:linkage: not read in 3
        seat:linkage: 2 would be Engine(Stops); not read in 3
    "#]]
    .assert_eq(&job.excluded());
    // All that is left is read with the blades on and would ground or starve the ignition there.
    let units = job.belief().units(job.model.suspects());
    let top: Vec<_> = units
        .iter()
        .take(5)
        .map(|u| format!("{} {:.0}", u.unit.id(job.model.circuit()), 100.0 * u.probability))
        .collect();
    expect!["key 15, pto 14, reverse 12, reverse:linkage 6, seat 4"].assert_eq(&top.join(", "));
}

#[test]
fn what_comes_and_goes_excludes_no_switch_by_working_once() {
    let mut job = Job::new();
    job.heard(&START, Heard::Cranks);
    assert!(!job.excluded().contains("brake"), "it may open at times: {}", job.excluded());
}

#[test]
fn statements_that_cannot_both_hold_are_found() {
    let mut job = Job::new();
    job.heard(&START, Heard::Silent);
    job.heard(&[("key", "start")], Heard::Silent);
    assert_eq!(contradictions(&job.log), []);
    job.heard(&START, Heard::Cranks);
    assert_eq!(contradictions(&job.log), [(1, 3)]);
    job.log[2].at_times = true;
    assert_eq!(contradictions(&job.log), [], "it comes and goes");
    job.log[2].at_times = false;
    let brake = Unit::named(job.model.circuit(), "brake").unwrap();
    job.log[1].observation = Observation::Repaired(brake);
    assert_eq!(contradictions(&job.log), [], "something was repaired between");
}

/// A brake switch found open, and then a reading that denies it.
fn denied() -> Job {
    let mut job = Job::new();
    job.heard(&START, Heard::Silent);
    job.volts(&START, "battery.+", 12.58);
    job.volts(&START, "brake-plug.A", 12.56);
    job.volts(&START, "brake-plug.B", 0.02);
    job.volts(&START, "pto-plug.A", 0.02);
    job
}

#[test]
fn a_probe_on_the_wrong_pin_is_asked_about() {
    let mut job = denied();
    assert!(job.model.misfit(&job.belief(), &job.log).is_none());
    job.volts(&START, "trigger-tab.T", 12.55);
    let belief = job.belief();
    let found = job.model.misfit(&belief, &job.log).expect("asked");
    assert_eq!(found.sequence, 6);
    let total: f64 = found.explanations.iter().map(|e| e.share).sum();
    assert!((total - 1.0).abs() < 1e-9);
    let at = |i: usize| job.model.circuit().document().test_points[i].terminal.clone();
    let elsewhere = found.explanations.iter().find_map(|e| match e.mistake {
        Mistake::WrongPoint { red, .. } => Some(at(red)),
        _ => None,
    });
    let elsewhere = elsewhere.expect("a wrong point");
    // A point that is live with the brake switch open.
    let fault = parse_change(job.model.circuit(), "brake.start=open").unwrap();
    let probes = (
        job.model.circuit().terminal(&elsewhere).unwrap(),
        job.model.circuit().terminal("battery.-").unwrap(),
    );
    let (at, with) = (job.condition(&START), Instrument::Voltmeter);
    let seen = read(job.model.circuit(), &at, Relays::default(), &[fault], with, probes).unwrap();
    assert!(matches!(seen, Reading::Volts(v) if v > 12.0), "{elsewhere}: {seen:?}");
}

#[test]
fn ohms_on_a_live_circuit_are_called_that() {
    let mut job = denied();
    let live = |job: &Job| -> Vec<u64> { job.model.on_live(&job.belief(), &job.log) };
    assert_eq!(live(&job), Vec::<u64>::new());
    let node = |t: &str| job.model.circuit().terminal(t).unwrap();
    let (red, black) = (node("brake-plug.A"), node("battery.-"));
    let (instrument, reading) = (Instrument::Ohmmeter, Reading::Ohms(None));
    let ohms = Observation::Read { instrument, red, black, reading };
    let off = job.condition(&[("pedal", "down")]);
    job.add(job.condition(&START), vec![], ohms);
    job.add(off, vec![], ohms);
    assert_eq!(live(&job), [6], "key at start, and not with the key off");
}

#[test]
fn a_key_let_go_is_asked_about() {
    let mut job = denied();
    job.log.truncate(2);
    job.volts(&START, "brake-plug.B", 12.56);
    // Everything up to here is live while the key is held; a moment later the key point is dead.
    job.volts(&START, "key-plug.S", 0.01);
    let belief = job.belief();
    let found = job.model.misfit(&belief, &job.log).expect("asked");
    let let_go = found.explanations.iter().find_map(|e| match &e.mistake {
        Mistake::OtherCondition(condition) => Some(condition.clone()),
        _ => None,
    });
    let let_go = let_go.expect("another condition");
    let key = job.model.circuit().controls.iter().position(|c| c.id == "key").unwrap();
    let entry = job.log.iter().find(|e| e.sequence == found.sequence).unwrap();
    let moved: Vec<_> = (0..let_go.positions.len())
        .filter(|i| let_go.positions[*i] != entry.condition.positions[*i])
        .collect();
    assert_eq!(moved.len(), 1, "one control");
    assert!(moved == [key] || found.sequence == 3, "{found:?}");
}

#[test]
fn what_was_done_before_shifts_suspicion_and_excuses_nothing() {
    let mut job = Job::new();
    job.heard(&START, Heard::Silent);
    let (before, wire) = (job.odds("brake", "pto"), job.odds("brake-plug", "pto"));
    let brake = Unit::named(job.model.circuit(), "brake").unwrap();
    let rest = Condition::at_rest(job.model.circuit());
    job.add(rest.clone(), vec![], Observation::WorkedOn(brake, Work::Replaced));
    assert!(job.odds("brake", "pto") > 0.9 * before, "a new part is not excused");
    assert!(job.odds("brake-plug", "pto") > 1.5 * wire, "its plug was handled");

    let stuck = |job: &Job| {
        let belief = job.belief();
        let of = job.model.suspects().list.iter().zip(&belief.suspects).filter(|(s, _)| {
            s.unit == brake && s.faults.iter().any(|f| f.mode == FaultMode::StuckMade)
        });
        of.map(|(_, p)| p).sum::<f64>()
    };
    let mut jumped = Job::new();
    let none = stuck(&jumped);
    jumped.add(rest.clone(), vec![], Observation::WorkedOn(brake, Work::Jumped));
    assert!(stuck(&jumped) > 3.0 * none);

    // A note says nothing of what is wrong.
    let before = job.belief().suspects;
    job.add(rest, vec![], Observation::Noted);
    let after = job.belief().suspects;
    assert!(before.iter().zip(&after).all(|(a, b)| (a - b).abs() < 1e-9));
}

/// Silence weighs by how long it lasted and by how often the fault was seen before.
#[test]
fn minutes_without_the_fault_weaken_it_by_how_often_it_was_seen() {
    let mowing = [("key", "run"), ("seat", "on"), ("blades", "on"), ("pedal", "up")];
    let cured = |an_hour: Option<f64>, minutes: Option<f64>| {
        let mut job = Job::new();
        job.engine(&mowing, EngineDoes::Stops);
        job.log[0].at_times = true;
        job.log[0].times_an_hour = an_hour;
        let seat = Unit::named(job.model.circuit(), "seat").unwrap();
        job.add(job.condition(&[]), vec![], Observation::Repaired(seat));
        if let Some(minutes) = minutes {
            let at = Condition { engine: Engine::Running, ..job.condition(&mowing) };
            job.add(at, vec![], Observation::Ran { minutes });
        }
        job.belief().of_unit(job.model.suspects(), Unit::Nothing)
    };
    let before = cured(Some(2.0), None);
    let (short, long) = (cured(Some(2.0), Some(10.0)), cured(Some(2.0), Some(180.0)));
    assert!(before < short && short < long, "{before} {short} {long}");
    let often = cured(Some(20.0), Some(10.0));
    assert!(often > short, "ten minutes say more of what came every three: {often} {short}");
}
