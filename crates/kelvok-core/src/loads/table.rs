//! Loads as comma-separated values.

use super::load::Load;
use super::standing::LoadStanding;

/// One row a load. Ohms at 20 °C, V, A, W.
///
/// # Arguments
/// Each load with its name and what its readings come to.
pub fn loads_csv<'a>(rows: impl Iterator<Item = (&'a Load, &'a str, &'a LoadStanding)>) -> String {
    let mut writer = csv::Writer::from_writer(Vec::new());
    let figure = |of: Option<f64>| of.map_or_else(String::new, |x| format!("{x:.3}"));
    // Writing to memory does not fail.
    let _ = writer.write_record([
        "load",
        "ohms_called_for",
        "amps_when_good",
        "ohms",
        "ohms_low",
        "ohms_high",
        "volts",
        "amps",
        "watts",
        "should_draw_amps",
        "to_frame",
        "says",
        "chance",
    ]);
    for (load, name, own) in rows {
        let _ = writer.write_record([
            name.to_owned(),
            figure(Some(load.ohms)),
            figure(load.on.as_ref().map(|on| on.amps)),
            figure(own.ohms.map(|o| o.likely)),
            figure(own.ohms.map(|o| o.low)),
            figure(own.ohms.map(|o| o.high)),
            figure(own.volts),
            figure(own.amps),
            figure(own.watts),
            figure(own.should_draw),
            own.insulation.map_or("", |i| i.words()).to_owned(),
            own.word.words().to_owned(),
            figure(Some(own.sure)),
        ]);
    }
    String::from_utf8(writer.into_inner().unwrap_or_default()).unwrap_or_default()
}
