//! From silence to the broken part: the story, and every other fault of the start circuit.

mod library;

use expect_test::expect;
use kelvok_core::circuit::{
    Change, Circuit, Condition, FaultMode, Instrument, NodeId, Reading, Relays, operating_point,
    read,
};
use kelvok_core::diagnosis::{
    AnswerRange, Belief, Evidence, Grade, Heard, NextTest, Observation, SetUp, Suspects, Unit,
    expected, plan, proofs,
};
use kelvok_core::interlock::Track;

struct Job {
    circuit: Circuit,
    suspects: Suspects,
    track: Track,
    condition: Condition,
    log: Vec<Evidence>,
}

impl Job {
    fn silent() -> Self {
        let circuit = library::gt46();
        let suspects = Suspects::of_circuits(&circuit, &["start", "crank"]).unwrap();
        let track = Track::lay_out(&circuit, "start").unwrap();
        let condition = library::condition(&circuit, &[("key", "start"), ("pedal", "down")]);
        let mut job = Self { circuit, suspects, track, condition, log: Vec::new() };
        job.record(job.condition.clone(), vec![], Observation::Heard(Heard::Silent));
        job
    }

    fn record(&mut self, condition: Condition, set_up: Vec<SetUp>, observation: Observation) {
        let sequence = self.log.len() as u64 + 1;
        self.log.push(Evidence { sequence, condition, set_up, observation, repeats: 1 });
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
        Belief::judge(&self.circuit, &self.suspects, &self.log)
    }

    fn plan(&self) -> kelvok_core::diagnosis::Plan {
        let belief = self.belief();
        plan(&self.circuit, &self.suspects, &belief, &self.log, &self.condition)
    }

    fn unit(&self, unit: Unit) -> String {
        match unit {
            Unit::Part(p) => self.circuit.part(p).id.clone(),
            Unit::Wire(w) => self.circuit.document().wires[w].id.clone(),
            Unit::Linkage(p) => {
                let part = self.circuit.plungers[p.index()].part;
                format!("{} linkage", self.circuit.part(part).id)
            }
            Unit::Nothing => "nothing".to_owned(),
        }
    }

