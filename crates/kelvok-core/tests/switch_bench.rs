//! The switch bench: what follows from a table, what fits it, and what to probe next.

use expect_test::{expect, expect_file};
use kelvok_core::bench::{
    Cell, Expected, FoundTable, Function, Grade, Joined, MOVE_PROBES, PROFILES, Profile, Seen,
    SwitchKind, assignments, by_logic, identify, miss_rate_below, next_cell, next_probe,
    operations_for, optimal_mean_probes, profile_schema,
};
use proptest::prelude::*;

fn profile(id: &str) -> Profile {
    let all = Profile::shipped();
    all.into_iter().find(|p| p.document().id == id).expect("a shipped profile")
}

/// What would be found of a switch of this profile, its terminals in another order.
fn table(profile: &Profile, order: &[usize], cells: impl Fn(Cell) -> bool) -> FoundTable {
    let names = (0..order.len()).map(|t| format!("t{t}"));
    let positions = profile.positions().iter().map(|p| p.id.clone());
    let mut table = FoundTable::new(names.collect(), positions.collect()).expect("there is room");
    for position in 0..profile.positions().len() {
        for one in 0..order.len() {
            for other in one + 1..order.len() {
                let cell = Cell::new(position, one, other);
                let made = profile.made(position, order[one], order[other]);
                if cells(cell) {
                    table.add(cell, if made { Seen::Made } else { Seen::Open });
                }
            }
        }
    }
    table
}

/// Every order of so many terminals.
fn orders(terminals: usize) -> Vec<Vec<usize>> {
    if terminals == 0 {
        return vec![vec![]];
    }
    let shorter = orders(terminals - 1);
    let longer = shorter.iter().flat_map(|order| {
        (0..terminals).map(move |at| {
            let mut order = order.clone();
            order.insert(at, terminals - 1);
            order
        })
    });
    longer.collect()
}

#[test]
fn every_shipped_profile_is_sound_and_only_these_are_alike_in_their_contacts() {
    let all = Profile::shipped();
    assert_eq!(all.len(), PROFILES.len());
    for (i, one) in all.iter().enumerate() {
        for other in &all[i + 1..] {
            assert_ne!(one.document().id, other.document().id);
            let order: Vec<usize> = (0..other.terminals().len()).collect();
            let fits = assignments(one, &table(other, &order, |_| true), 1).count;
            let names = (&one.document().id, &other.document().id);
            // Which number a maker prints, or what works a plunger, is no matter of the contacts.
            let alike = [
                ("key-5-lettered-magneto", "key-5-numbered-magneto"),
                ("interlock-2-open", "interlock-2-ball"),
                ("interlock-2-closed", "interlock-2-sliding-plate"),
                ("pto-3-columns", "pto-3-columns-rocker"),
            ];
            let same = alike.contains(&(names.0.as_str(), names.1.as_str()));
            assert_eq!(fits > 0, same, "{names:?}");
        }
    }
}

#[test]
fn the_schema_in_the_library_is_the_one_of_the_code() {
    let text = serde_json::to_string_pretty(&profile_schema()).expect("JSON");
    expect_file!["../../../switches/schema.json"].assert_eq(&format!("{text}\n"));
}

#[test]
fn a_profile_is_told_everything_that_is_wrong_with_it() {
    let text = r#"{"format": "kelvok-switch-2", "id": "x", "name": "X", "kind": "key-switch",
        "terminals": [{"id": "B", "function": "supply", "at": [0, 0]},
                      {"id": "B", "function": "starter", "at": [0, 0]}],
        "positions": [{"id": "off", "name": "off", "returns_to": "run"}],
        "made": {"run": [["B", "S"], ["B"]]}, "amps": 0}"#;
    let problems = Profile::read(text).expect_err("nothing about it is right");
    let said: Vec<_> = problems.iter().map(|p| format!("{}: {}", p.path, p.sentence)).collect();
    for (path, words) in [
        ("/format", "kelvok-switch-1"),
        ("/terminals/1/id", "Two terminals are named \"B\"."),
        ("/positions/0/returns_to", "springs back to another position"),
        ("/made/run", "There is no position \"run\"."),
        ("/made/run/0", "There is no terminal \"S\"."),
        ("/made/run/1", "It takes two to be joined."),
        ("/amps", "A rating is over 0 A."),
    ] {
        assert!(said.iter().any(|s| s.starts_with(path) && s.contains(words)), "{path}: {said:#?}");
    }
    let unknown = Profile::read(r#"{"format": "kelvok-switch-1", "colour": "red"}"#);
    assert!(unknown.expect_err("it has no colour")[0].sentence.contains("colour"));
}

