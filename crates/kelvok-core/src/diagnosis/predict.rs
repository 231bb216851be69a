//! What a hypothesis would make an instrument show.

use super::{Hypothesis, SetUp};
use crate::circuit::{
    Change, Circuit, Condition, Crank, ElementId, ElementKind, Instrument, NodeId, Refusal, Relays,
    Setting, Solver, ohms,
};
use crate::machine::{
    BUZZER_OHMS, DIODE_RANGE_AMPS, DIODE_RANGE_VOLTS, LED_LAMP_OHMS, LED_LAMP_VOLTS,
    LED_LIGHTS_AMPS, OHMMETER_LIMIT_OHMS, TEST_LAMP_OHMS,
};

/// An instrument put between two nodes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Probe {
    pub instrument: Instrument,
    pub red: NodeId,
    pub black: NodeId,
}

#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Predicted {
    /// Volts, and how far they swing while a solenoid chatters.
    Volts {
        mean: f64,
        swing: f64,
    },
    /// `None` is over range.
    Ohms(Option<f64>),
    Buzz(bool),
    LampVolts(f64),
    /// Volts above which a meter shows over range; ohms times a milliampere below.
    Drop(Option<f64>),
    Lit(bool),
    AcVolts(f64),
    /// Ohms would be refused: the circuit is live there.
    Refused,
}

/// The circuit in one condition and set-up, ready to be solved under one hypothesis after another.
pub(super) struct Predictor<'c> {
    circuit: &'c Circuit,
    solver: Solver<'c>,
    base: Setting,
    now: Setting,
    after: Vec<Change>,
    battery: Option<ElementId>,
    supply: f64,
}

impl<'c> Predictor<'c> {
    /// `supply` is the battery's volts at rest as last known.
    pub fn new(circuit: &'c Circuit, condition: &Condition, set_up: &[SetUp], supply: f64) -> Self {
        let base = Setting::new(circuit, condition);
        let battery = circuit
            .elements()
            .find(|(_, e)| matches!(e.kind, ElementKind::Source { .. }))
            .map(|(id, _)| id);
        Self {
            circuit,
            solver: Solver::new(circuit),
            now: base.clone(),
            base,
            after: set_up.iter().map(|s| s.change()).collect(),
            battery,
            supply,
        }
    }

    /// Solves under a hypothesis; the questions below are then about that.
    ///
    /// Returns the battery's volts at rest that were used.
    pub fn suppose(&mut self, hypothesis: &Hypothesis) -> f64 {
        self.now.copy_from(&self.base);
        let emf = hypothesis.emf.unwrap_or(self.supply);
        if let Some(battery) = self.battery {
            self.now.apply(self.circuit, Change::Emf(battery, emf));
        }
        for change in hypothesis.changes.iter().chain(&self.after) {
            // The hypothesis' own volts were put in above.
            if !matches!(change, Change::Emf(..)) {
                self.now.apply(self.circuit, *change);
            }
        }
        self.solver.solve(&[&self.now], &[Relays::default()]);
        emf
    }

    pub fn crank(&self) -> Crank {
        Crank::of(self.circuit, &self.solver, &self.now)
    }

    /// Current through an element.
    pub fn amps(&self, element: ElementId) -> f64 {
        self.solver.amps(0, element)
    }

    /// What the probes show, in order.
    pub fn read(&mut self, probes: &[Probe]) -> Vec<Predicted> {
        let states: Vec<u64> = self.solver.chatter(0).to_vec();
        if states.is_empty() {
            let pieces = self.solver.pieces(0);
            return probes.iter().map(|p| self.one(p, &pieces)).collect();
        }
        // A chattering circuit shows something between its states: mean and half the range.
        let mut low = vec![f64::INFINITY; probes.len()];
        let mut high = vec![f64::NEG_INFINITY; probes.len()];
        let mut last = Vec::new();
        for state in states {
            self.solver.solve_held(&self.now, Relays(state));
            let pieces = self.solver.pieces(0);
            last = probes.iter().map(|p| self.one(p, &pieces)).collect();
            for (i, predicted) in last.iter().enumerate() {
                if let Predicted::Volts { mean, .. } | Predicted::LampVolts(mean) = predicted {
                    low[i] = low[i].min(*mean);
                    high[i] = high[i].max(*mean);
                }
            }
        }
        for (i, predicted) in last.iter_mut().enumerate() {
            let middle = (low[i] + high[i]) / 2.0;
            match predicted {
                Predicted::Volts { mean, swing } => {
                    *mean = middle;
                    *swing = (high[i] - low[i]) / 2.0;
                }
                Predicted::LampVolts(volts) => *volts = middle,
                _ => {}
            }
        }
        last
    }

    fn one(&self, probe: &Probe, pieces: &[u16]) -> Predicted {
        let joined = pieces[probe.red.index()] == pieces[probe.black.index()];
        // Across separate pieces a meter's own resistance draws both together: it shows nothing.
        let volts = if joined {
            self.solver.volts(0, probe.red) - self.solver.volts(0, probe.black)
        } else {
            0.0
        };
        match probe.instrument {
            Instrument::Voltmeter => Predicted::Volts { mean: volts, swing: 0.0 },
            Instrument::TestLamp => {
                let behind = self.solver.resistance(0, probe.red, probe.black).unwrap_or(0.0);
                Predicted::LampVolts(volts * TEST_LAMP_OHMS / (TEST_LAMP_OHMS + behind))
            }
            Instrument::LedLamp => {
                let behind = self.solver.resistance(0, probe.red, probe.black).unwrap_or(0.0);
                let amps = (volts.abs() - LED_LAMP_VOLTS) / (LED_LAMP_OHMS + behind);
                Predicted::Lit(amps >= LED_LIGHTS_AMPS)
            }
            // Alternating volts stand on a stator's own leads, which float.
            Instrument::AcVoltmeter => {
                let floats = pieces[probe.red.index()] != 0;
                Predicted::AcVolts(if floats { volts.abs() } else { 0.0 })
            }
            Instrument::DiodeRange => {
                match ohms(&self.solver, self.circuit, 0, probe.red, probe.black) {
                    Err(Refusal::Live { .. }) => Predicted::Refused,
                    Ok(ohms) => {
                        let volts = ohms.map(|o| o * DIODE_RANGE_AMPS);
                        Predicted::Drop(volts.filter(|v| *v <= DIODE_RANGE_VOLTS))
                    }
                }
            }
            Instrument::Ohmmeter | Instrument::Buzzer => {
                match ohms(&self.solver, self.circuit, 0, probe.red, probe.black) {
                    Err(Refusal::Live { .. }) => Predicted::Refused,
                    Ok(ohms) if probe.instrument == Instrument::Buzzer => {
                        Predicted::Buzz(ohms.is_some_and(|o| o < BUZZER_OHMS))
                    }
                    Ok(ohms) => Predicted::Ohms(ohms.filter(|o| *o <= OHMMETER_LIMIT_OHMS)),
                }
            }
        }
    }
}
