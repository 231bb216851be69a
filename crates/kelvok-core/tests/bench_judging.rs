//! A switch on the bench: what to do next, what is wrong with it, what that does to its machine.

mod library;

use expect_test::{Expect, expect};
use kelvok_core::bench::{
    Bench, BenchEntry, FindingKind, FoundTable, Joined, LayoutVerdict, Leads, LeadsVerdict,
    LinkageVerdict, MachineEffects, Next, PoleKind, Profile, Stroke, Subject, SwitchVerdict,
    TableRow, Unfit, Way, WorkedBy, ignition_of, layout_verdict, linkage_verdict, near_misses,
    poles, profile_of_part, travel, unfit, wire_plan, wires_at,
};
use kelvok_core::circuit::Reading;
use proptest::prelude::*;
use std::collections::BTreeMap;

fn profile(id: &str) -> Profile {
    let all = Profile::shipped();
    all.into_iter().find(|p| p.document().id == id).expect("a shipped profile")
}

fn leads() -> BenchEntry {
    BenchEntry::Leads { touching: "0.2".into(), apart: "OL".into() }
}

fn probe(position: &str, from: &str, to: &str, made: bool) -> BenchEntry {
    BenchEntry::Probe {
        position: position.into(),
        from: from.into(),
        to: to.into(),
        reading: Reading::Buzz(made),
        typed: String::new(),
        sprung_from: None,
        worked_by: WorkedBy::Hand,
    }
}

fn sprung(from_position: &str, position: &str, from: &str, to: &str, made: bool) -> BenchEntry {
    match probe(position, from, to, made) {
        BenchEntry::Probe { position, from, to, reading, typed, worked_by, .. } => {
            let sprung_from = Some(from_position.to_owned());
            BenchEntry::Probe { position, from, to, reading, typed, sprung_from, worked_by }
        }
        other => other,
    }
}

/// Follows the plan to its end with a switch that answers so: position, pair of names, the how
/// manieth question this is; whether it is made.
fn follow(
    subject: &Subject,
    answers: impl Fn(&str, &str, &str, usize) -> bool,
) -> (Bench, Vec<BenchEntry>) {
    let shipped = Profile::shipped();
    let mut entries = Vec::new();
    loop {
        let bench = Bench::of(subject.clone(), &entries).expect("a sound subject");
        let (positions, names) = (bench.found.positions(), bench.found.terminals());
        let asked = entries.len();
        let answer = |p: usize, one: usize, other: usize| {
            answers(&positions[p], &names[one], &names[other], asked)
        };
        let entry = match bench.next(&shipped) {
            Next::Leads => leads(),
            Next::Probe { cell, .. } => {
                let made = answer(cell.position, cell.one, cell.other);
                probe(&positions[cell.position], &names[cell.one], &names[cell.other], made)
            }
            Next::Hold { operated } => {
                let cell = operated.held;
                let made = answer(cell.position, cell.one, cell.other);
                probe(&positions[cell.position], &names[cell.one], &names[cell.other], made)
            }
            Next::LetGo { operated } => {
                let (held, cell) = (operated.held, operated.let_go);
                assert_eq!(bench.at, held.position, "only what is held can be let go");
                let made = answer(cell.position, cell.one, cell.other);
                let [from, at] = [held, cell].map(|c| positions[c.position].as_str());
                sprung(from, at, &names[cell.one], &names[cell.other], made)
            }
            Next::Finished => return (bench, entries),
        };
        entries.push(entry);
        assert!(entries.len() < 500, "the plan has an end");
    }
}

/// Whether a profile joins two of its terminals, by name.
fn made(profile: &Profile, position: &str, one: &str, other: &str) -> bool {
    let at = |id: &str| profile.terminals().iter().position(|t| t.id == id).expect("a terminal");
    profile.made(profile.position(position).expect("a position"), at(one), at(other))
}

fn said(bench: &Bench) -> String {
    let mut out = String::new();
    for finding in bench.findings() {
        let cell = finding.cell;
        let names = bench.found.terminals();
        out += &format!(
            "{} {}-{} {:?} {:?}\n",
            bench.found.positions()[cell.position],
            names[cell.one],
            names[cell.other],
            finding.kind,
            finding.consequences
        );
    }
    out
}

