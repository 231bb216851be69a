//! What a hypothesis would make an instrument show, and what an operator would notice.

use super::burning::doubtful;
use super::details::Details;
use crate::circuit;
use crate::circuit::{
    Change, Circuit, Compensation, Condition, Crank, DiodeRange, ElementId, ElementKind, Engine,
    Instrument, LampState, Leads, NodeId, Outcome, Reading, Refusal, Relays, Setting, Settled,
    Solved, Solver,
};
use crate::diagnosis::evidence::{Heard, Probe, Sense, Sensed, SetUp};
use crate::diagnosis::faults::Scenario;
use crate::interlock::{EngineDoes, Noticed};
use crate::machine::{
    BATTERY_VOLTS, BUZZER_OHMS, LED_LAMP_OHMS, LED_LAMP_VOLTS, LED_LIGHTS_AMPS,
    OHMMETER_LIMIT_OHMS, TEST_LAMP_OHMS,
};
use std::cell::RefCell;
use std::collections::HashMap;

#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Predicted {
    /// Volts; how far they swing while a solenoid chatters; and how many more for each standard
    /// deviation of the fault's size from the one solved for.
    Volts {
        mean: f64,
        swing: f64,
        slope: f64,
    },
    /// `None` is over range. The slope is that of the natural logarithm, by size.
    Ohms {
        ohms: Option<f64>,
        slope: f64,
    },
    Buzz(bool),
    /// Volts across a test lamp; and how many more for each standard deviation of the fault's
    /// size.
    Lamp {
        volts: f64,
        slope: f64,
    },
    /// Volts at a milliampere; `None` is over range.
    Drop(Option<f64>),
    Lit(bool),
    AcVolts(f64),
    /// Amperes; how far they swing while a solenoid chatters; and how many more for each standard
    /// deviation of the fault's size.
    Amps {
        mean: f64,
        swing: f64,
        slope: f64,
    },
    /// Not to be put there: ohms where the circuit is live, a lamp that would pull in a coil.
    Refused,
}

/// Where so much of the supply is left, nearly nothing is drawn.
const NEARLY_ALL: f64 = 0.97;

impl Predicted {
    /// Whether these are the volts of a supply that next to nothing is drawn from.
    pub fn is_nearly_all_of(self, emf: f64) -> bool {
        matches!(self, Self::Volts { mean, .. } if mean.abs() > NEARLY_ALL * emf.abs())
    }
}

/// What is noticed at an operating point, and what shows there only close up.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Shown {
    pub crank: Crank,
    pub engine: EngineDoes,
    pub blades: bool,
    /// Two bits a lamp: out, dim, bright; and one each where it is nearly dim or out, or nearly dim
    /// or bright.
    lamps: u64,
    pub details: Details,
}

/// Lamps that what is shown has room for.
const MOST_LAMPS: usize = 16;

impl Shown {
    /// `volts` are those across the lamps.
    fn of(noticed: &Noticed, volts: &[f64], details: Details) -> Self {
        let lamps = noticed.lamps.iter().zip(volts).take(MOST_LAMPS).enumerate();
        let lamps = lamps.fold(0, |all, (i, (lamp, volts))| {
            let between = doubtful(*volts, 0.0).map(|[lower, _]| lower);
            let [low, high] =
                [LampState::Out, LampState::Dim].map(|s| u64::from(between == Some(s)));
            all | (*lamp as u64 | low << 2 | high << 3) << (4 * i)
        });
        Self {
            crank: noticed.crank,
            engine: noticed.engine,
            blades: noticed.blades,
            lamps,
            details,
        }
    }

    /// Whether who does not look close notices no difference.
    pub fn looks_like(&self, other: &Self) -> bool {
        Self { details: other.details, ..*self } == *other
    }

    /// What there is to be noticed of one thing.
    pub fn sensed(&self, sense: Sense) -> Sensed {
        match sense {
            Sense::Starter => Sensed::Starter(Heard::of(self.crank)),
            Sense::Engine => Sensed::Engine(self.engine),
            Sense::Blades => Sensed::Blades(self.blades),
            Sense::Lamp(lamp) => Sensed::Lamp(lamp, self.lamp(lamp)),
        }
    }

    /// How a lamp burns.
    pub fn lamp(&self, lamp: usize) -> LampState {
        match self.bits(lamp) & 3 {
            0 => LampState::Out,
            1 => LampState::Dim,
            _ => LampState::Bright,
        }
    }

    /// The two states, if it burns so nearly at the border between them that eyes differ.
    pub fn doubtful_lamp(&self, lamp: usize) -> Option<[LampState; 2]> {
        match self.bits(lamp) >> 2 & 3 {
            0 => None,
            1 => Some([LampState::Out, LampState::Dim]),
            _ => Some([LampState::Dim, LampState::Bright]),
        }
    }

