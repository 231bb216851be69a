//! All that is said of a battery.

use super::belief::{Belief, after};
use super::curve::{BatteryCurve, Load, curve};
use super::next::{LEAST_AMPS, NextReading, next};
use super::physics::{BatteryState, Plate, Seen, Stand};
use super::published::{
    CHARGE_ACCEPTED, FREEZES_BY_CHARGE, LOAD_TEST_CHARGE, LOAD_TEST_SECONDS, LOAD_TEST_VOLTS,
    LOST_A_DAY, LOST_TWICE_KELVIN, WARM_CELSIUS, read,
};
use super::starting::{Starting, plate};
use super::test::BatteryTest;
use crate::circuit::{Circuit, Crank};
use serde::Serialize;

/// What a battery comes to, in one word.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum BatteryWord {
    /// Nothing was read of it.
    Unread,
    /// What was read fits more than one thing.
    Unsure,
    /// Charged, and gives what it should.
    Good,
    /// The same, too cold for this starter.
    Cold,
    /// It would give what it should, if it were charged.
    Low,
    /// The same; it reads as if charged.
    Surface,
    /// It gives less than two thirds of what its label says.
    Worn,
    /// One cell gives nothing.
    DeadCell,
}

impl BatteryWord {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Unread => "Nothing read yet",
            Self::Unsure => "Not sure yet",
            Self::Good => "Good",
            Self::Cold => "Good, but too cold to crank well",
            Self::Low => "Low: charge it, then test it",
            Self::Surface => "Low: what it reads is surface charge",
            Self::Worn => "Worn out",
            Self::DeadCell => "One dead cell",
        }
    }
}

/// A figure that is not known exactly: one in ten lies below, half, one in ten above.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Range {
    pub low: f64,
    pub middle: f64,
    pub high: f64,
}

impl From<[f64; 3]> for Range {
    fn from([low, middle, high]: [f64; 3]) -> Self {
        Self { low, middle, high }
    }
}

/// The chance that it is this.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct StateChance {
    pub state: BatteryState,
    pub chance: f64,
}

/// What this machine's starter would do on it.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CrankingForecast {
    /// At the posts, were the starter held in.
    pub volts: Range,
    /// What it does, and how likely; the likeliest first.
    pub does: Vec<CrankChance>,
    /// Volts at the posts under which the starter lets go.
    pub lets_go_at: Option<f64>,
}

/// The chance that the starter does this.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct CrankChance {
    pub does: Crank,
    pub chance: f64,
}

/// The trade's load test for this battery as warm as it is.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LoadTest {
    /// Half its cold-cranking amperes.
    pub amps: f64,
    /// And not longer.
    pub seconds: f64,
    /// At the end of it.
    pub least_volts: f64,
    /// It says something: it is likely charged enough.
    pub worth_it: bool,
}

/// Hours on a charger of so many amperes until it is full.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct ChargeTime {
    pub amps: f64,
    pub hours: f64,
}

/// What is drawn at rest, and what that comes to.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DrainStanding {
    /// Read.
    pub milliamps: f64,
    /// Until half of what it has now is gone; what it loses by itself is counted in.
    pub days_to_half: f64,
}

/// All that is said of a battery.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BatteryStanding {
    /// In one word.
    pub word: BatteryWord,
    /// The likeliest first.
    pub chances: Vec<StateChance>,
    /// Its share of charge now, 0 to 1.
    pub charge: Range,
    /// Cold-cranking amperes that it gives when charged.
    pub cold_amps: Range,
    /// What its label says, or what this machine's battery ought to give.
    pub rated_amps: f64,
    /// Its label was read.
    pub label: bool,
    /// It gives far more than its label says: the label is another battery's.
    pub more_than_its_label: bool,
    /// As read, or a room's.
    pub celsius: f64,
    /// It was read.
    pub celsius_known: bool,
    /// None where nothing electric cranks it.
    pub cranking: Option<CrankingForecast>,
    /// The trade's own test.
    pub load_test: LoadTest,
    /// Ohms of the starter and its way; none where nothing electric cranks it.
    pub outside_ohms: Option<f64>,
    /// It is likely too low for a load test to say anything: charge it first.
    pub charge_first: bool,
    /// Drawn by what the machine can switch on, in amperes; too little to see anything where it is less
    /// than three.
    pub own_amps: f64,
    /// By charger.
    pub charging: Vec<ChargeTime>,
    /// Minutes with nothing on until its volts can be believed.
    pub wait_minutes: Option<f64>,
    /// Where it was read.
    pub drain: Option<DrainStanding>,
    /// Its acid freezes at this, as charged as it is.
    pub freezes_at: f64,
    /// Best first; none where it is known.
    pub next: Vec<NextReading>,
    /// Volts against time.
    pub curve: BatteryCurve,
}

