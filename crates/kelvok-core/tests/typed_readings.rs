//! What a mechanic types, and what is made of it.

use expect_test::expect;
use kelvok_core::circuit::Instrument;
use kelvok_core::diagnosis::parse_reading;

fn table(instrument: Instrument, typed: &[&str]) -> String {
    let line = |text: &&str| match parse_reading(instrument, text) {
        Ok(reading) => format!("{text:?} -> {reading:?}\n"),
        Err(error) => format!("{text:?}: {error}\n"),
    };
    typed.iter().map(line).collect()
}

#[test]
fn volts() {
    let typed = [
        "12.4",
        "12,4",
        "12.4V",
        " 12.40 v ",
        ".02",
        "-0.3",
        "340mV",
        "3.3M",
        "340 MV",
        "OL",
        "-",
        "1e9",
        "",
        "lots",
        "12.4.1",
        "12\u{0}",
        "NaN",
        "inf",
        "70",
    ];
    expect![[r#"
        "12.4" -> Volts(12.4)
        "12,4" -> Volts(12.4)
        "12.4V" -> Volts(12.4)
        " 12.40 v " -> Volts(12.4)
        ".02" -> Volts(0.02)
        "-0.3" -> Volts(-0.3)
        "340mV" -> Volts(0.34)
        "3.3M": "3.3M" is megohms, not volts: check the dial, or type mV with a small m.
        "340 MV": "340 MV" is megohms, not volts: check the dial, or type mV with a small m.
        "OL": A voltmeter shows OL only on the wrong range: set the dial to 20 V or auto.
        "-": A voltmeter shows OL only on the wrong range: set the dial to 20 V or auto.
        "1e9": 1000000000 V cannot be on a 12 V machine: check the dial and the decimal point.
        "": Type what the meter shows.
        "lots": "lots" is not a reading: type what the meter shows, such as 12.4.
        "12.4.1": "12.4.1" is not a reading: type what the meter shows, such as 12.4.
        "12\0": "12" is not a reading: type what the meter shows, such as 12.4.
        "NaN": "NaN" is not a reading: type what the meter shows, such as 12.4.
        "inf": A voltmeter shows OL only on the wrong range: set the dial to 20 V or auto.
        "70": 70 V cannot be on a 12 V machine: check the dial and the decimal point.
    "#]]
    .assert_eq(&table(Instrument::Voltmeter, &typed));
}

#[test]
fn ohms() {
    let typed = [
        "0.3", "0,3 ohm", "1.2k", "4.7 kohm", "2 M", "OL", "ol", "O.L", "--", "-", "1e9", "-3",
        "-0.1", "Ω", "3Ω", "k", "1", "1.", "1.0", "1 ohm",
    ];
    expect![[r#"
        "0.3" -> Ohms(Some(0.3))
        "0,3 ohm" -> Ohms(Some(0.3))
        "1.2k" -> Ohms(Some(1200.0))
        "4.7 kohm" -> Ohms(Some(4700.0))
        "2 M" -> Ohms(Some(2000000.0))
        "OL" -> Ohms(None)
        "ol" -> Ohms(None)
        "O.L" -> Ohms(None)
        "--" -> Ohms(None)
        "-" -> Ohms(None)
        "1e9": A meter shows nothing over 40 megohm but over range: type OL if it did.
        "-3": Ohms cannot be negative: zero the leads and read again.
        "-0.1" -> Ohms(Some(0.0))
        "Ω": "Ω" is not a reading: type what the meter shows, such as 0.3 or OL.
        "3Ω" -> Ohms(Some(3.0))
        "k": "k" is not a reading: type what the meter shows, such as 0.3 or OL.
        "1": A lone 1 at the left edge is over range: type OL for that, or 1.0 for one ohm.
        "1.": A lone 1 at the left edge is over range: type OL for that, or 1.0 for one ohm.
        "1.0" -> Ohms(Some(1.0))
        "1 ohm" -> Ohms(Some(1.0))
    "#]]
    .assert_eq(&table(Instrument::Ohmmeter, &typed));
}

#[test]
fn buzzer_and_lamp() {
    expect![[r#"
        "buzz" -> Buzz(true)
        "Silent" -> Buzz(false)
        "OL" -> Buzz(false)
        "12": "12" is not a reading: type what the meter shows, such as beep or no beep.
    "#]]
    .assert_eq(&table(Instrument::Buzzer, &["buzz", "Silent", "OL", "12"]));
    expect![[r#"
        "Bright" -> Lamp(Bright)
        "dim" -> Lamp(Dim)
        "out" -> Lamp(Out)
        "maybe": "maybe" is not a reading: type what the meter shows, such as bright, dim or out.
    "#]]
    .assert_eq(&table(Instrument::TestLamp, &["Bright", "dim", "out", "maybe"]));
}

#[test]
fn ten_thousand_characters_are_refused_in_a_sentence() {
    let error = parse_reading(Instrument::Voltmeter, &"1".repeat(10_000)).unwrap_err();
    assert!(error.to_string().len() < 100, "{error}");
}
