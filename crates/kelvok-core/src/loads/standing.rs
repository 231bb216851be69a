//! What a load's readings come to, and what to read next.

use super::belief::{Belief, Cold, Hot};
use super::load::{Load, LoadKind};
use super::misfit::{LoadMisfit, misfits};
use serde::Serialize;

/// One reading of a load.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum LoadReading {
    /// Its ohms as they were shown, and the degrees at which, if somebody said them; none is open leads.
    Ohms {
        #[allow(missing_docs)]
        ohms: Option<f64>,
        #[allow(missing_docs)]
        celsius: Option<f64>,
    },
    /// Volts across it while it is on.
    Volts(f64),
    /// Amperes that it draws.
    Amps(f64),
    /// Ohms from its winding to the frame; none is open leads.
    Insulation(Option<f64>),
}

/// What a load comes to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum LoadWord {
    /// Nothing was read.
    NotRead,
    /// Not enough was read to say.
    Unsure,
    /// What it should have, and draw.
    Good,
    /// Too few ohms: turns are shorted.
    Shorted,
    /// Too many: a bad joint inside.
    High,
    /// Nothing gets through.
    Open,
    /// Ohms and amperes do not go together.
    Disagree,
}

impl LoadWord {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::NotRead => "Not read yet",
            Self::Unsure => "Can’t tell yet",
            Self::Good => "Good",
            Self::Shorted => "Shorted inside: it draws too much",
            Self::High => "Too many ohms: bad joint inside",
            Self::Open => "Open: no current gets through",
            Self::Disagree => "Ohms and amps don’t agree",
        }
    }
}

/// Its winding to the frame.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Insulation {
    /// Over a megohm.
    Good,
    /// Wet or dirty: it leaks and still works.
    Leaks,
    /// It touches.
    Grounded,
}

impl Insulation {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Good => "Not touching the frame",
            Self::Leaks => "Leaks to the frame: wet or dirty",
            Self::Grounded => "Touches the frame",
        }
    }

    /// Over a megohm nothing flows; under a hundred times its own ohms it is a path of its own.
    fn of(load: &Load, ohms: Option<f64>) -> Self {
        match ohms {
            None => Self::Good,
            Some(ohms) if ohms >= 1e6 => Self::Good,
            Some(ohms) if ohms >= (100.0 * load.ohms).max(1000.0) => Self::Leaks,
            Some(_) => Self::Grounded,
        }
    }
}

/// Ohms at 20 °C, and between which nine times in ten they are.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Ohms {
    pub likely: f64,
    pub low: f64,
    pub high: f64,
}

/// What some of its readings say by themselves.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Said {
    pub word: LoadWord,
    /// How likely that is, 0 to 1.
    pub sure: f64,
    pub ohms: Option<Ohms>,
}

/// What to read next.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum LoadNext {
    Ohms,
    Volts,
    Amps,
    Insulation,
}

/// What a load's readings come to.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct LoadStanding {
    pub word: LoadWord,
    /// How likely that is, 0 to 1.
    pub sure: f64,
    pub ohms: Option<Ohms>,
    /// By ohms alone, and by volts and amperes alone.
    pub by_ohms: Option<Said>,
    pub by_amps: Option<Said>,
    /// Volts, amperes and watts while it is on, as read; volts times amperes.
    pub volts: Option<f64>,
    pub amps: Option<f64>,
    pub watts: Option<f64>,
    /// What a good one draws at those volts, in A.
    pub should_draw: Option<f64>,
    pub insulation: Option<Insulation>,
    pub misfits: Vec<LoadMisfit>,
    pub next: Option<LoadNext>,
}

/// From here on it is said.
const SURE: f64 = 0.9;
/// From here on nothing more is asked for.
const ENOUGH: f64 = 0.95;
/// Ohms are read again where they surprise; so many of the last count.
const MOST_COLD: usize = 3;
/// Under so many volts it is not on.
const LEAST_VOLTS: f64 = 1.0;

