//! Which two points to read across next: the reading that halves what is left, a minute.

use super::path::LoadPath;
use super::span::{Span, SpanWord};
use crate::circuit::{Circuit, ElementId, ElementKind, NodeId};
use serde::Serialize;

/// The two points to read across next.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct NextDrop {
    /// By their places among the walk's points; red on the first.
    pub from: usize,
    pub to: usize,
    /// What it tells of which stretch loses too much, in bits.
    pub bits: f64,
    pub minutes: f64,
}

/// That no stretch loses too much is as likely as that one does.
const NONE: f64 = 0.5;
/// A stretch that read good, or that is not in one that read bad, is still bad this rarely.
const STILL: f64 = 0.002;
/// Under so many bits it is not worth the trouble.
const LEAST_BITS: f64 = 0.06;
/// To crank or switch on, and read.
const READ_MINUTES: f64 = 0.5;
/// A longer lead, or a second pair of hands, where the points are not at one place.
const REACH_MINUTES: f64 = 0.3;

/// How likely a part of a kind goes bad in series, beside the others.
fn usual(circuit: &Circuit, element: ElementId) -> f64 {
    match circuit.element(element).kind {
        ElementKind::Joint | ElementKind::Ground => 3.0,
        ElementKind::Contact(_) => 2.5,
        ElementKind::Wire | ElementKind::Possible => 1.5,
        _ => 1.0,
    }
}

/// The reading that tells most a minute; none where all is read, or what is left is not worth it.
///
/// # Arguments
/// `is_read` is whether what lies between two points is known closely; `lean` is how likely the job holds each element to be bad.
pub(super) fn next_drop(
    circuit: &Circuit,
    path: &LoadPath,
    spans: &[Span],
    is_read: &dyn Fn(usize, usize) -> bool,
    lean: &dyn Fn(ElementId) -> f64,
) -> Option<NextDrop> {
    let weights = weights(circuit, path, spans, lean);
    let total: f64 = weights.none + weights.each.iter().sum::<f64>();
    let mut best: Option<NextDrop> = None;
    for (first, last) in path.ways() {
        for from in first..last {
            for to in from + 1..=last {
                let own: f64 = weights.each[from..to].iter().sum();
                let bits = entropy(own / total);
                let apart = place(circuit, path.points[from]) != place(circuit, path.points[to]);
                let minutes = READ_MINUTES + if apart { REACH_MINUTES } else { 0.0 };
                let better = best.is_none_or(|b| bits / minutes > b.bits / b.minutes + 1e-9);
                if bits > LEAST_BITS && better && !is_read(from, to) {
                    best = Some(NextDrop { from, to, bits, minutes });
                }
            }
        }
    }
    best
}

struct Weights {
    none: f64,
    each: Vec<f64>,
}

fn weights(
    circuit: &Circuit,
    path: &LoadPath,
    spans: &[Span],
    lean: &dyn Fn(ElementId) -> f64,
) -> Weights {
    let own = |elements: &[ElementId]| -> (f64, f64) {
        let usual = elements.iter().map(|e| usual(circuit, *e)).sum();
        (usual, elements.iter().map(|e| lean(*e)).sum())
    };
    let both: Vec<_> = path.stretches.iter().map(|s| own(s)).collect();
    let sum = |of: fn(&(f64, f64)) -> f64| both.iter().map(of).sum::<f64>().max(1e-9);
    let (usual, leaning) = (sum(|b| b.0), sum(|b| b.1));
    let mut each: Vec<f64> = both
        .iter()
        .map(|(own, lean)| own / usual + if leaning > 1e-6 { lean / leaning } else { 0.0 })
        .collect();
    let uses = path.lost.iter().map(|lost| lost.uses);
    each.iter_mut().zip(uses).filter(|(_, uses)| *uses).for_each(|(w, _)| *w = 0.0);
    let all: f64 = each.iter().sum();
    each.iter_mut().for_each(|w| *w *= (1.0 - NONE) / all);
    let mut none = NONE;
    // Where something in a stretch of several loses too much, that is to be parted first.
    let open = |s: &&Span| s.word == SpanWord::TooMuch && s.stretches.len() > 1;
    let parting: Vec<usize> = spans.iter().filter(open).flat_map(|s| s.stretches.clone()).collect();
    for (stretch, weight) in each.iter_mut().enumerate() {
        let span = spans.iter().find(|s| s.stretches.contains(&stretch));
        let known = span.is_some_and(|s| match s.word {
            SpanWord::Fine => true,
            // Found: the others are still to be read.
            SpanWord::TooMuch => s.stretches.len() == 1,
            SpanWord::Unclear | SpanWord::Load => false,
        });
        if known || !parting.is_empty() && !parting.contains(&stretch) {
            *weight *= STILL;
        }
    }
    if !parting.is_empty() {
        none *= STILL;
    }
    Weights { none, each }
}

fn entropy(share: f64) -> f64 {
    let bits = |p: f64| if p > 0.0 { -p * p.log2() } else { 0.0 };
    bits(share) + bits(1.0 - share)
}

/// Where on the machine a point is.
fn place(circuit: &Circuit, node: NodeId) -> Option<&str> {
    let points = circuit.document().test_points.iter().enumerate();
    let own = points.filter(|(_, p)| p.unplugged.is_none());
    own.clone().find(|(i, _)| circuit.test_point(*i) == Some(node)).map(|(_, p)| p.place.as_str())
}
