//! Before a machine goes back: every fault that can be shown is shown, no step is unsafe, none is too many, and what
//! was found is judged as a shop would.

use kelvok_core::circuit::{
    Circuit, Condition, Engine, Instrument, Reading, fault_notation, parse_change,
};
use kelvok_core::diagnosis::{Checked, Entry, Evidence, Model, Observation, TestAction, Unit};
use kelvok_core::interlock::{FaultSheet, Judge, prove_duties};
use kelvok_core::machine::{LIBRARY, Machine};
use kelvok_core::release::{
    Act, AskedAgain, Blocker, Exposure, Killed, Recorded, ReleaseEntry, ReleasePlan,
    ReleaseStanding, Saw, TriedStep, Unexposed, smallest_cover,
};
use proptest::prelude::*;
use serde_json::json;
use std::sync::LazyLock;

/// Every library machine with its plan, worked out once for all tests.
static PLANS: LazyLock<Vec<(&'static str, Circuit, ReleasePlan)>> = LazyLock::new(|| {
    let planned = |name| {
        let circuit = circuit(name);
        let plan = ReleasePlan::of(&circuit, &[]);
        (name, circuit, plan)
    };
    LIBRARY.iter().map(|m| planned(m.name)).collect()
});

fn circuit(name: &str) -> Circuit {
    let machine = LIBRARY.iter().find(|m| m.name == name).expect("a library machine");
    Circuit::compile(&Machine::read(machine.text).expect("sound"))
}

/// What the sheet of faults says breaks a duty is shown by the plan, each fault put into the machine and every step tried
/// on it; but for what is said to take a reading.
#[test]
fn every_fault_that_breaks_a_duty_shows_at_a_step_or_is_said_to_take_a_reading() {
    let (mut shown, mut read) = (0, 0);
    for (name, circuit, plan) in &*PLANS {
        let steps: Vec<_> = plan.steps.iter().map(|p| p.step.clone()).collect();
        let unexposed = plan.unexposed(circuit);
        assert!(plan.cover.proved && plan.cover.at_least == steps.len(), "{}", name);
        for row in FaultSheet::of(circuit).rows.iter().filter(|r| !r.breaks.is_empty()) {
            for size in &row.magnitudes {
                let change = row.fault.at(*size);
                let seen = Exposure::seen_with(circuit, &steps, &[change]);
                if seen.iter().zip(&steps).any(|(saw, step)| *saw != step.expected) {
                    shown += 1;
                    continue;
                }
                read += 1;
                // At another size the fault has the same place.
                let place = |text: &str| {
                    text.rsplit_once(':').map_or(text.to_owned(), |(place, _)| place.to_owned())
                };
                let said = fault_notation(circuit, change);
                let known = |u: &Unexposed| u.fault == said || place(&u.fault) == place(&said);
                assert!(unexposed.iter().any(known), "{name}: {said}");
            }
        }
    }
    assert!(shown > 2000 && read > 0 && read < 20, "{shown} shown, {read} to be read");
}

