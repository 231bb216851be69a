//! What the readings of a charging system come to, and what to read next.

use super::belief::{ChargeBelief, Shows};
use super::published::{CHARGES_OVER_REST, GOOD_VOLTS, OVER_VOLTS, RIPPLE_VOLTS};
use super::state::{ChargePlace, ChargeState};
use super::system::{ChargeKind, ChargeReading, ChargingSystem, Load};
use serde::Serialize;

/// Whether it charges, as its volts and amperes show it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum ChargeDoes {
    /// Nothing was read with the engine running.
    NotRead,
    /// The volts stay where they were.
    NoCharge,
    /// More than at rest, less than it should.
    Low,
    /// As it should.
    Charges,
    /// Too many volts.
    Over,
}

impl ChargeDoes {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::NotRead => "Not read yet",
            Self::NoCharge => "Not charging",
            Self::Low => "Charging too little",
            Self::Charges => "Charging",
            Self::Over => "Overcharging",
        }
    }
}

/// What to mind.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum ChargeNote {
    /// A flat battery takes all there is and holds the volts down.
    ChargeFirst,
    /// It charges, and its battery is not full: too many volts show only then.
    WhenFull,
    /// It kills what is on the machine.
    Kills,
    /// At idle a good one may charge little or not at all.
    IdleIsUsual,
    /// More is on than it gives.
    MuchOn,
    /// Too much ripple.
    Ripple,
    /// The drawing does not say how many amperes it should give.
    RatedUnknown,
    /// It is not regulated: amperes tell.
    ByAmps,
}

impl ChargeNote {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::ChargeFirst => {
                "The battery is flat. Put it on a charger first: a flat one holds the volts down"
            }
            Self::WhenFull => {
                "The battery isn’t full yet. Read again when it is: overcharging shows only then"
            }
            Self::Kills => "Overcharging kills batteries, lamps and coils. Check those too",
            Self::IdleIsUsual => "Little or no charge at idle is normal. Full speed counts",
            Self::MuchOn => "More is switched on than it puts out. Turn it off and read again",
            Self::Ripple => "Too much ripple: a bad diode, or a battery that won’t hold",
            Self::RatedUnknown => "The drawing doesn’t give its amps: check the maker’s manual",
            Self::ByAmps => "No regulator here, only a charge diode: go by the amps",
        }
    }
}

/// One thing that it may be.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct ChargeCause {
    pub state: ChargeState,
    pub place: ChargePlace,
    /// 0 to 1.
    pub chance: f64,
}

/// What a good system reads.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct ChargeExpected {
    pub kind: ChargeKind,
    /// V or A, nine in ten; of ohms nothing is said.
    pub low: f64,
    pub high: f64,
}

/// What the readings of a charging system come to.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct ChargeStanding {
    pub does: ChargeDoes,
    /// What it is, where that is said: the likeliest in the place where it is, and how likely that place is.
    pub says: Option<ChargeCause>,
    /// What it may be, likeliest first; from one in a hundred.
    pub causes: Vec<ChargeCause>,
    pub notes: Vec<ChargeNote>,
    /// Volts at the posts at rest, at idle and at full speed, and amperes at full speed, as last read.
    pub rest: Option<f64>,
    pub idle: Option<f64>,
    pub full: Option<f64>,
    pub amps: Option<f64>,
    pub expected: Vec<ChargeExpected>,
    pub next: Option<ChargeKind>,
    /// What else tells something, best first: for who has no clamp, or cannot get there.
    pub or: Vec<ChargeKind>,
}

/// From here on it is said where it is; of a system that charges, that nothing is wrong.
const SURE: f64 = 0.93;
const SURE_IT_IS_GOOD: f64 = 0.9;
/// So often something is read, where it leaves a doubt.
const MOST_EACH: usize = 2;
/// Fewer bits are not worth a reading.
const TELLS: f64 = 0.06;
/// Less likely is not listed.
const LISTED: f64 = 0.01;
/// Under so many volts at rest it is charged first.
const FLAT: f64 = 12.0;
/// Volts at rest of a battery that is three quarters full or more, and of one just off its charger.
const FULL_AT_REST: (f64, f64) = (12.4, 12.9);
/// From so many on it is full enough for a regulator that does not stop to show.
const FULL_ENOUGH: f64 = 12.5;
/// A charge diode's amperes are good from this share of the least expected on.
const ENOUGH_AMPS: f64 = 0.7;
/// A stranger's battery, unread, is no higher.
const AT_REST_MOST: f64 = 12.9;

