//! The diode range of a meter.

use crate::circuit::model::{Circuit, Element, NodeId};
use crate::circuit::solve::{Relays, Setting, Solver};
use crate::machine::{DIODE_RANGE_AMPS, DIODE_RANGE_VOLTS};

/// Volts on the diode range that drive no current worth the name.
const STILL_VOLTS: f64 = 1e-9;

/// The diode range of a meter between two probes, in one setting after another: a milliampere is
/// driven through, so that diodes do what they do.
pub struct DiodeRange<'c> {
    circuit: &'c Circuit,
    red: NodeId,
    black: NodeId,
    solver: Solver<'c>,
    /// Of what was read last.
    pieces: Vec<u16>,
}

impl<'c> DiodeRange<'c> {
    /// For settings whose changes join no nodes.
    pub fn new(circuit: &'c Circuit, (red, black): (NodeId, NodeId)) -> Self {
        Self::with(circuit, (red, black), Solver::with_extra(circuit, &[(red, black)]))
    }

    /// For settings that this solver has room for, and for something between the probes besides.
    pub(crate) fn with(
        circuit: &'c Circuit,
        (red, black): (NodeId, NodeId),
        solver: Solver<'c>,
    ) -> Self {
        Self { circuit, red, black, solver, pieces: Vec::new() }
    }

    /// Whether what was read last would be the same whatever conducts between two nodes: no volts
    /// stand there, or they lie apart and no diode hangs between their pieces and others.
    pub fn is_still(&mut self, (a, b): (NodeId, NodeId)) -> bool {
        if self.pieces.is_empty() {
            self.pieces = self.solver.pieces(0);
        }
        let [of_a, of_b] = [a, b].map(|n| self.pieces[n.index()]);
        if of_a == of_b {
            return (self.solver.volts(0, a) - self.solver.volts(0, b)).abs() < STILL_VOLTS;
        }
        let diodes = self.circuit.elements().filter(|(_, e)| e.is_diode());
        let lone = |e: &Element| {
            let ends = [e.a, e.b].map(|n| self.pieces[n.index()]);
            ends[0] != ends[1] && [of_a, of_b].iter().any(|p| *p != 0 && ends.contains(p))
        };
        !diodes.into_iter().any(|(_, e)| lone(e))
    }

    /// Volts between the probes; `None` is over range. Nothing may be live there.
    pub fn read(&mut self, mut setting: Setting, relays: Relays) -> Option<f64> {
        let Self { red, black, .. } = *self;
        setting.silence(self.circuit);
        setting.drive(red, black, DIODE_RANGE_AMPS);
        // The meter's own limit, so that an open circuit has somewhere to settle.
        setting.attach(DIODE_RANGE_VOLTS * 1.2 / DIODE_RANGE_AMPS);
        self.solver.solve(&[&setting], &[relays]);
        self.pieces.clear();
        let volts = self.solver.volts(0, red) - self.solver.volts(0, black);
        (volts <= DIODE_RANGE_VOLTS).then_some(volts)
    }
}