#[test]
fn joined_terminals_are_one_class_and_what_follows_is_not_asked() {
    let mut joined = Joined::new(5);
    for (one, other, made) in [(0, 1, true), (2, 3, true), (0, 2, false), (4, 0, false)] {
        joined.tell(one, other, made).expect("nothing speaks against it");
    }
    assert_eq!(joined.known(1, 3), Some(false), "0-1 and 2-3 are joined, 0-2 apart");
    assert_eq!(joined.open_questions(), [(2, 4)]);
    joined.tell(3, 4, false).expect("nothing speaks against it");
    assert!(joined.is_complete());
    assert_eq!(joined.classes(), [vec![0, 1], vec![2, 3], vec![4]]);
    assert_eq!(Joined::certificate(5, 3), 5, "as many as were told");
}

#[test]
fn what_cannot_hold_together_is_named_with_the_fewest_that_say_otherwise() {
    let mut joined = Joined::new(6);
    for (one, other) in [(1, 2), (2, 3), (3, 4), (1, 4)] {
        joined.tell(one, other, true).expect("they join up");
    }
    let conflict = joined.tell(1, 3, false).expect_err("they are joined");
    assert_eq!(conflict.against, [(1, 2), (2, 3)]);
    joined.tell(5, 3, false).expect("nothing is known of 5");
    let conflict = joined.tell(2, 5, true).expect_err("2 is joined to 3, which is apart from 5");
    assert_eq!(conflict.against, [(2, 3), (3, 5)]);
    assert_eq!(joined.known(1, 3), Some(true), "what was found before stands");
}

#[test]
fn a_cell_tried_again_is_graded_by_all_of_it() {
    let mut table =
        FoundTable::new(vec!["B".into(), "S".into()], vec!["start".into()]).expect("there is room");
    let cell = Cell::new(0, 1, 0);
    let mut grade = |seen: Seen| {
        table.add(cell, seen);
        table.grade(cell).expect("it was tried")
    };
    assert_eq!(grade(Seen::of_ohms(Some(0.2))), Grade::Made);
    assert_eq!(grade(Seen::of_ohms(Some(4.0))), Grade::Resistive { ohms: 4.0 });
    assert_eq!(grade(Seen::of_ohms(None)), Grade::AtTimes { made: 2, of: 3 });
    assert_eq!(Seen::of_ohms(Some(85.0)), Seen::Through { ohms: 85.0 }, "a coil");
    assert_eq!(Seen::of_ohms(Some(2e6)), Seen::Open, "dirt");
}

#[test]
fn every_assignment_that_fits_is_found_and_none_other() {
    // Against every order there is, each held against each cell.
    for profile in Profile::shipped().iter().filter(|p| p.terminals().len() <= 6) {
        let terminals = profile.terminals().len();
        let all = orders(terminals);
        for (seed, order) in all.iter().enumerate().step_by(all.len() / 7 + 1) {
            for share in [0, 1, 2, 3, 5] {
                let hash =
                    |c: Cell| (c.position * 37 + c.one * 11 + c.other * 7 + seed) % 5 < share;
                let table = table(profile, order, hash);
                let fits = |o: &Vec<usize>| {
                    table.cells().all(|(c, _)| {
                        table.made(c) == Some(profile.made(c.position, o[c.one], o[c.other]))
                    })
                };
                let mut right: Vec<Vec<u8>> = all
                    .iter()
                    .filter(|o| fits(o))
                    .map(|o| o.iter().map(|t| *t as u8).collect())
                    .collect();
                let mut found = assignments(profile, &table, usize::MAX);
                let id = &profile.document().id;
                assert_eq!(found.count, right.len() as u64, "{id} {order:?} {share}");
                right.sort();
                found.first.sort();
                assert_eq!(found.first, right, "{id} {order:?} {share}");
                for terminal in 0..terminals {
                    let can = right.iter().fold(0, |mask, fit| mask | 1u16 << fit[terminal]);
                    assert_eq!(found.candidates[terminal], can, "{id} {order:?} {share}");
                }
            }
        }
    }
}

