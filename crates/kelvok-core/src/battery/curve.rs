//! Volts against time: before a load, under it and after it.

use super::belief::Belief;
use super::physics::{Battery, Plate, Seen};
use super::test::BatteryTest;
use serde::Serialize;

/// What the battery's posts show over the last load that was tried, or over one that could be.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BatteryCurve {
    /// The load was tried; else this is what it would show.
    pub tried: bool,
    /// Drawn.
    pub amps: f64,
    /// From 0 on.
    pub seconds: f64,
    /// Where eight batteries in ten lie that fit what was read, and the middle of them.
    pub band: Vec<BandPoint>,
    /// What was read.
    pub read: Vec<CurvePoint>,
}

/// The band at a time.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BandPoint {
    /// Since the load went on; below zero before it.
    pub seconds: f64,
    /// One in ten lies below.
    pub low: f64,
    /// As many below as above.
    pub middle: f64,
    /// One in ten lies above.
    pub high: f64,
}

/// Volts that were read, where they lie.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CurvePoint {
    /// As in the band.
    pub seconds: f64,
    /// Read.
    pub volts: f64,
}

/// A load to draw where none was tried: what a tester would put on, and for how long.
pub(crate) struct Load {
    pub amps: f64,
    pub seconds: f64,
}

/// So much is drawn before and after.
const BEFORE: f64 = 10.0;
const AFTER: f64 = 70.0;
/// A long load is drawn as if it were so long.
const LONGEST: f64 = 300.0;
const UNDER: usize = 14;

impl BatteryCurve {
    /// The band, and what was read, as comma-separated values: seconds and volts.
    pub fn to_csv(&self) -> String {
        let mut text = "seconds,low,middle,high,read\n".to_owned();
        for at in &self.band {
            text += &format!("{:.2},{:.3},{:.3},{:.3},\n", at.seconds, at.low, at.middle, at.high);
        }
        for read in &self.read {
            text += &format!("{:.2},,,,{:.2}\n", read.seconds, read.volts);
        }
        text
    }
}

pub(crate) fn curve(plate: &Plate, belief: &Belief, seen: &[Seen], other: &Load) -> BatteryCurve {
    let loaded = seen.iter().rposition(|s| matches!(s, Seen::Test(BatteryTest::Loaded { .. })));
    let load = match loaded.map(|at| seen[at]) {
        Some(Seen::Test(BatteryTest::Loaded { amps, seconds, .. })) => {
            Load { amps, seconds: seconds.min(LONGEST) }
        }
        _ => Load { ..*other },
    };
    let before = &seen[..loaded.unwrap_or(seen.len())];
    let under = (1..=UNDER).map(|i| (i as f64 / UNDER as f64).powi(2) * load.seconds);
    let after = (1..=UNDER).map(|i| load.seconds + (i as f64 / UNDER as f64).powi(2) * AFTER);
    let times: Vec<f64> = [-BEFORE, -0.01, 0.01]
        .into_iter()
        .chain(under)
        .chain([load.seconds + 0.01])
        .chain(after)
        .collect();
    let batteries = belief.sample(200);
    let traces: Vec<Vec<f64>> =
        batteries.iter().map(|b| trace(plate, b, before, &load, &times)).collect();
    let band = times.iter().enumerate().map(|(i, seconds)| {
        let mut at: Vec<f64> = traces.iter().map(|t| t[i]).collect();
        at.sort_by(f64::total_cmp);
        let share = |share: f64| at[((at.len() - 1) as f64 * share).round() as usize];
        BandPoint { seconds: *seconds, low: share(0.1), middle: share(0.5), high: share(0.9) }
    });
    BatteryCurve {
        tried: loaded.is_some(),
        amps: load.amps,
        seconds: load.seconds,
        band: band.collect(),
        read: read(seen, loaded, &load),
    }
}

fn trace(
    plate: &Plate,
    battery: &Battery,
    before: &[Seen],
    load: &Load,
    times: &[f64],
) -> Vec<f64> {
    let stand = super::belief::after(plate, battery, before);
    let mut after = stand;
    battery.draw(plate, &mut after, load.amps, load.seconds);
    let each = times.iter().map(|t| match *t {
        t if t < 0.0 => battery.recovered(plate, &stand, 60.0),
        t if t <= load.seconds => battery.loaded(plate, &stand, load.amps, t),
        t => battery.recovered(plate, &after, t - load.seconds),
    });
    // A battery that gives out shows nothing, not less.
    each.map(|volts| volts.max(0.0)).collect()
}

/// The last reading before the load, that under it, and those after it.
fn read(seen: &[Seen], loaded: Option<usize>, load: &Load) -> Vec<CurvePoint> {
    let mut points = Vec::new();
    let before = &seen[..loaded.unwrap_or(seen.len())];
    let rested = before.iter().rev().find_map(|s| match s {
        Seen::Test(BatteryTest::Rest { volts, .. }) => Some(*volts),
        _ => None,
    });
    points.extend(rested.map(|volts| CurvePoint { seconds: -BEFORE / 2.0, volts }));
    for seen in loaded.map_or(&[][..], |at| &seen[at..]) {
        match *seen {
            Seen::Test(BatteryTest::Loaded { volts, .. }) => {
                points.push(CurvePoint { seconds: load.seconds, volts });
            }
            Seen::Test(BatteryTest::Recovered { volts, seconds }) => {
                points.push(CurvePoint { seconds: load.seconds + seconds.min(AFTER), volts });
            }
            _ => {}
        }
    }
    points
}
