//! Every library machine: what it is said to do, its duties, and the parts of its sheet that matter,
//! as text that a mechanic has read for truth.

mod library;

use expect_test::expect_file;
use kelvok_core::circuit::{Circuit, fault_notation};
use kelvok_core::interlock::{
    FaultSheet, InterlockTable, Judge, Noticeable, check, prove_duties, sentences,
};
use kelvok_core::machine::LIBRARY;
use std::fmt::Write;

/// Sentences and duties of a machine, as found or as built.
fn logic(circuit: &Circuit, judge: &mut Judge<'_>) -> String {
    let table = InterlockTable::of(judge).expect("few enough combinations");
    let mut text = String::new();
    for sentence in sentences(circuit, &table) {
        writeln!(text, "  {}", sentence.says).expect("text");
    }
    for proof in prove_duties(judge) {
        let duty = &circuit.document().duties[proof.duty];
        let verdict = match (proof.checked, proof.broken.len()) {
            (0, _) => "NEVER COMES UP".to_owned(),
            (n, 0) => format!("proved in {n}"),
            (n, broken) => format!("BROKEN in {broken} of {n}"),
        };
        writeln!(text, "  {}: {verdict}", duty.id).expect("text");
        if let Some(condition) = proof.broken.first() {
            let named: Vec<_> = condition.named(circuit).map(|(c, p)| format!("{c}={p}")).collect();
            writeln!(text, "    as with {}", named.join(" ")).expect("text");
        }
    }
    text
}

fn sheet(circuit: &Circuit) -> String {
    let sheet = FaultSheet::of(circuit);
    let count = |v: Noticeable| sheet.rows.iter().filter(|r| r.verdict == v).count();
    let mut text = format!(
        "  {} show, {} silent, {} without effect\n",
        count(Noticeable::Shows),
        count(Noticeable::Silent),
        count(Noticeable::Harmless)
    );
    for row in sheet.rows.iter().filter(|r| r.verdict == Noticeable::Silent) {
        let fault = fault_notation(circuit, row.fault.at(row.magnitudes[0]));
        let broken: Vec<_> =
            row.breaks.iter().map(|d| circuit.document().duties[*d].id.as_str()).collect();
        writeln!(text, "  {fault}: {}", broken.join(", ")).expect("text");
    }
    text
}

#[test]
fn every_machine_is_said_to_do_what_it_does() {
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        let mut text = String::new();
        for problem in check(&circuit) {
            writeln!(text, "PROBLEM {}: {}", problem.path, problem.sentence).expect("text");
        }
        writeln!(text, "as found").expect("text");
        text += &logic(&circuit, &mut Judge::new(&circuit, &[]));
        if !circuit.as_found.is_empty() {
            writeln!(text, "as built").expect("text");
            text += &logic(&circuit, &mut Judge::as_built(&circuit, &[]));
        }
        writeln!(text, "silent faults").expect("text");
        text += &sheet(&circuit);
        expect_file![format!("expected/{}.txt", shipped.name)].assert_eq(&text);
    }
}