#[test]
fn a_table_with_nothing_in_it_is_counted_exactly() {
    let profile = profile("pto-3-columns");
    let order: Vec<usize> = (0..9).collect();
    let found = assignments(&profile, &table(&profile, &order, |_| false), 1000);
    assert_eq!((found.count, found.first.len()), (362_880, 1000));
    assert!(found.candidates.iter().all(|c| *c == 0b1_1111_1111));
    // Complete: the columns are alike, and within one nothing is.
    let found = assignments(&profile, &table(&profile, &order, |_| true), 1000);
    assert_eq!(found.count, 6);
}

#[test]
fn probe_by_probe_every_shipped_switch_is_known() {
    let all = Profile::shipped();
    for (which, truth) in all.iter().enumerate() {
        let terminals = truth.terminals().len();
        let order: Vec<usize> =
            (0..terminals).map(|t| (t * 2 + 1) % (terminals | 1) % terminals).collect();
        let mut sorted = order.clone();
        sorted.sort_unstable();
        sorted.dedup();
        let order = if sorted.len() == terminals { order } else { (0..terminals).rev().collect() };
        let mut found = table(truth, &order, |_| false);
        let (mut at, mut probes) = (0, 0);
        while let Some(probe) = next_probe(&all, &found, at, MOVE_PROBES) {
            let Cell { position, one, other } = probe.cell;
            let made = truth.made(position, order[one], order[other]);
            found.add(probe.cell, if made { Seen::Made } else { Seen::Open });
            at = position;
            probes += 1;
        }
        let id = &truth.document().id;
        let left = identify(&all, &found, 1);
        assert!(left.iter().any(|i| i.profile == which), "{id} is lost");
        // All that fit show the same everywhere: they differ in print only.
        for identity in &left {
            let fit = &identity.fits.first[0];
            let own = &all[identity.profile];
            for (position, stand) in truth.positions().iter().enumerate() {
                let theirs = own.position(&stand.id).expect("the same positions");
                for one in 0..terminals {
                    for other in 0..terminals {
                        let made = own.made(theirs, fit[one].into(), fit[other].into());
                        assert_eq!(made, truth.made(position, order[one], order[other]), "{id}");
                    }
                }
            }
        }
        let cells = truth.positions().len() * terminals * (terminals - 1) / 2;
        assert!(probes < cells || cells <= 2, "{id}: {probes} of {cells}");
    }
}

/// What the next probe proposed costs until the switch is known, in probes.
fn cost_until_known(all: &[Profile], truth: &Profile, order: &[usize]) -> f64 {
    let mut found = table(truth, order, |_| false);
    let (mut at, mut cost) = (0, 0.0);
    while let Some(probe) = next_probe(all, &found, at, MOVE_PROBES) {
        let Cell { position, one, other } = probe.cell;
        let made = truth.made(position, order[one], order[other]);
        found.add(probe.cell, if made { Seen::Made } else { Seen::Open });
        cost += 1.0 + MOVE_PROBES * at.abs_diff(position) as f64;
        at = position;
    }
    cost
}