/// What readings of a charging system come to, in order.
///
/// ```
/// use kelvok_core::charging::{ChargeDoes, ChargeKind, ChargeReading, charge_standing, charging_system};
/// use kelvok_core::circuit::Circuit;
/// use kelvok_core::machine::{LIBRARY, Machine};
///
/// let shipped = LIBRARY.iter().find(|m| m.name == "pellwick-gt-46").expect("in the library");
/// let circuit = Circuit::compile(&Machine::read(shipped.text).expect("sound"));
/// let system = charging_system(&circuit).expect("it charges");
/// let said = charge_standing(&system, &[ChargeReading::Rest(12.4)]);
/// assert_eq!(said.does, ChargeDoes::NotRead);
/// assert_eq!(said.next, Some(ChargeKind::Full));
/// ```
pub fn charge_standing(system: &ChargingSystem, readings: &[ChargeReading]) -> ChargeStanding {
    let belief = ChargeBelief::new(system, readings);
    let last = |of: &dyn Fn(&ChargeReading) -> Option<f64>| readings.iter().rev().find_map(of);
    let rest = last(&|r| if let ChargeReading::Rest(v) = r { Some(*v) } else { None });
    let posts = |idle: bool| {
        last(&|r| match r {
            ChargeReading::Posts(v, load) if load.idle == idle => Some(*v),
            _ => None,
        })
    };
    let (idle, full) = (posts(true), posts(false));
    let amps = last(&|r| match r {
        ChargeReading::Amps(a, load) if !load.idle => Some(a.abs()),
        _ => None,
    });
    let ripple = last(&|r| if let ChargeReading::Ripple(v) = r { Some(*v) } else { None });
    let causes: Vec<ChargeCause> = belief
        .states()
        .into_iter()
        .map(|(state, chance)| ChargeCause { state, place: state.place(), chance })
        .collect();
    let expected = system.sites.iter().filter_map(|site| {
        // At rest a battery has what it was charged to; at idle a good one may charge or not.
        match site.kind {
            ChargeKind::Rest => {
                let (low, high) = FULL_AT_REST;
                return Some(ChargeExpected { kind: site.kind, low, high });
            }
            ChargeKind::Idle => return None,
            _ => {}
        }
        let reading = supposed(system, site.kind)?;
        let (low, high) = belief.good(&reading)?;
        Some(ChargeExpected { kind: site.kind, low, high })
    });
    let expected: Vec<ChargeExpected> = expected.collect();
    let does = does(system, (rest, full, amps), &expected);
    let read = |kind: ChargeKind| readings.iter().filter(|r| kind_of(r) == Some(kind)).count();
    let running = full.is_some() || amps.is_some() || idle.is_some();
    let likeliest = causes.first().filter(|_| running).copied();
    // Nobody says of a regulator that it overcharges before its volts were too high.
    let high = full.is_some_and(|volts| volts > GOOD_VOLTS.1);
    let shown = |own: &ChargeCause| own.state != ChargeState::RegulatorOver || high;
    let says = likeliest.filter(shown).and_then(|own| {
        let here = causes.iter().filter(|c| c.place == own.place);
        let chance: f64 = here.map(|c| c.chance).sum();
        let good = own.state == ChargeState::Good && does == ChargeDoes::Charges;
        let sure = chance >= if good { SURE_IT_IS_GOOD } else { SURE };
        sure.then_some(ChargeCause { chance, ..own })
    });
    let mut notes = Vec::new();
    let charged = readings.contains(&ChargeReading::Charged);
    let flat = !charged && rest.is_some_and(|volts| volts < FLAT);
    let mut note = |when: bool, note| notes.extend(when.then_some(note));
    note(flat && does != ChargeDoes::Charges, ChargeNote::ChargeFirst);
    let low = rest.is_some_and(|volts| volts < FULL_ENOUGH);
    note(low && system.regulated && does == ChargeDoes::Charges, ChargeNote::WhenFull);
    note(does == ChargeDoes::Over, ChargeNote::Kills);
    let none_at_idle = idle.zip(rest).is_some_and(|(idle, rest)| idle < rest + CHARGES_OVER_REST);
    note(none_at_idle && does != ChargeDoes::NoCharge, ChargeNote::IdleIsUsual);
    note(much_on(system, readings), ChargeNote::MuchOn);
    note(system.regulated && ripple.is_some_and(|v| v > RIPPLE_VOLTS), ChargeNote::Ripple);
    note(!system.regulated, ChargeNote::ByAmps);
    let unknown = system.regulated && system.rated.is_none();
    note(unknown && amps.is_some() && says.is_none(), ChargeNote::RatedUnknown);
    let first = |kind: ChargeKind| (read(kind) == 0 && system.site(kind).is_some()).then_some(kind);
    let settled = says.is_some() || flat && amps.is_some() && does != ChargeDoes::NoCharge;
    let mut wanted = match first(ChargeKind::Rest).or(first(ChargeKind::Full)) {
        Some(kind) => vec![kind],
        None if settled => Vec::new(),
        None => tell(system, &belief, &read),
    };
    let next = (!wanted.is_empty()).then(|| wanted.remove(0));
    ChargeStanding {
        does,
        says,
        causes: causes.into_iter().filter(|c| c.chance >= LISTED).collect(),
        notes,
        rest,
        idle,
        full,
        amps,
        expected,
        next,
        or: wanted,
    }
}