#[test]
fn a_sound_machine_does_at_every_step_what_is_expected_and_no_step_is_unsafe() {
    for (name, circuit, plan) in &*PLANS {
        let mut judge = Judge::new(circuit, &[]);
        let steps: Vec<_> = plan.steps.iter().map(|p| p.step.clone()).collect();
        let sound = Exposure::seen_with(circuit, &steps, &[]);
        let mut stood = Condition::at_rest(circuit);
        for ((planned, step), saw) in plan.steps.iter().zip(&steps).zip(sound) {
            let of = format!("{name}: {} {}", step.does(circuit), step.must(circuit));
            assert_eq!(saw, step.expected, "{of}");
            assert_eq!(step.answers()[0], step.expected, "{of}");
            let named: Vec<_> = step.from.named(circuit).collect();
            let after = step.to.as_ref().unwrap_or(&step.from);
            let at = |c: &Condition, control: &str, position: &str| {
                c.named(circuit).any(|(c, p)| c == control && p == position)
            };
            // Nobody away from the seat of a machine in gear, and no chute up with the engine running.
            let off = |c: &Condition| at(c, "seat", "empty");
            for gear in ["lever", "drive", "range", "gear"] {
                let has = named.iter().find(|(c, _)| *c == gear);
                let driven = has.is_some_and(|(_, p)| *p != "neutral");
                assert!(!(driven && (off(&step.from) || off(after))), "{of}");
            }
            let beside = off(&step.from) && step.act != Act::Crank;
            let moves_by_hand = step.from.named(circuit).zip(after.named(circuit));
            let mut by_hand = moves_by_hand.filter(|(a, b)| a != b).map(|((c, _), _)| c);
            assert!(!(beside && by_hand.any(|c| c != "seat" && c != "key")), "{of}");
            let bars = at(after, "left", "in") || at(after, "right", "in");
            assert!(!(bars && off(after)), "{of}");
            let running = step.act != Act::Crank;
            assert!(!(running && at(&step.from, "deflector", "up")), "{of}");
            assert!(!step.cautions(circuit).is_empty(), "{of}");
            // The way there keeps it running, one control at a time, and ends where the step begins.
            if running {
                let mut here = planned.starts_at.clone().unwrap_or_else(|| stood.clone());
                for next in &planned.way {
                    // Where it was just started the key springs back besides.
                    let moved = here.named(circuit).zip(next.named(circuit));
                    let moved = moved.filter(|(a, b)| a != b && a.0 != "key").count();
                    assert!(moved <= 1, "{of}");
                    assert!(judge.behavior(next).runs, "{of}");
                    // From beside a running machine nobody moves more than the key; nobody leaves one in gear.
                    let by_hand = here
                        .named(circuit)
                        .zip(next.named(circuit))
                        .any(|(a, b)| a != b && a.0 != "seat" && a.0 != "key");
                    assert!(!(off(&here) && by_hand), "{of}");
                    let geared = ["lever", "drive", "range", "gear"];
                    let geared = geared
                        .iter()
                        .any(|g| next.named(circuit).any(|(c, p)| c == *g && p != "neutral"));
                    assert!(!(off(next) && geared), "{of}");
                    assert!(!at(&here, "deflector", "up"), "{of}");
                    here = next.clone();
                }
                let same = |a: &Condition, b: &Condition| {
                    a.named(circuit).zip(b.named(circuit)).all(|(a, b)| a == b || a.0 == "key")
                };
                assert!(same(&here, &step.from), "{of}");
            }
            if let Some(start) = &planned.starts_at {
                assert!(judge.behavior(start).starts, "{of}");
            }
            stood = after.clone();
        }
    }
}

#[test]
fn a_machine_that_came_with_a_bypass_says_which_duty_it_breaks() {
    let plan = ReleasePlan::of(&circuit("tarnbeck-u-17d"), &[]);
    assert_eq!(plan.broken.len(), 1);
    let gt46 = circuit("pellwick-gt-46");
    let dead = parse_change(&gt46, "seat.kill=open").expect("a fault");
    let sound = ReleasePlan::of(&gt46, &[]);
    let plan = ReleasePlan::of(&gt46, &[dead]);
    let broken = prove_duties(&mut Judge::new(&gt46, &[dead]));
    let broken: Vec<_> = broken.iter().filter(|p| !p.broken.is_empty()).map(|p| p.duty).collect();
    let said: Vec<_> = plan.broken.iter().map(|b| b.duty).collect();
    assert_eq!(said, broken);
    assert!(sound.broken.is_empty() && !broken.is_empty());
}

fn brute_force(rows: &[Vec<usize>], weights: &[f64]) -> Option<(u32, f64)> {
    let covers = |set: u32| {
        rows.iter().filter(|r| !r.is_empty()).all(|r| r.iter().any(|c| set & (1 << c) != 0))
    };
    let weight = |set: u32| {
        (0..weights.len()).filter(|c| set & (1 << c) != 0).map(|c| weights[c]).sum::<f64>()
    };
    let sets = (0..1_u32 << weights.len()).filter(|s| covers(*s));
    sets.map(|s| (s.count_ones(), weight(s))).min_by(|a, b| a.partial_cmp(b).expect("numbers"))
}

