//! One battery with every figure known, and what it would show.
//!
//! Electromotive force by charge, an inner resistance that rises as it empties, cools and wears, one
//! polarization that comes with the load and goes slower than it came, and a surface charge that
//! goes with the hours and with what is drawn.

use super::published::{
    AMP_HOURS_PER_COLD_AMP, CHARGE_ACCEPTED, COLD_CELSIUS, COLD_OHM_AMPS, GRAVITY_BY_CHARGE,
    GRAVITY_PER_KELVIN, LOW_CHARGE, VOLTS_BY_CHARGE, WARM_CELSIUS, WARM_OHM_AMPS, WORN_SHARE, read,
};
use super::test::{BatteryTest, Chemistry};
use crate::circuit::drained_ohms;
use serde::Serialize;

/// What a battery may be.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum BatteryState {
    /// Charged, and gives what it should.
    Good,
    /// It would give what it should, if it were charged.
    Low,
    /// It gives less than two thirds of what its label says, however it is charged.
    Worn,
    /// One cell gives nothing.
    DeadCell,
}

impl BatteryState {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Good => "Good",
            Self::Low => "Low: charge it",
            Self::Worn => "Worn out",
            Self::DeadCell => "One dead cell",
        }
    }

    /// Before anything is read of a battery that somebody asks about.
    pub(crate) fn prior(self) -> f64 {
        match self {
            Self::Good => 0.42,
            Self::Low => 0.3,
            Self::Worn => 0.22,
            Self::DeadCell => 0.06,
        }
    }

    /// Between which shares of charge and of its label's amperes it lies.
    fn ranges(self) -> [(f64, f64); 2] {
        match self {
            Self::Good => [(LOW_CHARGE, 1.0), (WORN_SHARE, 1.35)],
            Self::Low => [(-0.38, LOW_CHARGE), (WORN_SHARE, 1.35)],
            Self::Worn => [(0.0, 1.0), (0.03, WORN_SHARE)],
            Self::DeadCell => [(0.2, 1.0), (0.15, 1.2)],
        }
    }
}

/// The battery that a machine ought to have.
#[derive(Clone, Copy, Debug)]
pub struct Plate {
    /// 6 or 12.
    pub nominal: f64,
    /// Inner ohms when full and at 25 °C, as the machine's document says.
    pub ohms: f64,
    /// Ohms of the starter and its way, where there is one.
    pub outside_ohms: Option<f64>,
    /// Of its label.
    pub cold_amps: Option<f64>,
    /// The same.
    pub amp_hours: Option<f64>,
    /// The same.
    pub chemistry: Chemistry,
    /// As last read; else a room's.
    pub celsius: f64,
    /// It was read.
    pub celsius_known: bool,
}

impl Plate {
    /// Cells of about two volts.
    pub fn cells(&self) -> f64 {
        (self.nominal / 2.0).round()
    }

    /// The share that it is of a 12 V battery.
    fn scale(&self) -> f64 {
        self.cells() / 6.0
    }

    /// Cold-cranking amperes: of the label, else what the machine's document comes to.
    pub fn rated_amps(&self) -> f64 {
        let by_hours = self.amp_hours.map(|ah| ah / AMP_HOURS_PER_COLD_AMP);
        self.cold_amps.or(by_hours).unwrap_or(WARM_OHM_AMPS * self.scale() / self.ohms)
    }

    /// Ampere-hours: the same.
    pub fn rated_hours(&self) -> f64 {
        self.amp_hours.unwrap_or_else(|| self.rated_amps() * AMP_HOURS_PER_COLD_AMP)
    }

    /// How far its rated amperes may be off, as a natural logarithm.
    fn rated_spread(&self) -> f64 {
        match (self.cold_amps, self.amp_hours) {
            (Some(_), _) => 0.08,
            (None, Some(_)) => 0.2,
            (None, None) => 0.3,
        }
    }
}

/// Something seen of a battery.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Seen {
    /// A test of it by itself.
    Test(BatteryTest),
    /// Volts at its posts while the starter turned the engine.
    Cranked(f64),
    /// It was charged, nobody said how much.
    ChargedSomehow,
}

