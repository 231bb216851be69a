//! A walk along a loaded circuit with a voltmeter: what is lost where, by all that was read.

use super::allowance::{Allowance, GROUND_SIDE_VOLTS, SUPPLY_SIDE_VOLTS, own_volts, trade_volts};
use super::amps::{AmpsBy, AmpsDrawn};
use super::next::{NextDrop, next_drop};
use super::path::LoadPath;
use super::potentials::Potentials;
use super::span::{Span, SpanWord};
use super::starter::StarterPlane;
use crate::circuit::{Circuit, ElementId};
use serde::Serialize;

/// One reading on the way, points by their places among the walk's.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum DropReading {
    /// Volts from red to black.
    Volts { red: usize, black: usize, volts: f64 },
    /// Amperes by a clamp, and the share of the load's current that runs where it is.
    Clamp { amps: f64, share: f64 },
}

/// A whole side of the circuit, once it is known.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct SideTotal {
    /// None until it is known.
    pub volts: Option<f64>,
    pub limit: f64,
    pub trade: f64,
}

/// What the walk comes to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum DropWord {
    /// No volts were read along it.
    NothingRead,
    /// All that was read is fine, and not all was read.
    FineSoFar,
    /// Everything was read, and is fine.
    Fine,
    /// Something between two points loses too much; points between them part it.
    Between,
    /// One stretch loses too much.
    Found,
    /// What was read is too rough to say.
    Unclear,
    /// Next to nothing was lost anywhere, or a clamp says so: nothing was drawn, and a drop says nothing.
    NotDrawing,
}

impl DropWord {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::NothingRead => "Nothing read yet",
            Self::FineSoFar => "Good so far",
            Self::Fine => "Good: no joint loses more than it should",
            Self::Between => "Too many volts lost in there: split it",
            Self::Found => "Found: too many volts lost here",
            Self::NotDrawing => "Nothing was drawn: is the load really on?",
            Self::Unclear => "Too close to call: read it once more, point to point",
        }
    }
}

/// What was lost along a loaded circuit.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct DropWalk {
    pub word: DropWord,
    /// What is known, in order along the walk.
    pub spans: Vec<Span>,
    /// Stretch by stretch what good parts lose at this current, and the most that they may.
    pub expected: Vec<f64>,
    pub limits: Vec<f64>,
    /// The whole way to the load, and back; none where something in line takes volts of its own, or there
    /// is no way.
    pub supply: Option<SideTotal>,
    pub ground: Option<SideTotal>,
    pub amps: AmpsDrawn,
    /// Spans that lose too much, by index: what costs most first.
    pub worst: Vec<usize>,
    pub next: Option<NextDrop>,
    /// Of a starter whose amps and volts were read.
    pub starter: Option<StarterPlane>,
}

/// A meter's last digits, and its scale.
const METER_VOLTS: f64 = 0.008;
const METER_SHARE: f64 = 0.004;
/// Volts that are read one after another against a post: the battery sags on between.
const SAGS: f64 = 0.01;
const SAGS_FROM: f64 = 5.0;
/// What is known to so many volts need not be read again.
const CLOSELY: f64 = 0.04;
const SURE: f64 = 2.0;
const NINE_IN_TEN: f64 = 1.645;
/// Under this share of what a good machine draws, or loses, it is not on.
const IDLE_SHARE: f64 = 0.25;
/// What a clamp tells from its own zero, and what a meter tells from its last digit.
const CLAMPED_AMPS: f64 = 2.0;
const TOLD_BY_VOLTS: f64 = 0.12;
/// What is lost beyond its limit matters from this share of the battery's volts.
const FELT_SHARE: f64 = 0.02;