/// So likely it is said in a word.
const SAID: f64 = 0.8;
/// A charger's amperes that hours are worked out for.
const CHARGERS: [f64; 3] = [2.0, 6.0, 10.0];
/// A surface charge of so many volts misleads nobody.
const LITTLE_SURFACE: f64 = 0.04;
/// Read so full, a low battery flatters.
const READS_FULL: f64 = 12.5;
/// So cold it is to blame.
const COLD_CELSIUS: f64 = 7.0;
/// It gives so much more than its label that the label is another's.
const NO_SUCH_LABEL: f64 = 1.3;
const SAMPLE: usize = 48;

/// What a machine's battery comes to by what was seen of it, in order; none where there is none.
///
/// # Arguments
/// `own_amps` are drawn by what the machine can switch on with the engine standing.
pub fn battery_standing(
    circuit: &Circuit,
    seen: &[Seen],
    own_amps: f64,
) -> Option<BatteryStanding> {
    let starting = Starting::of(circuit);
    let mut plate = plate(circuit, starting.as_ref())?;
    for seen in seen {
        let Seen::Test(test) = seen else { continue };
        if let BatteryTest::Label { cold_amps, amp_hours, chemistry } = *test {
            (plate.cold_amps, plate.amp_hours, plate.chemistry) = (cold_amps, amp_hours, chemistry);
        }
        if let Some(celsius) = test.celsius() {
            (plate.celsius, plate.celsius_known) = (celsius, true);
        }
    }
    let belief = Belief::of(&plate, seen);
    let stand = |b: &super::physics::Battery| after(&plate, b, seen);
    let charge: Range =
        belief.quantiles([0.1, 0.5, 0.9], |b| stand(b).charge().clamp(0.0, 1.0)).into();
    let load_test = LoadTest {
        amps: plate.rated_amps() / 2.0,
        seconds: LOAD_TEST_SECONDS,
        least_volts: read(&LOAD_TEST_VOLTS, plate.celsius) * plate.nominal / 12.0,
        worth_it: belief.chance(|b| stand(b).charge() >= LOAD_TEST_CHARGE) >= 0.5,
    };
    let read_already = seen.iter().any(is_reading);
    let cranking = starting.as_ref().and_then(|s| forecast(s, &plate, &belief, seen));
    let mut chances: Vec<_> = BatteryState::ALL
        .iter()
        .zip(&belief.chances)
        .map(|(state, chance)| StateChance { state: *state, chance: *chance })
        .collect();
    chances.sort_by(|a, b| b.chance.total_cmp(&a.chance));
    let [short] =
        belief.quantiles([0.5], |b| (1.0 - stand(b).charge().max(0.0)) * b.amp_hours(&plate));
    let other = Load { amps: load_test.amps, seconds: load_test.seconds };
    let lost = LOST_A_DAY * 2f64.powf((plate.celsius - WARM_CELSIUS) / LOST_TWICE_KELVIN);
    let drain = seen.iter().rev().find_map(|s| match s {
        Seen::Test(BatteryTest::Drain { milliamps }) => Some(*milliamps),
        _ => None,
    });
    let [hours] = belief.quantiles([0.5], |b| b.amp_hours(&plate));
    let drain = drain.map(|milliamps| {
        let a_day = milliamps / 1000.0 * 24.0 + lost * hours;
        DrainStanding { milliamps, days_to_half: charge.middle * hours / 2.0 / a_day }
    });
    Some(BatteryStanding {
        word: word(&plate, &chances, seen, cranking.as_ref()),
        charge,
        cold_amps: belief.quantiles([0.1, 0.5, 0.9], |b| b.cold_amps(&plate)).into(),
        rated_amps: plate.rated_amps(),
        label: plate.cold_amps.or(plate.amp_hours).is_some(),
        more_than_its_label: plate.cold_amps.is_some()
            && belief.quantiles([0.2], |b| b.cold_amps(&plate))[0]
                > NO_SUCH_LABEL * plate.rated_amps(),
        celsius: plate.celsius,
        celsius_known: plate.celsius_known,
        cranking,
        outside_ohms: plate.outside_ohms,
        charge_first: read_already && !load_test.worth_it,
        load_test,
        own_amps: if own_amps >= LEAST_AMPS { own_amps } else { 0.0 },
        charging: CHARGERS
            .iter()
            .map(|amps| ChargeTime { amps: *amps, hours: short / CHARGE_ACCEPTED / amps })
            .collect(),
        wait_minutes: wait(&belief, stand),
        drain,
        freezes_at: read(&FREEZES_BY_CHARGE, charge.middle),
        next: next(&plate, &belief, seen, own_amps),
        curve: curve(&plate, &belief, seen, &other),
        chances,
    })
}