    fn bits(&self, lamp: usize) -> u64 {
        let shift = u32::try_from(4 * lamp).unwrap_or(u32::MAX);
        self.lamps.checked_shr(shift).unwrap_or(0)
    }
}

/// The circuit in one condition and set-up, ready to be solved under one hypothesis after another.
pub(crate) struct Predictor<'c> {
    circuit: &'c Circuit,
    /// Sound, and what little differs from that.
    compensation: Compensation<'c>,
    /// What that is no way to.
    solver: Solver<'c>,
    /// What joins nodes is solved apart.
    own: Option<Solver<'c>>,
    base: Setting,
    now: Setting,
    /// What the hypothesis changes, and then the set-up.
    changes: Vec<Change>,
    after: Vec<Change>,
    relays: Relays,
    battery: Option<ElementId>,
    supply: f64,
    /// The diode range, by where its probes are.
    ranges: RefCell<HashMap<(NodeId, NodeId), DiodeRange<'c>>>,
}

impl<'c> Predictor<'c> {
    /// # Arguments
    /// `circuit` has the jumpers of the set-up for wires ([`Situation::wired`]). `supply` is the battery's
    /// volts at rest as last known.
    pub fn new(circuit: &'c Circuit, condition: &Condition, set_up: &[SetUp], supply: f64) -> Self {
        let base = Setting::new(circuit, condition);
        let battery = circuit.battery();
        // A jumper is one of the circuit's own wires here.
        let taken = set_up.iter().filter(|s| !matches!(s, SetUp::Jumper { .. }));
        let after: Vec<_> = taken.flat_map(|s| s.changes(circuit)).collect();
        let mut sound = base.clone();
        if let Some(battery) = battery {
            sound.apply(circuit, Change::Emf(battery, supply));
        }
        Self {
            circuit,
            compensation: Compensation::new(circuit, sound.with(circuit, &after)),
            solver: Solver::new(circuit),
            own: None,
            now: base.clone(),
            base,
            changes: Vec::new(),
            relays: Relays::default(),
            after,
            battery,
            supply,
            ranges: RefCell::default(),
        }
    }

    /// Solves under a hypothesis, from relays as they were; the questions below are then about
    /// that.
    pub fn suppose(&mut self, scenario: &Scenario, relays: Relays) {
        self.now.copy_from(&self.base);
        let emf = scenario.emf.unwrap_or(self.supply);
        if let Some(battery) = self.battery {
            self.now.apply(self.circuit, Change::Emf(battery, emf));
        }
        for change in scenario.changes.iter().chain(&self.after) {
            // The hypothesis' own volts were put in above.
            if scenario.emf.is_none() || !matches!(change, Change::Emf(..)) {
                self.now.apply(self.circuit, *change);
            }
        }
        self.relays = relays;
        self.changes.clear();
        self.changes.extend(scenario.changes.iter().chain(&self.after));
        if self.compensation.solve(&self.now, relays) {
            return;
        }
        self.own = scenario.solver(self.circuit);
        let solver = self.own.as_mut().unwrap_or(&mut self.solver);
        solver.solve(&[&self.now], &[relays]);
    }

