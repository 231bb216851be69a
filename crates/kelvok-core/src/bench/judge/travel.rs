//! A slow stroke: where a contact makes and breaks on its way, and where it is dead in between.

use super::log::Way;
use serde::Serialize;

/// A point of a stroke.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Stroke {
    pub way: Way,
    /// How far in, in percent of the whole travel.
    pub travel: f64,
    pub made: bool,
}

/// A stretch of the travel over which a contact stays as it is, in percent.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Band {
    pub from: f64,
    pub to: f64,
    pub made: bool,
}

/// One way of a stroke.
#[derive(Clone, Debug, PartialEq)]
pub struct Travel {
    /// From released to pressed, whichever way it went.
    pub bands: Vec<Band>,
    /// Where it changes over for good, in percent; none where it never does.
    pub changes_at: Option<f64>,
    /// Stretches on which it lets go, or makes, once it had changed over: dead spots.
    pub dead: Vec<Band>,
    /// Whether it changes over only at the very end of its travel: a little wear of the linkage, and
    /// it is not reached any more.
    pub late: bool,
}

/// Less travel than this left behind the change, in percent, is late.
const LEAST_OVERTRAVEL: f64 = 10.0;

/// What a stroke shows, one way; `None` where there are fewer than two points of it. Of a point that
/// was taken twice the later counts. A change lies halfway between the points on either side.
pub fn travel(strokes: &[Stroke], way: Way) -> Option<Travel> {
    let mut points: Vec<(f64, bool)> = Vec::new();
    for stroke in strokes.iter().filter(|s| s.way == way) {
        match points.iter_mut().find(|(at, _)| (*at - stroke.travel).abs() < 1e-9) {
            Some(point) => point.1 = stroke.made,
            None => points.push((stroke.travel, stroke.made)),
        }
    }
    points.sort_by(|a, b| a.0.total_cmp(&b.0));
    let (first, last) = (*points.first()?, *points.last()?);
    if points.len() < 2 {
        return None;
    }
    let mut bands = vec![Band { from: first.0, to: first.0, made: first.1 }];
    for pair in points.windows(2) {
        let ((before, was), (at, made)) = (pair[0], pair[1]);
        if was != made {
            let middle = (before + at) / 2.0;
            if let Some(band) = bands.last_mut() {
                band.to = middle;
            }
            bands.push(Band { from: middle, to: at, made });
        }
        if let Some(band) = bands.last_mut() {
            band.to = at;
        }
    }
    // What it is released, it stays until it first changes; what differs from the far end after
    // that is dead.
    let changes = first.1 != last.1;
    let dead = bands.iter().skip(1).filter(|b| match changes {
        true => b.made == first.1,
        false => b.made != first.1,
    });
    let dead: Vec<Band> = dead.copied().collect();
    let changes_at = changes.then(|| bands[1].from);
    let late = changes_at.is_some_and(|at| last.0 - at < LEAST_OVERTRAVEL);
    Some(Travel { changes_at, dead, late, bands })
}