proptest! {
    #[test]
    fn no_cover_is_smaller_and_none_as_small_is_lighter(
        rows in prop::collection::vec(prop::collection::btree_set(0_usize..9, 0..5), 0..14),
        weights in prop::collection::vec(0_u8..20, 9),
    ) {
        let rows: Vec<Vec<usize>> = rows.into_iter().map(|r| r.into_iter().collect()).collect();
        let weights: Vec<f64> = weights.into_iter().map(f64::from).collect();
        let cover = smallest_cover(&rows, &weights);
        prop_assert!(cover.proved);
        for row in rows.iter().filter(|r| !r.is_empty()) {
            prop_assert!(row.iter().any(|c| cover.columns.contains(c)));
        }
        let own: f64 = cover.columns.iter().map(|c| weights[*c]).sum();
        prop_assert_eq!(brute_force(&rows, &weights), Some((cover.columns.len() as u32, own)));
    }
}

/// A job on the GT-46, with what is recorded of its release.
struct Job {
    circuit: Circuit,
    plan: ReleasePlan,
    recorded: Vec<Recorded>,
    log: Vec<Evidence>,
    sequence: u64,
    revision: u32,
    /// Parts that a verdict names.
    named: Vec<&'static str>,
}

/// The GT-46 with all that may be wrong with it.
static GT46: LazyLock<Model> = LazyLock::new(|| Model::new(circuit("pellwick-gt-46")));

impl Job {
    fn new() -> Self {
        let own = PLANS.iter().find(|(name, ..)| *name == "pellwick-gt-46").expect("the GT-46");
        let (circuit, plan) = (own.1.clone(), own.2.clone());
        Self {
            circuit,
            plan,
            recorded: Vec::new(),
            log: Vec::new(),
            sequence: 0,
            revision: 1,
            named: Vec::new(),
        }
    }

    fn enter(&mut self, entry: ReleaseEntry) {
        assert_eq!(entry.problem(&self.circuit), None);
        self.sequence += 1;
        self.recorded.push(Recorded { sequence: self.sequence, entry });
    }

    fn tries(&mut self, step: usize, saw: Saw, seconds: Option<f64>) {
        let tried = TriedStep::of(&self.circuit, &self.plan.steps[step].step);
        self.enter(ReleaseEntry::Step { tried, saw, seconds, revision: self.revision });
    }

    fn tries_all(&mut self) {
        for step in 0..self.plan.steps.len() {
            self.tries(step, self.plan.steps[step].step.expected, None);
        }
    }

    fn does(&mut self, entry: serde_json::Value) {
        let entry: Entry = serde_json::from_value(entry).expect("an entry");
        self.sequence += 1;
        self.log.push(entry.resolve(&self.circuit, self.sequence).expect("known names"));
    }

    fn reads_what_no_step_shows(&mut self) {
        for unexposed in self.plan.unexposed(&self.circuit) {
            let how = "plug off, no beep".to_owned();
            self.enter(ReleaseEntry::Checked { fault: unexposed.fault, bad: false, how });
        }
        let fuses = ReleaseStanding::of(&self.circuit, &self.plan, &[], (&[], &[]), 1, &[]).fuses;
        for (part, _) in fuses {
            let part = self.circuit.part(part).clone();
            let amps = part.amps.expect("a rating");
            self.enter(ReleaseEntry::Fuse { fuse: part.id, amps });
        }
    }

    fn stands(&self) -> ReleaseStanding {
        let log = (self.log.as_slice(), self.log.as_slice());
        let named: Vec<_> = self.named.iter().filter_map(|n| self.circuit.part_named(n)).collect();
        let named: Vec<_> = named.into_iter().map(Unit::Part).collect();
        let killed = match named.is_empty() {
            true => Vec::new(),
            false => Killed::all(&GT46, &self.log, &named, &[], &self.recorded),
        };
        ReleaseStanding::of(&self.circuit, &self.plan, &self.recorded, log, self.revision, &killed)
    }

