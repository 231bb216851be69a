//! How what was found close up fits what a hypothesis would show there.

use super::likelihood::Fit;
use crate::circuit::Circuit;
use crate::diagnosis::evidence::{CloseUp, SparkSeen};
use crate::diagnosis::predict::Details;

/// A click is another relay's at this chance, where another pulls in and this does not.
const ANOTHER_CLICKED: f64 = 0.1;

/// How it fits.
pub(crate) fn fit_close_up(circuit: &Circuit, seen: CloseUp, shows: Details) -> Fit {
    match seen {
        CloseUp::Coil(coil, felt) => {
            let honest = match (felt, shows.pulls(coil)) {
                (true, true) => 0.95,
                (false, false) if shows.pulls_besides(coil) => 1.0 - ANOTHER_CLICKED,
                (false, false) => 0.98,
                // A small relay is missed in a loud shop.
                (false, true) => 0.05,
                (true, false) if shows.pulls_besides(coil) => ANOTHER_CLICKED,
                (true, false) => 0.02,
            };
            Fit { honest, slip: 0.5 }
        }
        CloseUp::Spark(at, spark) => {
            let honest = match (spark, SparkSeen::of(shows.spark(at))) {
                (SparkSeen::Yes, SparkSeen::Yes) => 0.9,
                (SparkSeen::No, SparkSeen::No) => 0.95,
                (SparkSeen::Weak, SparkSeen::Weak) => 0.55,
                (SparkSeen::Weak, SparkSeen::Yes) => 0.08,
                // In daylight a weak spark is none, or a good one.
                (SparkSeen::No, SparkSeen::Weak) => 0.15,
                (SparkSeen::Yes, SparkSeen::Weak) => 0.3,
                (SparkSeen::Weak, SparkSeen::No) => 0.035,
                (SparkSeen::No, SparkSeen::Yes) => 0.02,
                (SparkSeen::Yes, SparkSeen::No) => 0.015,
            };
            Fit { honest, slip: 0.33 }
        }
        CloseUp::Fuel(flows) => yes_or_no(flows, shows.fuel(), [0.05, 0.05]),
        // Too much or too little of it, and nothing fires; what does fire had a spark.
        CloseUp::Sniff(fires) => yes_or_no(fires, shows.fires_on_a_sniff(), [0.01, 0.12]),
        CloseUp::Blows(fuse, blows) => yes_or_no(blows, shows.blown(circuit, fuse), [0.01, 0.03]),
    }
}

/// # Arguments
/// `errs` are the chances that a no is called a yes, and a yes a no.
fn yes_or_no(seen: bool, truth: bool, errs: [f64; 2]) -> Fit {
    let honest = match (seen, truth) {
        (true, false) => errs[0],
        (false, true) => errs[1],
        (false, false) => 1.0 - errs[0],
        (true, true) => 1.0 - errs[1],
    };
    Fit { honest, slip: 0.5 }
}
