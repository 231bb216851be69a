//! Readings of a charging system as comma-separated values.

use super::standing::{ChargeStanding, kind_of};
use super::system::{ChargeReading, Load};

/// One row a reading: what was read, V, A or ohms, at what speed, and what was on in A; then a row for each thing
/// that it may be.
///
/// # Arguments
/// Each reading, and whether it counts yet.
pub fn charging_csv<'a>(
    readings: impl Iterator<Item = (&'a ChargeReading, bool)>,
    standing: &ChargeStanding,
) -> String {
    let mut writer = csv::Writer::from_writer(Vec::new());
    // Writing to memory does not fail.
    let _ = writer.write_record(["what", "figure", "unit", "speed", "drawn_amps", "counts"]);
    for (reading, counts) in readings {
        let Some((figure, unit, load)) = parts(reading) else { continue };
        let kind = serde_json::to_value(kind_of(reading)).unwrap_or_default();
        let speed = load.map_or("", |load| if load.idle { "idle" } else { "full" });
        let drawn = load.map_or_else(String::new, |load| format!("{:.1}", load.drawn));
        let figure = figure.map_or_else(|| "OL".to_owned(), |figure| format!("{figure:.3}"));
        let counts = if counts { "yes" } else { "" };
        let what = kind.as_str().unwrap_or_default();
        let _ = writer.write_record([what, &figure, unit, speed, &drawn, counts]);
    }
    for cause in &standing.causes {
        let chance = format!("{:.3}", cause.chance);
        let _ = writer.write_record([cause.state.words(), &chance, "chance", "", "", ""]);
    }
    String::from_utf8(writer.into_inner().unwrap_or_default()).unwrap_or_default()
}

fn parts(reading: &ChargeReading) -> Option<(Option<f64>, &'static str, Option<Load>)> {
    Some(match *reading {
        ChargeReading::Charged => return None,
        ChargeReading::Rest(volts) => (Some(volts), "V", None),
        ChargeReading::Posts(volts, load)
        | ChargeReading::Feed(volts, load)
        | ChargeReading::Ground(volts, load) => (Some(volts), "V", Some(load)),
        ChargeReading::Amps(amps, load) => (Some(amps), "A", Some(load)),
        ChargeReading::Ripple(volts) => (Some(volts), "V AC", None),
        ChargeReading::Stator(volts, idle) => {
            (Some(volts), "V AC", Some(Load { idle, drawn: 0.0 }))
        }
        ChargeReading::Winding(ohms) | ChargeReading::Frame(ohms) => (ohms, "ohm", None),
    })
}