fn does(
    system: &ChargingSystem,
    (rest, full, amps): (Option<f64>, Option<f64>, Option<f64>),
    expected: &[ChargeExpected],
) -> ChargeDoes {
    let Some(full) = full else { return ChargeDoes::NotRead };
    let charges = full > rest.unwrap_or(AT_REST_MOST) + CHARGES_OVER_REST;
    if full > OVER_VOLTS {
        return ChargeDoes::Over;
    }
    if !system.regulated {
        let good = expected.iter().find(|e| e.kind == ChargeKind::Amps);
        let enough = good.zip(amps).is_some_and(|(good, amps)| amps >= ENOUGH_AMPS * good.low);
        return match (amps, charges) {
            (Some(_), _) if enough => ChargeDoes::Charges,
            (Some(amps), _) if amps > 0.1 => ChargeDoes::Low,
            (None, true) => ChargeDoes::Charges,
            _ => ChargeDoes::NoCharge,
        };
    }
    match charges {
        _ if full >= GOOD_VOLTS.0 => ChargeDoes::Charges,
        true => ChargeDoes::Low,
        false => ChargeDoes::NoCharge,
    }
}

/// Whether what was on when it was read last draws more than such a system gives.
fn much_on(system: &ChargingSystem, readings: &[ChargeReading]) -> bool {
    let last = readings.iter().rev().find_map(|r| match r {
        ChargeReading::Posts(_, load) if !load.idle => Some(load.drawn),
        _ => None,
    });
    let least = system.rated.unwrap_or(super::published::RATED.0);
    system.regulated && last.is_some_and(|drawn| drawn > least)
}

/// What kind of reading it is; a charge is none.
pub(super) fn kind_of(reading: &ChargeReading) -> Option<ChargeKind> {
    Some(match reading {
        ChargeReading::Charged => return None,
        ChargeReading::Rest(_) => ChargeKind::Rest,
        ChargeReading::Posts(_, load) if load.idle => ChargeKind::Idle,
        ChargeReading::Posts(..) => ChargeKind::Full,
        ChargeReading::Amps(..) => ChargeKind::Amps,
        ChargeReading::Ripple(_) => ChargeKind::Ripple,
        ChargeReading::Feed(..) => ChargeKind::Feed,
        ChargeReading::Ground(..) => ChargeKind::Ground,
        ChargeReading::Stator(..) => ChargeKind::Stator,
        ChargeReading::Winding(_) => ChargeKind::Winding,
        ChargeReading::Frame(_) => ChargeKind::Frame,
    })
}

