//! Every fuse and every wire, beside what it carries.

use super::carried::{Carried, Load, in_every_condition};
use super::figures::{BlowTime, blow_time, wire_amps};
use super::guards::{Fed, Feeds, Guard};
use crate::circuit::{Circuit, ElementId, ElementKind};
use crate::machine::{PartKind, SHORT_OHMS};
use serde::{Deserialize, Serialize};

/// A fuse may be so much larger than what its wire carries all day (ABYC E-11).
const OVER_WIRE: f64 = 1.5;
/// What a fuse carries all day, as a share of its rating: hot, and near others.
const ALL_DAY: f64 = 0.8;
/// Nobody holds a key against its spring for longer, in seconds.
const A_MOMENT: f64 = 10.0;
/// Ratings that differ by less are the same.
const SAME_AMPS: f64 = 0.1;

/// What is printed on a fuse that somebody read, by part, in amperes.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Fitted {
    pub part: usize,
    pub amps: f64,
}

/// What is to be said of a fuse.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum FuseWord {
    OverCalledFor,
    OverWire,
    UnderCalledFor,
    LoadOver,
    LoadNear,
    BlowsCranking,
    RatingUnknown,
}

impl FuseWord {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::OverCalledFor => "Too big: the manual calls for a smaller one",
            Self::OverWire => "Too big for its wire: the wire burns before the fuse blows",
            Self::UnderCalledFor => "Smaller than the manual calls for",
            Self::LoadOver => "Its load is more than its rating: it blows in normal use",
            Self::LoadNear => "Not much to spare: its load is close to what it carries all day",
            Self::BlowsCranking => "It may blow while the key is held",
            Self::RatingUnknown => "Size not known: look it up in the manual",
        }
    }

    /// Whether it has to be put right.
    pub fn is_wrong(self) -> bool {
        !matches!(self, Self::LoadNear | Self::RatingUnknown)
    }
}

/// What is to be said of a wire.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum WireWord {
    Fine,
    /// It carries more all day than a wire of its gauge may.
    Overloaded,
    FuseOver,
    NotFused,
    /// A short there blows nothing and harms nothing.
    BehindLoad,
    GaugeUnknown,
    /// No current of the sound machine runs there.
    Idle,
}

impl WireWord {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Fine => "Good",
            Self::Overloaded => "Too thin for its load",
            Self::FuseOver => "Its fuse is too big: the wire burns first",
            Self::NotFused => "No fuse before it",
            Self::BehindLoad => "Good: after its load",
            Self::GaugeUnknown => "Gauge not known",
            Self::Idle => "Good: no load on it",
        }
    }
}

/// A wire shorted to the frame at its far end.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Short {
    pub wire: usize,
    pub amps: f64,
    /// How long the fuse lasts; `None` where it may never blow.
    pub blows: Option<BlowTime>,
}

/// A fuse or breaker.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct FuseRow {
    pub part: usize,
    pub breaker: bool,
    pub called_for: Option<f64>,
    /// As read, if somebody did.
    pub fitted: Option<f64>,
    pub carried: Carried,
    /// The wires that hang on it and on no smaller one.
    pub wires: Vec<usize>,
    /// The thinnest of these, and what it carries all day.
    pub thinnest: Option<(usize, f64)>,
    /// A short at the far end of the wire where it draws least.
    pub short: Option<Short>,
    /// What is wrong with it; nothing where it is fine.
    pub words: Vec<FuseWord>,
}

impl FuseRow {
    /// What it is taken to be: as read, else as called for.
    pub fn rating(&self) -> Option<f64> {
        self.fitted.or(self.called_for)
    }
}

/// A wire of the document.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct WireRow {
    pub wire: usize,
    pub gauge: Option<u8>,
    /// What a wire of its gauge carries all day.
    pub carries: Option<f64>,
    pub carried: Carried,
    /// The fuse, by part, that would blow first, and its rating.
    pub fuse: Option<(usize, Option<f64>)>,
    pub word: WireWord,
}