/// What readings along a walk come to, in order; of two across the same points the later counts.
///
/// # Arguments
/// `lean` is how likely the job holds each element to be bad, for what to read next.
pub fn drop_walk(
    circuit: &Circuit,
    path: &LoadPath,
    readings: &[DropReading],
    lean: &dyn Fn(ElementId) -> f64,
) -> DropWalk {
    let potentials = potentials(path, readings);
    let clamped: Vec<(f64, f64)> = readings
        .iter()
        .filter_map(|r| match r {
            DropReading::Clamp { amps, share } => Some((*amps, *share)),
            DropReading::Volts { .. } => None,
        })
        .collect();
    let drawn = AmpsDrawn::of(circuit, path, &clamped, &potentials);
    let sums = known_sums(path, &potentials);
    let spans = |drawn: AmpsDrawn| -> Vec<Span> {
        sums.iter().map(|sum| span(circuit, path, sum, drawn)).collect()
    };
    let good: Vec<_> = spans(drawn)
        .iter()
        .zip(&sums)
        .filter(|(s, _)| s.word == SpanWord::Fine && s.stretches.len() == 1)
        .map(|(s, sum)| (s.stretches[0], s.volts, sum.spread))
        .collect();
    let drawn = drawn.or_by_known_ohms(circuit, path, &good);
    let mut spans = spans(drawn);
    spans.sort_by_key(|s| s.stretches[0]);
    let idle = draws_nothing(path, &spans, drawn);
    if idle {
        // Without a current every joint looks good.
        let fine = |s: &&mut Span| s.word == SpanWord::Fine;
        spans.iter_mut().filter(fine).for_each(|s| s.word = SpanWord::Unclear);
    }
    let ratio = drawn.likely / path.amps;
    let each = path.lost.iter().map(|lost| own_volts([*lost].into_iter(), ratio));
    let (expected, limits) = each.map(|a| (a.expected, a.limit)).unzip();
    let mut worst: Vec<usize> =
        (0..spans.len()).filter(|i| spans[*i].word == SpanWord::TooMuch).collect();
    worst.sort_by(|a, b| spans[*b].volts.total_cmp(&spans[*a].volts));
    let read = |from: usize, to: usize| {
        readings.iter().any(|r| pair(r) == Some((from, to)))
            || potentials.between(from, to).is_some_and(|(_, spread)| spread < CLOSELY)
    };
    let across = |from, to| potentials.between(from, to).map(|(volts, _)| volts);
    let ways = path.lost.iter().filter(|lost| !lost.uses).copied();
    let allowed = own_volts(ways, ratio).limit;
    let (last, load) = (path.points.len() - 1, path.at_load);
    let starter = StarterPlane::of(path, drawn, across(load, load + 1), across(0, last), allowed);
    let next = next_drop(circuit, path, &spans, &read, lean);
    DropWalk {
        word: if idle { DropWord::NotDrawing } else { word(path, &spans, &worst) },
        supply: side(path, &potentials, (0, path.at_load), ratio, SUPPLY_SIDE_VOLTS),
        ground: side(
            path,
            &potentials,
            (path.at_load + 1, path.points.len() - 1),
            ratio,
            GROUND_SIDE_VOLTS,
        ),
        spans,
        expected,
        limits,
        amps: drawn,
        worst,
        next,
        starter,
    }
}

/// The two points that volts were read across.
fn pair(reading: &DropReading) -> Option<(usize, usize)> {
    match *reading {
        DropReading::Volts { red, black, .. } => Some((red.min(black), red.max(black))),
        DropReading::Clamp { .. } => None,
    }
}

fn potentials(path: &LoadPath, readings: &[DropReading]) -> Potentials {
    let mut potentials = Potentials::unread(path.points.len());
    for (i, reading) in readings.iter().enumerate() {
        let DropReading::Volts { red, black, volts } = *reading else { continue };
        let again = readings[i + 1..].iter().any(|later| pair(later) == pair(reading));
        if !again && red != black {
            // A way loses volts in one direction: with a minus it was read with its leads swapped.
            let volts = if red < black { volts.abs() } else { -volts.abs() };
            let sags = if volts.abs() > SAGS_FROM { SAGS * volts.abs() } else { 0.0 };
            let spread = METER_VOLTS.hypot(METER_SHARE * volts).hypot(sags);
            potentials.read((red, black), volts, spread);
        }
    }
    potentials
}

/// Stretches whose volts are known together, and by no smaller lot of them.
struct Sum {
    stretches: Vec<usize>,
    volts: f64,
    spread: f64,
}

fn known_sums(path: &LoadPath, potentials: &Potentials) -> Vec<Sum> {
    let points = path.points.len();
    let mut pairs: Vec<(usize, usize)> = (0..points)
        .flat_map(|from| (from + 1..points).map(move |to| (from, to)))
        .filter(|(from, to)| potentials.between(*from, *to).is_some())
        .collect();
    pairs.sort_by_key(|(from, to)| (to - from, *from));
    // Each sum with the points it is the volts between, counted in and out.
    let mut sums: Vec<(Vec<usize>, Vec<f64>)> = Vec::new();
    for (from, to) in pairs {
        let taken = |k: &usize| sums.iter().any(|(own, _)| own.contains(k));
        let own: Vec<usize> = (from..to).filter(|k| !taken(k)).collect();
        let inside = |s: &&(Vec<usize>, Vec<f64>)| s.0.iter().any(|k| (from..to).contains(k));
        let within = |s: &(Vec<usize>, Vec<f64>)| s.0.iter().all(|k| (from..to).contains(k));
        if own.is_empty() || !sums.iter().filter(inside).all(within) {
            continue;
        }
        let mut of = vec![0.0; points];
        of[from] += 1.0;
        of[to] -= 1.0;
        for (_, inner) in sums.iter().filter(inside) {
            of.iter_mut().zip(inner).for_each(|(slot, i)| *slot -= i);
        }
        sums.push((own, of));
    }
    let known = sums.into_iter().map(|(stretches, of)| {
        let (volts, spread) = potentials.sum(&of);
        Sum { stretches, volts, spread }
    });
    known.collect()
}

