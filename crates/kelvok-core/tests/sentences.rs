//! What customers say, read by the reader: sentences that it was written with, and as many that were
//! kept apart.
//!
//! A line is a machine, what was said, and what is to come of it: a symptom with its `control=position`,
//! `hot`, `bumps` or fuse; `ask` with what it may be where the words leave it open; `normal` where a good
//! machine does that too; `clash` where two things cannot both be. Then `off-and-on`, times an hour, and
//! what was done to which part.

mod library;

use kelvok_core::circuit::Circuit;
use kelvok_core::complaint::{Symptom, Understood, When, read};
use std::collections::BTreeMap;

fn code(symptom: Symptom) -> String {
    serde_json::to_value(symptom).unwrap().as_str().unwrap().to_owned()
}

fn at(when: &When) -> String {
    match when {
        When::Always => String::new(),
        When::Control { control, position } => format!(" {control}={position}"),
        When::Hot => " hot".to_owned(),
        When::Bumps => " bumps".to_owned(),
        When::Fuse { fuse } => format!(" {fuse}"),
    }
}

/// What came of it, as the lines have it.
fn came(circuit: &Circuit, read: &Understood) -> String {
    if read.clash {
        return "clash".to_owned();
    }
    if read.normal {
        return "normal".to_owned();
    }
    let mut all = Vec::new();
    for complaint in &read.complaints {
        all.push(match complaint.sure() {
            Some((symptom, telling)) => format!("{}{}", code(*symptom), at(&telling.when)),
            None => {
                let mut may: Vec<_> = complaint.may_be.iter().map(|(s, _)| code(*s)).collect();
                may.dedup();
                format!("ask {}", may.join("/"))
            }
        });
    }
    if all.is_empty() {
        all.push("ask".to_owned());
    }
    if read.at_times {
        all.push("off-and-on".to_owned());
    }
    all.extend(read.times_an_hour.map(|t| format!("{t}/h")));
    for (unit, work) in &read.worked_on {
        let work = serde_json::to_value(work).unwrap().as_str().unwrap().to_owned();
        all.push(format!("{work}={}", unit.id(circuit)));
    }
    all.join(" ")
}

/// Of a list: how many lines, those read otherwise, and those that were read otherwise and surely.
fn read_all(list: &str) -> (usize, Vec<String>, Vec<String>) {
    let mut circuits: BTreeMap<&str, Circuit> = BTreeMap::new();
    let (mut lines, mut otherwise, mut surely) = (0, Vec::new(), Vec::new());
    for line in list.lines() {
        let [machine, said, wanted] = line.split('\t').collect::<Vec<_>>()[..] else {
            panic!("a machine, what was said, what comes of it: {line}");
        };
        let circuit = circuits.entry(machine).or_insert_with(|| library::circuit(machine));
        let read = read(circuit, said);
        let came = came(circuit, &read);
        lines += 1;
        if came != wanted {
            let told = format!("{machine}: {said}\n    wanted {wanted}\n    came   {came}");
            let sure = |c: &kelvok_core::complaint::Complaint| {
                c.sure().is_some_and(|(s, t)| {
                    !wanted.starts_with(&format!("{}{}", code(*s), at(&t.when)))
                })
            };
            if !read.clash && !read.normal && read.complaints.iter().any(sure) {
                surely.push(told.clone());
            }
            otherwise.push(told);
        }
    }
    (lines, otherwise, surely)
}

#[test]
fn the_sentences_it_was_written_with() {
    let (_, otherwise, _) = read_all(include_str!("sentences/worked_with.tsv"));
    assert!(otherwise.is_empty(), "{}", otherwise.join("\n"));
}

#[test]
fn of_those_kept_apart_four_in_five_are_wholly_right_and_none_is_surely_wrong() {
    let (lines, otherwise, surely) = read_all(include_str!("sentences/kept_apart.tsv"));
    let right = lines - otherwise.len();
    eprintln!("{right} of {lines} wholly right\n{}", otherwise.join("\n"));
    assert!(right * 5 >= lines * 4, "{right} of {lines}:\n{}", otherwise.join("\n"));
    assert!(surely.is_empty(), "surely wrong:\n{}", surely.join("\n"));
}

/// Whatever is typed is read to some end, and nothing is taken for what it is not.
#[test]
fn rubbish_is_read_to_nothing() {
    let circuit = library::circuit("dunmarrow-z-52");
    let long = "and it was raining ".repeat(300);
    for said in
        ["", " ", "🚜🔥", "<script>alert(1)</script>", "'; drop table jobs; --", "你好", &long]
    {
        let read = read(&circuit, said);
        assert!(read.complaints.is_empty() && !read.clash, "{said}: {read:?}");
    }
}
