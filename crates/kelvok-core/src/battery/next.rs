//! Which reading of the battery tells most a minute next.

use super::belief::{Belief, after};
use super::physics::{Battery, BatteryState, Plate, Seen};
use super::published::{GRAVITY_APART, LOAD_TEST_CHARGE, LOAD_TEST_SECONDS};
use super::test::BatteryTest;
use serde::Serialize;

/// What to read next of a battery.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum BatteryReading {
    /// Volts with nothing on, surface charge taken off.
    Rest,
    /// Volts with what the machine has switched on.
    OwnLoads,
    /// Volts with a tester that draws half the cold-cranking amperes.
    Tester,
    /// Volts while the starter turns the engine.
    Cranking,
    /// Volts a minute after the load.
    Recovery,
    /// The acid, cell by cell.
    Acid,
}

impl BatteryReading {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Rest => "Read the battery at rest, everything off",
            Self::OwnLoads => "Read it after 15 s with the machine's own loads on",
            Self::Tester => "Load test: half its cold-cranking amps for 15 s",
            Self::Cranking => "Read it while cranking",
            Self::Recovery => "Read it again a minute after the load is off",
            Self::Acid => "Read the acid in every cell, where it has caps",
        }
    }

    /// What to mind at it.
    pub fn caution(self) -> &'static str {
        match self {
            Self::Rest | Self::Recovery => {
                "No rings or watches at a battery. Eye protection: it gives off gas that burns."
            }
            Self::OwnLoads => {
                "Engine off, key on only for what you switch on. Nobody near the blades: a clutch \
                 snaps in."
            }
            Self::Tester => {
                "Clamp the tester on before you switch it on, off before you take it off: a spark \
                 at a post can set off the gas. 15 seconds, no longer. Eye protection, no rings."
            }
            Self::Cranking => {
                "It may start. Operator in the seat, brake on, out of gear, blades off, area clear. \
                 Crank 5 seconds at most, then let the starter cool."
            }
            Self::Acid => "Acid burns. Gloves and eye protection; water and baking soda at hand.",
        }
    }

    fn minutes(self) -> f64 {
        match self {
            Self::Rest => 3.0,
            Self::OwnLoads | Self::Cranking => 1.5,
            Self::Tester => 3.0,
            Self::Recovery => 1.2,
            Self::Acid => 8.0,
        }
    }
}

/// What a reading would tell.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct NextReading {
    /// What to read.
    pub reading: BatteryReading,
    /// What it takes.
    pub minutes: f64,
    /// What it tells of what the battery is, in bits.
    pub bits: f64,
}

/// So sure it need not be read further.
const SURE: f64 = 0.95;
/// So little a reading is not worth its minute.
const LITTLE_BITS: f64 = 0.08;
/// Nor one that tells so little a minute.
const LITTLE_A_MINUTE: f64 = 0.03;
const SAMPLE: usize = 160;
/// With less than this on there is nothing to see.
pub(crate) const LEAST_AMPS: f64 = 3.0;

