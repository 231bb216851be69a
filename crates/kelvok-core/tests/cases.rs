//! The case book: jobs played in the order a mechanic chose, and what must be said after which entry.

mod case_book;

use case_book::{Case, all, circuit_of};
use kelvok_core::diagnosis::Model;
use std::collections::BTreeMap;

/// Every case by machine: a model is made once for its own.
fn by_machine() -> BTreeMap<String, Vec<(String, Case)>> {
    let mut machines: BTreeMap<String, Vec<_>> = BTreeMap::new();
    for (name, case) in all() {
        machines.entry(case.machine.clone()).or_default().push((name, case));
    }
    machines
}

#[test]
fn every_case_is_judged_as_its_book_says() {
    let mut failed = Vec::new();
    for (machine, cases) in by_machine() {
        let model = Model::new(circuit_of(&machine));
        for (name, case) in cases {
            let missing = case.faults_found(&model);
            match &case.not_yet {
                None if missing.is_empty() => {}
                None => {
                    failed.push(format!("{name}: {}\n    {}", case.title, missing.join("\n    ")))
                }
                Some(why) if missing.is_empty() => {
                    failed.push(format!("{name} passes now: take out its `not_yet` ({why})"));
                }
                Some(_) => {}
            }
        }
    }
    assert!(failed.is_empty(), "{} cases:\n{}", failed.len(), failed.join("\n"));
}

#[test]
fn every_case_is_about_something_and_says_what_was_wrong() {
    let cases = all();
    assert!(cases.len() >= 60, "{}", cases.len());
    for (name, case) in &cases {
        let circuit = circuit_of(&case.machine);
        case.changes(&circuit);
        let entries = case.evidence(&circuit).len();
        assert!(!case.says.is_empty() && !case.title.is_empty(), "{name}");
        assert!(case.wrong.iter().all(|e| (1..=entries).contains(e)), "{name}");
        assert_eq!(case.story().machine, case.machine, "{name}");
        let last = case.says.iter().map(|s| s.after).max();
        assert!(last.is_some_and(|l| l + 2 >= entries), "{name}: what follows is not judged");
    }
    let not_yet = cases.iter().filter(|(_, c)| c.not_yet.is_some()).count();
    assert!(not_yet * 3 <= cases.len(), "{not_yet} of {} are promises", cases.len());
}

/// What a shorted clutch would measure alone is not said where burnt contacts are there besides.
#[test]
fn how_great_a_fault_is_alone_is_not_said_of_one_of_two() {
    let (_, case) = all().into_iter().find(|(n, _)| n == "clutch-shorted-burnt-contacts").unwrap();
    let model = Model::new(circuit_of(&case.machine));
    let log = case.evidence(model.circuit());
    let belief = model.judge(&log);
    let both = model.suspects().list.iter().zip(&belief.suspects).filter(|(_, p)| **p > 0.5);
    assert!(both.count() >= 2, "two faults are believed");
    for suspect in 0..model.suspects().list.len() {
        assert_eq!(model.size(&belief, &log, suspect), None, "{suspect}");
    }
}
