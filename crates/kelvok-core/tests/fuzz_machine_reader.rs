//! The machine reader fed with rubbish: it neither panics nor hangs nor takes memory without bound.
//!
//! Inputs are machine documents spoiled at random: bytes flipped, stretches cut, doubled or swapped
//! between documents, and values of the JSON tree replaced by extreme ones. What still reads is
//! compiled and checked, as an import does. `KELVOK_FUZZ_SECONDS` sets how long; a failure prints
//! the seed that brings it back by `KELVOK_FUZZ_SEED`.

mod library;

use cap::Cap;
use kelvok_core::circuit::Circuit;
use kelvok_core::interlock::check;
use kelvok_core::machine::{LIBRARY, Machine};
use library::dice::Dice;
use serde_json::{Value, json};
use std::alloc::System;
use std::env::var;
use std::time::{Duration, Instant};

/// Beyond this an allocation fails, and with it the test.
const MOST_BYTES: usize = 1 << 30;
/// One document may not take longer than this.
const MOST_SECONDS: f64 = 30.0;

#[global_allocator]
static MEMORY: Cap<System> = Cap::new(System, MOST_BYTES);

/// Every place in a document.
fn places(value: &Value, at: &str, all: &mut Vec<String>) {
    all.push(at.to_owned());
    match value {
        Value::Array(list) => {
            for (i, inner) in list.iter().enumerate() {
                places(inner, &format!("{at}/{i}"), all);
            }
        }
        Value::Object(map) => {
            for (key, inner) in map {
                places(inner, &format!("{at}/{}", key.replace('~', "~0").replace('/', "~1")), all);
            }
        }
        _ => {}
    }
}

fn extreme(dice: &mut Dice) -> Value {
    match dice.roll(14) {
        0 => json!(1e308),
        1 => json!(-1e308),
        2 => json!(5e-324),
        3 => json!(u64::MAX),
        4 => json!(0),
        5 => json!(-1),
        6 => json!(""),
        7 => json!("=&|!(),"),
        8 => json!("key=".repeat(1 + dice.roll(3000))),
        9 => json!("(".repeat(1 + dice.roll(3000))),
        10 => json!(null),
        11 => json!([]),
        12 => json!({}),
        _ => json!("\u{202e}\u{0}é"),
    }
}

/// Spoils the tree: values replaced, moved, doubled, removed.
fn spoil_tree(dice: &mut Dice, text: &str) -> String {
    let mut value: Value = serde_json::from_str(text).expect("shipped");
    for _ in 0..=dice.roll(4) {
        let mut all = Vec::new();
        places(&value, "", &mut all);
        let (here, there) = (dice.of(&all).clone(), dice.of(&all).clone());
        let other = value.pointer(&there).cloned().unwrap_or_default();
        match (dice.roll(4), value.pointer_mut(&here)) {
            (0, Some(spot)) => *spot = extreme(dice),
            (1, Some(spot)) => *spot = other,
            (2, Some(Value::Array(list))) => {
                let copies = vec![dice.of(&[&[Value::Null][..], &list[..]].concat()).clone(); 40];
                list.extend(copies);
            }
            (_, Some(Value::Array(list))) if !list.is_empty() => {
                list.remove(dice.roll(list.len()));
            }
            (_, Some(Value::Object(map))) if !map.is_empty() => {
                let key = dice.of(&map.keys().cloned().collect::<Vec<_>>()).clone();
                map.remove(&key);
            }
            (_, Some(spot)) => *spot = extreme(dice),
            (_, None) => {}
        }
    }
    value.to_string()
}

/// Spoils the text: bytes flipped, stretches cut, doubled, or taken from another document.
fn spoil_text(dice: &mut Dice, text: &str) -> String {
    let mut bytes = text.as_bytes().to_vec();
    for _ in 0..=dice.roll(6) {
        let from = dice.roll(bytes.len());
        let to = (from + dice.roll(400)).min(bytes.len());
        match dice.roll(4) {
            0 => bytes[from] ^= 1 << dice.roll(8),
            1 => drop(bytes.drain(from..to)),
            2 => {
                let stretch = bytes[from..to].to_vec();
                bytes.splice(from..from, stretch);
            }
            _ => {
                let other = dice.of(&LIBRARY).text.as_bytes();
                let start = dice.roll(other.len());
                let end = (start + dice.roll(400)).min(other.len());
                bytes.splice(from..to, other[start..end].iter().copied());
            }
        }
        if bytes.is_empty() {
            bytes.push(b'{');
        }
    }
    String::from_utf8_lossy(&bytes).into_owned()
}

#[test]
fn rubbish_is_refused_without_panic_hang_or_hunger() {
    let number = |name: &str| var(name).ok().and_then(|v| v.parse::<u64>().ok());
    let seconds = number("KELVOK_FUZZ_SECONDS").unwrap_or(3);
    let only = number("KELVOK_FUZZ_SEED");
    let first = only.unwrap_or(1);
    let began = Instant::now();
    let (mut tried, mut sound) = (0u64, 0u64);
    for seed in first.. {
        let mut dice = Dice(seed);
        let text = dice.of(&LIBRARY).text;
        let text = match dice.roll(3) {
            0 => spoil_text(&mut dice, text),
            _ => spoil_tree(&mut dice, text),
        };
        let asked = Instant::now();
        let read = std::panic::catch_unwind(|| match Machine::read(&text) {
            Ok(machine) => {
                check(&Circuit::compile(&machine));
                true
            }
            Err(problems) => {
                assert!(problems.iter().any(|p| !p.warning && !p.sentence.is_empty()));
                false
            }
        });
        match read {
            Ok(read) => sound += u64::from(read),
            Err(_) => panic!("seed {seed} panicked; set KELVOK_FUZZ_SEED={seed}"),
        }
        let took = asked.elapsed().as_secs_f64();
        assert!(took < MOST_SECONDS, "seed {seed} took {took} s");
        tried += 1;
        if only.is_some() || began.elapsed() > Duration::from_secs(seconds) {
            break;
        }
    }
    println!("{tried} documents, {sound} of them still sound, {} bytes now", MEMORY.allocated());
    assert!(only.is_some() || (tried > 20 && sound > 0), "{tried} tried, {sound} sound");
}