impl Seen {
    /// As it is said across a bench.
    pub fn words(&self) -> String {
        match self {
            Self::Test(test) => test.words(),
            Self::Cranked(volts) => format!("{volts:.2} V while cranking"),
            Self::ChargedSomehow => "Charged".to_owned(),
        }
    }
}

/// Which of the normal numbers is which.
const OFFSET: usize = 0;
const RATED: usize = 1;
const SLOWER: usize = 2;
const SPEED: usize = 3;
const SURFACE_SPEED: usize = 4;
const CAPACITY: usize = 5;
const DEAD: usize = 6;
const METER: usize = 7;
const OUTSIDE: usize = 8;
/// How many there are.
pub(crate) const NORMALS: usize = 9;
/// Which of the even ones is which: charge, amperes, surface charge, charge taken.
const CHARGE: usize = 0;
const HEALTH: usize = 1;
const SURFACE: usize = 2;
const TAKEN: usize = 3;
/// How many there are.
pub(crate) const EVENS: usize = 4;

/// Beyond so many deviations a label is no more this battery's, by so much each.
const OTHER_LABEL: f64 = 1.8;
const OTHER_BY: f64 = 0.6;
/// Volts by which batteries of one kind and charge differ.
const OFFSET_VOLTS: f64 = 0.035;
/// A meter's error of scale.
const METER_SCALE: f64 = 0.003;
/// Polarization after long, as a share of the first drop, and its seconds; both spread.
const SLOWER_SHARE: f64 = 0.5;
const SLOWER_SPREAD: f64 = 0.3;
const SLOWER_SECONDS: f64 = 8.0;
const SPEED_SPREAD: f64 = 0.5;
/// It goes so many times slower than it came.
const GOES_SLOWER: f64 = 3.0;
/// Volts of surface charge straight off a charger, at the most, and the hours in which it goes.
const SURFACE_VOLTS: f64 = 0.75;
const SURFACE_HOURS: f64 = 3.5;
const SURFACE_SPREAD: f64 = 0.5;
/// Lamps on for some minutes leave so much of it.
const SURFACE_LEFT: f64 = 0.12;
/// Drawn, this share of its ampere-hours takes it off.
const SURFACE_TAKEN_BY: f64 = 0.012;
/// Of its volts, what a dead cell takes with it, and what they are known to.
const DEAD_SPREAD: f64 = 0.12;
/// When cranking is read.
const CRANK_SECONDS: f64 = 3.0;
/// The starter and its way, known to this share.
const OUTSIDE_SPREAD: f64 = 0.15;

/// A battery with every figure known.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Battery {
    pub state: BatteryState,
    /// Evenly spread from zero to one.
    pub even: [f64; EVENS],
    /// Normal, of mean zero and deviation one.
    pub normal: [f64; NORMALS],
}

/// How a battery stands between two readings.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Stand {
    charge: f64,
    /// Volts of surface charge left.
    surface: f64,
    /// Hours since it was charged, of which the surface charge is.
    hours: f64,
    /// Volts of polarization as the last load went off.
    slower: f64,
}

/// What would be read, and how far that may be off by itself.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Expected {
    pub value: f64,
    pub spread: f64,
}

impl Battery {
    fn within(&self, of: usize, share: f64) -> f64 {
        let (low, high) = self.state.ranges()[of];
        low + (high - low) * share
    }

    /// Its share of charge when the first reading was taken. What is worn or has a dead cell mostly
    /// comes charged, or freshly off a charger that did not help.
    pub fn charge(&self) -> f64 {
        use BatteryState::{DeadCell, Worn};
        let even = self.even[CHARGE];
        let much = matches!(self.state, Worn | DeadCell);
        self.within(CHARGE, if much { even.sqrt() } else { even })
    }

    /// The share of its label's cold-cranking amperes that it gives when charged. Sound ones mostly
    /// give what their label says.
    pub fn health(&self) -> f64 {
        let even = self.even[HEALTH];
        let sound = matches!(self.state, BatteryState::Good | BatteryState::Low);
        let off = 2.0 * even - 1.0;
        let middling = (1.0 + off.signum() * off.abs().powf(1.6)) / 2.0;
        self.within(HEALTH, if sound { middling } else { even })
    }