#[test]
fn identification_takes_at_most_a_fifth_more_than_the_optimal_tree() {
    let all = Profile::shipped();
    let mut compared = Vec::new();
    for (first, profile) in all.iter().enumerate() {
        let terminals = profile.terminals().len();
        let alike = |p: &&Profile| {
            p.terminals().len() == terminals
                && p.positions().iter().map(|p| &p.id).eq(profile.positions().iter().map(|p| &p.id))
        };
        let own: Vec<&Profile> = all.iter().filter(alike).collect();
        let met = all[..first].iter().any(|p| alike(&p));
        if met || terminals > 5 {
            continue;
        }
        let optimal = optimal_mean_probes(&own, MOVE_PROBES).expect("few tables");
        let orders = orders(terminals);
        // Those of other terminals or positions never fit.
        let among: Vec<Profile> = own.iter().map(|p| (*p).clone()).collect();
        let costs = own.iter().flat_map(|p| orders.iter().map(|o| cost_until_known(&among, p, o)));
        let mean = costs.sum::<f64>() / (own.len() * orders.len()) as f64;
        assert!(mean > optimal - 1e-9, "{optimal} is not the optimum: {mean}");
        assert!(mean <= 1.2 * optimal, "{}: {mean} for {optimal}", profile.document().id);
        compared.push(mean / optimal);
    }
    assert_eq!(compared.len(), 10);
    let worst = compared.iter().copied().fold(0.0, f64::max);
    assert!((1.09..1.12).contains(&worst), "docs/switches.md says 1.10: {worst}");
}

