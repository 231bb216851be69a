//! Netlists: a general-purpose circuit simulator reads them and finds the same volts.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, Condition, Netlist, Relays, every_condition, operating_point, parse_change,
};
use kelvok_core::machine::LIBRARY;
use std::collections::HashMap;
use std::io::Write;
use std::process::{Command, Stdio};

/// Node volts by the simulator's names, lower case.
fn simulate(netlist: &str) -> HashMap<String, f64> {
    let deck = netlist.replace(".end", ".print op all\n.end");
    let mut simulator = Command::new("ngspice")
        .arg("-b")
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .expect("ngspice, which bin/test installs");
    simulator.stdin.take().expect("piped").write_all(deck.as_bytes()).expect("taken");
    let output = simulator.wait_with_output().expect("ended");
    let said = String::from_utf8_lossy(&output.stdout).into_owned();
    let volts: HashMap<_, _> = said
        .lines()
        .filter_map(|line| {
            let (name, volts) = line.trim().split_once(char::is_whitespace)?;
            Some((name.to_lowercase(), volts.trim().parse().ok()?))
        })
        .collect();
    assert!(!volts.is_empty(), "{said}\n{}", String::from_utf8_lossy(&output.stderr));
    volts
}

fn agrees(circuit: &Circuit, condition: &Condition, changes: &[Change]) {
    let netlist = Netlist::of(circuit, condition, changes);
    let simulated = simulate(&netlist.text);
    let ours = operating_point(circuit, condition, Relays::default(), changes, &[]);
    let mut compared = 0;
    for (volts, name) in ours.volts.iter().zip(&netlist.names).skip(1) {
        let (Some(volts), Some(name)) = (volts, name) else { continue };
        if let Some(theirs) = simulated.get(name) {
            // The simulator prints six digits.
            let digit = 1e-5 * volts.abs().max(0.1);
            assert!((theirs - volts).abs() < digit, "{name}: {theirs} and {volts}");
            compared += 1;
        }
    }
    assert!(compared > 3, "hardly a node compared: {compared}");
}

#[test]
fn a_general_simulator_reads_every_machine_and_agrees() {
    for machine in LIBRARY {
        let circuit = library::circuit(machine.name);
        let uses = circuit.normal_use();
        for condition in uses.iter().chain(every_condition(&circuit).iter().step_by(61)) {
            agrees(&circuit, condition, &[]);
        }
    }
}

#[test]
fn faults_are_in_the_netlist_too() {
    let circuit = library::gt46();
    let start = library::condition(&circuit, &[("key", "start"), ("pedal", "down")]);
    for fault in ["brake.start=17ohm", "w20=ground", "key.B=touches:key.L", "main-fuse=blown"] {
        agrees(&circuit, &start, &[parse_change(&circuit, fault).unwrap()]);
    }
}

#[test]
fn what_floats_and_what_is_open_is_said() {
    let circuit = library::r1();
    let parked = Condition::at_rest(&circuit);
    let netlist = Netlist::of(&circuit, &parked, &[]);
    assert!(netlist.text.contains("* key.start does not conduct"), "{}", netlist.text);
    assert!(netlist.text.ends_with(".op\n.end\n"));
}
