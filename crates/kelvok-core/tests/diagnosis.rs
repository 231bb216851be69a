//! From silence to the broken part: the story, and every other fault of the start circuit.

mod library;

use expect_test::expect;
use kelvok_core::circuit::{
    Change, Circuit, Condition, FaultMode, Instrument, NodeId, PlungerId, Reading, Relays,
    operating_point, parse_change, read,
};
use kelvok_core::diagnosis::{
    AnswerRange, Belief, Evidence, Grade, Heard, Model, NextTest, Observation, Sense, Sensed,
    SetUp, Source, Strategy, Suspects, TestAction, Unit, Why,
};
use kelvok_core::interlock::{Judge, Track};
use std::sync::LazyLock;

/// The machine of these tests, and what is known of it: worked out once.
struct Known {
    model: Model,
}

static KNOWN: LazyLock<Known> = LazyLock::new(|| Known { model: Model::new(library::gt46()) });

struct Job {
    model: &'static Model,
    circuit: &'static Circuit,
    suspects: &'static Suspects,
    track: Track,
    condition: Condition,
    log: Vec<Evidence>,
}

impl Job {
    fn silent() -> Self {
        let Known { model } = &*KNOWN;
        let (circuit, suspects) = (&**model.circuit(), model.suspects());
        let track = Track::lay_out(circuit, "start").unwrap();
        let condition = library::condition(circuit, &[("key", "start"), ("pedal", "down")]);
        let mut job = Self { model, circuit, suspects, track, condition, log: Vec::new() };
        let silent = Observation::Sensed(Sensed::Starter(Heard::Silent));
        job.record(job.condition.clone(), vec![], silent);
        job
    }

    fn record(&mut self, condition: Condition, set_up: Vec<SetUp>, observation: Observation) {
        let sequence = self.log.len() as u64 + 1;
        self.log.push(Evidence {
            sequence,
            condition,
            set_up,
            observation,
            repeats: 1,
            source: Source::Tested,
            at_times: false,
            times_an_hour: None,
            celsius: None,
            idle: false,
        });
    }

    /// Turns the key on a machine that has `fault`, and listens.
    fn try_starter(&mut self, fault: &[Change]) {
        let point = operating_point(self.circuit, &self.condition, Relays::default(), fault, &[]);
        let heard = Sensed::Starter(Heard::of(point.outcome.crank));
        self.record(self.condition.clone(), vec![], Observation::Sensed(heard));
    }

    /// Follows the plan on a machine that has `fault`, up to a conclusion or `most` tests; how many
    /// it took.
    fn follow(&mut self, fault: &[Change], most: usize) -> usize {
        for tests in 0..most {
            let plan = self.plan();
            if plan.conclusion.as_ref().is_some_and(|c| c.confirmed) || plan.tests.is_empty() {
                return tests;
            }
            let test = &plan.tests[0];
            let observation = truthful(self.circuit, fault, test);
            self.record(test.condition.clone(), test.set_up.clone(), observation);
            // What does not do as it should is complained of from then on.
            let last = self.log.last().unwrap();
            if test.why == Why::Recheck && last.observation != truthful(self.circuit, &[], test) {
                self.condition = last.condition.clone();
            }
        }
        most
    }

    fn node(&self, terminal: &str) -> NodeId {
        self.circuit.terminal(terminal).unwrap()
    }

    fn volts(&mut self, terminal: &str, volts: f64) {
        let observation = Observation::Read {
            instrument: Instrument::Voltmeter,
            red: self.node(terminal),
            black: self.node("battery.-"),
            reading: Reading::Volts(volts),
        };
        self.record(self.condition.clone(), vec![], observation);
    }

    fn belief(&self) -> Belief {
        self.model.judge(&self.log)
    }

    fn plan(&self) -> kelvok_core::diagnosis::Plan {
        let belief = self.belief();
        self.model.plan(&belief, &self.log, &self.condition)
    }

    fn unit(&self, unit: Unit) -> String {
        unit.id(self.circuit)
    }

