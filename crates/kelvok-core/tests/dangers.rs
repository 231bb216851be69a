//! Nothing dangerous is ever proposed: over every machine, condition and strategy, and over logs of
//! machines with one and with two things wrong with them.
//!
//! Both walks begin anywhere and go on for `KELVOK_DANGER_SECONDS` (a few if it is not set); with
//! `KELVOK_DANGER=every` the first goes over everything. A failure prints the seed that brings it
//! back by `KELVOK_DANGER_SEED`.

mod library;
mod safety;

use kelvok_core::circuit::{
    Change, Circuit, Condition, Engine, FaultMode, Instrument, Reading, Relays, every_condition,
    operating_point, read,
};
use kelvok_core::diagnosis::{
    Caution, Evidence, Heard, Model, NextTest, Observation, Sense, Sensed, Strategy, Suspect,
    TestAction,
};
use kelvok_core::machine::LIBRARY;
use library::dice::Dice;
use safety::is_safe;
use std::env::var;
use std::time::{Duration, Instant, SystemTime, UNIX_EPOCH};

fn seed() -> u64 {
    let given = var("KELVOK_DANGER_SEED").ok().and_then(|s| s.parse().ok());
    let now = || SystemTime::now().duration_since(UNIX_EPOCH).unwrap().subsec_nanos();
    let seed = given.unwrap_or_else(|| u64::from(now()));
    eprintln!("KELVOK_DANGER_SEED={seed}");
    seed
}

fn until() -> Instant {
    let seconds = var("KELVOK_DANGER_SECONDS").ok().and_then(|s| s.parse().ok()).unwrap_or(4);
    Instant::now() + Duration::from_secs(seconds)
}

#[test]
fn in_every_condition_by_every_strategy() {
    let (mut dice, until) = (Dice(seed()), until());
    let every = var("KELVOK_DANGER").is_ok_and(|v| v == "every");
    let first = dice.roll(LIBRARY.len());
    let share = (until - Instant::now()) / LIBRARY.len() as u32;
    let mut walked = 0;
    for n in 0..LIBRARY.len() {
        let shipped = &LIBRARY[(first + n) % LIBRARY.len()];
        let model = Model::new(library::circuit(shipped.name));
        let circuit = model.circuit();
        let belief = model.judge(&[]);
        let mut conditions = every_condition(circuit);
        let all = conditions.len();
        let ends = Instant::now() + share;
        let mut own = 0;
        while !conditions.is_empty() && (every || own == 0 || Instant::now() < ends) {
            let condition = conditions.swap_remove(dice.roll(conditions.len()));
            let mut held: Vec<NextTest> = Vec::new();
            for strategy in Strategy::ALL.iter().copied() {
                for test in model.plan_by(strategy, &belief, &[], &condition).tests {
                    let alike = |t: &NextTest| {
                        (t.action, &t.condition, &t.set_up)
                            == (test.action, &test.condition, &test.set_up)
                    };
                    if held.iter().any(alike) {
                        continue;
                    }
                    let begin = dice.roll(37);
                    let faults = model.suspects().scenarios.iter().skip(begin).step_by(37);
                    is_safe(circuit, &test, faults.map(|s| s.changes.as_slice()));
                    held.push(test);
                }
            }
            assert!(!held.is_empty() || !has_starter(circuit), "{}: nothing to do", shipped.name);
            own += 1;
        }
        eprintln!("{}: {own} of {all} conditions", shipped.name);
        walked += own;
    }
    assert!(walked >= LIBRARY.len());
}

fn has_starter(circuit: &Circuit) -> bool {
    circuit.document().circuits.iter().any(|c| c.id == "start")
}

/// What a truthful mechanic records of a test on a machine with these things wrong with it.
fn answer(circuit: &Circuit, test: &NextTest, wrong: &[Change], sequence: u64) -> Option<Evidence> {
    let set_up = test.set_up.iter().flat_map(|s| s.changes(circuit));
    let changes: Vec<_> = wrong.iter().copied().chain(set_up).collect();
    let observation = match test.action {
        TestAction::Measure { instrument, red, black } => {
            let points = &circuit.document().test_points;
            let node = |i: usize| circuit.terminal(&points[i].terminal).ok();
            let (red, black) = (node(red)?, node(black)?);
            let with = Relays::default();
            let shown = read(circuit, &test.condition, with, &changes, instrument, (red, black));
            Observation::Read { instrument, red, black, reading: shown.ok()? }
        }
        TestAction::Try(Sense::Starter) if test.condition.engine == Engine::Stopped => {
            Observation::Sensed(Sensed::Starter(starter(circuit, &test.condition, &changes)))
        }
        _ => return None,
    };
    Some(library::entry(sequence, &test.condition, test.set_up.clone(), observation))
}