    /// The units that hold more than half a percent, and the best test.
    fn summary(&self) -> String {
        let belief = self.belief();
        let mut text = String::new();
        for unit in belief.units(&self.suspects).iter().filter(|u| u.probability > 0.005) {
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
        let key = test.condition.named(&self.circuit).next().unwrap().1.to_owned();
        let set_up: Vec<_> = test
            .set_up
            .iter()
            .map(|s| match s {
                SetUp::Unplugged(p) => format!("{} off", self.circuit.part(*p).id),
                SetUp::PressedByHand(_) => "pressed by hand".to_owned(),
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
                };
                let units: Vec<_> = a.units.iter().take(2).map(|u| self.unit(u.0)).collect();
                format!("    {range}: {}\n", units.join(", "))
            })
            .collect();
        format!(
            "next: {:?} {} / {}, key {key}, [{}], {:.2} bits in {:.1} min\n{}",
            test.instrument,
            point(test.red),
            point(test.black),
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
         12.3% neutral
         12.3% brake
          9.1% key
          9.1% pto
          5.1% main-fuse
          4.2% dash-plug
          3.0% key-plug
          3.0% neutral-plug
          3.0% brake-plug
          3.0% pto-plug
          2.7% solenoid
          2.6% neutral linkage
          2.6% brake linkage
          2.1% ground-strap
          2.1% solenoid-base
          2.0% battery
          1.8% w6
          1.8% w7
          1.8% w8
          1.8% w9
          1.8% w10
          1.8% w11
          1.8% w12
          1.8% w13
          1.3% w1
          1.3% w2
          1.3% w5
          1.2% pos-clamp
          1.2% neg-clamp
          1.2% trigger-tab
        next: Voltmeter Pedal switch in / Battery − post, key start, [], 0.95 bits in 0.8 min
            12.0 to 12.6 V: brake, pto
            0.0 to 0.3 V: neutral, key
            5.6 to 6.1 V: battery, neutral
            0.8 to 0.9 V: neutral, key
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
         25.9% brake
         18.9% pto
          6.2% brake-plug
          6.2% pto-plug
          5.6% solenoid
          5.6% brake linkage
          4.8% dash-plug
          4.1% ground-strap
          4.1% solenoid-base
          2.7% w11
          2.7% w12
          2.7% w10
          2.7% w13
          2.7% w2
          2.4% trigger-tab
          2.4% neg-clamp
        next: Voltmeter Pedal switch out / Battery − post, key start, [], 0.87 bits in 0.2 min
            12.4 to 12.6 V: pto, pto-plug
            0.0 to 0.3 V: brake, brake linkage
            0.9 to 0.9 V: brake, brake-plug
            2.5 to 2.5 V: brake, brake-plug
    "#]]
    .assert_eq(&job.summary());
    job.volts("brake-plug.B", 0.02);
    expect![[r#"
         67.4% brake
         18.0% brake linkage
         13.5% brake-plug
        next: Ohmmeter start pin in / start pin out, key off, [brake-plug off, pressed by hand], 0.85 bits in 0.9 min
            OL: brake
            0.0 to 0.0 ohm: brake linkage, brake-plug
    "#]].assert_eq(&job.summary());
    let test = job.plan().tests.remove(0);
    let (red, black) = (job.node("brake.start-in"), job.node("brake.start-out"));
    assert_eq!(test.set_up.len(), 2, "unplugged, and pressed by hand");
    let observation = Observation::Read {
        instrument: Instrument::Ohmmeter,
        red,
        black,
        reading: Reading::Ohms(None),
    };
    job.record(test.condition, test.set_up, observation);
    expect![[r#"
         99.1% brake
        next: Ohmmeter start pin in / start pin out, key off, [brake-plug off], 0.02 bits in 0.7 min
            OL: brake, brake linkage
        => brake (confirmed)
    "#]]
    .assert_eq(&job.summary());
    let conclusion = job.plan().conclusion.expect("a conclusion");
    let brake = job.circuit.part_named("brake").unwrap();
    assert_eq!((conclusion.units, conclusion.confirmed), (vec![Unit::Part(brake)], true));
}

#[test]
fn expected_is_battery_level_if_sound_to_here_beside_the_healthy_cranking_value() {
    let mut job = Job::silent();
    job.volts("battery.+", 12.58);
    let points: Vec<_> = ["battery.+", "key-plug.S", "trigger-tab.T"].map(|t| job.node(t)).to_vec();
    let values = expected(
        &job.circuit,
        &job.suspects,
        (&job.log, job.belief().supply_volts),
        (&job.condition, &[]),
        &job.track,
        (&points, job.node("battery.-")),
    );
    for value in &values {
        let sound = value.if_sound_to_here.expect("suspects beyond");
        assert!((sound - 12.58).abs() < 0.02, "{values:?}");
        assert!((10.0..11.5).contains(&value.healthy), "{values:?}");
    }
}

#[test]
fn a_good_reading_clears_what_is_before_it_and_touches_nothing_after() {
    let mut job = Job::silent();
    job.volts("battery.+", 12.58);
    job.volts("brake-plug.A", 12.56);
    job.volts("brake-plug.B", 0.02);
    let proofs = proofs(&job.circuit, &job.suspects, &job.belief(), &job.log);
    let cleared = |i: usize| -> Vec<_> {
        let contacts = proofs[i].cleared.iter().map(|(e, grade)| {
            assert_eq!(*grade, Grade::NotOpen, "silent: nothing was under load");
            job.circuit.element(*e).id.clone()
        });
        contacts.filter(|id| id.ends_with(".start") || id == "main-fuse").collect()
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
        .units(&job.suspects)
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
    assert_eq!(job.unit(belief.units(&job.suspects)[0].unit), "brake");
}

/// Follows the plan with a perfect meter on a machine that has `fault`, up to a conclusion.
fn walk(fault: &[Change]) -> (Job, usize) {
    let mut job = Job::silent();
    job.log.clear();
    let point = operating_point(&job.circuit, &job.condition, Relays::default(), fault, &[]);
    let heard = Heard::of(point.outcome.crank);
    job.record(job.condition.clone(), vec![], Observation::Heard(heard));
    for tests in 0..25 {
        let plan = job.plan();
        if plan.conclusion.as_ref().is_some_and(|c| c.confirmed) || plan.tests.is_empty() {
            return (job, tests);
        }
        let test = &plan.tests[0];
        let node = |i: usize| job.node(&job.circuit.document().test_points[i].terminal);
        let probes = (node(test.red), node(test.black));
        let changes: Vec<_> =
            fault.iter().copied().chain(test.set_up.iter().map(|s| s.change())).collect();
        let reading = read(
            &job.circuit,
            &test.condition,
            Relays::default(),
            &changes,
            test.instrument,
            probes,
        )
        .expect("a test that is proposed is not refused");
        let (condition, set_up) = (test.condition.clone(), test.set_up.clone());
        let observation = Observation::Read {
            instrument: test.instrument,
            red: probes.0,
            black: probes.1,
            reading,
        };
        job.record(condition, set_up, observation);
    }
    (job, 25)
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
            .units(&walked.suspects)
            .iter()
            .filter(|u| top.contains(&u.unit))
            .map(|u| u.probability)
            .sum();
        assert!(probability > 0.9, "{element}: {probability}\n{}", walked.summary());
        found += &format!("{element} {:?}: {} in {tests}\n", fault.mode, names.join(" or "));
    }
    expect![[r#"
        pos-clamp.lug Open: pos-clamp in 13
        neg-clamp.lug Open: ground-strap or w2 or neg-clamp in 7
        ground-strap Open: ground-strap or w2 or neg-clamp in 7
        main-fuse FuseBlown: main-fuse or w6 or w7 or w8 or w9 or w11 or w12 or w10 or w13 in 6
        key.start Open: key in 11
        key-plug.B Open: key-plug in 7
        key-plug.S Open: key-plug in 7
        dash-plug.1 Open: dash-plug or w8 in 5
        dash-plug.2 Open: w11 or w10 or dash-plug in 5
        dash-plug.3 Open: w12 or w13 or dash-plug in 6
        neutral.start Open: neutral in 4
        neutral-plug.A Open: neutral-plug in 5
        neutral-plug.B Open: neutral-plug in 5
        brake.start Open: brake in 3
        brake-plug.A Open: brake-plug in 5
        brake-plug.B Open: brake-plug in 5
        pto.start Open: pto in 11
        pto-plug.A Open: pto-plug in 7
        pto-plug.B Open: pto-plug in 7
        solenoid.coil Open: solenoid in 6
        trigger-tab.T Open: trigger-tab in 7
        solenoid-base Open: solenoid-base in 9
        w1 Open: w1 in 12
        w2 Open: ground-strap or w2 or neg-clamp in 7
        w5 Open: w5 in 9
        w6 Open: w6 in 7
        w7 Open: w7 in 6
        w8 Open: dash-plug or w8 in 5
        w9 Open: w9 in 4
        w10 Open: w11 or w10 or dash-plug in 5
        w11 Open: w11 or w10 or dash-plug in 5
        w12 Open: w12 or w13 or dash-plug in 6
        w13 Open: w12 or w13 or dash-plug in 6
        key-plug.A ConnectorApart: key-plug in 7
        dash-plug.1 ConnectorApart: dash-plug in 7
        neutral-plug.A ConnectorApart: neutral-plug in 5
        brake-plug.A ConnectorApart: brake-plug in 5
        pto-plug.A ConnectorApart: pto-plug in 7
        neutral.start LinkageShort: neutral linkage in 6
        brake.start LinkageShort: brake linkage in 5
    "#]]
    .assert_eq(&found);
}