    /// The units that hold more than half a percent, and the best test.
    fn summary(&self) -> String {
        let belief = self.belief();
        let mut text = String::new();
        for unit in belief.units(self.suspects).iter().filter(|u| u.probability > 0.005) {
            text += &format!("{:5.1}% {}\n", unit.probability * 100.0, self.unit(unit.unit));
        }
        let plan = self.plan();
        if let Some(test) = plan.tests.first() {
            text += &self.describe(test);
        }
        if let Some(conclusion) = plan.conclusion {
            let units: Vec<_> = conclusion.units.iter().map(|u| self.unit(*u)).collect();
            let sure = if conclusion.confirmed { "confirmed" } else { "not confirmed" };
            text += &format!("=> {} ({sure})\n", units.join(" or "));
        }
        text
    }

    fn describe(&self, test: &NextTest) -> String {
        let point = |i: usize| &self.circuit.document().test_points[i].name;
        let key = test.condition.named(self.circuit).next().unwrap().1.to_owned();
        let set_up: Vec<_> = test
            .set_up
            .iter()
            .map(|s| match s {
                SetUp::Unplugged(p) => format!("{} off", self.circuit.part(*p).id),
                SetUp::PressedByHand(_) => "pressed by hand".to_owned(),
                SetUp::FreedByHand(_) => "freed by hand".to_owned(),
                SetUp::Shaken(_) => "shaken".to_owned(),
                SetUp::LampInPlace(p) => format!("lamp at {}", self.circuit.part(*p).id),
                SetUp::BatteryOff => "battery off".to_owned(),
                SetUp::WireOff(_) | SetUp::Jumper { .. } => "nobody is asked for it".to_owned(),
            })
            .collect();
        let answers: Vec<_> = test
            .answers
            .iter()
            .map(|a| {
                let range = match a.range {
                    AnswerRange::Volts { low, high } => format!("{low:.1} to {high:.1} V"),
                    AnswerRange::Ohms { low, high } => format!("{low:.1} to {high:.1} ohm"),
                    AnswerRange::OverRange => "OL".to_owned(),
                    other => format!("{other:?}"),
                };
                let units: Vec<_> = a.units.iter().take(2).map(|u| self.unit(u.0)).collect();
                format!("    {range}: {}\n", units.join(", "))
            })
            .collect();
        let action = match test.action {
            TestAction::Measure { instrument, red, black } => {
                format!("{instrument:?} {} / {}", point(red), point(black))
            }
            other => format!("{other:?}"),
        };
        format!(
            "next: {action}, key {key}, [{}], {:.2} bits in {:.1} min\n{}",
            set_up.join(", "),
            test.bits,
            test.minutes,
            answers.concat()
        )
    }
}

