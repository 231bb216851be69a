//! What is waited for at the switch bench: every order of the terminals that fits, and the next
//! probe.

use criterion::{Criterion, criterion_group, criterion_main};
use kelvok_core::bench::{
    Cell, FoundTable, MOVE_PROBES, Profile, ProfileDocument, Seen, assignments, identify,
    next_probe,
};
use std::hint::black_box;

/// A table of a switch in the order of its profile, with every so-manieth cell known.
fn table(profile: &Profile, every: usize) -> FoundTable {
    let names = profile.terminals().iter().map(|t| t.id.clone());
    let positions = profile.positions().iter().map(|p| p.id.clone());
    let mut table = FoundTable::new(names.collect(), positions.collect()).expect("room");
    let mut count = 0;
    for position in 0..profile.positions().len() {
        for one in 0..profile.terminals().len() {
            for other in one + 1..profile.terminals().len() {
                count += 1;
                if every > 0 && count % every == 0 {
                    let made = profile.made(position, one, other);
                    let seen = if made { Seen::Made } else { Seen::Open };
                    table.add(Cell::new(position, one, other), seen);
                }
            }
        }
    }
    table
}

/// The seven lettered terminals in so many profiles, each with other pairs joined.
fn sevens(profiles: usize) -> Vec<Profile> {
    let all = Profile::shipped();
    let seven = all.iter().find(|p| p.document().id == "key-7-lettered-magneto");
    let document = seven.expect("a shipped profile").document();
    let other = |i: usize| {
        let mut other: ProfileDocument = document.clone();
        let id = |t: usize| document.terminals[t % 7].id.clone();
        other.id = format!("seven-{i}");
        other.made.insert("lights".into(), vec![vec![id(i), id(i + 1 + i / 7)]]);
        Profile::of(other).expect("sound")
    };
    (0..profiles).map(other).collect()
}

/// A switch of ten terminals.
fn ten() -> Profile {
    let mut document = sevens(1)[0].document().clone();
    for extra in ["X", "Y", "Z"] {
        let mut terminal = document.terminals[0].clone();
        terminal.id = extra.into();
        document.terminals.push(terminal);
    }
    document
        .made
        .insert("run".into(), vec![vec!["B".into(), "X".into()], vec!["Y".into(), "Z".into()]]);
    Profile::of(document).expect("sound")
}

fn fits(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("assignments that fit");
    let profiles = sevens(12);
    for (words, every) in [("nothing known", 0), ("a third known", 3), ("all known", 1)] {
        let table = table(&profiles[3], every);
        group.bench_function(format!("7 terminals, 12 profiles, {words}"), |b| {
            b.iter(|| black_box(identify(&profiles, &table, usize::MAX)));
        });
    }
    let ten = ten();
    for (words, every) in [("nothing known", 0), ("half known", 2)] {
        let table = table(&ten, every);
        group.bench_function(format!("10 terminals, {words}"), |b| {
            b.iter(|| black_box(assignments(&ten, &table, 1000)));
        });
    }
    group.finish();
}

fn next(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("next probe");
    let profiles = sevens(12);
    for (words, every) in [("nothing known", 0), ("a tenth known", 10)] {
        let table = table(&profiles[3], every);
        group.bench_function(format!("7 terminals, 4 positions, 12 profiles, {words}"), |b| {
            b.iter(|| black_box(next_probe(&profiles, &table, 0, MOVE_PROBES)));
        });
    }
    group.finish();
}

criterion_group!(benches, fits, next);
criterion_main!(benches);