#[test]
fn a_sound_switch_is_tested_in_the_fewest_probes_and_operated_as_often_as_wanted() {
    for own in Profile::shipped() {
        let subject = Subject::of_profile(own.document());
        let (bench, entries) = follow(&subject, |p, a, b, _| made(&own, p, a, b));
        let id = &own.document().id;
        assert_eq!(bench.verdict(), SwitchVerdict::Sound, "{id}: {}", said(&bench));
        let least: usize = (0..own.positions().len())
            .map(|p| {
                let mut sets = own.joined(p).to_vec();
                sets.sort_unstable();
                sets.dedup();
                Joined::certificate(own.terminals().len(), sets.len())
            })
            .sum();
        let certified: usize = (0..own.positions().len()).map(|p| bench.certificate(p)).sum();
        assert_eq!(certified, least, "{id}");
        let operated = bench.operated();
        for o in &operated {
            assert_eq!(o.times(), 5, "{id}: {o:?}");
        }
        // The probe of the table counts as the first time held, where there is one.
        let first = operated.iter().filter(|o| o.held_times > 0).count();
        let again: usize = operated.iter().map(|o| o.held_times + o.let_go_times).sum();
        assert!(entries.len() <= 1 + least + again, "{id}: {} of {first}", entries.len());
        assert!(entries.len() >= 1 + least + again - first, "{id}: {}", entries.len());
    }
}