    /// 12.1 V into its clutch contacts and 3.2 V out of them, twice.
    fn finds_the_pto_switch_burnt(&mut self) {
        self.named = vec!["pto"];
        for (at, volts) in [("E", 12.1), ("F", 3.2), ("E", 12.1), ("F", 3.3)] {
            self.does(json!({"condition": {"key": "run", "seat": "on", "pedal": "up",
                "blades": "on", "lever": "neutral"}, "engine": "stopped",
                "observation": {"kind": "reading", "instrument": "voltmeter",
                    "red": format!("pto-plug.{at}"), "black": "battery.-",
                    "reading": {"kind": "volts", "value": volts}}}));
        }
    }

    fn step(&self, must: &str, with: &str) -> usize {
        let found = self.plan.steps.iter().position(|p| {
            let does = p.step.does(&self.circuit);
            p.step.must(&self.circuit).contains(must) && does.contains(with)
        });
        found.expect("such a step")
    }
}

#[test]
fn nothing_blocks_a_machine_whose_every_step_and_fuse_is_good() {
    let mut job = Job::new();
    assert_eq!(job.stands().next, Some(0));
    let untried = job.stands().blockers.iter().filter(|b| matches!(b, Blocker::Untried(_))).count();
    assert_eq!(untried, job.plan.steps.len());
    job.tries_all();
    let stands = job.stands();
    assert!(stands.blockers.iter().any(|b| matches!(b, Blocker::FuseUnread(_))), "{stands:?}");
    assert!(stands.blockers.contains(&Blocker::Unchecked(0)), "{stands:?}");
    job.reads_what_no_step_shows();
    let stands = job.stands();
    assert_eq!((stands.blockers, stands.next), (Vec::new(), None));
}

#[test]
fn a_step_that_fails_waits_for_its_repair_and_only_what_that_could_change_is_asked_again() {
    let mut job = Job::new();
    job.reads_what_no_step_shows();
    job.tries_all();
    let leaving = job.step("engine must stop", "off the seat");
    job.tries(leaving, Saw::RunsOn, None);
    let stands = job.stands();
    assert_eq!(stands.blockers, [Blocker::Failed(leaving)]);
    assert_eq!(stands.next, Some(leaving));
    let planned = &job.plan.steps[leaving].step;
    let evidence = planned.evidence(Saw::RunsOn);
    assert_eq!(evidence[0].0.engine, Engine::Running);
    assert_eq!(Some(&evidence[0].0.positions), planned.to.as_ref().map(|c| &c.positions));
    job.does(json!({"observation": {"kind": "repaired", "unit": "seat", "how": "replaced"}}));
    let seat = job.circuit.part_named("seat").map(Unit::Part).expect("a seat switch");
    let stands = job.stands();
    let again: Vec<_> = stands.steps.iter().map(|s| s.again).collect();
    assert_eq!(again[leaving], Some(AskedAgain::Repaired(seat)));
    let asked = again.iter().filter(|a| a.is_some()).count();
    assert!(asked > 1 && asked < job.plan.steps.len(), "{again:?}");
    // A start contact of the lever does not care for the seat.
    let lever = job.plan.steps.iter().position(|p| !p.concerns.contains(&seat));
    assert!(again[lever.expect("a step without the seat")].is_none());
    for step in (0..again.len()).filter(|s| again[*s].is_some()) {
        job.tries(step, job.plan.steps[step].step.expected, None);
    }
    assert_eq!(job.stands().blockers, []);
}

#[test]
fn seen_one_way_and_the_other_it_must_go_well_twice() {
    let mut job = Job::new();
    job.reads_what_no_step_shows();
    job.tries_all();
    job.tries(0, Saw::Cranks, None);
    job.tries(0, Saw::NoCrank, None);
    assert_eq!(job.stands().steps[0].again, Some(AskedAgain::Differed));
    assert_eq!(job.stands().next, Some(0));
    job.tries(0, Saw::NoCrank, None);
    assert_eq!(job.stands().blockers, []);
}

