//! Sequences: controls moved step by step, with relays as each step left them and delays that run.
//!
//! Within a step nothing but time moves: the next moment at which a delay ends is found and solved,
//! until the step is over. What is reported is every moment at which something happened.

use super::operating_point::OperatingPoint;
use crate::circuit::model::{Change, Circuit, Condition, ElementId};
use crate::circuit::solve::{Relays, Setting, Solver};
use crate::machine::{Engine, Timing};

/// One step: what is moved, and how long everything then stands.
#[derive(Clone, Debug, Default, PartialEq)]
#[allow(missing_docs)]
pub struct Step {
    /// Controls by index, and the position each goes to.
    pub moves: Vec<(usize, u8)>,
    pub engine: Option<Engine>,
    /// How long this is held, in seconds.
    pub hold: f64,
}

/// Something that happened: a step taken, a delay that ended, a step that is over.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Moment {
    /// Seconds since the sequence began.
    pub at: f64,
    /// Which step it lies in.
    pub step: usize,
    pub condition: Condition,
    pub point: OperatingPoint,
}

/// More moments than this within one step are taken for a circuit that never rests.
const MOST_MOMENTS: usize = 200;

/// A machine being worked, moment by moment.
pub struct Sequence<'c> {
    circuit: &'c Circuit,
    changes: Vec<Change>,
    as_built: bool,
    solver: Solver<'c>,
    condition: Condition,
    relays: Relays,
    clocks: Vec<Clock>,
    now: f64,
}

/// A contact with a delay: what its actuator says, since when, and where the contact stands.
#[derive(Clone, Copy, Debug)]
struct Clock {
    contact: usize,
    timing: Timing,
    actuated: bool,
    since: f64,
    made: bool,
}

impl Clock {
    /// Where the contact stands at a time.
    fn stands(&self, now: f64) -> bool {
        let after = now - self.since + 1e-9;
        let Timing { makes_after, breaks_after, made_for } = self.timing;
        match self.actuated {
            true if after < makes_after => self.made,
            true => made_for == 0.0 || after < makes_after + made_for,
            false => self.made && after < breaks_after,
        }
    }

    /// The next time after `now` at which the contact may move by itself.
    fn next(&self, now: f64) -> Option<f64> {
        let Timing { makes_after, breaks_after, made_for } = self.timing;
        let ends = match self.actuated {
            true => [makes_after, makes_after + made_for],
            false => [breaks_after; 2],
        };
        let ahead = ends.into_iter().map(|e| self.since + e).filter(|t| *t > now + 1e-9);
        ahead.reduce(f64::min)
    }
}

impl<'c> Sequence<'c> {
    /// Begins in a condition in which everything has stood long enough to have settled.
    pub fn begin(
        circuit: &'c Circuit,
        start: &Condition,
        relays: Relays,
        changes: &[Change],
    ) -> Self {
        Self::start(circuit, start, relays, changes, false)
    }

    /// The same with the machine as its maker built it.
    pub fn begin_as_built(
        circuit: &'c Circuit,
        start: &Condition,
        relays: Relays,
        changes: &[Change],
    ) -> Self {
        Self::start(circuit, start, relays, changes, true)
    }

    fn start(
        circuit: &'c Circuit,
        start: &Condition,
        relays: Relays,
        changes: &[Change],
        as_built: bool,
    ) -> Self {
        let undelayed = |element: ElementId| changes.contains(&Change::NoDelay(element));
        let clocks = circuit.contacts.iter().enumerate().filter_map(|(i, c)| {
            let mut timing = c.timing?;
            if undelayed(c.element) {
                (timing.makes_after, timing.breaks_after) = (0.0, 0.0);
            }
            let since = f64::NEG_INFINITY;
            Some(Clock { contact: i, timing, actuated: false, since, made: false })
        });
        let mut sequence = Self {
            circuit,
            changes: changes.to_vec(),
            as_built,
            solver: Solver::for_changes(circuit, changes),
            condition: start.clone(),
            relays,
            clocks: clocks.collect(),
            now: 0.0,
        };
        // Settled: every delay long over.
        let setting = sequence.setting();
        sequence.solver.solve(&[&setting], &[relays]);
        sequence.relays = sequence.solver.relays(0);
        for clock in &mut sequence.clocks {
            let contact = &circuit.contacts[clock.contact];
            clock.actuated = setting.actuated(clock.contact, contact, sequence.relays.0);
            clock.made = clock.actuated && clock.timing.made_for == 0.0;
        }
        sequence
    }

    fn setting(&self) -> Setting {
        let base = match self.as_built {
            true => Setting::as_built(self.circuit, &self.condition),
            false => Setting::new(self.circuit, &self.condition),
        };
        base.with(self.circuit, &self.changes)
    }

    /// Takes a step; the moments it is made of, the first right after the controls moved and the
    /// last when its time is up.
    pub fn step(&mut self, index: usize, step: &Step) -> Vec<Moment> {
        for (control, position) in &step.moves {
            self.condition.positions[*control] = *position;
        }
        self.condition.engine = step.engine.unwrap_or(self.condition.engine);
        let end = self.now + step.hold;
        let mut moments = vec![self.settle(index)];
        while moments.len() < MOST_MOMENTS {
            let next = self.clocks.iter().filter_map(|c| c.next(self.now)).reduce(f64::min);
            let Some(next) = next.filter(|t| *t < end) else { break };
            self.now = next;
            moments.push(self.settle(index));
        }
        if step.hold > 0.0 {
            self.now = end;
            moments.push(self.settle(index));
        }
        moments
    }

    /// Takes all steps.
    pub fn run(mut self, steps: &[Step]) -> Vec<Moment> {
        steps.iter().enumerate().flat_map(|(i, step)| self.step(i, step)).collect()
    }

    /// The relays as they stand now.
    pub fn relays(&self) -> Relays {
        self.relays
    }

    /// Solves this moment, contacts where their delays have them.
    fn settle(&mut self, step: usize) -> Moment {
        let mut setting = self.setting();
        // A contact that moves may move a coil, which may move a contact; a few rounds settle it.
        for _ in 0..=2 * self.clocks.len() {
            for clock in &mut self.clocks {
                let made = clock.stands(self.now);
                clock.made = made;
                setting.lag(self.circuit, clock.contact, Some(made));
            }
            self.solver.solve(&[&setting], &[self.relays]);
            self.relays = self.solver.relays(0);
            let mut moved = false;
            for clock in &mut self.clocks {
                let contact = &self.circuit.contacts[clock.contact];
                let actuated = setting.actuated(clock.contact, contact, self.relays.0);
                if actuated != clock.actuated {
                    clock.actuated = actuated;
                    clock.since = self.now;
                    moved |= clock.stands(self.now) != clock.made;
                }
            }
            if !moved {
                break;
            }
        }
        Moment {
            at: self.now,
            step,
            condition: self.condition.clone(),
            point: OperatingPoint::of(self.circuit, &self.solver, &setting),
        }
    }
}

/// Works a machine step by step from a condition in which it had settled, relays released.
pub fn sequence(
    circuit: &Circuit,
    start: &Condition,
    changes: &[Change],
    steps: &[Step],
) -> Vec<Moment> {
    Sequence::begin(circuit, start, Relays::default(), changes).run(steps)
}