fn starter(circuit: &Circuit, condition: &Condition, changes: &[Change]) -> Heard {
    let point = operating_point(circuit, condition, Relays::default(), changes, &[]);
    Heard::of(point.outcome.crank)
}

#[test]
fn whatever_one_or_two_things_are_wrong_and_whatever_was_measured() {
    let (mut dice, until) = (Dice(seed() ^ 0x5eed), until());
    let models: Vec<_> = LIBRARY.iter().map(|s| Model::new(library::circuit(s.name))).collect();
    let (mut jobs, mut tests) = (0, 0);
    while jobs < 8 || Instant::now() < until {
        let model = &models[dice.roll(models.len())];
        let circuit = model.circuit();
        let scenarios = &model.suspects().scenarios;
        let two = dice.roll(2) == 1;
        let wrong: Vec<Change> = (0..=usize::from(two))
            .flat_map(|_| scenarios[dice.roll(scenarios.len())].changes.clone())
            .collect();
        let conditions = circuit.normal_use();
        let stopped: Vec<_> = conditions.iter().filter(|c| c.engine == Engine::Stopped).collect();
        let complained = stopped[dice.roll(stopped.len())];
        let mut log: Vec<Evidence> = Vec::new();
        for step in 0..2 + dice.roll(5) {
            let strategy = Strategy::ALL[dice.roll(Strategy::ALL.len())];
            let belief = model.judge(&log);
            let plan = model.plan_by(strategy, &belief, &log, complained);
            for test in &plan.tests {
                is_safe(circuit, test, [&[], wrong.as_slice()]);
                tests += 1;
            }
            let answers =
                plan.tests.iter().filter_map(|t| answer(circuit, t, &wrong, step as u64 + 1));
            let answers: Vec<_> = answers.collect();
            let Some(next) = answers.get(dice.roll(answers.len())) else { break };
            log.push(next.clone());
        }
        jobs += 1;
    }
    eprintln!("{jobs} jobs, {tests} tests");
}

/// A U-17D whose main contacts no longer close fully draws its pull-in and glow currents on and on at
/// start: the breaker trips, and a start contact that is welded beside shows only with the key off.
#[test]
fn a_fault_that_another_hides_is_warned_of() {
    let model = Model::new(library::circuit("tarnbeck-u-17d"));
    let circuit = model.circuit();
    let at = |key| library::condition(circuit, &[("key", key)]);
    let silent = |sequence, key| {
        let sensed = Observation::Sensed(Sensed::Starter(Heard::Silent));
        library::entry(sequence, &at(key), vec![], sensed)
    };
    let lamps = TestAction::Try(Sense::Lamp(0));
    let warned = |log: &[Evidence]| {
        let belief = model.judge(log);
        let cautions = model.cautions((&belief, log), (&at("off"), &[]), lamps);
        cautions.contains(&Caution::MayCrank)
    };
    let [red, black] = ["neutral.in", "battery.-"].map(|name| circuit.terminal(name).unwrap());
    let none = Observation::Read {
        instrument: Instrument::Voltmeter,
        red,
        black,
        reading: Reading::Volts(0.0),
    };
    let log = [silent(1, "start"), library::entry(2, &at("start"), vec![], none), silent(3, "off")];
    // A welded contact alone is out of the question by now.
    let welded = |suspect: &Suspect| {
        let own = suspect.faults.first().map(|f| (f.mode, f.element()));
        own == Some((FaultMode::StuckMade, circuit.element_named("key.start").ok()))
    };
    let belief = model.judge(&log[..2]);
    let at = model.suspects().list.iter().position(welded).unwrap();
    assert!(belief.suspects[at] < 1e-5, "{}", belief.suspects[at]);
    assert!(warned(&log[..2]));
    // Key off and silent: then it is known.
    assert!(!warned(&log));
}