/// Every fuse and wire of a machine.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct FuseSheet {
    pub fuses: Vec<FuseRow>,
    /// What needs a look first.
    pub wires: Vec<WireRow>,
}

/// What hangs on the machine alone, whatever fuses are fitted: every condition of it solved.
#[derive(Clone, Debug)]
pub struct FuseWorkings {
    carried: Vec<Carried>,
    feeds: Feeds,
}

impl FuseWorkings {
    /// Solves the machine in every condition that can occur.
    pub fn new(circuit: &Circuit) -> Self {
        let mut carried = vec![Carried::default(); circuit.elements().count()];
        let mut feeds = Feeds::none(circuit);
        in_every_condition(circuit, |solved| {
            for ((id, _), most) in circuit.elements().zip(&mut carried) {
                most.take(solved.solver.amps(0, id).abs(), solved.condition, solved.moment);
            }
            feeds.take(circuit, solved);
        });
        Self { carried, feeds }
    }

    /// The sheet with the fuses that are in it.
    pub fn sheet(&self, circuit: &Circuit, fitted: &[Fitted]) -> FuseSheet {
        let mut wires: Vec<WireRow> = circuit
            .elements()
            .filter_map(|(id, e)| Some(self.wire(circuit, fitted, (id, e.wire?))))
            .collect();
        let fuses =
            circuit.fuses().filter_map(|id| self.fuse(circuit, fitted, &wires, id)).collect();
        wires.sort_by_key(|w| (order(w.word), w.wire));
        FuseSheet { fuses, wires }
    }

    fn wire(
        &self,
        circuit: &Circuit,
        fitted: &[Fitted],
        (id, wire): (ElementId, usize),
    ) -> WireRow {
        let carried = self.carried[id.index()].clone();
        let document = circuit.document();
        let drawn = &document.wires[wire];
        // A gauge that nobody looked at condemns nothing.
        let looked_at = !drawn.source.unwrap_or(document.identity.source).is_usual();
        let gauge = drawn.gauge.filter(|_| looked_at);
        let carries = gauge.and_then(wire_amps);
        let worst = self.worst_feed(circuit, fitted, wire);
        let fuse = worst.and_then(|fed| first_to_blow(circuit, fitted, &fed.guard));
        let over = carries.is_some_and(|carries| {
            carried.lasting.as_ref().is_some_and(|load| load.amps > carries)
        });
        // What the maker calls for is the maker's to answer for.
        let bigger = fuse.and_then(|(part, rating)| {
            let called_for = circuit.part(part).amps;
            rating.filter(|rating| called_for.is_none_or(|c| *rating > c + SAME_AMPS))
        });
        let word = match (worst, carries, bigger) {
            _ if over => WireWord::Overloaded,
            (Some(Fed { guard: Guard::None, .. }), ..) => WireWord::NotFused,
            (Some(_), None, _) => WireWord::GaugeUnknown,
            (Some(_), Some(carries), Some(rating)) if rating > OVER_WIRE * carries => {
                WireWord::FuseOver
            }
            (None, ..) if carried == Carried::default() => WireWord::Idle,
            (None, None, _) => WireWord::GaugeUnknown,
            (None, ..) => WireWord::BehindLoad,
            _ => WireWord::Fine,
        };
        WireRow { wire, gauge, carries, carried, fuse, word }
    }

    /// The way it hangs on the battery where least would protect it.
    fn worst_feed(&self, circuit: &Circuit, fitted: &[Fitted], wire: usize) -> Option<&Fed> {
        let rating = |fed: &Fed| match first_to_blow(circuit, fitted, &fed.guard) {
            Some((_, rating)) => rating.unwrap_or(f64::MAX),
            None => f64::INFINITY,
        };
        self.feeds.of_wire[wire].iter().max_by(|a, b| rating(a).total_cmp(&rating(b)))
    }