/// What readings of a load come to, in order; of volts and of amperes the last counts.
///
/// ```
/// use kelvok_core::circuit::Circuit;
/// use kelvok_core::loads::{LoadReading, LoadWord, load_standing, loads};
/// use kelvok_core::machine::{LIBRARY, Machine};
///
/// let shipped = LIBRARY.iter().find(|m| m.name == "dunmarrow-z-52").expect("in the library");
/// let circuit = Circuit::compile(&Machine::read(shipped.text).expect("sound"));
/// let all = loads(&circuit);
/// let clutch = all.iter().find(|l| circuit.element(l.element).id == "clutch").expect("a clutch");
/// // 1.1 ohm where 2.6 belongs, in a cold shop.
/// let said = load_standing(clutch, &[LoadReading::Ohms { ohms: Some(1.1), celsius: Some(10.0) }]);
/// assert_eq!(said.word, LoadWord::Shorted);
/// ```
pub fn load_standing(load: &Load, readings: &[LoadReading]) -> LoadStanding {
    let last = |of: fn(&LoadReading) -> Option<f64>| readings.iter().rev().find_map(of);
    // Of a lamp open leads count, and how many ohms it has cold does not.
    let counts = |ohms: &Option<f64>| load.kind != LoadKind::Lamp || ohms.is_none();
    let colds = readings.iter().rev().filter_map(|r| match r {
        LoadReading::Ohms { ohms, celsius } if counts(ohms) => {
            Some(Cold { ohms: *ohms, celsius: *celsius })
        }
        _ => None,
    });
    let colds: Vec<Cold> = colds.take(MOST_COLD).collect();
    let cold = colds.first().copied();
    let volts = last(|r| if let LoadReading::Volts(v) = r { Some(v.abs()) } else { None });
    let amps = last(|r| if let LoadReading::Amps(a) = r { Some(a.abs()) } else { None });
    let leak = readings.iter().rev().find_map(|r| match r {
        LoadReading::Insulation(ohms) => Some(*ohms),
        _ => None,
    });
    let hot = volts.zip(amps).filter(|(volts, _)| *volts > LEAST_VOLTS);
    let hot = hot.map(|(volts, amps)| Hot { volts, amps });
    let by_ohms = cold.map(|_| said(load, &colds, &[]));
    let by_amps = hot.map(|own| said(load, &[], &[own]));
    let apart = by_ohms.zip(by_amps).is_some_and(|(a, b)| {
        a.word != b.word && a.word != LoadWord::Unsure && b.word != LoadWord::Unsure
    });
    // Both are sure of something else: then what either holds likeliest is what it says.
    let bounds = |said: Option<Said>| {
        let ohms = said?.ohms?;
        Some(if apart { (ohms.likely, ohms.likely) } else { (ohms.low, ohms.high) })
    };
    let misfits = misfits(load, (cold, bounds(by_ohms)), (hot, bounds(by_amps)));
    let hots: Vec<Hot> = hot.into_iter().collect();
    let both = said(load, &colds, &hots);
    let insulation = leak.map(|ohms| Insulation::of(load, ohms));
    let word = match (cold.is_none() && hot.is_none(), misfits.is_empty()) {
        (true, _) => LoadWord::NotRead,
        (_, false) => LoadWord::Disagree,
        _ => both.word,
    };
    let mut standing = LoadStanding {
        word,
        sure: both.sure,
        ohms: both.ohms.filter(|_| word != LoadWord::NotRead),
        by_ohms,
        by_amps,
        volts,
        amps,
        watts: volts.zip(amps).map(|(volts, amps)| volts * amps),
        should_draw: volts.map(|volts| load.draws(volts)),
        insulation,
        misfits,
        next: None,
    };
    standing.next = next(load, &standing, colds.len());
    standing
}

fn said(load: &Load, cold: &[Cold], hot: &[Hot]) -> Said {
    let belief = Belief::new(load, cold, hot);
    let states = belief.states();
    let words = [LoadWord::Good, LoadWord::Shorted, LoadWord::High, LoadWord::Open];
    let best = (0..4).max_by(|a, b| states[*a].total_cmp(&states[*b])).unwrap_or(0);
    let word = if states[best] >= SURE { words[best] } else { LoadWord::Unsure };
    let ohms = belief.ohms(load).map(|(likely, low, high)| Ohms { likely, low, high });
    Said { word, sure: states[best], ohms }
}

/// Ohms first: the key is off. What surprises is read twice. Then what it draws, where ohms leave it open or do
/// not go with it.
fn next(load: &Load, own: &LoadStanding, cold_readings: usize) -> Option<LoadNext> {
    use LoadWord::{Good, High, Open, Shorted};
    if matches!(own.word, Good | Shorted | High | Open) && own.sure >= ENOUGH {
        let open = own.insulation.is_none() && own.word == Shorted;
        return (open && load.insulation_at.is_some()).then_some(LoadNext::Insulation);
    }
    let on = load.on.as_ref();
    let ohms = |most: usize| load.ohms_at.is_some() && cold_readings < most;
    let wants = [
        (LoadNext::Ohms, ohms(2)),
        (LoadNext::Volts, own.volts.is_none() && on.is_some_and(|on| on.volts_at.is_some())),
        (LoadNext::Amps, own.amps.is_none() && on.is_some_and(|on| on.clamp_at.is_some())),
        (LoadNext::Ohms, ohms(MOST_COLD) || own.word == LoadWord::Disagree),
    ];
    wants.into_iter().find(|(_, wanted)| *wanted).map(|(next, _)| next)
}