/// Whether something was read that says what the battery is.
fn is_reading(seen: &Seen) -> bool {
    use BatteryTest::{Charged, Drain, Label};
    !matches!(seen, Seen::ChargedSomehow | Seen::Test(Label { .. } | Charged { .. } | Drain { .. }))
}

fn word(
    plate: &Plate,
    chances: &[StateChance],
    seen: &[Seen],
    cranking: Option<&CrankingForecast>,
) -> BatteryWord {
    if !seen.iter().any(is_reading) {
        return BatteryWord::Unread;
    }
    if chances[0].chance < SAID {
        return BatteryWord::Unsure;
    }
    let rested = seen.iter().rev().find_map(|s| match s {
        Seen::Test(BatteryTest::Rest { volts, .. }) => Some(*volts),
        _ => None,
    });
    match chances[0].state {
        BatteryState::Good => {
            let turns = |c: &CrankingForecast| {
                c.does.iter().filter(|d| d.does == Crank::Yes).map(|d| d.chance).sum::<f64>()
            };
            let cold = plate.celsius_known && plate.celsius <= COLD_CELSIUS;
            match cranking {
                Some(cranking) if cold && turns(cranking) < SAID => BatteryWord::Cold,
                _ => BatteryWord::Good,
            }
        }
        BatteryState::Low => match rested {
            Some(volts) if volts >= READS_FULL * plate.nominal / 12.0 => BatteryWord::Surface,
            _ => BatteryWord::Low,
        },
        BatteryState::Worn => BatteryWord::Worn,
        BatteryState::DeadCell => BatteryWord::DeadCell,
    }
}

/// Minutes with nothing on until the surface charge of most that it may be is gone.
fn wait(belief: &Belief, stand: impl Fn(&super::physics::Battery) -> Stand) -> Option<f64> {
    let [surface] = belief.quantiles([0.8], |b| stand(b).surface());
    // It goes by a third in about an hour and a half.
    (surface > LITTLE_SURFACE).then(|| (surface / LITTLE_SURFACE).ln() * 3.5 * 60.0)
}

fn forecast(
    starting: &Starting<'_>,
    plate: &Plate,
    belief: &Belief,
    seen: &[Seen],
) -> Option<CrankingForecast> {
    let outside = plate.outside_ohms?;
    let stood = |b: &super::physics::Battery| b.cranking(plate, &after(plate, b, seen));
    let volts = belief.quantiles([0.1, 0.5, 0.9], |b| {
        let (emf, ohms) = stood(b);
        emf * outside / (outside + ohms)
    });
    let batteries = belief.sample(SAMPLE);
    let mut does: Vec<CrankChance> = Vec::new();
    for battery in &batteries {
        let (emf, ohms) = stood(battery);
        let own = starting.does(emf, ohms);
        let share = 1.0 / batteries.len() as f64;
        match does.iter_mut().find(|d| d.does == own) {
            Some(found) => found.chance += share,
            None => does.push(CrankChance { does: own, chance: share }),
        }
    }
    does.sort_by(|a, b| b.chance.total_cmp(&a.chance));
    let [emf] = belief.quantiles([0.5], |b| stood(b).0);
    Some(CrankingForecast {
        volts: volts.into(),
        does,
        lets_go_at: starting.lets_go_at(emf, outside),
    })
}