fn span(circuit: &Circuit, path: &LoadPath, sum: &Sum, drawn: AmpsDrawn) -> Span {
    let ratio = drawn.likely / path.amps;
    let lost = sum.stretches.iter().map(|k| path.lost[*k]);
    let Allowance { least, expected, limit } = own_volts(lost, ratio);
    let elements: Vec<ElementId> =
        sum.stretches.iter().flat_map(|k| path.stretches[*k].iter().copied()).collect();
    let amps = sum.stretches.iter().map(|k| path.lost[*k]);
    let amps = amps.map(|l| if l.own { ratio * l.amps } else { l.amps }).fold(0.0, f64::max);
    let either = NINE_IN_TEN * sum.spread;
    let sure = SURE * sum.spread;
    // Several parts that lose little by themselves may hide one that does not.
    let hidden = match sum.stretches.len() {
        1 => sum.volts - limit,
        _ => sum.volts - least,
    };
    // What comes to less than nothing was misread somewhere.
    let possible = sum.volts + sure >= -METER_VOLTS;
    let is_fine = possible && sum.volts <= limit && hidden + sure <= felt(path);
    let word = if sum.stretches.iter().any(|k| path.lost[*k].uses) {
        SpanWord::Load
    } else if sum.volts - sure > limit {
        SpanWord::TooMuch
    } else if is_fine {
        SpanWord::Fine
    } else {
        SpanWord::Unclear
    };
    Span {
        stretches: sum.stretches.clone(),
        volts: sum.volts,
        low: sum.volts - either,
        high: sum.volts + either,
        expected,
        limit,
        trade: trade_volts(circuit, &elements),
        watts: sum.volts.max(0.0) * amps,
        word,
    }
}

/// Whether the circuit carried next to nothing while it was read: a clamp says so, or ways that ought to lose
/// something lost nothing. What loses too much draws.
fn draws_nothing(path: &LoadPath, spans: &[Span], drawn: AmpsDrawn) -> bool {
    if drawn.by == AmpsBy::Clamp && path.amps > CLAMPED_AMPS {
        return drawn.likely < IDLE_SHARE * path.amps;
    }
    let ways = || spans.iter().filter(|s| s.word != SpanWord::Load);
    let sound = ways().flat_map(|s| &s.stretches).map(|k| path.lost[*k].volts).sum::<f64>();
    let lost: f64 = ways().map(|s| s.volts).sum();
    sound > TOLD_BY_VOLTS && lost < IDLE_SHARE * sound
}

/// Volts whose loss is felt in this circuit.
fn felt(path: &LoadPath) -> f64 {
    FELT_SHARE * path.lost.iter().map(|lost| lost.volts).sum::<f64>()
}

fn side(
    path: &LoadPath,
    potentials: &Potentials,
    (from, to): (usize, usize),
    ratio: f64,
    trade: f64,
) -> Option<SideTotal> {
    let limit = own_volts(path.lost[from..to].iter().copied(), ratio).limit;
    let volts = potentials.between(from, to);
    let whole = path.ways().contains(&(from, to));
    whole.then_some(SideTotal { volts: volts.map(|(volts, _)| volts), limit, trade })
}

fn word(path: &LoadPath, spans: &[Span], worst: &[usize]) -> DropWord {
    let read =
        |k: usize| spans.iter().any(|s| s.word == SpanWord::Fine && s.stretches.contains(&k));
    let mut ways = (0..path.stretches.len()).filter(|k| !path.lost[*k].uses);
    if worst.iter().any(|i| spans[*i].stretches.len() == 1) {
        DropWord::Found
    } else if !worst.is_empty() {
        DropWord::Between
    } else if spans.iter().all(|s| s.word == SpanWord::Load) {
        DropWord::NothingRead
    } else if spans.iter().any(|s| s.word == SpanWord::Unclear) {
        DropWord::Unclear
    } else if ways.all(read) {
        DropWord::Fine
    } else {
        DropWord::FineSoFar
    }
}