#[test]
fn late_is_not_good_and_another_drawing_asks_again() {
    let mut job = Job::new();
    job.reads_what_no_step_shows();
    job.tries_all();
    let leaving = job.step("engine must stop", "off the seat");
    job.tries(leaving, Saw::EngineStops, Some(9.0));
    assert!(job.stands().steps[leaving].failed());
    job.does(json!({"observation": {"kind": "repaired", "unit": "seat"}}));
    job.tries(leaving, Saw::EngineStops, Some(0.4));
    assert!(job.stands().steps[leaving].is_done());
    job.revision = 2;
    let stands = job.stands();
    assert!(stands.steps.iter().all(|s| s.again.is_some()), "{stands:?}");
    assert_eq!(stands.steps[0].again, Some(AskedAgain::Drawing));
}

#[test]
fn what_is_still_off_a_fuse_too_large_and_what_a_reading_found_block() {
    let mut job = Job::new();
    job.reads_what_no_step_shows();
    job.tries_all();
    let off = json!({"kind": "unplugged", "connector": "seat-plug"});
    job.does(json!({"observation": {"kind": "arranged", "what": off}}));
    assert!(matches!(job.stands().blockers[..], [Blocker::StillOff(_)]));
    job.does(json!({"observation": {"kind": "put-back", "what": off}}));
    // The plug was off since: what its faults would show is tried again, and nothing else.
    let again: Vec<_> = job.stands().steps.iter().map(|s| s.again).collect();
    assert!(again.iter().any(|a| matches!(a, Some(AskedAgain::PutBack(_)))), "{again:?}");
    for step in (0..again.len()).filter(|s| again[*s].is_some()) {
        job.tries(step, job.plan.steps[step].step.expected, None);
    }
    assert_eq!(job.stands().blockers, []);
    // A step tried with a jumper on was tried on another machine.
    let jumper = json!({"kind": "jumper", "from": "seat-plug.A", "to": "seat-plug.B", "fuse": 15});
    job.does(json!({"observation": {"kind": "arranged", "what": jumper}}));
    job.tries(0, job.plan.steps[0].step.expected, None);
    job.does(json!({"observation": {"kind": "put-back", "what": jumper}}));
    assert_eq!(job.stands().steps[0].again, Some(AskedAgain::NotWhole));
    assert_eq!(job.stands().blockers, [Blocker::Again(0)]);
    job.tries(0, job.plan.steps[0].step.expected, None);
    assert_eq!(job.stands().blockers, []);
    let (fuse, _) = job.stands().fuses[0];
    let part = job.circuit.part(fuse).clone();
    let called_for = part.amps.expect("a rating");
    job.enter(ReleaseEntry::Fuse { fuse: part.id, amps: called_for + 10.0 });
    let over = Blocker::FuseOver { part: fuse, amps: called_for + 10.0, called_for };
    assert_eq!(job.stands().blockers, [over]);
    let fault = job.plan.unexposed(&job.circuit)[0].fault.clone();
    job.enter(ReleaseEntry::Checked { fault, bad: true, how: "beeps".to_owned() });
    assert!(job.stands().blockers.contains(&Blocker::FoundBad(0)));
}

