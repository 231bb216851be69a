//! The ways in which a document leaves a harness open, and how much a drawing is doubted.

use super::harness::Harness;
use crate::circuit::Change;
use crate::machine::{Provenance, wire_put};

/// Of the ways that a document leaves open, as many are thought of.
const MOST_WIRINGS: usize = 24;

/// How much the drawing is doubted where something is known from there: minus the logarithm of the chance
/// that it is wrong.
pub(super) fn doubt(source: Provenance) -> f64 {
    let wrong: f64 = match source {
        Provenance::Usual => 0.12,
        Provenance::Drawing => 0.03,
        Provenance::Manual => 0.02,
        Provenance::Traced | Provenance::Measured => 0.01,
        Provenance::Proved => 0.003,
    };
    -wrong.ln()
}

/// One of the ways that a document leaves open.
#[derive(Clone, Debug)]
pub(super) struct Wired {
    /// By alternative which of its choices it has; none as drawn.
    pub chosen: Vec<Option<usize>>,
    /// Nats, before any reading.
    pub cost: f64,
    /// What is joined, and how much each is doubted.
    pub links: Vec<((usize, usize), f64)>,
    /// What makes the circuit differ from the drawing.
    pub changes: Vec<Change>,
    /// By end its net.
    pub labels: Vec<u16>,
}

/// The ways that a document leaves open, as drawn first.
pub(super) fn wirings(harness: &Harness<'_>) -> Vec<Wired> {
    let document = harness.circuit().document();
    let drawn = harness.links().iter().map(|l| (l.ends, doubt(l.source))).collect();
    let as_drawn = Wired {
        chosen: Vec::new(),
        cost: 0.0,
        links: drawn,
        changes: Vec::new(),
        labels: Vec::new(),
    };
    let mut all = vec![as_drawn];
    for alternative in &document.alternatives {
        let left = 1.0 - alternative.choices.iter().map(|c| c.weight).sum::<f64>();
        let mut next = Vec::new();
        for wired in &all {
            let mut as_drawn = wired.clone();
            as_drawn.chosen.push(None);
            as_drawn.cost -= left.max(1e-3).ln();
            next.push(as_drawn);
            for (index, choice) in alternative.choices.iter().enumerate() {
                let mut other = wired.clone();
                other.chosen.push(Some(index));
                other.cost -= choice.weight.max(1e-3).ln();
                for text in &choice.changes {
                    change(harness, &mut other.links, text);
                    other.changes.extend(harness.circuit().wiring_change(text).ok());
                }
                next.push(other);
            }
        }
        next.sort_by(|a, b| a.cost.total_cmp(&b.cost));
        next.truncate(MOST_WIRINGS);
        all = next;
    }
    // As drawn it is the first, whatever is likelier.
    let drawn = all.iter().position(|w| w.chosen.iter().all(Option::is_none)).unwrap_or(0);
    all.swap(0, drawn);
    all
}

/// A wire that a choice takes away or puts there, or two pins that it has the other way round.
fn change(harness: &Harness<'_>, links: &mut Vec<((usize, usize), f64)>, change: &str) {
    let wires = &harness.circuit().document().wires;
    let end = |at: &str| harness.end(at.trim());
    if let Some(wire) = wire_put(change) {
        if let (Some(a), Some(b)) = (end(&wire.from), end(&wire.to)) {
            links.push(((a, b), doubt(Provenance::Usual)));
        }
        return;
    }
    let Some((subject, mode)) = change.split_once('=') else { return };
    if let Some(other) = mode.trim().strip_prefix("swapped:")
        && let (Some(a), Some(b)) = (end(subject), end(other))
    {
        let turned = |e: usize| match e {
            e if e == a => b,
            e if e == b => a,
            e => e,
        };
        for (ends, _) in links.iter_mut() {
            *ends = (turned(ends.0), turned(ends.1));
        }
    } else if mode.trim() == "open"
        && let Some(wire) = wires.iter().position(|w| w.id == subject.trim())
        && let Some(link) = harness.links().iter().find(|l| l.wire == Some(wire))
    {
        let gone = link.ends;
        if let Some(at) = links.iter().position(|(ends, _)| *ends == gone) {
            links.remove(at);
        }
    }
}