    fn fuse(
        &self,
        circuit: &Circuit,
        fitted: &[Fitted],
        wires: &[WireRow],
        id: ElementId,
    ) -> Option<FuseRow> {
        let part = circuit.element(id).part?;
        let called_for = circuit.part(part).amps;
        let read = read(fitted, part);
        let rating = read.or(called_for);
        let carried = self.carried[id.index()].clone();
        let own: Vec<&WireRow> =
            wires.iter().filter(|w| w.fuse.is_some_and(|(f, _)| f == part)).collect();
        let known = own.iter().filter_map(|w| Some((w.wire, w.carries?)));
        let thinnest = known.min_by(|a, b| a.1.total_cmp(&b.1));
        let short = own
            .iter()
            .filter_map(|w| Some((w.wire, self.worst_feed(circuit, fitted, w.wire)?.ohms)))
            .max_by(|a, b| a.1.total_cmp(&b.1))
            .and_then(|(wire, ohms)| short(circuit, (wire, ohms), rating));
        let breaker = circuit.part(part).kind == PartKind::Breaker;
        let words = words((called_for, read), &carried, thinnest.map(|t| t.1), breaker);
        let wires = own.iter().map(|w| w.wire).collect();
        Some(FuseRow {
            part,
            breaker,
            called_for,
            fitted: read,
            carried,
            wires,
            thinnest,
            short,
            words,
        })
    }
}

/// What needs a look comes first.
fn order(word: WireWord) -> u8 {
    match word {
        WireWord::Overloaded => 0,
        WireWord::FuseOver => 1,
        WireWord::GaugeUnknown => 2,
        WireWord::Fine => 3,
        WireWord::NotFused => 4,
        WireWord::BehindLoad => 5,
        WireWord::Idle => 6,
    }
}

fn read(fitted: &[Fitted], part: usize) -> Option<f64> {
    fitted.iter().rev().find(|f| f.part == part).map(|f| f.amps)
}

/// The smallest of fuses in a row.
fn first_to_blow(
    circuit: &Circuit,
    fitted: &[Fitted],
    guard: &Guard,
) -> Option<(usize, Option<f64>)> {
    let Guard::Fuses(parts) = guard else { return None };
    let rated = parts.iter().map(|p| (*p, read(fitted, *p).or(circuit.part(*p).amps)));
    rated.min_by(|a, b| a.1.unwrap_or(f64::MAX).total_cmp(&b.1.unwrap_or(f64::MAX)))
}

fn short(circuit: &Circuit, (wire, ohms): (usize, f64), rating: Option<f64>) -> Option<Short> {
    let battery = circuit.element(circuit.battery()?);
    let ElementKind::Source { emf, .. } = battery.kind else { return None };
    let amps = emf / (battery.ohms + ohms + SHORT_OHMS);
    Some(Short { wire, amps, blows: blow_time(rating?, amps) })
}

fn words(
    (called_for, fitted): (Option<f64>, Option<f64>),
    carried: &Carried,
    thinnest: Option<f64>,
    breaker: bool,
) -> Vec<FuseWord> {
    let Some(rating) = fitted.or(called_for) else { return vec![FuseWord::RatingUnknown] };
    let mut words = Vec::new();
    if let Some((called_for, fitted)) = called_for.zip(fitted) {
        words.extend((fitted > called_for + SAME_AMPS).then_some(FuseWord::OverCalledFor));
        words.extend((fitted < called_for - SAME_AMPS).then_some(FuseWord::UnderCalledFor));
    }
    let bigger = called_for.is_none_or(|c| rating > c + SAME_AMPS);
    let over_wire = thinnest.is_some_and(|carries| rating > OVER_WIRE * carries);
    words.extend((bigger && over_wire).then_some(FuseWord::OverWire));
    let amps = |load: &Option<Load>| load.as_ref().map_or(0.0, |load| load.amps);
    match amps(&carried.lasting) {
        lasting if lasting > rating => words.push(FuseWord::LoadOver),
        lasting if lasting > ALL_DAY * rating => words.push(FuseWord::LoadNear),
        _ => {}
    }
    let blows = blow_time(rating, amps(&carried.moment)).is_some_and(|t| t.least < A_MOMENT);
    words.extend((blows && !breaker).then_some(FuseWord::BlowsCranking));
    words
}