    /// Cold-cranking amperes that it gives when charged.
    pub fn cold_amps(&self, plate: &Plate) -> f64 {
        let off = self.normal[RATED];
        // Now and then the label is another battery's.
        let other = match plate.cold_amps {
            Some(_) => (off.abs() - OTHER_LABEL).max(0.0) * OTHER_BY * off.signum(),
            None => 0.0,
        };
        plate.rated_amps() * (plate.rated_spread() * off + other).exp() * self.health()
    }

    /// Ampere-hours that it takes and gives.
    pub fn amp_hours(&self, plate: &Plate) -> f64 {
        plate.rated_hours() * (0.15 * self.normal[CAPACITY]).exp() * self.health().min(1.0)
    }

    /// Volts at rest at a share of charge.
    pub fn emf(&self, plate: &Plate, charge: f64) -> f64 {
        let whole = read(&VOLTS_BY_CHARGE, charge)
            + plate.chemistry.above()
            + OFFSET_VOLTS * self.normal[OFFSET];
        let dead = match self.state {
            BatteryState::DeadCell => (1.0 + DEAD_SPREAD * self.normal[DEAD]) / 6.0,
            _ => 0.0,
        };
        (whole * (1.0 - dead.clamp(0.0, 0.3)) * plate.scale()).max(0.0)
    }

    /// Inner ohms at a share of charge, before polarization.
    pub fn ohms(&self, plate: &Plate, charge: f64) -> f64 {
        let full = WARM_OHM_AMPS * plate.scale() / self.cold_amps(plate);
        let (top, here) = (read(&VOLTS_BY_CHARGE, 1.0), read(&VOLTS_BY_CHARGE, charge));
        let colder = WARM_CELSIUS - plate.celsius;
        let by_cold = (COLD_OHM_AMPS / WARM_OHM_AMPS).ln() / (WARM_CELSIUS - COLD_CELSIUS);
        drained_ohms(top, full, here) * (by_cold * colder).exp()
    }

    /// What polarization adds to the first drop after so many seconds, as a share of it.
    fn slower(&self, seconds: f64) -> f64 {
        let whole = SLOWER_SHARE * (SLOWER_SPREAD * self.normal[SLOWER]).exp();
        whole * (1.0 - (-seconds / self.seconds()).exp())
    }

    fn seconds(&self) -> f64 {
        SLOWER_SECONDS * (SPEED_SPREAD * self.normal[SPEED]).exp()
    }

    /// Before the first reading.
    pub fn begin(&self) -> Stand {
        let surface = SURFACE_VOLTS * self.even[SURFACE];
        Stand { charge: self.charge(), surface, hours: 0.0, slower: 0.0 }
    }

    fn surface_at(&self, stand: &mut Stand, hours: f64) {
        let lasts = SURFACE_HOURS * (SURFACE_SPREAD * self.normal[SURFACE_SPEED]).exp();
        stand.surface *= (-(hours - stand.hours).max(0.0) / lasts).exp();
        stand.hours = stand.hours.max(hours);
    }

    /// Volts with a load on for so long, from how it stands.
    pub fn loaded(&self, plate: &Plate, stand: &Stand, amps: f64, seconds: f64) -> f64 {
        let first = amps * self.ohms(plate, stand.charge);
        let fresh = stand.surface * (-seconds / 5.0).exp();
        self.emf(plate, stand.charge) + fresh - first * (1.0 + self.slower(seconds))
    }

    /// Volts so long after a load was off that had been on.
    pub fn recovered(&self, plate: &Plate, stand: &Stand, seconds: f64) -> f64 {
        let left = stand.slower * (-seconds / (GOES_SLOWER * self.seconds())).exp();
        self.emf(plate, stand.charge) + stand.surface - left
    }

    /// A load was on.
    pub fn draw(&self, plate: &Plate, stand: &mut Stand, amps: f64, seconds: f64) {
        let share = amps * seconds / 3600.0 / self.amp_hours(plate);
        stand.slower = amps * self.ohms(plate, stand.charge) * self.slower(seconds);
        stand.charge -= share;
        stand.surface *= (-share / SURFACE_TAKEN_BY).exp();
    }