#[test]
fn the_story_ends_at_the_pedal_switch() {
    let mut job = Job::silent();
    expect![[r#"
         11.5% brake
         11.3% neutral
          9.2% key
          8.8% pto
          4.5% main-fuse
          4.0% dash-plug
          3.6% battery
          2.9% pto-plug
          2.9% solenoid
          2.9% key-plug
          2.9% brake-plug
          2.7% neutral-plug
          2.3% neutral:linkage
          2.3% brake:linkage
          1.8% solenoid-base
          1.7% trigger-tab
          1.6% w7
          1.6% w8
          1.6% w9
          1.6% w10
          1.6% w11
          1.6% w12
          1.6% w13
          1.6% w6
          1.5% ground-strap
          1.3% pos-clamp
          1.3% neg-clamp
          1.2% w5
          1.1% w1
          1.1% w2
        next: Try(Lamp(0)), key run, [], 0.79 bits in 0.3 min
            Lamp { burns: Bright }: brake, neutral
            Lamp { burns: Out }: main-fuse, key-plug
            Lamp { burns: Dim }: battery, pos-clamp
    "#]]
    .assert_eq(&job.summary());
    for (terminal, volts) in [
        ("battery.+", 12.58),
        ("key-plug.S", 12.57),
        ("neutral-plug.B", 12.56),
        ("brake-plug.A", 12.56),
    ] {
        job.volts(terminal, volts);
    }
    expect![[r#"
         26.6% brake
         18.5% pto
          6.2% pto-plug
          6.2% brake-plug
          6.0% solenoid
          5.9% brake:linkage
          4.5% dash-plug
          3.7% solenoid-base
          3.3% trigger-tab
          3.2% ground-strap
          2.7% neg-clamp
          2.7% w11
          2.7% w12
          2.7% w10
          2.7% w13
          2.5% w2
        next: Voltmeter Pedal switch out / Battery − post, key start, [], 0.98 bits in 0.2 min
            12.3 to 12.7 V: pto, pto-plug
            0.0 to 0.3 V: brake, brake:linkage
            0.9 to 0.9 V: brake, brake-plug
            2.5 to 2.5 V: brake, brake-plug
    "#]]
    .assert_eq(&job.summary());
    job.volts("brake-plug.B", 0.02);
    expect![[r#"
         67.6% brake
         17.4% brake:linkage
         13.8% brake-plug
        next: Buzzer start pin in / start pin out, key off, [brake-plug off, pressed by hand], 0.79 bits in 0.8 min
            Buzz { on: false }: brake
            Buzz { on: true }: brake:linkage, brake-plug
    "#]]
    .assert_eq(&job.summary());
    // On the bench: unplugged, pressed by hand, and open.
    let brake = job.circuit.part_named("brake").unwrap();
    let plunger = job.circuit.plungers.iter().position(|p| p.part == brake).unwrap();
    let set_up = vec![
        SetUp::Unplugged(job.circuit.part_named("brake-plug").unwrap()),
        SetUp::PressedByHand(PlungerId(plunger as u16)),
    ];
    let observation = Observation::Read {
        instrument: Instrument::Ohmmeter,
        red: job.node("brake.start-in"),
        black: job.node("brake.start-out"),
        reading: Reading::Ohms(None),
    };
    let off = library::condition(job.circuit, &[("pedal", "down")]);
    job.record(off, set_up, observation);
    expect![[r#"
         99.1% brake
        next: Buzzer start pin in / start pin out, key off, [brake-plug off], 0.04 bits in 0.3 min
            Buzz { on: false }: brake, brake:linkage
        => brake (confirmed)
    "#]]
    .assert_eq(&job.summary());
    let conclusion = job.plan().conclusion.expect("a conclusion");
    assert_eq!((conclusion.units, conclusion.confirmed), (vec![Unit::Part(brake)], true));
}

#[test]
fn expected_is_battery_level_if_sound_to_here_beside_the_healthy_cranking_value() {
    let mut job = Job::silent();
    job.volts("battery.+", 12.58);
    let points: Vec<_> = ["battery.+", "key-plug.S", "trigger-tab.T"].map(|t| job.node(t)).to_vec();
    let values = job.model.expected(
        (&job.log, &job.belief()),
        (&job.condition, &[]),
        &job.track,
        (&points, job.node("battery.-")),
    );
    for value in &values {
        let sound = value.if_sound_to_here.expect("suspects beyond");
        // Behind it a joint of some ohms may still draw a little.
        assert!((sound - 12.58).abs() < 0.1, "{values:?}");
        assert!((10.0..11.5).contains(&value.healthy), "{values:?}");
    }
}

#[test]
fn a_good_reading_clears_what_is_before_it_and_touches_nothing_after() {
    let mut job = Job::silent();
    job.volts("battery.+", 12.58);
    job.volts("brake-plug.A", 12.56);
    job.volts("brake-plug.B", 0.02);
    let proofs = job.model.proofs(&job.belief(), &job.log);
    let cleared = |i: usize| -> Vec<_> {
        // The first is what was heard.
        let contacts = proofs[i + 1].cleared.iter().map(|(e, grade)| {
            assert_eq!(*grade, Grade::NotOpen, "silent: nothing was under load");
            job.circuit.element(*e).id.clone()
        });
        // Wires and pins aside.
        contacts
            .filter(|id| {
                id == "main-fuse"
                    || id.split_once('.').is_some_and(|(part, _)| {
                        let part = job.circuit.part_named(part).unwrap();
                        !job.circuit.part(part).contacts.is_empty()
                    })
            })
            .collect()
    };
    assert_eq!(cleared(0), [""; 0]);
    assert_eq!(cleared(1), ["main-fuse", "key.start", "neutral.start"]);
    assert_eq!(cleared(2), [""; 0], "a bad reading proves nothing sound");
}

#[test]
fn a_falling_battery_does_not_look_like_a_dropping_wire() {
    let mut job = Job::silent();
    let before = job.plan().tests.len();
    for (i, terminal) in
        ["battery.+", "main-fuse.out", "key-plug.B", "key-plug.S", "neutral-plug.A"]
            .iter()
            .enumerate()
    {
        job.volts(terminal, 12.58 - 0.04 * i as f64);
    }
    let belief = job.belief();
    assert!((belief.supply_volts - 12.42).abs() < 0.06, "{}", belief.supply_volts);
    let held: f64 = belief
        .units(job.suspects)
        .iter()
        .filter(|u| ["w5", "w6", "w7", "w8"].contains(&job.unit(u.unit).as_str()))
        .map(|u| u.probability)
        .sum();
    assert!(held < 0.01, "{held}");
    assert!(before > 0);
}

#[test]
fn one_wrong_reading_does_not_kill_the_truth() {
    let mut job = Job::silent();
    job.volts("battery.+", 12.58);
    // The probe did not touch: key S seems dead, and is not.
    job.volts("key-plug.S", 0.0);
    job.volts("brake-plug.A", 12.56);
    job.volts("brake-plug.B", 0.01);
    let belief = job.belief();
    assert!(belief.judgements[2].slip > 0.9, "the dead reading is flagged as a slip");
    assert_eq!(job.unit(belief.units(job.suspects)[0].unit), "brake");
}

/// Follows the plan with a perfect meter and ear, and eyes that find nothing, on a machine that has
/// `fault`, up to a conclusion.
fn walk(fault: &[Change]) -> (Job, usize) {
    let mut job = Job::silent();
    job.log.clear();
    job.try_starter(fault);
    let tests = job.follow(fault, 25);
    (job, tests)
}

/// What a test shows on a machine with a fault.
fn truthful(circuit: &Circuit, fault: &[Change], test: &NextTest) -> Observation {
    match test.action {
        TestAction::Measure { instrument, red, black } => {
            let node =
                |i: usize| circuit.terminal(&circuit.document().test_points[i].terminal).unwrap();
            let (red, black) = (node(red), node(black));
            let set_up = test.set_up.iter().flat_map(|s| s.changes(circuit));
            let changes: Vec<_> = fault.iter().copied().chain(set_up).collect();
            let (at, with) = (&test.condition, Relays::default());
            let reading = read(circuit, at, with, &changes, instrument, (red, black))
                .expect("a test that is proposed is not refused");
            Observation::Read { instrument, red, black, reading }
        }
        TestAction::Try(sense) => {
            let mut judge = Judge::new(circuit, fault);
            let relays = judge.relays_in(&test.condition);
            let (outcome, _) = judge.outcome(&test.condition, relays);
            let noticed = judge.circuit().noticed(&test.condition, &outcome);
            Observation::Sensed(match sense {
                Sense::Starter => Sensed::Starter(Heard::of(noticed.crank)),
                Sense::Engine => Sensed::Engine(noticed.engine),
                Sense::Blades => Sensed::Blades(noticed.blades),
                Sense::Lamp(lamp) => Sensed::Lamp(lamp, noticed.lamps[lamp]),
            })
        }
        TestAction::Look(looked) => Observation::Inspected(looked, false),
    }
}

#[test]
fn after_the_first_repair_the_rest_is_tried_and_the_second_fault_found() {
    let change = |text: &str| parse_change(KNOWN.model.circuit(), text).unwrap();
    let [start, clutch] = [change("brake.start=open"), change("pto.clutch=open")];
    let (mut job, _) = walk(&[start, clutch]);
    let named = job.plan().conclusion.expect("the first is named").units[0];
    assert_eq!(job.unit(named), "brake");
    job.record(job.condition.clone(), vec![], Observation::Repaired(named));
    job.try_starter(&[clutch]);
    let plan = job.plan();
    assert!(plan.conclusion.is_none(), "cured, but not yet tried all over");
    assert!(
        plan.tests.iter().all(|t| t.why == Why::Recheck && matches!(t.action, TestAction::Try(_)))
    );
    job.follow(&[clutch], 60);
    let named = job.plan().conclusion.expect("the second is named").units[0];
    assert_eq!(job.unit(named), "pto");
    // A sound machine is tried all over, once, and then called cured.
    job.record(job.condition.clone(), vec![], Observation::Repaired(named));
    job.follow(&[], 60);
    let tried: Vec<_> = job.log.iter().rev().take_while(|e| e.is_behavior()).collect();
    assert!((5..40).contains(&tried.len()), "{} tries", tried.len());
    assert_eq!(job.plan().conclusion.map(|c| c.units[0]), Some(Unit::Nothing));
}

#[test]
fn what_much_hangs_on_is_measured_once_more() {
    let fault = parse_change(KNOWN.model.circuit(), "brake.start=open").unwrap();
    let (sound, _) = walk(&[fault]);
    let told = |e: &Evidence| matches!(e.observation, Observation::Read { .. });
    let decisive = sound.log.iter().rposition(told).unwrap();
    // The last reading before the verdict was a probe that did not touch.
    let mut job = Job { log: sound.log[..=decisive].to_vec(), ..sound };
    let Observation::Read { ref mut reading, .. } = job.log[decisive].observation else { panic!() };
    *reading = match *reading {
        Reading::Volts(v) => Reading::Volts(if v > 6.0 { 0.0 } else { 12.5 }),
        Reading::Ohms(Some(_)) => Reading::Ohms(None),
        Reading::Ohms(None) => Reading::Ohms(Some(0.1)),
        Reading::Buzz(on) => Reading::Buzz(!on),
        other => panic!("{other:?}"),
    };
    let mut again = 0;
    for _ in 0..30 {
        let plan = job.plan();
        let Some(test) = plan.tests.first().filter(|_| plan.conclusion.is_none()) else { break };
        again += usize::from(test.why == Why::Again);
        let seen = truthful(job.circuit, &[fault], test);
        job.record(test.condition.clone(), test.set_up.clone(), seen);
    }
    let named = job.plan().conclusion.expect("one slip does not stop it").units[0];
    assert_eq!((job.unit(named).as_str(), again > 0), ("brake", true));
}

/// Nearly sure is not sure: what would point there apart from what already does comes next, and
/// settles it.
#[test]
fn once_nearly_sure_the_next_test_confirms() {
    let mut confirmed = 0;
    for fault in ["w1=open", "w2=open", "w5=open", "w6=open", "w9=open"] {
        let change = parse_change(KNOWN.model.circuit(), fault).unwrap();
        let (mut job, _) = walk(&[change]);
        let unsure = |job: &Job| job.plan().conclusion.is_some_and(|c| !c.confirmed);
        let log = std::mem::take(&mut job.log);
        let at = (1..=log.len()).find(|n| {
            job.log = log[..*n].to_vec();
            unsure(&job)
        });
        // Where two readings of two kinds say so at once, there is nothing to confirm.
        if at.is_none() {
            continue;
        }
        let first = job.plan().tests.swap_remove(0);
        assert_eq!(first.why, Why::Confirms, "{fault}");
        let seen = truthful(job.circuit, &[change], &first);
        job.record(first.condition, first.set_up, seen);
        assert!(job.plan().conclusion.is_some_and(|c| c.confirmed), "{fault}");
        confirmed += 1;
    }
    assert!(confirmed >= 3, "{confirmed}");
}

/// Who halves a circuit puts the lead where as many points lie before as behind.
#[test]
fn halves_begin_in_the_middle_of_what_is_left() {
    let mut job = Job::silent();
    let by = |job: &Job, strategy| {
        let tests = job.model.every_test(strategy, &job.belief(), &job.log, &job.condition);
        let volts = |t: &NextTest| match t.action {
            TestAction::Measure { instrument: Instrument::Voltmeter, red, .. }
                if t.condition == job.condition && t.set_up.is_empty() =>
            {
                Some(red)
            }
            _ => None,
        };
        tests.iter().map_while(volts).collect::<Vec<usize>>()
    };
    let mut points = usize::MAX;
    for _ in 0..3 {
        let (forward, halves) = (by(&job, Strategy::BatteryForward), by(&job, Strategy::HalfSplit));
        assert_eq!(halves.first(), forward.get(forward.len() / 2), "{forward:?}");
        assert!(forward.len() < points, "{forward:?}");
        points = forward.len();
        // Good up to there each time.
        let terminal = &job.circuit.document().test_points[halves[0]].terminal;
        job.volts(terminal, 12.5);
    }
}

#[test]
fn every_open_of_the_start_circuit_is_found() {
    let job = Job::silent();
    let mut found = String::new();
    for suspect in &job.suspects.list {
        let [fault] = &suspect.faults[..] else {
            continue;
        };
        let opens = matches!(
            fault.mode,
            FaultMode::Open
                | FaultMode::FuseBlown
                | FaultMode::LinkageShort
                | FaultMode::ConnectorApart
        );
        let in_start = suspect.elements.iter().any(|e| job.track.elements().contains(e));
        if !opens || !in_start {
            continue;
        }
        let (walked, tests) = walk(&[fault.at(0.0)]);
        let plan = walked.plan();
        let top = &plan.groups[0];
        let names: Vec<_> = top.iter().map(|u| walked.unit(*u)).collect();
        let element = &job.circuit.element(suspect.elements[0]).id;
        assert!(
            top.contains(&suspect.unit),
            "{element} {:?}: {names:?}\n{}",
            fault.mode,
            walked.summary()
        );
        let probability: f64 = walked
            .belief()
            .units(walked.suspects)
            .iter()
            .filter(|u| top.contains(&u.unit))
            .map(|u| u.probability)
            .sum();
        assert!(probability > 0.9, "{element}: {probability}\n{}", walked.summary());
        found += &format!("{element} {:?}: {} in {tests}\n", fault.mode, names.join(" or "));
    }
    expect![[r#"
        pos-clamp.lug Open: pos-clamp in 5
        neg-clamp.lug Open: w2 or neg-clamp in 5
        ground-strap Open: ground-strap in 5
        main-fuse FuseBlown: main-fuse in 8
        key.start Open: key in 9
        key-plug.B Open: key-plug in 8
        key-plug.S Open: key-plug in 9
        dash-plug.1 Open: w8 or dash-plug in 6
        dash-plug.2 Open: w10 or w11 or dash-plug in 8
        dash-plug.3 Open: w13 or w12 or dash-plug in 7
        neutral.start Open: neutral in 4
        neutral-plug.A Open: neutral-plug in 8
        neutral-plug.B Open: neutral-plug in 8
        brake.start Open: brake in 4
        brake-plug.A Open: brake-plug in 6
        brake-plug.B Open: brake-plug in 6
        pto.start Open: pto in 6
        pto-plug.A Open: pto-plug in 10
        pto-plug.B Open: pto-plug in 10
        solenoid.coil Open: solenoid in 6
        trigger-tab.T Open: trigger-tab in 8
        solenoid-base Open: solenoid-base in 7
        w1 Open: w1 in 6
        w2 Open: w2 or neg-clamp in 5
        w5 Open: w5 in 6
        w6 Open: w6 in 7
        w7 Open: w7 in 7
        w8 Open: w8 or dash-plug in 6
        w9 Open: w9 in 8
        w10 Open: w10 or w11 or dash-plug in 8
        w11 Open: w10 or w11 or dash-plug in 8
        w12 Open: w13 or w12 or dash-plug in 7
        w13 Open: w13 or w12 or dash-plug in 7
        key-plug.A ConnectorApart: key-plug in 8
        dash-plug.1 ConnectorApart: w8 or dash-plug in 6
        neutral-plug.A ConnectorApart: neutral-plug in 8
        brake-plug.A ConnectorApart: brake-plug in 6
        pto-plug.A ConnectorApart: pto-plug in 10
        neutral.start LinkageShort: neutral:linkage in 11
        brake.start LinkageShort: brake:linkage in 7
    "#]]
    .assert_eq(&found);
}