/// Six and seven terminals have too many tables for the optimal tree; what they take is said.
#[test]
fn identification_of_six_and_seven_terminals_takes_so_many_probes() {
    let all = Profile::shipped();
    let mut out = String::new();
    for terminals in [6, 7] {
        let own = all.iter().filter(|p| p.terminals().len() == terminals);
        for profile in own {
            // Every order is too many; every so-manieth goes through all of them evenly.
            let costs = orders(terminals).into_iter().step_by(97);
            let costs: Vec<f64> = costs.map(|o| cost_until_known(&all, profile, &o)).collect();
            let mean = costs.iter().sum::<f64>() / costs.len() as f64;
            out += &format!("{}: {mean:.1} of {} orders\n", profile.document().id, costs.len());
        }
    }
    expect![[r#"
        key-6-lettered-magneto: 18.0 of 8 orders
        key-7-lettered-magneto: 16.3 of 52 orders
        key-7-lettered-reverse: 20.9 of 52 orders
    "#]]
    .assert_eq(&out);
}

#[test]
fn a_whole_table_of_a_switch_as_it_should_be_takes_no_probe_and_no_move_too_many() {
    for profile in Profile::shipped() {
        let terminals = profile.terminals().len();
        let order: Vec<usize> = (0..terminals).rev().collect();
        let as_profile: Vec<u8> = order.iter().map(|t| *t as u8).collect();
        let expected = Expected { profile: &profile, terminals: &as_profile };
        let positions = profile.positions().len();
        for start in 0..positions {
            let mut found = table(&profile, &order, |_| false);
            let (mut at, mut probes, mut moves) = (start, 0, 0);
            while let Some(cell) = next_cell(Some(expected), &found, at) {
                let made = profile.made(cell.position, order[cell.one], order[cell.other]);
                found.add(cell, if made { Seen::Made } else { Seen::Open });
                moves += at.abs_diff(cell.position);
                at = cell.position;
                probes += 1;
            }
            let fewest = (0..positions).map(|p| {
                let (joined, conflicts) = found.joined(p);
                assert!(joined.is_complete() && conflicts.is_empty());
                Joined::certificate(terminals, joined.classes().len())
            });
            let id = &profile.document().id;
            assert_eq!(probes, fewest.sum::<usize>(), "{id}");
            // To the nearer end, and from there to the other.
            let ends = start.min(positions - 1 - start);
            assert_eq!(moves, ends + positions - 1, "{id} from {start}");
        }
    }
}

#[test]
fn a_pair_that_comes_and_goes_is_asked_by_way_of_its_class() {
    let names = |all: &[&str]| all.iter().map(|n| (*n).to_owned()).collect::<Vec<_>>();
    let mut found = FoundTable::new(names(&["1", "2", "3"]), names(&["run"])).expect("room");
    for (one, other, seen) in [(0, 1, Seen::Made), (0, 2, Seen::Made), (0, 2, Seen::Open)] {
        found.add(Cell::new(0, one, other), seen);
    }
    let next = next_cell(None, &found, 0);
    assert_eq!(next, Some(Cell::new(0, 1, 2)), "2 is joined to 1");
    found.add(Cell::new(0, 1, 2), Seen::Open);
    assert_eq!(next_cell(None, &found, 0), None);
    assert_eq!(FoundTable::new(names(&["1", "1"]), names(&["run"])), None, "named alike");
    let many: Vec<_> = (0..17).map(|t| t.to_string()).collect();
    assert_eq!(FoundTable::new(many, names(&["run"])), None, "too many");
}

#[test]
fn a_switch_that_is_not_as_it_should_be_is_found_out_all_the_same() {
    let profile = profile("key-5-lettered-magneto");
    let order = [0, 1, 2, 3, 4];
    let as_profile: Vec<u8> = order.iter().map(|t| *t as u8).collect();
    // B to M in run: the supply is on the kill wire.
    let [off, run, start] = [0, 1, 2];
    let truth = |cell: Cell| match (cell.position, cell.one, cell.other) {
        (1, 0, 2) | (1, 2, 4) => true,
        (position, one, other) => profile.made(position, one, other),
    };
    let expected = Expected { profile: &profile, terminals: &as_profile };
    let mut found = table(&profile, &order, |_| false);
    let mut at = off;
    while let Some(cell) = next_cell(Some(expected), &found, at) {
        found.add(cell, if truth(cell) { Seen::Made } else { Seen::Open });
        at = cell.position;
    }
    assert_eq!(found.joined(run).0.classes(), [vec![0, 2, 4], vec![1], vec![3]]);
    assert_eq!(found.joined(start).0.classes(), [vec![0, 1, 4], vec![2], vec![3]]);
    assert_eq!(assignments(&profile, &found, 1).count, 0, "it is of no such profile");
}

#[test]
fn the_logic_of_positions_never_rules_out_what_a_terminal_is_for() {
    let keys = Profile::shipped().into_iter();
    let mut sure = 0;
    for profile in keys.filter(|p| p.document().kind == SwitchKind::KeySwitch) {
        let order: Vec<usize> = (0..profile.terminals().len()).rev().collect();
        let found = by_logic(&table(&profile, &order, |_| true));
        for (terminal, functions) in order.iter().zip(found) {
            let own = &profile.terminals()[*terminal];
            let id = &profile.document().id;
            assert!(functions.contains(&own.function), "{id} {}: {functions:?}", own.id);
            sure += usize::from(functions.len() == 1);
        }
    }
    assert!(sure >= 8, "{sure}");
    // Where nothing was found joined nothing is said.
    let lettered = profile("key-5-lettered-magneto");
    let nothing = by_logic(&table(&lettered, &[0, 1, 2, 3, 4], |_| false));
    assert!(nothing.iter().all(Vec::is_empty), "{nothing:?}");
    // A switch of no profile: the starter's terminal is the one that start alone joins.
    let odd = FoundTable::read_csv(
        "position,from,to,reading\noff,p,q,buzz\nrun,r,s,buzz\nstart,r,t,buzz\nstart,r,s,silent\n",
    );
    let odd = by_logic(&odd.0);
    assert_eq!(odd[0], [Function::Kill, Function::Ground]);
    assert_eq!(odd[4], [Function::Starter]);
    assert!(odd[2].contains(&Function::Supply) && odd[3].contains(&Function::Accessory), "{odd:?}");
}

#[test]
fn operations_without_a_miss_bound_the_rate_of_misses() {
    assert!((miss_rate_below(0, 0.95) - 1.0).abs() < 1e-12);
    assert!((miss_rate_below(1, 0.95) - 0.95).abs() < 1e-12);
    assert!((miss_rate_below(60, 0.95) - 0.0487).abs() < 1e-4, "some three in sixty");
    for (rate, confidence) in [(0.05, 0.95), (0.01, 0.9), (0.2, 0.99)] {
        let wanted = operations_for(rate, confidence);
        assert!(miss_rate_below(wanted, confidence) <= rate + 1e-12);
        assert!(miss_rate_below(wanted - 1, confidence) > rate);
    }
    assert_eq!(operations_for(0.05, 0.95), 59);
}

#[test]
fn a_table_is_read_from_whatever_a_spreadsheet_makes_of_it() {
    let text = "\u{feff}Position;From;To;Reading\n\noff;1;3;buzz\noff;1;3;0,2 ohm\r\n;;;\n\
                start;5;4;OL\nstart;5;5;buzz\nrun;5;2;maybe\nrun;5\n";
    let (table, errors) = FoundTable::read_csv(text);
    assert_eq!(table.positions(), ["off", "start"]);
    assert_eq!(table.terminals(), ["1", "3", "5", "4"]);
    assert_eq!(table.grade(Cell::new(0, 0, 1)), Some(Grade::Made));
    assert_eq!(table.grade(Cell::new(1, 2, 3)), Some(Grade::Open));
    let said: Vec<_> = errors.iter().map(ToString::to_string).collect();
    assert_eq!(
        said,
        [
            "line 7: from 5 to itself tells nothing",
            "line 8: \"maybe\" is not beep, no beep or ohms",
            "line 9: no to",
        ]
    );
    let (again, errors) = FoundTable::read_csv(&table.to_csv());
    assert_eq!(errors, []);
    assert_eq!(again.to_csv(), table.to_csv());
    let many: String = (0..10_000).map(|i| format!("off,a,b{},silent\n", i % 40)).collect();
    let (table, errors) = FoundTable::read_csv(&many);
    assert_eq!(table.terminals().len(), 16);
    assert!(errors.iter().all(|e| e.sentence == "more than 16 terminals"));
}

proptest! {
    #[test]
    fn no_text_is_too_strange_to_be_read(text in "\\PC{0,200}", rows in 0usize..20) {
        let text = text.repeat(rows);
        let (table, _) = FoundTable::read_csv(&text);
        prop_assert!(table.terminals().len() <= 16 && table.positions().len() <= 8);
    }

    /// Told in any order, what is known is what follows from the classes; and never more.
    #[test]
    fn what_is_known_is_what_follows(
        classes in prop::collection::vec(0usize..4, 2..7),
        cells in prop::collection::vec((0usize..7, 0usize..7), 0..20),
    ) {
        let n = classes.len();
        let mut joined = Joined::new(n);
        let cells: Vec<_> = cells.into_iter().filter(|(a, b)| a < b && *b < n).collect();
        for (a, b) in &cells {
            prop_assert!(joined.tell(*a, *b, classes[*a] == classes[*b]).is_ok());
        }
        for a in 0..n {
            for b in 0..n {
                // Every way to part the terminals that agrees with what was told.
                let mut all = (0..n.pow(n as u32)).map(|code| {
                    (0..n).map(|t| code / n.pow(t as u32) % n).collect::<Vec<_>>()
                });
                let agrees = |other: &Vec<usize>| {
                    cells.iter().all(|(x, y)| {
                        (other[*x] == other[*y]) == (classes[*x] == classes[*y])
                    })
                };
                let sure = n <= 5 && a != b;
                if sure {
                    let differs = |made: bool| {
                        let made = move |o: &Vec<usize>| (o[a] == o[b]) == made;
                        move |o: Vec<usize>| agrees(&o) && made(&o)
                    };
                    let known = match (all.clone().any(differs(true)), all.any(differs(false))) {
                        (true, false) => Some(true),
                        (false, true) => Some(false),
                        _ => None,
                    };
                    prop_assert_eq!(joined.known(a, b), known);
                }
            }
        }
    }
}