    /// What would be read, taken from one reading to the next; none of what is not read in volts or
    /// acid.
    pub fn sees(&self, plate: &Plate, stand: &mut Stand, seen: &Seen) -> Option<Expected> {
        let scale = 1.0 + METER_SCALE * self.normal[METER];
        let volts = |value: f64, spread: f64| {
            Some(Expected { value: (value * scale).max(0.0), spread: spread.hypot(0.012) })
        };
        match *seen {
            Seen::Test(BatteryTest::Rest { hours, surface_off, .. }) => {
                self.surface_at(stand, hours);
                if surface_off {
                    stand.surface *= SURFACE_LEFT;
                }
                volts(self.emf(plate, stand.charge) + stand.surface, 0.015)
            }
            Seen::Test(BatteryTest::Loaded { amps, estimated, seconds, .. }) => {
                let value = self.loaded(plate, stand, amps, seconds);
                let known = if estimated { 0.15 } else { 0.05 };
                let warmth = if plate.celsius_known { 0.04 } else { 0.12 };
                let drop = (self.emf(plate, stand.charge) - value).abs();
                self.draw(plate, stand, amps, seconds);
                volts(value, (drop * known).hypot(drop * warmth).hypot(0.02))
            }
            Seen::Test(BatteryTest::Recovered { seconds, .. }) => {
                volts(self.recovered(plate, stand, seconds), 0.03 + 0.25 * stand.slower)
            }
            Seen::Test(BatteryTest::Charged { amps, hours }) => {
                let taken = CHARGE_ACCEPTED * amps * hours / self.amp_hours(plate);
                self.charged(stand, taken);
                None
            }
            Seen::ChargedSomehow => {
                let taken = (1.0 - stand.charge) * (0.4 + 0.6 * self.even[TAKEN]);
                self.charged(stand, taken);
                None
            }
            Seen::Cranked(_) => {
                let outside = plate.outside_ohms?;
                let outside = outside * (OUTSIDE_SPREAD * self.normal[OUTSIDE]).exp();
                let emf = self.emf(plate, stand.charge);
                let own = self.ohms(plate, stand.charge) * (1.0 + self.slower(CRANK_SECONDS));
                let amps = emf / (own + outside);
                let value = emf - amps * own;
                self.draw(plate, stand, amps, CRANK_SECONDS);
                volts(value, 0.05 + 0.08 * (emf - value))
            }
            Seen::Test(
                BatteryTest::Label { .. }
                | BatteryTest::Hydrometer { .. }
                | BatteryTest::Drain { .. },
            ) => None,
        }
    }

    fn charged(&self, stand: &mut Stand, taken: f64) {
        stand.charge = (stand.charge + taken).min(1.0);
        // A worn battery comes up in volts like any other.
        stand.surface = SURFACE_VOLTS * self.even[SURFACE];
        stand.hours = 0.0;
        stand.slower = 0.0;
    }

    /// The specific gravity of a sound cell.
    pub fn gravity(&self, plate: &Plate, stand: &Stand) -> f64 {
        let warm = read(&GRAVITY_BY_CHARGE, stand.charge);
        warm - GRAVITY_PER_KELVIN * (plate.celsius - 27.0)
    }

    /// How it would crank this starter: volts at rest, and ohms a few seconds into it.
    pub fn cranking(&self, plate: &Plate, stand: &Stand) -> (f64, f64) {
        let ohms = self.ohms(plate, stand.charge) * (1.0 + self.slower(CRANK_SECONDS));
        (self.emf(plate, stand.charge), ohms)
    }
}

impl Stand {
    /// Its share of charge by now.
    pub fn charge(&self) -> f64 {
        self.charge
    }

    /// Volts of surface charge on it.
    pub fn surface(&self) -> f64 {
        self.surface
    }
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;

    pub(crate) const PLATE: Plate = Plate {
        nominal: 12.0,
        ohms: 0.01,
        outside_ohms: Some(0.06),
        cold_amps: Some(300.0),
        amp_hours: None,
        chemistry: Chemistry::Flooded,
        celsius: 25.0,
        celsius_known: true,
    };

    fn battery(state: BatteryState, charge: f64, health: f64) -> Battery {
        let mut battery = Battery { state, even: [0.5; EVENS], normal: [0.0; NORMALS] };
        for (number, wanted) in [(CHARGE, charge), (HEALTH, health)] {
            let (mut low, mut high) = (0.0, 1.0);
            for _ in 0..50 {
                battery.even[number] = (low + high) / 2.0;
                let is = if number == CHARGE { battery.charge() } else { battery.health() };
                let end = if is < wanted { &mut low } else { &mut high };
                *end = battery.even[number];
            }
        }
        battery
    }