/// A PTO switch burnt: whoever gives the machine back says what killed it, or has looked at what could have.
#[test]
fn a_part_whose_killer_nobody_looked_for_holds_the_machine_up() {
    let mut job = Job::new();
    job.reads_what_no_step_shows();
    job.tries_all();
    job.finds_the_pto_switch_burnt();
    assert!(matches!(job.stands().blockers[..], [Blocker::CauseUnchecked(0, 0)]));
    let own = Killed::all(&GT46, &job.log, &[Unit::Part(pto(&job))], &[], &[]);
    let clutch = &own[0].causes[0];
    assert_eq!(clutch.unit.id(&job.circuit), "clutch");
    let clutch = clutch.fault.clone();
    let looked = |bad: bool| {
        let how = "ohms across it, plug off".to_owned();
        ReleaseEntry::Checked { fault: clutch.clone(), bad, how }
    };
    // Somebody looked: it is good, or it is bad and has to be put right first.
    let before = job.recorded.clone();
    job.enter(looked(false));
    assert_eq!(job.stands().blockers, []);
    job.enter(looked(true));
    assert_eq!(job.stands().blockers, [Blocker::CauseThere(0, 0)]);
    job.does(json!({"observation": {"kind": "repaired", "unit": "clutch", "how": "replaced"}}));
    let left = job.stands().blockers;
    assert!(!left.iter().any(|b| matches!(b, Blocker::CauseThere(..))), "{left:?}");
    assert!(!left.iter().any(|b| matches!(b, Blocker::CauseUnchecked(..))), "{left:?}");
    // The same by somebody's word on the old switch.
    job.recorded = before;
    job.log.pop();
    let how = "not burnt: the rocker was broken off".to_owned();
    job.enter(ReleaseEntry::Cause { unit: "pto".to_owned(), how });
    assert_eq!(job.stands().blockers, []);
}

/// What was read in the job is not asked for again.
#[test]
fn a_reading_of_the_killer_in_the_job_settles_it() {
    for (ohms, checked) in [(2.9, Checked::Good), (0.8, Checked::Bad)] {
        let mut job = Job::new();
        job.finds_the_pto_switch_burnt();
        let found = |log: &[Evidence]| {
            let own = Killed::all(&GT46, log, &[Unit::Part(pto(&job))], &[], &[]);
            own[0].causes[0].standing.clone()
        };
        // As the test that is asked for says.
        let (test, good) = found(&job.log).test.expect("a test that tells");
        assert!(good.is_some_and(|range| format!("{range:?}").contains("2.")), "{good:?}");
        let TestAction::Measure { instrument: Instrument::Ohmmeter, red, black } = test.action
        else {
            panic!("{test:?}");
        };
        let node = |point| GT46.circuit().test_point(point).expect("a point");
        let mut log = job.log.clone();
        log.push(Evidence {
            sequence: 9,
            condition: test.condition,
            set_up: test.set_up,
            observation: Observation::Read {
                instrument: Instrument::Ohmmeter,
                red: node(red),
                black: node(black),
                reading: Reading::Ohms(Some(ohms)),
            },
            ..log[0].clone()
        });
        assert_eq!(found(&log).checked, checked, "{ohms}");
    }
}

fn pto(job: &Job) -> usize {
    job.circuit.part_named("pto").expect("a PTO switch")
}

#[test]
fn what_cannot_be_recorded_says_why() {
    let gt46 = circuit("pellwick-gt-46");
    let name = "x".repeat(300);
    let refused = |entry: serde_json::Value| {
        let entry: ReleaseEntry = serde_json::from_value(entry).expect("reads");
        entry.problem(&gt46).expect("refused").0
    };
    assert_eq!(refused(json!({"kind": "signed", "name": name, "role": ""})), "name");
    assert_eq!(refused(json!({"kind": "signed", "name": " ", "role": ""})), "name");
    let outside = json!([[[0.5, 1.5]]]);
    let signed = json!({"kind": "signed", "name": "Maren", "role": "", "strokes": outside});
    assert_eq!(refused(signed), "strokes");
    assert_eq!(refused(json!({"kind": "fuse", "fuse": "seat", "amps": 15})), "fuse");
    assert_eq!(refused(json!({"kind": "fuse", "fuse": "main-fuse", "amps": -1})), "amps");
    assert_eq!(refused(json!({"kind": "returned", "name": "Maren", "reason": ""})), "reason");
    let checked = json!({"kind": "checked", "fault": "nothing=open", "bad": false, "how": "x"});
    assert_eq!(refused(checked), "fault");
    let cause = |unit: &str, how: &str| json!({"kind": "cause", "unit": unit, "how": how});
    assert_eq!(refused(cause("nobody", "worn")), "unit");
    assert_eq!(refused(cause("pto", " ")), "how");
}