/// Best first; none where nothing more needs to be read.
pub(crate) fn next(
    plate: &Plate,
    belief: &Belief,
    seen: &[Seen],
    own_amps: f64,
) -> Vec<NextReading> {
    if belief.chances.iter().any(|c| *c >= SURE) {
        return Vec::new();
    }
    let batteries = belief.sample(SAMPLE);
    let stands: Vec<_> = batteries.iter().map(|b| (b, after(plate, b, seen))).collect();
    let charged = stands.iter().filter(|(_, s)| s.charge() >= LOAD_TEST_CHARGE).count();
    let since = seen
        .iter()
        .rposition(|s| matches!(s, Seen::ChargedSomehow | Seen::Test(BatteryTest::Charged { .. })));
    let since = &seen[since.map_or(0, |at| at + 1)..];
    let was = |kind: fn(&Seen) -> bool| since.iter().any(kind);
    let loaded = was(|s| matches!(s, Seen::Test(BatteryTest::Loaded { .. })));
    let may = |reading: BatteryReading| match reading {
        BatteryReading::Rest => !was(|s| matches!(s, Seen::Test(BatteryTest::Rest { .. }))),
        BatteryReading::OwnLoads => own_amps >= LEAST_AMPS && !loaded,
        BatteryReading::Tester => {
            let heavy = |s: &Seen| matches!(s, Seen::Test(BatteryTest::Loaded { amps, .. }) if *amps > 40.0);
            2 * charged >= stands.len() && !since.iter().any(heavy)
        }
        BatteryReading::Cranking => {
            plate.outside_ohms.is_some() && !was(|s| matches!(s, Seen::Cranked(_)))
        }
        BatteryReading::Recovery => {
            matches!(since.last(), Some(Seen::Test(BatteryTest::Loaded { .. })))
        }
        BatteryReading::Acid => !was(|s| matches!(s, Seen::Test(BatteryTest::Hydrometer { .. }))),
    };
    let asked = |reading: BatteryReading| {
        let celsius = None;
        let volts = 0.0;
        let load = |amps: f64, estimated| {
            let seconds = LOAD_TEST_SECONDS;
            Seen::Test(BatteryTest::Loaded { volts, amps, estimated, seconds, celsius })
        };
        match reading {
            BatteryReading::Rest => {
                let (hours, surface_off) = (1.0, true);
                Seen::Test(BatteryTest::Rest { volts, hours, surface_off, celsius })
            }
            BatteryReading::OwnLoads => load(own_amps, true),
            BatteryReading::Tester => load(plate.rated_amps() / 2.0, false),
            BatteryReading::Cranking => Seen::Cranked(0.0),
            BatteryReading::Recovery => Seen::Test(BatteryTest::Recovered { volts, seconds: 60.0 }),
            BatteryReading::Acid => Seen::Test(BatteryTest::Hydrometer { cells: [0.0; 6] }),
        }
    };
    let mut all: Vec<NextReading> = BatteryReading::ALL
        .iter()
        .filter(|r| may(**r))
        .map(|reading| {
            let shows: Vec<_> = stands
                .iter()
                .filter_map(|(battery, stand)| {
                    let mut stand = *stand;
                    shows(plate, battery, &mut stand, &asked(*reading))
                })
                .collect();
            NextReading { reading: *reading, minutes: reading.minutes(), bits: bits(&shows) }
        })
        .filter(|n| n.bits > LITTLE_BITS && n.bits > LITTLE_A_MINUTE * n.minutes)
        .collect();
    all.sort_by(|a, b| (b.bits / b.minutes).total_cmp(&(a.bits / a.minutes)));
    all
}

/// What it is, what would be read of it, and how sharply.
type Shows = (BatteryState, f64, f64);

fn shows(
    plate: &Plate,
    battery: &Battery,
    stand: &mut super::physics::Stand,
    asked: &Seen,
) -> Option<Shows> {
    if let Seen::Test(BatteryTest::Hydrometer { .. }) = asked {
        // How far the cells lie apart is what tells; beside it, how heavy they are.
        let apart = if battery.state == BatteryState::DeadCell { 1.6 * GRAVITY_APART } else { 0.0 };
        return Some((battery.state, battery.gravity(plate, stand) + 10.0 * apart, 0.01));
    }
    let expected = battery.sees(plate, stand, asked)?;
    Some((battery.state, expected.value, expected.spread))
}

/// What one figure tells of which state it is.
fn bits(shows: &[Shows]) -> f64 {
    let entropy = |weights: &[f64; 4]| {
        let all: f64 = weights.iter().sum();
        let each = weights.iter().filter(|w| **w > 0.0).map(|w| w / all);
        -each.map(|p| p * p.log2()).sum::<f64>()
    };
    let mut prior = [0.0; 4];
    for (state, ..) in shows {
        prior[*state as usize] += 1.0;
    }
    let left: f64 = shows
        .iter()
        .map(|(_, read, _)| {
            let mut weights = [0.0; 4];
            for (state, value, spread) in shows {
                let off = (read - value) / spread;
                weights[*state as usize] += (-off * off / 2.0).exp() / spread;
            }
            entropy(&weights)
        })
        .sum();
    (entropy(&prior) - left / shows.len().max(1) as f64).max(0.0)
}