    fn at(plate: &Plate, battery: &Battery, seen: &[Seen]) -> Vec<f64> {
        let mut stand = battery.begin();
        let read = seen.iter().filter_map(|s| battery.sees(plate, &mut stand, s));
        read.map(|e| e.value).collect()
    }

    fn rest(hours: f64) -> Seen {
        Seen::Test(BatteryTest::Rest { volts: 0.0, hours, surface_off: false, celsius: None })
    }

    fn load(amps: f64, seconds: f64) -> Seen {
        let (volts, estimated, celsius) = (0.0, false, None);
        Seen::Test(BatteryTest::Loaded { volts, amps, estimated, seconds, celsius })
    }

    #[test]
    fn a_good_battery_passes_the_published_load_test_and_a_worn_one_does_not() {
        let after = load(150.0, 15.0);
        let good = at(&PLATE, &battery(BatteryState::Good, 1.0, 1.0), &[rest(24.0), after]);
        assert!((good[0] - 12.65).abs() < 0.01 && good[1] > 9.6, "{good:?}");
        let worn = at(&PLATE, &battery(BatteryState::Worn, 1.0, 0.4), &[rest(24.0), after]);
        assert!((worn[0] - 12.65).abs() < 0.01 && worn[1] < 9.6, "{worn:?}");
        // At the cold test itself it gives its amperes at 7.2 V or so.
        let cold = Plate { celsius: COLD_CELSIUS, ..PLATE };
        let at_the_test = at(&cold, &battery(BatteryState::Good, 1.0, 1.0), &[load(300.0, 1.0)]);
        assert!((6.5..7.6).contains(&at_the_test[0]), "{at_the_test:?}");
    }

    #[test]
    fn surface_charge_goes_with_the_hours_and_with_the_lamps() {
        let low = battery(BatteryState::Low, 0.5, 1.0);
        let read = at(&PLATE, &low, &[rest(0.1), rest(30.0)]);
        assert!(read[0] > 12.4 && (read[1] - 12.24).abs() < 0.02, "{read:?}");
        let lamps = at(&PLATE, &low, &[rest(0.1), load(8.0, 180.0), rest(0.2)]);
        assert!(lamps[2] < read[0] - 0.1, "{lamps:?}");
    }

    #[test]
    fn a_battery_comes_back_after_a_load_slower_than_it_went() {
        let worn = battery(BatteryState::Worn, 0.9, 0.3);
        let after = |seconds| Seen::Test(BatteryTest::Recovered { volts: 0.0, seconds });
        let read = at(&PLATE, &worn, &[rest(24.0), load(50.0, 15.0), after(2.0), after(120.0)]);
        assert!(read[1] < read[2] && read[2] < read[3] && read[3] < read[0] + 0.02, "{read:?}");
    }

    #[test]
    fn half_of_it_is_half_of_it_on_a_six_volt_machine() {
        let six = Plate { nominal: 6.0, ohms: 0.005, cold_amps: None, ..PLATE };
        let good = battery(BatteryState::Good, 1.0, 1.0);
        let (twelve, half) = (at(&PLATE, &good, &[rest(24.0)]), at(&six, &good, &[rest(24.0)]));
        assert!((twelve[0] / 2.0 - half[0]).abs() < 0.01);
        assert_eq!(six.rated_amps(), 300.0);
    }

    #[test]
    fn a_dead_cell_takes_a_sixth_and_a_charge_puts_back_what_it_puts_back() {
        let dead = battery(BatteryState::DeadCell, 0.9, 0.9);
        let read = at(&PLATE, &dead, &[rest(24.0)]);
        assert!((10.2..10.7).contains(&read[0]), "{read:?}");
        let low = battery(BatteryState::Low, 0.1, 1.0);
        let charged = Seen::Test(BatteryTest::Charged { amps: 10.0, hours: 2.0 });
        let read = at(&PLATE, &low, &[rest(24.0), charged, rest(30.0)]);
        // 18 of 28.5 Ah.
        assert!((read[1] - 12.435).abs() < 0.05, "{read:?}");
    }
}
