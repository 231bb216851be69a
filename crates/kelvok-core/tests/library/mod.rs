//! Shipped machines, compiled for tests.
#![allow(dead_code)]

pub mod dice;
pub mod large;
pub mod wide;

use kelvok_core::circuit::{Circuit, Condition};
use kelvok_core::diagnosis::{Evidence, Observation, SetUp, Source};
use kelvok_core::machine::{LIBRARY, Machine};

pub fn text(name: &str) -> &'static str {
    LIBRARY.iter().find(|m| m.name == name).expect("shipped").text
}

pub fn circuit(name: &str) -> Circuit {
    let machine = Machine::read(text(name)).unwrap_or_else(|p| panic!("{name}: {p:#?}"));
    Circuit::compile(&machine)
}

pub fn gt46() -> Circuit {
    circuit("pellwick-gt-46")
}

pub fn r1() -> Circuit {
    circuit("kelvok-r1")
}

pub fn condition(circuit: &Circuit, set: &[(&str, &str)]) -> Condition {
    Condition::with(circuit, set.iter().copied()).expect("known controls")
}

/// An entry of a log, tested once.
pub fn entry(
    sequence: u64,
    at: &Condition,
    set_up: Vec<SetUp>,
    observation: Observation,
) -> Evidence {
    Evidence {
        sequence,
        condition: at.clone(),
        set_up,
        observation,
        repeats: 1,
        source: Source::Tested,
        at_times: false,
        times_an_hour: None,
        celsius: None,
        idle: false,
    }
}