    /// The sound machine, settled from these relays; none where it chatters.
    pub fn settled(&mut self, relays: Relays) -> Option<Settled<'_>> {
        self.compensation.settled(relays)
    }

    /// What was solved last.
    pub fn solved(&self) -> Box<dyn Solved + '_> {
        match self.compensation.solved() {
            Some(solved) => Box::new(solved),
            None => Box::new(self.own.as_ref().unwrap_or(&self.solver).lane(0)),
        }
    }

    /// What is noticed.
    pub fn shown(&self) -> Shown {
        let solved = self.solved();
        let outcome = match self.now.condition().engine {
            // Nobody notices a spark there.
            Engine::Stopped => Outcome::at_a_standstill(self.circuit, &*solved, &self.now),
            _ => Outcome::of(self.circuit, &*solved, &self.now),
        };
        let lamps = self.circuit.lamps().iter();
        let volts = lamps.map(|e| solved.amps(*e) * self.circuit.element(*e).ohms);
        let volts: Vec<f64> = volts.collect();
        let condition = self.now.condition();
        let details = Details::of(self.circuit, condition, (&outcome, &*solved));
        Shown::of(&self.circuit.noticed(condition, &outcome), &volts, details)
    }

    /// What the probes show, in order.
    pub fn read(&mut self, probes: &[Probe]) -> Vec<Predicted> {
        let states: Vec<u64> = self.solved().chatter().to_vec();
        if states.is_empty() {
            let solved = self.solved();
            let leads = Leads::new(&*solved);
            return probes.iter().map(|p| self.one(p, &*solved, &leads)).collect();
        }
        // A chattering circuit shows something between its states: mean and half the range.
        let mut low = vec![f64::INFINITY; probes.len()];
        let mut high = vec![f64::NEG_INFINITY; probes.len()];
        let mut last = Vec::new();
        for state in states {
            let solver = self.own.as_mut().unwrap_or(&mut self.solver);
            solver.solve_held(&self.now, Relays(state));
            let solved = self.solved();
            let leads = Leads::new(&*solved);
            last = probes.iter().map(|p| self.one(p, &*solved, &leads)).collect();
            for (i, predicted) in last.iter().enumerate() {
                if let Predicted::Volts { mean: at, .. }
                | Predicted::Amps { mean: at, .. }
                | Predicted::Lamp { volts: at, .. } = predicted
                {
                    low[i] = low[i].min(*at);
                    high[i] = high[i].max(*at);
                }
            }
        }
        for (i, predicted) in last.iter_mut().enumerate() {
            let middle = (low[i] + high[i]) / 2.0;
            match predicted {
                Predicted::Volts { mean, swing, .. } | Predicted::Amps { mean, swing, .. } => {
                    *mean = middle;
                    *swing = (high[i] - low[i]) / 2.0;
                }
                Predicted::Lamp { volts, .. } => *volts = middle,
                _ => {}
            }
        }
        last
    }

    /// The diode range, having been read on what was solved last.
    pub fn diode_range(&self, ends: (NodeId, NodeId)) -> DiodeRange<'c> {
        let mut range = DiodeRange::new(self.circuit, ends);
        range.read(self.now.clone(), self.relays);
        range
    }

    /// What the diode range shows of what was solved last; `None` is over range.
    fn drop_between(&self, ends: (NodeId, NodeId)) -> Option<f64> {
        if self.now.pairs_joined() != self.base.pairs_joined() {
            let at = self.now.condition();
            let range = Instrument::DiodeRange;
            return match circuit::read(self.circuit, at, self.relays, &self.changes, range, ends) {
                Ok(Reading::Drop(volts)) => volts,
                _ => None,
            };
        }
        let mut known = self.ranges.borrow_mut();
        let range = known.entry(ends).or_insert_with(|| DiodeRange::new(self.circuit, ends));
        range.read(self.now.clone(), self.relays)
    }

    fn one(&self, probe: &Probe, solved: &dyn Solved, leads: &Leads<'_>) -> Predicted {
        let pieces = &leads.pieces;
        let joined = pieces[probe.red.index()] == pieces[probe.black.index()];
        // Across separate pieces a meter's own resistance draws both together: it shows nothing.
        let volts = if joined { solved.between(probe.red, probe.black) } else { 0.0 };
        let behind = || leads.resistance(probe.red, probe.black).unwrap_or(0.0);
        let resistance = || leads.ohms(probe.red, probe.black);
        match probe.instrument {
            Instrument::Voltmeter => Predicted::Volts { mean: volts, swing: 0.0, slope: 0.0 },
            Instrument::TestLamp => {
                let (red, black) = (probe.red, probe.black);
                match leads.pulls_in(red, black, volts / (TEST_LAMP_OHMS + behind())) {
                    true => Predicted::Refused,
                    false => Predicted::Lamp {
                        volts: volts * TEST_LAMP_OHMS / (TEST_LAMP_OHMS + behind()),
                        slope: 0.0,
                    },
                }
            }
            Instrument::LedLamp => {
                let amps = (volts.abs() - LED_LAMP_VOLTS) / (LED_LAMP_OHMS + behind());
                Predicted::Lit(amps >= LED_LIGHTS_AMPS)
            }
            // Alternating volts stand on a stator's own leads, which float.
            Instrument::AcVoltmeter => {
                let floats = pieces[probe.red.index()] != 0;
                Predicted::AcVolts(if floats { volts.abs() } else { 0.0 })
            }
            Instrument::Clamp => {
                let mean = circuit::clamped(self.circuit, solved, (probe.red, probe.black));
                Predicted::Amps { mean, swing: 0.0, slope: 0.0 }
            }
            Instrument::DiodeRange => match leads.live(probe.red, probe.black) {
                Err(Refusal::Live { .. }) => Predicted::Refused,
                Ok(()) => Predicted::Drop(self.drop_between((probe.red, probe.black))),
            },
            Instrument::Ohmmeter => match resistance() {
                Err(Refusal::Live { .. }) => Predicted::Refused,
                Ok(ohms) => {
                    Predicted::Ohms { ohms: ohms.filter(|o| *o <= OHMMETER_LIMIT_OHMS), slope: 0.0 }
                }
            },
            Instrument::Buzzer => match resistance() {
                Err(Refusal::Live { .. }) => Predicted::Refused,
                Ok(ohms) => Predicted::Buzz(ohms.is_some_and(|o| o < BUZZER_OHMS)),
            },
        }
    }
}

/// The volts at rest that the battery of the document has.
pub(crate) fn nominal_volts(circuit: &Circuit) -> f64 {
    let source = circuit.elements().find_map(|(_, e)| match e.kind {
        ElementKind::Source { emf, .. } => Some(emf),
        _ => None,
    });
    source.unwrap_or(BATTERY_VOLTS)
}