/// A reading of a kind, where it is taken, that nobody took yet.
fn supposed(system: &ChargingSystem, kind: ChargeKind) -> Option<ChargeReading> {
    let site = system.site(kind)?;
    let load = Load { idle: site.idle, drawn: site.drawn };
    Some(match kind {
        ChargeKind::Rest => ChargeReading::Rest(0.0),
        ChargeKind::Full | ChargeKind::Idle => ChargeReading::Posts(0.0, load),
        ChargeKind::Amps => ChargeReading::Amps(0.0, load),
        ChargeKind::Ripple => ChargeReading::Ripple(0.0),
        ChargeKind::Feed => ChargeReading::Feed(0.0, load),
        ChargeKind::Ground => ChargeReading::Ground(0.0, load),
        ChargeKind::Stator => ChargeReading::Stator(0.0, site.idle),
        ChargeKind::Winding => ChargeReading::Winding(None),
        ChargeKind::Frame => ChargeReading::Frame(None),
    })
}

/// What tells something of what is wrong; most a minute first.
fn tell(
    system: &ChargingSystem,
    belief: &ChargeBelief,
    read: &dyn Fn(ChargeKind) -> usize,
) -> Vec<ChargeKind> {
    let kinds = system.sites.iter().map(|site| site.kind).filter(|kind| read(*kind) < MOST_EACH);
    let told = kinds.filter_map(|kind| {
        let bits = bits(belief, &supposed(system, kind)?);
        (bits > TELLS).then_some((kind, bits / kind.minutes()))
    });
    let mut told: Vec<_> = told.collect();
    // What was read is read again only where nothing else tells.
    told.sort_by(|a, b| read(a.0).cmp(&read(b.0)).then(b.1.total_cmp(&a.1)));
    told.into_iter().map(|(kind, _)| kind).collect()
}

/// How wide answers are told apart.
fn answer(reading: &ChargeReading, shows: Shows) -> i32 {
    let step = |at: f64, wide: f64| (at / wide).round() as i32;
    match shows {
        Shows::Open => -1,
        Shows::Between(low, _) => i32::from(low > 1.0),
        Shows::About(at, _) => match kind_of(reading) {
            Some(ChargeKind::Amps) => step(at, 1.0),
            Some(ChargeKind::Stator) => step(at, 4.0),
            Some(ChargeKind::Feed | ChargeKind::Ground) => step((at / 0.06).asinh(), 0.7),
            Some(ChargeKind::Ripple) => step((at / 0.1).asinh(), 0.7),
            _ => step(at, 0.2),
        },
    }
}

/// Bits that a reading tells of what is wrong.
fn bits(belief: &ChargeBelief, reading: &ChargeReading) -> f64 {
    let mut cells: Vec<(i32, [f64; ChargeState::ALL.len()])> = Vec::new();
    let mut states = [0.0; ChargeState::ALL.len()];
    for (drawn, weight) in &belief.all {
        let at = answer(reading, drawn.shows(reading));
        let state = drawn.state as usize;
        states[state] += weight;
        match cells.iter_mut().find(|(own, _)| *own == at) {
            Some((_, cell)) => cell[state] += weight,
            None => {
                let mut cell = [0.0; ChargeState::ALL.len()];
                cell[state] = *weight;
                cells.push((at, cell));
            }
        }
    }
    let entropy = |of: &[f64]| -> f64 {
        let sum: f64 = of.iter().sum();
        let term = |p: &f64| if *p > 0.0 { -p * (p / sum).log2() } else { 0.0 };
        of.iter().map(term).sum()
    };
    entropy(&states) - cells.iter().map(|(_, cell)| entropy(cell)).sum::<f64>()
}