#[test]
fn what_springs_back_is_operated_and_misses_and_hang_ups_are_counted() {
    let own = profile("key-5-lettered-magneto");
    let subject = Subject::of_profile(own.document());
    // Of the starts every third fails; once it hangs up.
    let starts = std::cell::Cell::new(0);
    let (bench, _) = follow(&subject, |position, a, b, _| {
        let start = matches!((a, b), ("B", "S"));
        match position {
            "start" if start => {
                starts.set(starts.get() + 1);
                starts.get() != 3
            }
            "run" if start => starts.get() == 4,
            _ => made(&own, position, a, b),
        }
    });
    let operated = bench.operated();
    let [start] = operated.as_slice() else { panic!("{operated:?}") };
    assert_eq!((start.missed, start.hung, start.times()), (1, 1, 5));
    assert_eq!(start.below(), None, "a miss was seen");
    assert_eq!(bench.verdict(), SwitchVerdict::Bad);
    expect![[r#"
        run B-S HangsUp { hung: 1, of: 5 } [CranksUnasked]
        start B-S Misses { made: 4, of: 5 } [SilentAtStart]
    "#]]
    .assert_eq(&said(&bench));
}

/// The findings of a switch of a profile whose answers differ in these cells.
fn with_faults(id: &str, differs: &[(&str, &[&str])], expected: Expect) {
    let own = profile(id);
    let joined = |position: &str, a: &str, b: &str| {
        let changed = differs.iter().filter(|(p, _)| *p == position);
        let mut same = made(&own, position, a, b);
        for (_, group) in changed {
            match group {
                // Alone.
                [lost] if a == *lost || b == *lost => same = false,
                // Joined, with all that they are joined to.
                [x, y] => {
                    let with = |t: &str, u: &str| t == u || made(&own, position, t, u);
                    let across = with(a, x) && with(b, y) || with(a, y) && with(b, x);
                    same = same || across;
                }
                _ => {}
            }
        }
        same
    };
    let subject = Subject::of_profile(own.document());
    let (bench, _) = follow(&subject, |p, a, b, _| joined(p, a, b));
    assert_eq!(bench.verdict(), SwitchVerdict::Bad);
    expected.assert_eq(&said(&bench));
}

#[test]
fn missing_and_cross_fed_pairs_are_named_with_what_they_do() {
    with_faults(
        "key-7-lettered-magneto",
        &[("off", &["M"]), ("run", &["A1"]), ("lights", &["L"]), ("start", &["S"])],
        expect![[r#"
            off M-G Missing [NeverStops]
            lights L-A2 Missing [LightsDead]
            run B-A1 Missing [NoCharge]
            start B-S Missing [SilentAtStart]
        "#]],
    );
    with_faults(
        "key-5-vehicle-numbers-diesel",
        &[("start", &["30", "19"]), ("heat", &["19"]), ("off", &["30", "15"])],
        expect![[r#"
            off 30-15 Extra [RunsOn]
            heat 30-19 Missing [GlowPlugsCold]
            start 30-19 Extra [StarterStarved]
        "#]],
    );
    with_faults(
        "key-5-lettered-magneto",
        &[("run", &["B", "M"]), ("start", &["M", "G"]), ("off", &["B", "A"])],
        expect![[r#"
            off B-A Extra [DrainsBattery]
            run B-M Extra [BatteryOnKillWire]
            start M-G Extra [NoSpark]
        "#]],
    );
    with_faults(
        "interlock-4-one-of-each",
        &[("pressed", &["C", "D"])],
        expect![[r#"
            pressed C-D Extra [NeverBreaks]
        "#]],
    );
}

#[test]
fn ohms_are_graded_with_the_leads_taken_off() {
    let own = profile("interlock-2-open");
    let ohms = |ohms| BenchEntry::Probe {
        position: "pressed".into(),
        from: "1".into(),
        to: "2".into(),
        reading: Reading::Ohms(ohms),
        typed: String::new(),
        sprung_from: None,
        worked_by: WorkedBy::Hand,
    };
    let bench = |entries: &[BenchEntry]| {
        Bench::of(Subject::of_profile(own.document()), entries).expect("a sound subject")
    };
    let kind = |entries: &[BenchEntry]| bench(entries).findings().first().map(|f| f.kind);
    assert_eq!(kind(&[leads(), ohms(Some(0.6))]), None, "0.4 ohm but for the leads");
    assert_eq!(kind(&[ohms(Some(0.6))]), Some(FindingKind::Worn { ohms: 0.6 }));
    assert!(matches!(kind(&[leads(), ohms(Some(900.0))]), Some(FindingKind::Through { .. })));
    assert_eq!(kind(&[leads(), ohms(None)]), Some(FindingKind::Missing));
}

#[test]
fn a_meters_displays_are_understood() {
    let verdict = |touching, apart| Leads::of(touching, apart).map(|l| l.verdict);
    for apart in ["OL", "O.L", "1", "1.", "---", "∞", "OL M"] {
        let good = matches!(verdict("0.2", apart), Ok(LeadsVerdict::Good));
        assert!(good || apart == "OL M", "{apart}");
    }
    assert_eq!(verdict("OL", "OL"), Ok(LeadsVerdict::Broken));
    assert_eq!(verdict("1.", "1"), Ok(LeadsVerdict::Broken), "the same display both ways");
    assert_eq!(verdict("2.4", "OL"), Ok(LeadsVerdict::TooHigh));
    assert_eq!(verdict("0.1", "35"), Ok(LeadsVerdict::NotOpen));
    assert!(verdict("blue", "OL").is_err());
    let old = Leads::of("0.4", "1 .").expect("an old meter");
    assert_eq!(Leads::read(Some(&old), "1"), Ok(Reading::Ohms(None)), "as it shows it apart");
    assert!(Leads::read(None, "1").is_err(), "one ohm, or over range: nobody knows yet");
    assert_eq!(Leads::read(None, "1.0"), Ok(Reading::Ohms(Some(1.0))));
    let usual = Leads::of("1", "OL").expect("a usual meter, long leads");
    assert_eq!(usual.ohms, 1.0);
    assert_eq!(Leads::read(Some(&usual), "1"), Ok(Reading::Ohms(Some(1.0))));
    assert_eq!(Leads::read(Some(&old), "buzz"), Ok(Reading::Buzz(true)));
    assert_eq!(Leads::read(Some(&old), "OL"), Ok(Reading::Ohms(None)));
}

#[test]
fn an_unknown_switch_is_told_and_one_with_a_fault_is_told_but_for_it() {
    let own = profile("key-7-lettered-magneto");
    let names: Vec<String> = (1..=7).map(|n| n.to_string()).collect();
    let order = ["L", "B", "G", "A2", "S", "M", "A1"];
    let subject =
        Subject { terminals: names, profile: None, ..Subject::of_profile(own.document()) };
    let real = |name: &str| order[name.parse::<usize>().expect("a number") - 1];
    let (bench, entries) = follow(&subject, |p, a, b, _| made(&own, p, real(a), real(b)));
    let shipped = Profile::shipped();
    let fits = bench.identities(&shipped);
    assert_eq!(fits.len(), 1);
    assert_eq!(shipped[fits[0].profile].document().id, "key-7-lettered-magneto");
    let starter = fits[0].fits.first.iter().all(|a| own.terminals()[usize::from(a[4])].id == "S");
    assert!(starter, "terminal 5 is the starter's in every order that fits");
    assert!(entries.len() < 4 * 21, "{}", entries.len());
    // The same with its starter pole dead.
    let (bench, _) = follow(&subject, |p, a, b, _| {
        let (a, b) = (real(a), real(b));
        made(&own, p, a, b) && !(p == "start" && (a == "S" || b == "S"))
    });
    assert_eq!(bench.identities(&shipped).len(), 0);
    let misses = near_misses(&shipped, &bench.found);
    let misses: Vec<_> =
        misses.iter().map(|m| (shipped[m.profile].document().id.as_str(), m.cell)).collect();
    assert!(misses.iter().any(|(id, _)| *id == "key-7-lettered-magneto"), "{misses:?}");
}

#[test]
fn a_drawings_layout_is_confirmed_or_contradicted() {
    let own = profile("key-5-lettered-magneto");
    let table = |answers: &dyn Fn(&str, &str, &str) -> bool| {
        let subject = Subject::of_profile(own.document());
        follow(&subject, |p, a, b, _| answers(p, a, b)).0.found
    };
    let sound = table(&|p, a, b| made(&own, p, a, b));
    let at = |ids: [&str; 5]| {
        ids.map(|id| own.terminals().iter().position(|t| t.id == id).expect("a terminal") as u8)
    };
    let as_marked = at(["B", "S", "M", "G", "A"]);
    assert_eq!(layout_verdict(&own, &as_marked, &sound), LayoutVerdict::Confirmed);
    let kill_and_ground = at(["B", "S", "G", "M", "A"]);
    assert_eq!(
        layout_verdict(&own, &kill_and_ground, &sound),
        LayoutVerdict::Confirmed,
        "nothing at the switch tells M from G"
    );
    let swapped = at(["S", "B", "M", "G", "A"]);
    match layout_verdict(&own, &swapped, &sound) {
        LayoutVerdict::Contradicted { cells, fit } => {
            assert!(!cells.is_empty());
            assert_eq!(fit, 4, "M and G, B and A either way round");
        }
        other => panic!("{other:?}"),
    }
    let nothing = FoundTable::new(sound.terminals().to_vec(), sound.positions().to_vec());
    let open = layout_verdict(&own, &as_marked, &nothing.expect("there is room"));
    assert_eq!(open, LayoutVerdict::Open { fit: 120 });
}

#[test]
fn poles_follow_from_what_is_joined() {
    for (id, kinds) in [
        ("interlock-2-open", vec![PoleKind::NormallyOpen]),
        ("interlock-2-closed", vec![PoleKind::NormallyClosed]),
        ("interlock-3-changeover", vec![PoleKind::Changeover]),
        ("interlock-4-double", vec![PoleKind::NormallyOpen; 2]),
        ("interlock-4-one-of-each", vec![PoleKind::NormallyOpen, PoleKind::NormallyClosed]),
        ("pto-3-columns", vec![PoleKind::Changeover; 3]),
    ] {
        let own = profile(id);
        let subject = Subject { profile: None, ..Subject::of_profile(own.document()) };
        let (bench, _) = follow(&subject, |p, a, b, _| made(&own, p, a, b));
        let found: Vec<_> = poles(&bench.found).into_iter().map(|p| p.kind).collect();
        assert_eq!(found, kinds, "{id}");
    }
    let (stuck, _) = FoundTable::read_csv("released,1,2,buzz\npressed,1,2,buzz\n");
    assert_eq!(poles(&stuck)[0].kind, PoleKind::AlwaysMade);
    let (never, _) = FoundTable::read_csv("released,1,2,silent\npressed,1,2,silent\n");
    assert_eq!(poles(&never), []);
}

#[test]
fn the_linkage_is_judged_apart_from_the_switch() {
    let table = |released: &str, pressed: &str| {
        let text = format!("released,1,2,{released}\npressed,1,2,{pressed}\n");
        FoundTable::read_csv(&text).0
    };
    let sound = table("silent", "buzz");
    let none = FoundTable::new(sound.terminals().to_vec(), sound.positions().to_vec());
    let none = none.expect("there is room");
    let half = FoundTable::read_csv("released,1,2,silent\n").0;
    let mut half_of = none.clone();
    for (cell, seen) in half.cells() {
        half_of.add(cell, seen[0]);
    }
    let mut at_times = sound.clone();
    let cell = sound.cells().nth(1).expect("two cells").0;
    at_times.add(cell, kelvok_core::bench::Seen::Open);
    for (by_hand, by_machine, wanted) in [
        (&sound, &none, LinkageVerdict::NotTried),
        (&sound, &sound, LinkageVerdict::Works),
        (&sound, &half_of, LinkageVerdict::HalfTried),
        (&sound, &table("silent", "silent"), LinkageVerdict::DoesNotReach),
        (&sound, &table("buzz", "buzz"), LinkageVerdict::DoesNotLetGo),
        (&sound, &at_times, LinkageVerdict::AtTimes),
        (&table("silent", "silent"), &table("silent", "silent"), LinkageVerdict::SwitchFirst),
        (&none, &sound, LinkageVerdict::SwitchFirst),
    ] {
        assert_eq!(linkage_verdict(by_hand, by_machine), wanted);
    }
}

#[test]
fn a_slow_stroke_shows_where_it_changes_and_where_it_is_dead() {
    let stroke = |text: &str, way| -> Vec<Stroke> {
        let points = text.chars().enumerate();
        points.map(|(i, c)| Stroke { way, travel: i as f64 * 10.0, made: c == '#' }).collect()
    };
    let shown = |text: &str| {
        let shown = travel(&stroke(text, Way::In), Way::In).expect("points");
        let dead: Vec<_> = shown.dead.iter().map(|b| (b.from, b.to)).collect();
        (shown.changes_at, dead, shown.late)
    };
    assert_eq!(shown("...########"), (Some(25.0), vec![], false));
    assert_eq!(shown("...##.#####"), (Some(25.0), vec![(45.0, 55.0)], false));
    assert_eq!(shown("####......."), (Some(35.0), vec![], false));
    assert_eq!(shown("####..#...."), (Some(35.0), vec![(55.0, 65.0)], false));
    assert_eq!(shown("..........#"), (Some(95.0), vec![], true));
    assert_eq!(shown("..........."), (None, vec![], false));
    assert_eq!(shown("...##......"), (None, vec![(25.0, 45.0)], false));
    assert_eq!(travel(&stroke("...####", Way::In), Way::Out), None);
    let mut again = stroke("...########", Way::In);
    again.push(Stroke { way: Way::In, travel: 50.0, made: false });
    assert_eq!(travel(&again, Way::In).expect("points").dead.len(), 1, "the later counts");
}

#[test]
fn a_dead_spot_makes_a_switch_bad_that_is_right_at_both_ends() {
    let own = profile("interlock-2-open");
    let subject = Subject::of_profile(own.document());
    let (bench, mut entries) = follow(&subject, |p, a, b, _| made(&own, p, a, b));
    assert_eq!(bench.verdict(), SwitchVerdict::Sound);
    entries.extend("..##.####".chars().enumerate().map(|(i, c)| BenchEntry::Stroke {
        from: "2".into(),
        to: "1".into(),
        way: Way::In,
        travel: i as f64 * 12.5,
        made: c == '#',
    }));
    let bench = Bench::of(subject, &entries).expect("a sound subject");
    assert_eq!(bench.verdict(), SwitchVerdict::Bad);
    expect![[r#"
        pressed 1-2 DeadSpot { from: 43.75, to: 56.25 } [NeverMakes]
    "#]]
    .assert_eq(&said(&bench));
}

#[test]
fn a_machines_own_switch_is_a_profile() {
    let mut out = String::new();
    for shipped in kelvok_core::machine::LIBRARY {
        let (name, circuit) = (shipped.name, library::circuit(shipped.name));
        for part in &circuit.document().parts {
            let Some(document) = profile_of_part(&circuit, &part.id) else { continue };
            let own = Profile::of(document.clone()).expect("a sound profile");
            let subject = Subject::of_profile(&document);
            let (bench, _) = follow(&subject, |p, a, b, _| made(&own, p, a, b));
            assert_eq!(bench.verdict(), SwitchVerdict::Sound, "{name} {}", part.id);
            if part.id == "key" {
                let functions = document.terminals.iter();
                let functions: Vec<_> =
                    functions.map(|t| format!("{} {}", t.id, t.function.words())).collect();
                let wires = wires_at(&circuit, "key");
                let wires: Vec<_> = wires.iter().map(|w| w.wire.as_str()).collect();
                let ignition = ignition_of(&circuit);
                let functions = functions.join(", ");
                out += &format!("{name}: {ignition:?}, {functions}; {}\n", wires.join(", "));
            }
        }
    }
    expect![[r#"
        pellwick-gt-46: Some(Magneto), B supply, S starter, M kill, G ground, A accessory, L lights, R kill; red, white, yellow, black, orange, brown, gray
        pellwick-r-30: Some(Magneto), 1 ground, 2 accessory, 3 kill, 4 starter, 5 supply; black, brown, yellow, white, red
        dunmarrow-z-52: Some(Magneto), B supply, A accessory, S starter, M kill, G ground; red, orange, white, yellow, black
        dunmarrow-z-60m: Some(Magneto), B supply, A accessory, S starter, M kill, G ground; red, orange, white, yellow, black
        dunmarrow-f-60: Some(Magneto), B supply, A accessory, S starter, M kill, G ground; red, orange, white, yellow, black
        tarnbeck-c-24d: Some(BatteryCoil), 30 supply, 15 ignition, 17 glow plugs, 19 glow plugs, 50 starter; red, orange, brown/white, brown, white
        tarnbeck-u-17d: None, BAT supply, IGN ignition, H glow plugs, ST starter; red, brown, white
        tarnbeck-t-40: Some(BatteryCoil), B supply, I ignition, R ignition, S starter; red, orange, orange/white, white
        corrieford-8-speed: Some(BatteryCoil), B supply, I ignition, S starter; red, orange, white
        hexley-w-21e: Some(Magneto), B supply, S starter; red, white
        kelvok-r1: Some(Magneto), B supply, A accessory, S starter, M kill, G ground; , , , 
    "#]].assert_eq(&out);
}

#[test]
fn what_a_fault_does_is_worked_out_on_the_machine_itself() {
    let circuit = library::gt46();
    let document = profile_of_part(&circuit, "key").expect("a key switch");
    let own = Profile::of(document.clone()).expect("a sound profile");
    let mut out = String::new();
    for (position, lost, fed) in
        [("off", "M", None), ("start", "S", None), ("run", "A", None), ("run", "B", Some("M"))]
    {
        let subject = Subject::of_profile(&document);
        let (bench, _) = follow(&subject, |p, a, b, _| match fed {
            Some(fed) if p == position && (a, b) == (lost, fed) || (b, a) == (lost, "M") => true,
            None if p == position && (a == lost || b == lost) => false,
            _ => made(&own, p, a, b),
        });
        let findings = bench.findings();
        let names = bench.found.terminals().to_vec();
        let positions = bench.found.positions().to_vec();
        let on = MachineEffects::of(&circuit, "key", names, positions).expect("a key switch");
        let apart = |cell: kelvok_core::bench::Cell| {
            bench.found.joined(cell.position).0.known(cell.one, cell.other) == Some(false)
                && own.made(cell.position, cell.one, cell.other)
        };
        for (finding, effects) in findings.iter().zip(on.each(&findings, apart)) {
            let effects = effects.expect("one that can be put into the circuit");
            let mut all: Vec<_> =
                effects.shows.iter().flat_map(|(_, e)| e.iter().map(|e| e.words())).collect();
            all.sort_unstable();
            all.dedup();
            out += &format!("{position} {:?}: {:?}\n", finding.kind, all);
        }
    }
    expect![[r#"
        off Missing: ["spark stays on"]
        start Missing: ["does not crank"]
        run Missing: ["blades do not engage", "no fuel"]
        run Extra: ["no spark"]
    "#]]
    .assert_eq(&out);
}

proptest! {
    #[test]
    fn wires_are_moved_one_at_a_time_to_where_they_belong(
        order in Just((0..5usize).collect::<Vec<_>>()).prop_shuffle()
    ) {
        let old = profile("key-5-lettered-magneto");
        let names: Vec<String> = (1..=5).map(|n| n.to_string()).collect();
        let ids: Vec<&str> = old.terminals().iter().map(|t| t.id.as_str()).collect();
        let subject =
            Subject { terminals: names.clone(), profile: None, ..Subject::of_profile(old.document()) };
        let real = |name: &str| ids[order[name.parse::<usize>().expect("a number") - 1]];
        let (bench, _) = follow(&subject, |p, a, b, _| made(&old, p, real(a), real(b)));
        let plug: BTreeMap<String, String> =
            names.iter().zip(&ids).map(|(n, id)| (n.clone(), (*id).to_owned())).collect();
        let mut held = BTreeMap::new();
        let mut moved = 0;
        loop {
            let plan = wire_plan(&old, &plug, &bench.found, &held).expect("it fits");
            prop_assert_eq!(plan.orders, 4, "M and G, B and A either way round");
            let Some(step) = plan.moves.first() else { break };
            let at = |wire: &String| {
                let home = plug.iter().find(|(_, w)| *w == wire).map(|(spot, _)| spot.clone());
                held.get(wire).cloned().unwrap_or(home)
            };
            prop_assert_eq!(&step.from, &at(&step.wire));
            let taken = plug.values().any(|w| step.to.is_some() && at(w) == step.to);
            prop_assert!(!taken, "two wires in one place");
            held.insert(step.wire.clone(), step.to.clone());
            moved += 1;
            prop_assert!(moved <= 8);
        }
        let plan = wire_plan(&old, &plug, &bench.found, &held).expect("it fits");
        for (spot, wire) in &plan.target {
            let at = held.get(wire).cloned().unwrap_or_else(|| Some(spot.clone()));
            prop_assert_eq!(at.as_ref(), Some(spot));
        }
        let differs = plan.target.iter().any(|(spot, wire)| plug[spot] != *wire);
        prop_assert_eq!(differs, !plan.check.is_empty());
        for check in &plan.check {
            prop_assert_eq!(made(&old, &check.position, &check.one, &check.other), check.made);
        }
    }
}

#[test]
fn a_switch_that_lacks_a_position_of_the_old_one_is_no_replacement() {
    let old = profile("key-7-lettered-reverse");
    let (bench, _) = follow(&Subject::of_profile(old.document()), |p, a, b, _| made(&old, p, a, b));
    let plug: BTreeMap<String, String> =
        bench.found.terminals().iter().map(|t| (t.clone(), t.clone())).collect();
    assert!(wire_plan(&old, &plug, &bench.found, &BTreeMap::new()).is_some());
    // The same but for the position to mow in reverse.
    let mut fewer = old.document().clone();
    fewer.positions.retain(|p| p.id != "reverse-mow");
    fewer.made.remove("reverse-mow");
    let without = Profile::of(fewer.clone()).expect("a sound profile");
    let (bench, _) = follow(&Subject::of_profile(&fewer), |p, a, b, _| made(&without, p, a, b));
    assert_eq!(wire_plan(&old, &plug, &bench.found, &BTreeMap::new()), None);
}

#[test]
fn a_new_part_is_weighed_before_it_is_fitted() {
    let circuit = library::circuit("pellwick-r-30");
    let old = profile_of_part(&circuit, "key").expect("a key switch");
    let magneto = ignition_of(&circuit);
    let own = profile("key-5-lettered-magneto");
    let subject = Subject::of_profile(own.document());
    let (bench, _) = follow(&subject, |p, a, b, _| made(&own, p, a, b));
    let of = |bench: &Bench, part, wires| unfit(bench, part, &old, magneto, wires);
    assert_eq!(of(&bench, Some(own.document()), Some(0)), []);
    assert_eq!(of(&bench, None, Some(2)), [Unfit::WiresToMove { wires: 2 }, Unfit::RatingUnknown]);
    let untried = Bench::of(subject.clone(), &[]).expect("a sound subject");
    assert!(of(&untried, Some(own.document()), Some(0)).contains(&Unfit::Untested));
    let coil = profile("key-4-lettered-battery-coil");
    let (bench, _) =
        follow(&Subject::of_profile(coil.document()), |p, a, b, _| made(&coil, p, a, b));
    let all = of(&bench, Some(coil.document()), None);
    assert!(matches!(all[0], Unfit::WrongIgnition { .. }), "{all:?}");
    assert!(matches!(all[1], Unfit::Terminals { has: 4, wants: 5 }), "{all:?}");
    let (bad, _) = follow(&subject, |p, a, b, _| p != "start" && made(&own, p, a, b));
    let all = of(&bad, Some(own.document()), None);
    assert_eq!(all, [Unfit::Bad, Unfit::OtherTable]);
}

#[test]
fn a_subject_is_told_everything_that_is_wrong_with_it() {
    let own = profile("interlock-2-open");
    let mut subject = Subject::of_profile(own.document());
    subject.terminals = vec!["1".into(), "1".into(), " b".into()];
    subject.layout = BTreeMap::from([("1".into(), "9".into()), ("x".into(), "1".into())]);
    subject.operations = 0;
    let said: Vec<_> = subject.problems().into_iter().map(|p| p.sentence).collect();
    for words in [
        "Two terminals are named \"1\"",
        "has blanks at its ends",
        "has 2, this one 3",
        "There is no terminal \"x\"",
        "has no terminal \"9\"",
        "A layout says where every terminal is",
        "It is operated 1 to 1000 times",
    ] {
        assert!(said.iter().any(|s| s.contains(words)), "{words}: {said:#?}");
    }
    let alike = Subject { terminals: vec!["B".into(), "b".into()], ..subject };
    assert_eq!(alike.alike(), [("B".to_owned(), "b".to_owned())]);
}

#[test]
fn a_log_goes_out_as_a_table_and_comes_back() {
    let by_machine = match probe("pressed", "1", "2", true) {
        BenchEntry::Probe { position, from, to, typed, sprung_from, .. } => BenchEntry::Probe {
            position,
            from,
            to,
            typed,
            sprung_from,
            reading: Reading::Ohms(Some(0.4)),
            worked_by: WorkedBy::Machine,
        },
        other => other,
    };
    let log = [
        leads(),
        probe("released", "1", "2", false),
        sprung("pressed", "released", "1", "2", false),
        by_machine,
    ];
    let text = TableRow::to_csv(&log);
    expect![[r#"
        position,from,to,reading,after,by
        released,1,2,silent,,hand
        released,1,2,silent,pressed,hand
        pressed,1,2,0.4,,machine
    "#]]
    .assert_eq(&text);
    let (rows, errors) = TableRow::read_csv(&text);
    assert_eq!(errors, []);
    assert_eq!(rows.len(), 3);
    assert_eq!(rows[1].sprung_from.as_deref(), Some("pressed"));
    assert_eq!(rows[2].worked_by, WorkedBy::Machine);
    let (_, errors) = TableRow::read_csv("released,1,2,buzz,,robot\n");
    assert!(errors[0].sentence.contains("robot"));
}
