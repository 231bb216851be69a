//! The probes of an ohmmeter or a lamp, about to be put to a solved operating point.

use super::instrument::Refusal;
use crate::circuit::model::{Element, ElementKind, NodeId};
use crate::circuit::solve::Solved;

/// Volts at a probe above which ohms are refused.
const LIVE_VOLTS: f64 = 0.05;

/// A current that draws a coil's ends apart by less than this moves nothing, in volts.
const LEAST_DRAWN_VOLTS: f64 = 0.5;
/// At this share of its pull-in volts a coil is taken to pull in.
const MAY_PULL_IN_SHARE: f64 = 0.8;

/// A solved operating point with the probes of an ohmmeter about to be put to it, again and again.
pub struct Leads<'a> {
    solved: &'a dyn Solved,
    /// For every node the connected piece it is in.
    pub pieces: Vec<u16>,
    /// The pieces that something drives, each with the volts that its own are counted from: the
    /// body's, or of a floating one those of its battery's negative post.
    powered: Vec<(u16, f64)>,
}

impl<'a> Leads<'a> {
    /// Leads on a solved circuit.
    pub fn new(solved: &'a dyn Solved) -> Self {
        let pieces = solved.pieces();
        let drives = |kind: ElementKind| {
            kind.emf().is_some() || matches!(kind, ElementKind::Diode { volts } if volts < 0.0)
        };
        let elements = solved.circuit().elements();
        let powered = elements.filter(|(id, e)| drives(e.kind) && solved.conducts(*id));
        let counted = |e: &Element| match pieces[e.a.index()] {
            0 => (0, 0.0),
            piece => (piece, solved.volts(e.a)),
        };
        let powered = powered.map(|(_, e)| counted(e)).collect();
        Self { solved, pieces, powered }
    }

    /// Ohms between two nodes; `None` where nothing joins them.
    ///
    /// # Errors
    /// Refused where either probe, or the piece it stands on, is live.
    pub fn ohms(&self, red: NodeId, black: NodeId) -> Result<Option<f64>, Refusal> {
        self.live(red, black)?;
        Ok(self.resistance(red, black))
    }

    /// What the circuit shows between two nodes with its sources off, in ohms.
    pub fn resistance(&self, red: NodeId, black: NodeId) -> Option<f64> {
        let joined = self.pieces[red.index()] == self.pieces[black.index()];
        joined.then(|| self.solved.resistance(red, black))
    }

    /// Whether a current drawn from one node to another, in amperes, might pull in a coil that is
    /// not: the coil lies on the way to what draws it.
    pub fn pulls_in(&self, red: NodeId, black: NodeId, amps: f64) -> bool {
        let ohms = |a, b| self.resistance(a, b).unwrap_or(0.0);
        // No two nodes are drawn apart further than those it is drawn between.
        if (amps * ohms(red, black)).abs() < LEAST_DRAWN_VOLTS {
            return false;
        }
        let solved = self.solved;
        let circuit = solved.circuit();
        circuit.coils.iter().enumerate().any(|(c, coil)| {
            let e = circuit.element(coil.element);
            let there = self.pieces[e.a.index()] == self.pieces[red.index()];
            if !there || !solved.conducts(coil.element) || solved.relays().pulled(c) {
                return false;
            }
            // Reciprocity: ohms between the four ends give what the current makes across the coil.
            let across =
                (ohms(e.a, black) + ohms(e.b, red) - ohms(e.a, red) - ohms(e.b, black)) / 2.0;
            let now = solved.between(e.a, e.b);
            let then = (now - amps * across).abs();
            then > now.abs() + LEAST_DRAWN_VOLTS && then > MAY_PULL_IN_SHARE * coil.pulls_in
        })
    }

    /// Refuses probes that stand on, or on the piece of, something live.
    ///
    /// # Errors
    /// Either is.
    pub fn live(&self, red: NodeId, black: NodeId) -> Result<(), Refusal> {
        for probe in [red, black] {
            let own = |(piece, _): &&(u16, f64)| *piece == self.pieces[probe.index()];
            let Some((_, from)) = self.powered.iter().find(own) else { continue };
            let volts = self.solved.volts(probe) - from;
            if volts.abs() > LIVE_VOLTS {
                return Err(Refusal::Live { volts });
            }
        }
        Ok(())
    }
}
